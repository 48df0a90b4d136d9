"""A statement says what is visible and nothing else: changed in any hidden place it is the same, to the letter."""

from collections.abc import Mapping
from fractions import Fraction
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.builders import AFTER, category, course, plan
from tests.core.strategies import ruled_courses
from vinemark.core.course.course import Course
from vinemark.core.scores.sheet import Column, column
from vinemark.core.statement.shown import FEWEST_SCORES, StudentsSee
from vinemark.core.statement.statement import Statement, statement_of
from vinemark.core.statement.what_if import needed, tried

ALL = StudentsSee(figures=True)


def figures(of: Course, visible: set[str]) -> Mapping[str, Column | None]:
    return {item.id: column(of, item) for item in of.plan.columns.values() if item.id in visible}


def made(of: Course, visible: set[str], shows: StudentsSee = ALL) -> Statement:
    return statement_of(of, of.students[0], figures(of, visible), shows, AFTER)


def said(one: Statement) -> tuple[Any, ...]:
    """Everything that a page can take from a statement."""
    grade, student = one.grade, one.student.id
    what_if: list[Any] = []
    for work in one.to_come[:2]:
        typed = {work.item.id: work.item.points}
        then = tried(one.course, one.whole, student, typed, AFTER)
        what_if.append((then.percent, then.letter))
        what_if += [needed(one.course, one.whole, student, work.item, r.letter, {}, AFTER) for r in one.whole.scale[:1]]
    return (
        one.categories, one.recorded, one.worked, one.letter, one.bars, one.rules, one.left_out, one.hidden,
        one.to_come, grade.percent, grade.rounded, grade.letter, grade.blanks_zero, grade.blanks_full, what_if,
    )  # fmt: skip


@given(of=ruled_courses(), draw=st.data())
@settings(max_examples=120, deadline=None)
def test_no_hidden_score_can_be_worked_out(of: Course, draw: st.DataObject) -> None:
    items = list(of.plan.columns)
    visible = set(draw.draw(st.lists(st.sampled_from(items), unique=True))) if items else set()
    first = of.students[0].id
    other = {
        student: {
            item: cell if item in visible else draw.draw(st.sampled_from(["missing", "exempt", None, Fraction(3, 2)]))
            for item, cell in row.items()
        }
        for student, row in of.scores.items()
    }
    hidden = {item: Fraction(1) for item in items if item not in visible}
    changed = Course(**{**of.__dict__, "scores": {**other, first: {**hidden, **other.get(first, {})}}, "settled": {}})
    assert said(made(of, visible)) == said(made(changed, visible))


def test_scores_figures_and_worth_stand_at_each_piece_of_work() -> None:
    of = course(plan(category("10", "20")), {f"s{n}": [str(n), str(2 * n)] for n in range(1, FEWEST_SCORES + 1)})
    quiz, paper = made(of, {"i0"}).categories[0].work
    assert (quiz.score, quiz.percent, quiz.average, quiz.median, quiz.became) == ("1", "10", "3.0", "3", "counts")
    assert (paper.visible, paper.score, paper.percent, paper.average) == (False, "", "", "")
    assert [one.worth for one in (quiz, paper)] == ["33.33", "66.67"]
    assert made(of, {"i0"}).hidden == 1


def test_of_few_scores_no_average_is_shown() -> None:
    of = course(plan(category("10")), {f"s{n}": [str(n)] for n in range(1, FEWEST_SCORES)})
    assert made(of, {"i0"}).categories[0].work[0].average == ""


def test_switches_take_figures_away() -> None:
    of = course(plan(category("10")), {f"s{n}": [str(n)] for n in range(1, 7)})
    bare = made(of, {"i0"}, StudentsSee(False, False, False, False, False, False))
    work = bare.categories[0].work[0]
    assert (work.score, work.percent, work.average, bare.letter, bare.worked) == ("", "", "", "", None)
    assert (work.scored, work.to_come) == (True, False)
    lost = course(plan(category("10")), {"s": ["missing"]})
    assert made(lost, {"i0"}, StudentsSee(points=False)).categories[0].work[0].score == "missing"


def test_what_is_to_come_is_what_has_no_visible_score_and_counts() -> None:
    of = course(plan(category("10", "10", "10")), {"s": ["5", None, "7"]})
    assert [one.item.id for one in made(of, {"i0", "i1"}).to_come] == ["i1", "i2"]
