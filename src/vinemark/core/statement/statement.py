"""A student's statement: each piece of work with what is visible of it, and the grade so far worked out of that."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from fractions import Fraction

from vinemark.core.base.number import percent_text, trimmed
from vinemark.core.course.cell import Cell
from vinemark.core.course.cell_text import cell_text
from vinemark.core.course.course import Course, Student
from vinemark.core.grade.calculation import Grade, ItemResult, grade_of
from vinemark.core.grade.contributions import Bar, bars
from vinemark.core.grade.steps import BECAME, Steps, steps_of
from vinemark.core.plan.plan import HUNDRED, Category, Item, Plan
from vinemark.core.plan.sentences import basis_words, category_text, rules_beside
from vinemark.core.plan.worth import item_worth
from vinemark.core.scores.sheet import Column
from vinemark.core.statement.shown import FEWEST_SCORES, StudentsSee
from vinemark.core.statement.visible import left_out, visible_course


@dataclass(frozen=True)
class ShownWork:
    """One piece of work as its student sees it. Texts are empty where they are not shown, or there is nothing.

    `worth` is what it can bring of the final grade, in percent.
    """

    item: Item
    visible: bool
    scored: bool
    score: str
    percent: str
    became: str
    average: str
    median: str
    worth: str

    @property
    def to_come(self) -> bool:
        """Whether a score is still to come, or to be shown."""
        return not self.visible or not self.scored


@dataclass(frozen=True)
class ShownCategory:
    """The work of one category, and its rules in words."""

    category: Category
    rules: str
    work: Sequence[ShownWork]


@dataclass(frozen=True)
class Statement:
    """Everything of a section that one student sees but the settled grade. `worked` and `bars` stand on visible
    scores alone; `left_out` are requirements that look at work not shown yet."""

    student: Student
    shows: StudentsSee
    course: Course
    whole: Plan
    as_of: date
    categories: Sequence[ShownCategory]
    recorded: Sequence[ShownWork]
    grade: Grade
    worked: Steps | None
    letter: str
    bars: Sequence[Bar]
    rules: Sequence[str]
    left_out: Sequence[str]

    @property
    def hidden(self) -> int:
        """How many pieces of work are not shown."""
        return sum(not one.visible for group in self.categories for one in group.work)

    @property
    def to_come(self) -> Sequence[ShownWork]:
        """Work whose score is still to come or to be shown, and that counts."""
        counting = {item.id for _, item in self.whole.items() if item.counts}
        return [one for group in self.categories for one in group.work if one.to_come and one.item.id in counting]


def statement_of(
    course: Course, student: Student, visible: Mapping[str, Column | None], shows: StudentsSee, as_of: date
) -> Statement:
    """A student's statement; `visible` are the items that students see, each with its figures over the class."""
    seen, whole = visible_course(course, student.id, visible), course.plan_of(student.id)
    grade = grade_of(seen, student.id, as_of)
    results = {one.item.id: one for category in grade.categories for one in category.items}

    def work(item: Item, worth: Mapping[str, Fraction]) -> ShownWork:
        return _work(item, seen.cell(student.id, item.id), results.get(item.id), visible, shows, worth)

    return Statement(
        student=student,
        shows=shows,
        course=seen,
        whole=whole,
        as_of=as_of,
        categories=[
            ShownCategory(
                category, category_text(whole, category), [work(i, item_worth(whole, category)) for i in category.items]
            )
            for category in whole.categories
        ],
        recorded=[work(item, {}) for item in _recorded(whole)],
        grade=grade,
        worked=steps_of(seen.plan, grade) if shows.percent else None,
        letter=(grade.letter or "") if shows.letter else "",
        bars=bars(grade) if shows.percent else [],
        rules=[basis_words(whole), *rules_beside(whole)],
        left_out=[one.text or f"a requirement ({one.id})" for one in left_out(whole, visible)],
    )


def _recorded(plan: Plan) -> list[Item]:
    placed = {item.id for _, item in plan.items()}
    return [item for item in plan.columns.values() if item.id not in placed]


def _work(
    item: Item,
    cell: Cell,
    result: ItemResult | None,
    visible: Mapping[str, Column | None],
    shows: StudentsSee,
    worth: Mapping[str, Fraction],
) -> ShownWork:
    seen, column = item.id in visible, visible.get(item.id)
    figures = column if seen and shows.figures and column is not None and column.scored >= FEWEST_SCORES else None
    carries = worth.get(item.id)
    return ShownWork(
        item=item,
        visible=seen,
        scored=seen and cell is not None,
        score=cell_text(cell) if seen and (shows.points or isinstance(cell, str)) else "",
        percent=_percent(item, result) if seen and shows.percent else "",
        became=BECAME[result.state] if seen and shows.percent and result is not None else "",
        average=figures.average if figures else "",
        median=figures.median if figures else "",
        worth="" if carries is None else trimmed(carries, 2),
    )


def _percent(item: Item, result: ItemResult | None) -> str:
    if result is None or result.cell is None or isinstance(result.cell, str) or not item.points:
        return ""
    return percent_text(HUNDRED * result.value / item.points) or ""
