"""A whole column at once: everyone the same, blanks turned into something, scores adjusted; and what it would do."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import date
from fractions import Fraction
from typing import Literal

from vinemark.core.base.number import exact_text
from vinemark.core.base.refused import Refused
from vinemark.core.course.cell import Cell, DetailedScore, scored
from vinemark.core.course.cell_text import cell_text
from vinemark.core.course.course import Course
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.plan.plan import Item, Plan
from vinemark.core.plan.scale import sorted_scale
from vinemark.core.scores.typed_score import read_plan_score

Action = Literal["everyone", "blanks", "missing", "exempt", "add", "maximum"]
ACTIONS: tuple[tuple[Action, str, bool], ...] = (
    ("everyone", "give everyone", True),
    ("blanks", "give every blank", True),
    ("missing", "turn blanks into missing", False),
    ("exempt", "turn blanks into exempt", False),
    ("add", "add points to every score", True),
    ("maximum", "read every score as out of … points", True),
)


def actions_on(plan: Plan, item: Item) -> list[tuple[Action, str, bool]]:
    """What can be done to a column; what is only recorded, a count, has no points to be read by."""
    recorded = plan.only_recorded(item.id)
    return [one for one in ACTIONS if not (recorded and one[0] == "maximum")]


def done_words(action: str, value: str) -> str:
    """What was done to a column, for the history: 'add points to every score 2'."""
    words = next((words for name, words, _ in ACTIONS if name == action), action)
    return f"{words} {value.strip()}".strip()


@dataclass(frozen=True)
class ColumnChange:
    """The cells that would change, and what that does to letters."""

    cells: Sequence[tuple[str, Cell]]
    letters_up: int
    letters_down: int

    @property
    def words(self) -> str:
        """How many cells, and letters: '31 cells of 31 students; letters: 2 up, 0 down'."""
        count = len(self.cells)
        people = "1 student" if count == 1 else f"{count} students"
        cells = "1 cell" if count == 1 else f"{count} cells"
        return f"{cells} of {people}; letters: {self.letters_up} up, {self.letters_down} down"


def column_change(course: Course, item: Item, action: str, value: str, as_of: date) -> ColumnChange:
    """What an action on a column changes; raises Refused at 'action' or 'value'. Nothing is kept.

    Students who withdrew or are set aside are left alone.
    """
    change = _changer(course.plan, item, action, value)
    people = [s.id for s in course.students if s.set_aside is None and course.status(s) != "withdrawn"]
    new = [(student, change(course.cell(student, item.id))) for student in people]
    cells = [(student, cell) for student, cell in new if cell != course.cell(student, item.id)]
    up, down = _letters(course, item, cells, as_of)
    return ColumnChange(cells, up, down)


def action_value(plan: Plan, item: Item, action: str, value: str) -> str:
    """The value of an action as it is written exactly, so that the same figure is the same text."""
    takes = any(name == action and takes for name, _, takes in ACTIONS)
    return cell_text(read_plan_score(plan, item, value).cell) if takes else ""


def _changer(plan: Plan, item: Item, action: str, value: str) -> Callable[[Cell], Cell]:
    if action in {"missing", "exempt"}:
        return lambda cell: action if cell is None else cell  # type: ignore[return-value]
    if action not in {name for name, _, _ in actions_on(plan, item)}:
        raise Refused("action", "choose an action")
    try:
        entry = read_plan_score(plan, item, value).cell
    except Refused as error:
        raise Refused("value", error.reason) from error
    if action == "everyone":
        return lambda _: entry
    if action == "blanks":
        return lambda cell: entry if cell is None else cell
    if not isinstance(entry, Fraction) or entry <= 0:
        raise Refused("value", "must be a number above 0")
    return _adjuster(item, action, entry)


def _adjuster(item: Item, action: str, by: Fraction) -> Callable[[Cell], Cell]:
    """Scores with points added, or read as out of another maximum: 40 of 50 is 32 of 40. Late days and symbols stay."""

    def adjusted(cell: Cell) -> Cell:
        score = cell.score if isinstance(cell, DetailedScore) else cell
        if not isinstance(score, Fraction):
            return cell
        made = score + by if action == "add" else score * item.points / by
        if "/" in exact_text(made):
            raise Refused(
                "value", f"gives {made} for a score of {exact_text(score)}, which cannot be written as a decimal"
            )
        return scored(made, cell.late) if isinstance(cell, DetailedScore) else made

    return adjusted


def _letters(course: Course, item: Item, cells: Sequence[tuple[str, Cell]], as_of: date) -> tuple[int, int]:
    """How many letters go up and down."""
    scores = {student: dict(row) for student, row in course.scores.items()}
    for student, cell in cells:
        scores.setdefault(student, {})[item.id] = cell
    before, after = grades_of(course, as_of), grades_of(replace(course, scores=scores), as_of)
    order = [row.letter for row in sorted_scale(course.plan.scale)]
    moves = [
        order.index(before[s].letter or "") - order.index(after[s].letter or "")
        for s, _ in cells
        if before[s].letter in order and after[s].letter in order
    ]
    return sum(move > 0 for move in moves), sum(move < 0 for move in moves)
