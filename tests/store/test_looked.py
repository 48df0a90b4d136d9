"""Who looked is kept once a day, by student, follows another ID and goes with a student."""

from datetime import timedelta

from tests.store.conftest import AT, Kept
from vinemark.store.class_list import put_ids
from vinemark.store.erase import Traces, erase_student
from vinemark.store.looked import ALL_STUDENTS, Looker, looks_at, looks_at_student, note_look

GRADER = Looker("tobias@larkmoor.example", "Tobias", "grader")
LATER = AT + timedelta(hours=1)


def test_a_day_has_one_line_with_how_often(kept: Kept) -> None:
    for at in (AT, LATER, AT + timedelta(days=1)):
        note_look(kept.connection, kept.section, "ada", at, GRADER, "the statement")
    found = looks_at(kept.connection, kept.section)
    assert [(one.first_at, one.last_at, one.times) for one in found] == [
        (AT + timedelta(days=1), AT + timedelta(days=1), 1), (AT, LATER, 2),
    ]  # fmt: skip


def test_of_one_student_is_what_was_of_them_and_of_everybody(kept: Kept) -> None:
    for student in ("ada", "bo", ALL_STUDENTS):
        note_look(kept.connection, kept.section, student, AT, GRADER, f"of {student or 'all'}")
    assert sorted(one.what for one in looks_at(kept.connection, kept.section, "ada")) == ["of ada", "of all"]
    found = looks_at_student(kept.connection, "bo")
    assert [(term, short, look.what) for term, short, look in found] == [
        ("Fall 2026", "HYDR 230-01", "of all"), ("Fall 2026", "HYDR 230-01", "of bo"),
    ]  # fmt: skip
    assert looks_at_student(kept.connection, "nobody") == []


def test_it_follows_another_id_and_goes_with_the_student(kept: Kept) -> None:
    note_look(kept.connection, kept.section, "ada", AT, GRADER, "the statement")
    put_ids(kept.connection, kept.section, {"ada": "L1"})
    assert [one.student_id for one in looks_at(kept.connection, kept.section)] == ["L1"]
    erase_student(kept.connection, kept.act("e"), Traces("L1", ["Ada, Mai"], ["ada"]))
    assert looks_at(kept.connection, kept.section) == []
