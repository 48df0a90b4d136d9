"""Acts on scores."""

from datetime import date
from fractions import Fraction

from tests.section.conftest import House
from vinemark.core.base.refused import Refused
from vinemark.core.scores.typed_cells import TypedCell
from vinemark.section.acts.scores import (
    adjust,
    adjustment_fingerprint,
    change_column,
    choose_visibility,
    enter_scores,
    exempt_before,
    save_remark,
)
from vinemark.section.acts.undo import undo, undo_cells
from vinemark.section.outcome import Conflict, Done
from vinemark.store import remarks, visibility

SHORT = "HYDR 230-01"


def test_cells_are_written_together_and_what_is_refused_is_said_beside(house: House) -> None:
    section = house.section(SHORT)
    student = section.course.enrolled()[0]
    (_, one), (_, two) = list(section.course.plan.items())[:2]
    typed = [TypedCell(student.id, one.id, "3.5"), TypedCell(student.id, two.id, "lots")]
    found = enter_scores(section, house.act(section), typed)
    assert found.written.entry is not None
    assert [r.item for r in found.read.refused] == [two.id]
    assert section.fresh().course.cell(student.id, one.id) == Fraction(7, 2)
    nothing = enter_scores(section, house.act(section), typed[1:])
    assert nothing.written.entry is None
    undone = undo_cells(section, house.act(section), found.written.entry)
    assert isinstance(undone, Done)
    assert section.fresh().course.cell(student.id, one.id) == section.course.cell(student.id, one.id)


def test_a_cell_that_somebody_changed_meanwhile_is_not_replaced(house: House) -> None:
    section = house.section(SHORT)
    student = section.course.enrolled()[0]
    _, item = next(iter(section.course.plan.items()))
    enter_scores(section, house.act(section), [TypedCell(student.id, item.id, "1")])
    late = enter_scores(section, house.act(section), [TypedCell(student.id, item.id, "2", was="17")])
    assert late.written.entry is None
    assert [(c.now, c.by) for c in late.written.conflicts] == [("1", "Maren Ostrander")]
    assert section.fresh().course.cell(student.id, item.id) == 1


def test_a_remark_is_one_line_of_limited_length(house: House) -> None:
    section = house.section(SHORT)
    student = section.course.enrolled()[0]
    _, item = next(iter(section.course.plan.items()))
    save_remark(section, house.act(section), student, item, " late \n" + "x" * 600)
    kept = remarks.remarks_of(house.connection, section.id, student.id)[student.id, item.id]
    assert kept.startswith("late xxx")
    assert len(kept) == 500
    save_remark(section, house.act(section), student, item, " ")
    assert (student.id, item.id) not in remarks.remarks_of(house.connection, section.id, student.id)


def test_a_late_student_is_exempt_in_one_act_or_nothing_is_written(house: House) -> None:
    section = house.section(SHORT)
    student = next(s for s in section.course.enrolled() if any(
        section.course.cell(s.id, i.id) is None and i.due for _, i in section.course.plan.items()
    ))  # fmt: skip
    assert exempt_before(section, house.act(section), student, date(2026, 1, 1)) == Done()
    done = exempt_before(section, house.act(section), student, date(2026, 12, 31))
    assert isinstance(done, Done)
    assert done.entry is not None
    assert "exempt" in section.fresh().course.scores[student.id].values()


def test_a_column_and_what_students_see_of_it(house: House) -> None:
    section = house.section(SHORT)
    category = section.course.plan.categories[0]
    item = category.items[0]
    done = change_column(section, house.act(section), item, "everyone", "5")
    assert isinstance(done, Done)
    assert done.entry is not None
    now = section.fresh().course
    assert {now.cell(s.id, item.id) for s in now.enrolled()} == {Fraction(5)}
    undo_cells(section, house.act(section), done.entry)
    assert section.fresh().course.scores == section.course.scores
    for whole, expected in ((False, {item.id}), (True, {i.id for i in category.items})):
        choose_visibility(section, house.act(section), item, "when_full", whole)
        chosen = visibility.visibility_of(house.connection, section.id)
        assert {i for i, rule in chosen.items() if rule == "when_full"} == expected
    assert isinstance(choose_visibility(section, house.act(section), item, "perhaps", False), Refused)


def test_an_adjustment_counts_at_once_and_is_undone(house: House) -> None:
    section = house.section(SHORT)
    student = section.course.enrolled()[0]
    before = section.snapshot.grades[student.id]
    given = adjust(section, house.act(section), student, "-1.5", "agreed")
    assert isinstance(given, Done)
    assert given.text == f"{student.plain_name}: adjustment −1.5: agreed."
    fresh = section.fresh()
    after = fresh.snapshot.grades[student.id]
    assert before.percent is not None
    assert after.percent == before.percent - Fraction(3, 2)
    typed = [TypedCell(student.id, next(fresh.course.plan.items())[1].id, "2")]
    enter_scores(fresh, house.act(fresh), typed)
    assert fresh.fresh().snapshot.grades[student.id].adjustment == Fraction(-3, 2)
    assert given.entry is not None
    assert isinstance(undo(fresh, house.act(fresh), given.entry), Done)
    assert fresh.fresh().course.adjustments == {}


def test_an_adjustment_that_cannot_be_changes_nothing(house: House) -> None:
    section = house.section(SHORT)
    student = section.course.enrolled()[0]
    refused = adjust(section, house.act(section), student, "much", "")
    assert isinstance(refused, Refused)
    assert refused.field == "percent"
    assert adjust(section, house.act(section), student, "", "") == Done()
    seen = adjustment_fingerprint(None)
    assert isinstance(adjust(section, house.act(section), student, "2", "", seen), Done)
    fresh = section.fresh()
    assert isinstance(adjust(fresh, house.act(fresh), student, "3", "", seen), Conflict)


def test_a_column_adjusted_twice_is_found_at_once_and_gone_with_the_undoing(house: House) -> None:
    section = house.section(SHORT)
    item = section.course.plan.categories[0].items[0]

    def found() -> list[str]:
        return [one.message for one in section.fresh().snapshot.findings if one.code == "adjusted-twice"]

    done = [change_column(section.fresh(), house.act(section), item, "add", typed) for typed in ("2", "2.0")]
    (message,) = found()
    assert message.endswith("by the same rule: add points to every score 2.")
    assert message.startswith(f"{item.name} was adjusted twice on ")
    assert isinstance(done[1], Done)
    assert done[1].entry is not None
    undo_cells(section.fresh(), house.act(section), done[1].entry)
    assert found() == []
