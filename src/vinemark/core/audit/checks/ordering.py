"""Checks of scores in the order of the class: what pasting, sorting, filling down and skipping a cell leave behind."""

from collections.abc import Iterator, Sequence
from fractions import Fraction
from typing import Final

import numpy as np

from vinemark.core.audit.finding import Facts, Found
from vinemark.core.audit.order import EqualRun, Move, Parts
from vinemark.core.audit.score_table import IS_BLANK, IS_EXEMPT, IS_MISSING, ItemColumn
from vinemark.core.base.number import exact_text, fixed
from vinemark.core.course.cell_text import cell_text
from vinemark.core.course.course import Student
from vinemark.core.grade.class_columns import Ints
from vinemark.core.plan.amounts import blank_counts
from vinemark.core.plan.plan import HUNDRED, Item

ROWS_SHOWN: Final = 6
BASE_NUMBERS, BASE_OTHERS = 8, 3
USUAL_POINTS: Final = tuple(Fraction(points) for points in (1, 4, 5, 10, 20, 25, 30, 40, 50, 100))
"""What points often are out of."""
SAME_ROW, SAME_APART = 6, 5
TAIL, SLIPS, ZEROS = 3, 3, 3
OFTEN, OFTEN_OF = 7, 14
WORDS_IN_RUN: Final = {IS_MISSING: "missing", IS_EXEMPT: "exempt"}


def points_off(facts: Facts) -> Iterator[Found]:
    """A column in another base than its points: most scores above them, or all far below and in line with fewer."""
    cells, unit = facts.order.cells, facts.table.unit
    if not len(cells):
        return
    above, there, highest = (cells > unit).sum(axis=0), (cells > 0).sum(axis=0), cells.max(axis=0)
    over = (above >= BASE_OTHERS) & (2 * above >= there)
    below = (there >= BASE_NUMBERS) & (100 * highest <= 55 * unit)
    for place in map(int, np.flatnonzero(over | below)):
        one = facts.table.columns[facts.table.regular[place]]
        most = Fraction(int(highest[place]), unit) * one.item.points
        if over[place]:
            yield _base(one, f"{above[place]} of {there[place]} scores on {one.item.name} are above its points"
                             f" ({exact_text(one.item.points)}).", most)  # fmt: skip
        else:
            yield from _far_below(facts, place, one, most)


def _base(one: ItemColumn, message: str, highest: Fraction) -> Found:
    base = next((base for base in USUAL_POINTS if base >= highest), None)
    guess = f" Out of {exact_text(base)}?" if base is not None and base != one.item.points else ""
    return _of(one, message, f"The highest is {exact_text(highest)}.{guess}")


def _far_below(facts: Facts, place: int, one: ItemColumn, highest: Fraction) -> Iterator[Found]:
    """All scores below 55%, and read as out of a usual number just above the highest they are like the other items."""
    fit, points = facts.fit, one.item.points
    levels = [int(level) for n, level in enumerate(fit.level) if n != place and fit.has_level[n]]
    if len(levels) < BASE_OTHERS or not fit.has_level[place]:
        return
    level = int(fit.level[place])
    bases = {base for base in (*USUAL_POINTS, points / 2, points / 10) if highest <= base < points}
    fits = [
        base for base in sorted(bases)
        if 100 * highest >= 85 * base and min(levels) * 9 <= level * points / base * 10 and
        level * points / base * 10 <= max(levels) * 11
    ]  # fmt: skip
    if fits and 100 * (min(levels) - level) >= 20 * fit.unit:
        yield _of(
            one,
            f"No score on {one.item.name} is above {exact_text(highest)} of {exact_text(points)}; read as out of"
            f" {exact_text(fits[0])} they are like the other items.",
            f"Median here {_percent(level, fit.unit)}, of the other items"
            f" {_percent(min(levels), fit.unit)} to {_percent(max(levels), fit.unit)}.",
        )


def column_sorted(facts: Facts) -> Iterator[Found]:
    """A column whose scores rise or fall from row to row."""
    for place, one in _columns(facts):
        if place in facts.order.in_order:
            yield _of(
                one,
                f"The scores of {one.item.name} stand in order of size, row after row: sorted without the names?",
                *_first_scores(facts, one.item, 0),
            )


def column_unlike(facts: Facts) -> Iterator[Found]:
    """A column that goes with no student's other scores, while every other column does."""
    for place, one in _columns(facts):
        if place in facts.order.unlike and place not in facts.order.in_order and place not in facts.fit.displaced:
            yield _of(
                one,
                f"The scores of {one.item.name} do not go with what the students have elsewhere: in the wrong rows?",
                "Every other item goes with the rest of the work; this one hardly does.",
            )


def column_parted(facts: Facts) -> Iterator[Found]:
    """A column of which one part of the class is far higher or lower than the other."""
    for place, one in _columns(facts):
        parts = facts.order.parted.get(place)
        if parts is not None and place not in facts.order.in_order | facts.fit.displaced.keys():
            yield _parted(facts, one, parts)


def _parted(facts: Facts, one: ItemColumn, parts: Parts) -> Found:
    by = fixed(abs(Fraction(parts.by, facts.fit.unit)) * one.item.points, 1)
    return _of(
        one,
        f"From {facts.table.students[parts.row].plain_name} on, the scores of {one.item.name} are about {by} of"
        f" {exact_text(one.item.points)} {'higher' if parts.by > 0 else 'lower'} against the students’ other work.",
        "Adjusted, or graded, for a part of the class only?",
    )


def filled_down(facts: Facts) -> Iterator[Found]:
    """A run of students with one and the same score, or word, that is rare elsewhere in the column."""
    for place, one in _columns(facts):
        run = facts.order.runs.get(place)
        if run is not None:
            students = facts.table.students[run.row : run.row + run.length]
            yield _of(
                one,
                f"{run.length} students in a row have {_value(facts, one.item, run)} on {one.item.name},"
                f" from {students[0].plain_name} to {students[-1].plain_name}: filled down?",
                *_first_scores(facts, one.item, max(0, run.row - 1)),
            )


def _value(facts: Facts, item: Item, run: EqualRun) -> str:
    if run.value in WORDS_IN_RUN:
        return WORDS_IN_RUN[run.value]
    return exact_text(Fraction(run.value, facts.table.unit) * item.points)


def row_copied(facts: Facts) -> Iterator[Found]:
    """Two students with the same scores all along, but for one at most."""
    table = facts.table
    for row, first in facts.order.same_rows:
        if _tells(facts.order.cells, row):
            student, other = table.students[row], table.students[first]
            numbers = int((facts.order.cells[row] >= 0).sum())
            yield Found(
                f"{student.plain_name} has the same {numbers} scores as {other.plain_name}.",
                student=student.id,
                evidence=["Pasted or filled down over one row too many?"],
            )


def _tells(cells: Ints, row: int) -> bool:
    """Whether so many scores being equal says something: most are not what most of the class has."""
    numbers = np.flatnonzero(cells[row] >= 0)
    if len(numbers) < SAME_ROW:
        return False
    return sum(6 * int((cells[:, n] == cells[row, n]).sum()) <= 6 * 2 + len(cells) for n in numbers) >= SAME_APART


def row_moved(facts: Facts) -> Iterator[Found]:
    """A student's scores that fit far better one item on."""
    for row, move in sorted(facts.order.moved_rows.items()):
        yield _row(facts, row, move)


def _row(facts: Facts, row: int, move: Move) -> Found:
    student, columns = facts.table.students[row], [facts.table.columns[place] for place in facts.table.regular]
    first = columns[move.place].item
    cells = [(one.item, cell_text(facts.course.cell(student.id, one.item.id))) for one in columns[move.place :]]
    return Found(
        f"The scores of {student.plain_name} from {first.name} on fit far better one item"
        f" {'later' if move.step > 0 else 'earlier'}: a cell skipped while typing?",
        student=student.id,
        evidence=[f"{item.name}: {text or 'blank'} of {exact_text(item.points)}" for item, text in cells[:ROWS_SHOWN]],
        opens=first.id,
    )


def _columns(facts: Facts) -> list[tuple[int, ItemColumn]]:
    """The regular items of ordinary categories by their place among them."""
    return [(place, facts.table.columns[column]) for place, column in enumerate(facts.table.regular)]


def _first_scores(facts: Facts, item: Item, row: int) -> Sequence[str]:
    students = facts.table.students[row : row + ROWS_SHOWN]
    return [f"{s.plain_name}: {cell_text(facts.course.cell(s.id, item.id)) or 'blank'}" for s in students]


def _of(one: ItemColumn, message: str, *evidence: str) -> Found:
    return Found(message, category=one.category.id, item=one.item.id, evidence=evidence)


def _percent(part: int, unit: int) -> str:
    return f"{fixed(HUNDRED * Fraction(part, unit), 0)}%"


def tail_blank(facts: Facts) -> Iterator[Found]:
    """The last students of the class are blank in an item whose day is over, and hardly anybody else is."""
    blanks = facts.order.cells == IS_BLANK
    for place in map(int, np.flatnonzero(blanks[-TAIL:].all(axis=0))):
        one, blank = facts.table.columns[facts.table.regular[place]], blanks[:, place]
        run = int(np.argmin(blank[::-1])) if not blank.all() else 0
        elsewhere_blank = int(blank.sum()) - run
        if run < TAIL or 2 * run > len(blank) or elsewhere_blank > run // TAIL or not _is_over(facts, one):
            continue
        last = facts.table.students[-run:]
        if all(any(facts.number(student, item) for _, item in facts.regular_items()) for student in last):
            yield _of(
                one,
                f"The last {run} students of the class are blank on {one.item.name}, from {last[0].plain_name} on.",
                "Is the end of the list still to be typed?",
            )


def _is_over(facts: Facts, one: ItemColumn) -> bool:
    return facts.is_past(one.item) or blank_counts(one.category, one.item, facts.as_of)


def slips_many(facts: Facts) -> Iterator[Found]:
    """Three scores of a student or more that would be in line if they were ten times as high."""
    fit = facts.fit
    expected = fit.f - fit.rest
    tenth = fit.has_rest & (10 * fit.f <= fit.unit) & (2 * expected >= fit.unit)
    tenth &= 100 * np.abs(10 * fit.f - expected) <= 15 * fit.unit
    for row in np.flatnonzero(tenth.sum(axis=1) >= SLIPS):
        student = fit.table.students[int(row)]
        items = [fit.table.columns[fit.places[int(place)]].item for place in np.flatnonzero(tenth[row])]
        yield Found(
            f"{len(items)} scores of {student.plain_name} would be in line if they were ten times as high.",
            student=student.id,
            evidence=[f"{item.name}: {cell_text(facts.course.cell(student.id, item.id))} of {exact_text(item.points)}"
                      for item in items[:ROWS_SHOWN]],
            opens=items[0].id,
        )  # fmt: skip


def part_copied(facts: Facts) -> Iterator[Found]:
    """Eight students in a row or more with the same scores on two items."""
    table, cells = facts.table, facts.order.cells
    for place, (earlier, run) in sorted(facts.order.shared.items()):
        one, first = (table.columns[table.regular[n]] for n in (place, earlier))
        students = table.students[run.row : run.row + run.length]
        both = (cells[:, place] >= 0) & (cells[:, earlier] >= 0)
        if 10 * run.length < 9 * int(both.sum()):
            yield _of(
                one,
                f"{run.length} students in a row have the same scores on {one.item.name} as on {first.item.name},"
                f" from {students[0].plain_name} to {students[-1].plain_name}.",
                *_first_scores(facts, one.item, run.row),
            )


def value_often(facts: Facts) -> Iterator[Found]:
    """One score, not the full one, that a sixth of the class has, and far more than any other in the column."""
    table = facts.table
    for place, value, count, following in facts.order.often(max(OFTEN, -(-len(facts.enrolled) // 6))):
        one = table.columns[table.regular[place]]
        numbers = facts.scored(one.item)
        if value == table.unit or count < 5 * following or place in facts.order.runs or numbers < OFTEN_OF:
            continue
        if count < numbers:
            score = exact_text(Fraction(value, table.unit) * one.item.points)
            yield _of(
                one,
                f"{count} of {numbers} scores on {one.item.name} are {score}; no other stands there more than"
                f" {following} time{'' if following == 1 else 's'}.",
                "Filled in for those who had none?",
            )


def zeros_of_one(facts: Facts) -> Iterator[Found]:
    """A student with 0 typed on every item of a category, three or more, and good work everywhere else."""
    cells = facts.order.cells
    places: dict[str, list[int]] = {}
    for place, one in _columns(facts):
        places.setdefault(one.category.id, []).append(place)
    hit: list[tuple[int, int]] = []
    named = [(category_id, mine) for category_id, mine in places.items() if len(mine) >= ZEROS]
    for number, (_, mine) in enumerate(named):
        rows = np.flatnonzero((cells[:, mine] == 0).all(axis=1))
        if len(rows):
            others = np.delete(cells[rows], mine, axis=1)
            counts, good = (others >= 0).sum(axis=1), (2 * others >= facts.table.unit).sum(axis=1)
            hit += [(int(row), number) for row in rows[(counts >= ZEROS) & (5 * good >= 4 * counts)]]
    for row, number in sorted(hit):
        yield _zeros_of(facts, facts.table.students[row], *named[number])


def _zeros_of(facts: Facts, student: Student, category_id: str, mine: Sequence[int]) -> Found:
    category = facts.plan.category(category_id)
    name = category.name if category else category_id
    return Found(
        f"{student.plain_name} has 0 on all {len(mine)} items of {name}, and good scores elsewhere.",
        student=student.id,
        category=category_id,
        evidence=["Exempt, or scores that were typed over?"],
    )
