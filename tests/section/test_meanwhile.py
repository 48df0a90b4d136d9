"""What others changed since a page was looked at stands in the way; what one did oneself, or elsewhere, does not."""

from dataclasses import replace

import pytest

from tests.section.conftest import House
from vinemark.core.course.course import Settled, Student
from vinemark.core.plan import edit
from vinemark.core.plan.plan import Plan
from vinemark.core.scores.column import column_change
from vinemark.section.acts import scores
from vinemark.section.acts.plan import EditPlan, apply_preview, change_plan, discard_preview
from vinemark.section.acts.settle import put_back, rest_fingerprint, set_aside, settle, settle_rest
from vinemark.section.meanwhile import fingerprint
from vinemark.section.outcome import Conflict, Done
from vinemark.section.settle_list import settle_lines
from vinemark.section.state import SectionState
from vinemark.store.history import Act

SHORT = "HYDR 230-01"


def seen(house: House, section: SectionState, page: str = "stale") -> Act:
    """A request of a page that shows the section as it is now."""
    return replace(house.act(section), page=page, seen=section.fresh().snapshot.version)


def an_open_student(section: SectionState) -> tuple[Student, str]:
    line = next(one for one in settle_lines(section) if one.graded and one.computed in {"B", "C", "D"})
    return line.student, str(line.computed)


def test_a_grade_that_another_window_settled_is_not_overwritten(house: House) -> None:
    section = house.section(SHORT)
    student, letter = an_open_student(section)
    stale = seen(house, section)
    settle(section, house.act(section), student, Settled(letter), "")
    mine = Settled("F", "copied the report")
    told = settle(section, stale, student, mine, "")
    assert isinstance(told, Conflict)
    assert told.text.startswith("You, in another window, changed this at 10:20 AM: ")
    assert f"settled as {letter}. What you typed is not saved yet." in told.text
    looked_again = seen(house, section)
    assert isinstance(settle(section, looked_again, student, mine, ""), Done)


def test_the_same_grade_one_taken_back_and_ones_own_page_are_no_surprise(house: House) -> None:
    section = house.section(SHORT)
    student, letter = an_open_student(section)
    stale = seen(house, section)
    settle(section, house.act(section), student, Settled(letter), "")
    assert settle(section, stale, student, Settled(letter), "") == Done()
    settle(section, house.act(section), student, None, "")
    assert isinstance(settle(section, stale, student, Settled("F", "copied"), ""), Done)
    settle(section, house.act(section), student, None, "")
    own = seen(house, section, page="one page")
    settle(section, own, student, Settled(letter), "")
    assert isinstance(settle(section, own, student, Settled("F", "copied"), ""), Done)


def renamed(name: str, place: int = 0) -> EditPlan:
    def edited(plan: Plan) -> tuple[Plan, str]:
        return edit.rename_category(plan, plan.categories[place].id, name), f"{name} it is"

    return edited


def test_two_edits_of_one_plan_meet_only_at_one_place(house: House) -> None:
    section = house.section(SHORT)
    stale = seen(house, section)
    change_plan(section, house.act(section), renamed("Theirs"))
    assert isinstance(change_plan(section, stale, renamed("Elsewhere", 1)), Done)
    told = change_plan(section, stale, renamed("Mine"))
    assert isinstance(told, Conflict)
    assert "Theirs it is" in told.text
    assert section.fresh().course.plan.categories[0].name == "Theirs"


@pytest.mark.parametrize("ends", [True, False])
def test_a_preview_of_another_window_counts_as_a_change(house: House, ends: bool) -> None:
    section = house.section(SHORT)
    stale = seen(house, section)

    def weight(plan: Plan) -> tuple[Plan, str]:
        first, second = plan.categories[:2]
        plan = edit.set_weight(plan, first.id, "1")
        return edit.set_weight(plan, second.id, "2"), "weights changed"

    change_plan(section, house.act(section), weight)
    assert section.fresh().snapshot.loaded.draft is not None
    if ends:
        apply_preview(section, house.act(section), "as agreed")
    else:
        discard_preview(section, house.act(section))
    told = change_plan(section, stale, lambda plan: (edit.set_weight(plan, plan.categories[0].id, "9"), "mine"))
    assert isinstance(told, Conflict)


def test_settling_the_rest_takes_what_was_shown(house: House) -> None:
    section = house.section(SHORT)
    shown = rest_fingerprint(section)
    student, letter = an_open_student(section)
    settle(section, house.act(section), student, Settled(letter), "")
    before = dict(section.fresh().of_run.course.settled)
    told = settle_rest(section, house.act(section), shown)
    assert isinstance(told, Conflict)
    assert told.text == (
        "The computed grades changed since you opened this page, so nothing was done. Check again, then repeat it."
    )
    assert section.fresh().of_run.course.settled == before
    assert isinstance(settle_rest(section, house.act(section), rest_fingerprint(section.fresh())), Done)


def test_what_was_done_already_is_no_conflict_with_itself(house: House) -> None:
    section = house.section(SHORT)
    shown = rest_fingerprint(section)
    first = settle_rest(section, house.act(section, "one key"), shown)
    again = settle_rest(section, house.act(section, "one key"), shown)
    assert isinstance(first, Done)
    assert again == Done(entry=first.entry)


def test_a_column_is_changed_as_it_was_shown(house: House) -> None:
    section = house.section(SHORT)
    item = next(item for _, item in section.course.plan.items() if item.id == "q1")
    effect = column_change(section.course, item, "add", "1", section.as_of)
    shown = scores.column_fingerprint(section, item, effect)
    student = section.course.student(effect.cells[0][0])
    assert student is not None
    scores.change_column(section, house.act(section), item, "add", "2")
    told = scores.change_column(section, house.act(section), item, "add", "1", shown)
    assert isinstance(told, Conflict)
    assert "Scores of this column changed since you opened this page" in told.text


def test_a_remark_that_is_no_longer_as_it_was(house: House) -> None:
    section = house.section(SHORT)
    student, item = section.course.students[0], next(item for _, item in section.course.plan.items())
    scores.save_remark(section, house.act(section), student, item, "theirs", "")
    told = scores.save_remark(section, house.act(section), student, item, "mine", "")
    assert told == Conflict("theirs")
    assert isinstance(scores.save_remark(section, house.act(section), student, item, "mine", "theirs"), Done)
    assert section.fresh().snapshot.loaded.remarks[(student.id, item.id)] == "mine"


def test_setting_aside_by_two(house: House) -> None:
    section = house.section(SHORT)
    student = section.course.students[0]
    stale = seen(house, section)
    set_aside(section, house.act(section), student, "sits in")
    assert isinstance(set_aside(section, stale, student, "not registered"), Conflict)
    assert isinstance(put_back(section, stale, student), Conflict)
    assert isinstance(put_back(section, seen(house, section), student), Done)


def test_a_fingerprint_stands_for_the_values_in_any_order() -> None:
    assert fingerprint(["a", "b"]) == fingerprint(["b", "a"]) != fingerprint(["a b"])
