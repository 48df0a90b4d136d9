"""The score sheet as rows of plain cells: what stands in each, in which state, and the figures beside them."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from vinemark.core.base.dates import day_words
from vinemark.core.base.number import fixed, round_half_up, trimmed
from vinemark.core.course.cell import Cell, DetailedScore, PlainCell
from vinemark.core.course.cell_text import cell_text
from vinemark.core.course.course import Course, Student
from vinemark.core.grade.calculation import CategoryResult, Grade, ItemState
from vinemark.core.grade.earned import points_words
from vinemark.core.grade.final_steps import companion_letters, is_lowered
from vinemark.core.grade.letters import letters_of, rounded_percent
from vinemark.core.plan.plan import Category, Item, Plan
from vinemark.core.scores.adjusting import adjustment_words
from vinemark.core.scores.plain_figures import plain_figures
from vinemark.core.scores.trial_student import is_trial

Remarks = Mapping[tuple[str, str], str]
"""A few words kept with a cell, by student and item."""


@dataclass(frozen=True)
class SheetCell:
    """One cell: its text, its state as a class name, what a screen reader adds, and the remark kept with it.

    `counts` is what late work or a symbol counts as, where the text does not say it.
    """

    item: Item
    text: str
    state: str
    said: str
    remark: str = ""
    counts: str = ""

    @property
    def points(self) -> bool:
        """Whether it is a plain number of points."""
        return bool(self.text) and not {"missing", "exempt", "recorded", "detailed"} & set(self.state.split())


@dataclass(frozen=True)
class Figure:
    """A course percent for the table, and its letter."""

    percent: str
    letter: str


@dataclass(frozen=True)
class SheetRow:
    """One student: cells by category, category percents, the grade so far, with blanks as 0 and in full.

    `near` says that less than half a percent is missing to the next letter; `adjusted` is the student's adjustment;
    `points` are those earned of those possible so far, `plain` is the average of all percents, without any weights.
    """

    student: Student
    status: str
    groups: Sequence[tuple[Sequence[SheetCell], str]]
    so_far: Figure
    blanks_zero: Figure
    blanks_full: Figure
    near: bool
    grade: Grade
    adjusted: str = ""
    points: str = ""
    plain: str = "–"

    @property
    def by_points(self) -> bool:
        """Whether the course goes by points earned of points possible."""
        return any(one.by_points for one in self.grade.categories)

    def cell(self, item_id: str) -> SheetCell:
        """The cell of an item."""
        return next(cell for cells, _ in self.groups for cell in cells if cell.item.id == item_id)


@dataclass(frozen=True)
class Column:
    """Figures of one item over the enrolled students."""

    average: str
    median: str
    lowest: str
    highest: str
    scored: int


def sheet_rows(course: Course, grades: Mapping[str, Grade], remarks: Remarks | None = None) -> list[SheetRow]:
    """The whole sheet, with everyone's grade."""
    return [sheet_row(course, student, grades[student.id], remarks or {}) for student in course.students]


@dataclass(frozen=True)
class SheetBand:
    """Columns that stand together: those of a category with its percent, or what is only recorded, without one.

    They are wide where late days or symbols are typed, beside which stands what they count as.
    """

    name: str
    weight: Fraction | None
    items: Sequence[Item]
    percent: bool = True
    wide: bool = False


def sheet_bands(plan: Plan) -> list[SheetBand]:
    """The columns of the sheet."""
    weighted = plan.basis == "weighted"
    found = [SheetBand(c.name, c.weight if weighted else None, c.items, wide=_wide(c)) for c in plan.categories]
    recorded = [plan.columns[one.id] for one in plan.recorded]
    return [*found, SheetBand(RECORDED_ONLY, None, recorded, False)] if recorded else found


def sheet_cell(course: Course, student: Student, grade: Grade, item: Item, remark: str = "") -> SheetCell:
    """One cell of a student's row, with their grade."""
    if course.plan.only_recorded(item.id):
        return _recorded_cell(item, course.cell(student.id, item.id), remark)
    found = next((c, m) for c in grade.categories for m in c.states() if m[0].id == item.id)
    return _extended(_cell(found[0], found[1], remark), course, student)


def sheet_row(course: Course, student: Student, grade: Grade, remarks: Remarks) -> SheetRow:
    """A student's row of the sheet, with their grade."""
    letters = letters_of(course.plan)
    groups = [
        ([_extended(_cell(category, marked, remarks.get((student.id, marked[0].id), "")), course, student)
          for marked in category.states()],
         _points(category) if category.by_points else _percent(category.fraction))
        for category in grade.categories
    ]  # fmt: skip
    if course.plan.recorded:
        ones = [course.plan.columns[one.id] for one in course.plan.recorded]
        cells = [_recorded_cell(i, course.cell(student.id, i.id), remarks.get((student.id, i.id), "")) for i in ones]
        groups.append((cells, ""))
    status = _status(course, student)
    zero_letter, full_letter = companion_letters(course.plan, grade)
    so_far = _figure(course.plan, grade.percent, grade.letter)
    zero = _figure(course.plan, grade.blanks_zero, zero_letter)
    full = _figure(course.plan, grade.blanks_full, full_letter)
    adjustment = course.adjustments.get(student.id)
    adjusted = adjustment_words(adjustment) if adjustment else ""
    near = grade.percent is not None and not is_lowered(grade) and letters.near(grade.percent)
    plain = plain_figures(grade)
    points = points_words(grade) if course.plan.basis == "points" else plain.points
    average = "–" if plain.average is None else fixed(plain.average, 1)
    return SheetRow(student, status, groups, so_far, zero, full, near, grade, adjusted, points or "", average)


def _status(course: Course, student: Student) -> str:
    if student.set_aside:
        return "test" if is_trial(student) else "set aside"
    return course.status(student) or "not on the roster"


def _figure(plan: Plan, percent: Fraction | None, letter: str | None) -> Figure:
    return Figure("–" if percent is None else shown_percent(plan, percent), letter or "–")


def shown_percent(plan: Plan, percent: Fraction) -> str:
    """A course percent as its letter explains itself: as the plan rounds it where the letter hangs on that, else with
    so many places that no cutoff seems reached which is not."""
    rounding = plan.rounding
    if rounding is not None and rounding.letter_uses == "rounded":
        return fixed(rounded_percent(rounding, percent) or percent, rounding.decimals)
    places = next((n for n in range(2, 7) if not _seems_to_reach(plan, percent, n)), 6)
    return fixed(percent, places)


def _seems_to_reach(plan: Plan, percent: Fraction, places: int) -> bool:
    """Whether a percent that is shown with so many places seems to reach a cutoff that it misses."""
    shown = round_half_up(percent, places)
    return any(percent < row.cutoff <= shown for row in plan.scale)


def _points(category: CategoryResult) -> str:
    """Points earned of those possible so far."""
    if not (category.size or category.earned):
        return "–"
    return f"{trimmed(category.earned, 2)}/{trimmed(category.size, 2)}"


def _percent(fraction: Fraction | None) -> str:
    return "–" if fraction is None else fixed(100 * fraction, 1)


RECORDED_ONLY = "Recorded only"
STATE_WORDS: dict[str, str] = {
    "dropped_lowest": "dropped as lowest",
    "dropped_highest": "dropped as highest",
    "replaced": "replaced by a better score",
    "waiting": "blank, not counted yet",
    "planned": "does not count yet",
}


def _recorded_cell(item: Item, cell: Cell, remark: str) -> SheetCell:
    classes = "recorded" + (f" {cell}" if isinstance(cell, str) else "") + (" remarked" if remark else "")
    return SheetCell(item, cell_text(cell), classes, "recorded only", remark)


def _cell(category: CategoryResult, marked: tuple[Item, Cell, ItemState], remark: str) -> SheetCell:
    item, cell, state = marked
    text, classes, said, counts = cell_text(cell), state.replace("_", "-"), STATE_WORDS.get(state, ""), ""
    if cell is None and state in {"kept", "dropped_lowest", "dropped_highest", "replaced"}:
        classes += " zero"
        said = "blank, counts as 0" if state == "kept" else "blank, counts as 0, dropped"
        said = "blank, replaced by a better score" if state == "replaced" else said
    elif isinstance(cell, str):
        classes += f" {cell}"
    elif isinstance(cell, Fraction):
        if cell > item.points:
            classes, said = f"{classes} over", "above the item's points"
    elif isinstance(cell, DetailedScore):
        counts = _counts(category.counts_as(item.id), cell)
        classes, said = f"{classes} detailed", "; ".join(filter(None, (said, counts and f"counts as {counts}")))
    classes += (" wide" if _wide(category.category) else "") + (" remarked" if remark else "")
    return SheetCell(item, text, classes, said, remark, counts)


def _extended(cell: SheetCell, course: Course, student: Student) -> SheetCell:
    """A cell that says its own due date, where the student has one."""
    due = course.extended.get(student.id, {}).get(cell.item.id)
    if due is None:
        return cell
    said = "; ".join(filter(None, (cell.said, f"extension to {day_words(due)}")))
    return replace(cell, state=f"{cell.state} extended", said=said)


def _wide(category: Category) -> bool:
    return category.late is not None or bool(category.symbols)


def _counts(value: PlainCell, cell: DetailedScore) -> str:
    """What late work or a symbol counts as; empty where that is what was typed."""
    return trimmed(value, 2) if isinstance(value, Fraction) and value != cell.score else ""


def column(course: Course, item: Item) -> Column:
    """Average, median, lowest, highest and how many are scored."""
    whole, unit = course.risen(item.id)
    if not whole:
        return Column("", "", "", "", 0)
    average, middle = Fraction(sum(whole), len(whole) * unit), Fraction(_twice_median(whole), 2 * unit)
    lowest, highest = Fraction(whole[0], unit), Fraction(whole[-1], unit)
    return Column(fixed(average, 1), trimmed(middle, 2), trimmed(lowest, 2), trimmed(highest, 2), len(whole))


def _twice_median(ordered: Sequence[int]) -> int:
    """Twice the middle value, or the sum of the two in the middle."""
    return ordered[(len(ordered) - 1) // 2] + ordered[len(ordered) // 2]


def histogram(course: Course, item: Item) -> list[int]:
    """How many enrolled students scored in each tenth of the points, the last one for full points and above; empty for
    what is only recorded, a count."""
    if course.plan.only_recorded(item.id):
        return []
    found = [0] * 11
    for student in course.enrolled():
        cell = course.value(student.id, item.id)
        if isinstance(cell, Fraction):
            found[min(10, int(10 * cell / item.points))] += 1
    return found if any(found) else []
