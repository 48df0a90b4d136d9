"""What students can see."""

from tests.store.conftest import AT, Kept
from vinemark.core.base.moments import stamp
from vinemark.store import visibility
from vinemark.store.class_list import put_ids
from vinemark.store.undo import undo_entry
from vinemark.store.visibility import GradesVisible


def test_choices_are_kept_and_undone_to_what_stood_before(kept: Kept) -> None:
    visibility.write_visibility(kept.connection, kept.act(), {"i0": "open"}, "open")
    entry = visibility.write_visibility(kept.connection, kept.act(), {"i0": "held", "i1": "when_full"}, "both")
    assert visibility.visibility_of(kept.connection, kept.section) == {"i0": "held", "i1": "when_full"}
    undo_entry(kept.connection, kept.act(), entry)
    assert visibility.visibility_of(kept.connection, kept.section) == {"i0": "open"}


def test_each_runs_grades_are_opened_by_themselves(kept: Kept) -> None:
    entry = visibility.write_grades_visible(kept.connection, kept.act(), "final", "settled")
    assert visibility.grades_visible(kept.connection, kept.section, "final") == GradesVisible(stamp(AT), "settled")
    assert visibility.grades_visible(kept.connection, kept.section, "midterm") is None
    undo_entry(kept.connection, kept.act(), entry)
    assert visibility.grades_visible(kept.connection, kept.section, "final") is None
    visibility.write_grades_visible(kept.connection, kept.act(), "midterm", "settled")
    visibility.write_grades_visible(kept.connection, kept.act(), "midterm", None)
    assert visibility.grades_visible(kept.connection, kept.section, "midterm") is None


def test_grades_can_be_visible_to_some(kept: Kept) -> None:
    some = frozenset({"ada"})
    visibility.write_grades_visible(kept.connection, kept.act(), "final", "settled")
    entry = visibility.write_grades_visible(kept.connection, kept.act(), "final", "computed", some)
    found = visibility.grades_visible(kept.connection, kept.section, "final")
    assert found is not None
    assert found == GradesVisible(stamp(AT), "computed", some)
    assert found.to("ada")
    assert not found.to("bo")
    assert visibility.grades_visible_of(found.value) == found
    put_ids(kept.connection, kept.section, {"ada": "L1"})
    found = visibility.grades_visible(kept.connection, kept.section, "final")
    assert found is not None
    assert found.only == {"L1"}
    # Whoever is left sees them; nobody else does.
    kept.connection.execute("DELETE FROM student WHERE id = 'L1'")
    found = visibility.grades_visible(kept.connection, kept.section, "final")
    assert found is not None
    assert not found.to("bo")
    visibility.write_grades_visible(kept.connection, kept.act(), "final", "settled")
    assert entry


def test_an_undo_brings_back_who_saw_them(kept: Kept) -> None:
    some = frozenset({"ada"})
    visibility.write_grades_visible(kept.connection, kept.act(), "final", "settled", some)
    entry = visibility.write_grades_visible(kept.connection, kept.act(), "final", None)
    undo_entry(kept.connection, kept.act(), entry)
    assert visibility.grades_visible(kept.connection, kept.section, "final") == GradesVisible(
        stamp(AT), "settled", some
    )


def test_which_grade_students_see_is_chosen_and_an_undo_brings_the_other_back(kept: Kept) -> None:
    visibility.write_grades_visible(kept.connection, kept.act(), "final", "computed")
    entry = visibility.write_grades_visible(kept.connection, kept.act(), "final", "settled")
    undo_entry(kept.connection, kept.act(), entry)
    found = visibility.grades_visible(kept.connection, kept.section, "final")
    assert found is not None
    assert found.shows == "computed"
    assert visibility.grades_visible_of(found.value) == found
    assert visibility.grades_visible_of("2026-12-19T10:00:00").shows == "settled"
