"""Acts of settling."""

from datetime import datetime

from tests.section.conftest import House
from vinemark.core.base.moments import stamp
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Settled
from vinemark.section.acts.settle import add_from_roster, put_back, set_aside, settle, settle_rest, show_grades
from vinemark.section.acts.undo import undo
from vinemark.section.outcome import Conflict, Done
from vinemark.section.settle_list import others_in_place, settle_lines
from vinemark.section.state import SectionState
from vinemark.store import visibility
from vinemark.store.visibility import GradesVisible

SHORT = "HYDR 230-01"


def settled_of(section: SectionState) -> dict[str, Settled]:
    return dict(section.fresh().of_run.course.settled)


def test_one_grade_is_settled_opened_again_and_undone(house: House) -> None:
    section = house.section(SHORT)
    line = next(one for one in settle_lines(section) if one.graded and one.computed in {"B", "C", "D"})
    done = settle(section, house.act(section), line.student, Settled(str(line.computed)), "")
    assert isinstance(done, Done)
    assert done.entry is not None
    assert settled_of(section)[line.student.id].grade == line.computed
    again = settle(section.fresh(), house.act(section), line.student, Settled(str(line.computed)), "")
    assert again == Done()
    settle(section, house.act(section), line.student, None, "")
    assert line.student.id not in settled_of(section)
    assert isinstance(undo(section, house.act(section), done.entry), Conflict)


def test_a_raise_waits_until_those_in_the_same_place_were_seen(house: House) -> None:
    section = house.section(SHORT)
    order = [row.letter for row in section.course.plan.scale]
    for line in settle_lines(section):
        if not line.graded or line.grade.letter not in order[1:]:
            continue
        better = order[order.index(str(line.grade.letter)) - 1]
        others = others_in_place(section, line.student, better)
        if others:
            break
    typed = Settled(better, "strong report")
    refused = settle(section, house.act(section), line.student, typed, "")
    assert isinstance(refused, Refused)
    assert refused.field == "fair"
    assert settled_of(section) == settled_of(house.section(SHORT))
    assert isinstance(settle(section, house.act(section), line.student, typed, str(others)), Done)
    reworded = Settled(better, "a strong report")
    assert isinstance(settle(section, house.act(section), line.student, reworded, ""), Done)
    assert settled_of(section)[line.student.id].reason == "a strong report"


def test_the_rest_is_taken_in_one_act_with_one_undo_and_each_run_by_itself(house: House) -> None:
    section = house.section(SHORT)
    done = settle_rest(section, house.act(section))
    assert isinstance(done, Done)
    assert done.entry is not None
    taken = settled_of(section)
    assert f"{len(taken)} grades settled as computed" in done.text
    again = settle_rest(section, house.act(section))
    assert isinstance(again, Refused)
    undo(section, house.act(section), done.entry)
    assert settled_of(section) == {}
    midterm = house.section(SHORT, "midterm")
    before = settled_of(house.section(SHORT))
    taken_before = settled_of(midterm)
    opened = midterm.course.student(next(iter(taken_before)))
    assert opened is not None
    settle(midterm, house.act(midterm), opened, None, "")
    found = settle_rest(midterm, house.act(midterm))
    assert isinstance(found, Done)
    assert found.text.startswith("1 midterm grade settled as computed")
    assert settled_of(house.section(SHORT)) == before


def test_set_aside_with_a_reason_and_back(house: House) -> None:
    section = house.section(SHORT)
    student = section.course.enrolled()[0]
    refused = set_aside(section, house.act(section), student, "  ")
    assert isinstance(refused, Refused)
    assert refused.field == "aside"
    set_aside(section, house.act(section), student, " sits  in ")
    found = section.fresh().course.student(student.id)
    assert found is not None
    assert found.set_aside == "sits in"
    assert [one.status for one in settle_lines(section.fresh()) if one.student.id == student.id] == ["set aside"]
    put_back(section, house.act(section), found)
    assert student in section.fresh().course.enrolled()


def test_from_the_roster_once_and_nobody_else(house: House) -> None:
    section = house.section(SHORT)
    (missing, *_) = [entry for entry in section.course.not_in_section() if entry.status == "enrolled"]
    assert isinstance(add_from_roster(section, house.act(section), missing.id), Done)
    assert section.fresh().course.student(missing.id) is not None
    count = len(section.fresh().course.students)
    assert add_from_roster(section, house.act(section), missing.id) == Done()
    assert isinstance(add_from_roster(section, house.act(section), "nobody"), Refused)
    assert len(section.fresh().course.students) == count


def test_what_students_see_of_a_run(house: House) -> None:
    section = house.section(SHORT)
    show_grades(section, house.act(section), "settled")
    assert section.fresh().of_run.visible == GradesVisible(stamp(datetime(2026, 12, 19, 10, 20)), "settled")
    show_grades(section, house.act(section), "computed")
    assert section.fresh().of_run.visible == GradesVisible(stamp(datetime(2026, 12, 19, 10, 20)), "computed")
    show_grades(section, house.act(section), None)
    assert visibility.grades_visible(house.connection, section.id, "final") is None


def test_grades_are_shown_to_some_and_it_is_said_how_many_are_not_settled(house: House) -> None:
    section = house.section("HYDR 230-01")
    first, second = section.course.enrolled()[:2]
    settle_rest(section, house.act(section))
    settle(section, house.act(section), first, None, "")
    said = show_grades(section, house.act(section), "settled", None, frozenset({first.id, second.id, "nobody"}))
    assert isinstance(said, Done)
    assert "Visible to 2 of 34 students" in said.text
    assert "1 student not settled yet" in said.text
    assert isinstance(show_grades(section, house.act(section), "settled", None, frozenset()), Refused)
