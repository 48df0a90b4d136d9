"""Which columns of numbers are worked out of others: sums, means, percents, weighted means."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import replace
from fractions import Fraction

from vinemark.core.base.names import singular
from vinemark.core.table import words
from vinemark.core.table.columns import Held, ReadColumn, TableRole, cells_held, points_in_table
from vinemark.core.table.grid import FoundCell, Grid
from vinemark.core.table.lines import Lines

_MOST_PARTS = 60
_ASKED = 30
"""So many students, spread over the class, say whether a column is worked out of others."""


def said_weights(grid: Grid, lines: Lines) -> dict[int, Fraction]:
    """What rows of weights say of each column, in percent; parts that make 1 are fractions."""
    found: dict[int, Fraction] = {}
    for row in lines.of("weight"):
        cells = {c: cell.number for c, cell in grid.filled(row) if cell.number is not None}
        whole = sum(cells.values(), Fraction(0))
        fractions = all(0 <= n <= 1 for n in cells.values()) and abs(whole - 1) < Fraction(1, 100)
        found.update({c: n * 100 if fractions else n for c, n in cells.items()})
    return found


def with_figures(grid: Grid, lines: Lines, columns: Sequence[ReadColumn]) -> list[ReadColumn]:
    """The columns; those that are worked out of others, and the course's letter, with their roles."""
    made: list[ReadColumn] = []
    items = [one for one in columns if one.role == "item"]
    for one in columns:
        if one.role != "item":
            made.append(one)
            continue
        held, before = cells_held(grid, lines, one.column), [o for o in made if o.role == "item"]
        made.append(replace(one, role=_figure_role(grid, lines, one, held, before, items)))
    return _letters(made)


def _letters(columns: Sequence[ReadColumn]) -> list[ReadColumn]:
    """A column of letters behind the course's figure is the course's letter."""
    if any(one.role == "letter" for one in columns):
        return list(columns)
    totals = [one.column for one in columns if one.role == "total"]
    behind = [one for one in columns if totals and one.lettered and one.column == totals[-1] + 1]
    return [replace(one, role="letter") if one in behind else one for one in columns]


def _figure_role(
    grid: Grid, lines: Lines, one: ReadColumn, held: Held, before: Sequence[ReadColumn], items: Sequence[ReadColumn]
) -> TableRole:
    if _said_again(one, items) or (held.filled and not held.numeric and not _about_the_course(one)):
        return "item"
    if before and before[-1].column == one.column - 1 and _is_percent_of(grid, lines, one, before[-1]):
        return "subtotal"
    if _about_the_course(one) and not (_is_midterm(one) and one.column < items[-1].column):
        return "total" if len(items) > 1 else "item"
    if words.PART_FIGURE.search(one.text) and _about_several(one, items):
        return "subtotal"
    sums = _sums_up(grid, lines, one, before, hinted=bool(words.PART_FIGURE.search(one.text)))
    if sums is None:
        return "item"
    last = all(other.column <= one.column for other in items)
    return "total" if sums == len(before) and last and not _about_several(one, items) else "subtotal"


def _about_the_course(one: ReadColumn) -> bool:
    return any(words.TOTAL_HEADING.fullmatch(words.as_label(text)) for text in (one.text, one.heading.name))


def _is_midterm(one: ReadColumn) -> bool:
    """Whether a heading says no more than midterm: work, where work comes after it."""
    return bool(words.BARE_MIDTERM.fullmatch(words.as_label(one.heading.name)))


def _said_again(one: ReadColumn, items: Sequence[ReadColumn]) -> bool:
    """Whether a heading such as 'Score', which would name the course's figure, names several columns of work."""
    return one.heading.points is not None and sum(o.heading.name == one.heading.name for o in items) > 1


def _is_percent_of(grid: Grid, lines: Lines, one: ReadColumn, other: ReadColumn) -> bool:
    """Whether a column says the one before it in percent of its points."""
    points = points_in_table(grid, lines, other)
    pairs = [(grid.cell(row, one.column), grid.cell(row, other.column).number) for row in lines.students]
    told = [(cell, cell.number, score) for cell, score in pairs if cell.number is not None and score is not None]
    return (
        bool(points)
        and points != 100
        and len(told) > 2
        and all(abs(n - 100 * score / (points or 1)) <= _may_differ(cell) for cell, n, score in told)
    )


def _about_several(one: ReadColumn, items: Sequence[ReadColumn]) -> bool:
    """Whether a heading names work of which several columns are there: 'Quiz total' beside Quiz 1 and Quiz 2."""
    named = {singular(word) for word in re.findall(r"[a-z]+", words.PART_FIGURE.sub(" ", one.text.lower()))}
    others = [o for o in items if o.column != one.column]
    alike = [o for o in others if named & {singular(word) for word in re.findall(r"[a-z]+", o.text.lower())}]
    return bool(named) and len(alike) > 1


def _sums_up(grid: Grid, lines: Lines, one: ReadColumn, before: Sequence[ReadColumn], hinted: bool) -> int | None:
    """Of how many of the columns before it, the nearest ones, a column is worked out; None for none."""
    weights = said_weights(grid, lines)
    for count in range(min(len(before), _MOST_PARTS), 1, -1):
        if _Parts(grid, lines, before[-count:], weights).make(one, hinted):
            return count
    return None


class _Parts:
    """Columns that another one may be worked out of."""

    def __init__(self, grid: Grid, lines: Lines, chosen: Sequence[ReadColumn], weights: Mapping[int, Fraction]) -> None:
        self.grid = grid
        self.rows = lines.students[:: 1 + len(lines.students) // _ASKED]
        self.columns = [one.column for one in chosen]
        self.points = {one.column: points_in_table(grid, lines, one) for one in chosen}
        self.weights = {one.column: weights.get(one.column, one.heading.weight) for one in chosen}

    def make(self, one: ReadColumn, hinted: bool) -> bool:
        """Whether a column is made of these: where its heading gives no hint, more students must say so, each in
        sums of different parts."""
        told, right, amiss, exact = 0, 0, 0, True
        best = _best_of(one.text)
        for row in self.rows:
            cell = self.grid.cell(row, one.column)
            parts = {c: n for c in self.columns if (n := self.grid.cell(row, c).number) is not None}
            if cell.number is None or len(parts) < 2 or not (hinted or _differ(parts)):
                continue
            told += 1
            agrees = any(abs(cell.number - tried) <= _may_differ(cell) for tried in self._worked_out(parts, best))
            exact = exact and cell.number == sum(parts.values())
            right, amiss = right + agrees, amiss + (not agrees)
            if 5 * amiss > (len(self.rows) if hinted else 0):
                return False
        return told > (2 if hinted or exact else 3) and (5 * right >= 4 * told if hinted else right == told)

    def _worked_out(self, parts: Mapping[int, Fraction], best: int) -> list[Fraction]:
        """What some scores may come to: their sum, their mean, their percent of all points or of those handed in, their
        mean by weights."""
        whole = sum(parts.values(), Fraction(0))
        found = [whole, whole / len(parts)]
        if 0 < best < len(self.columns):
            highest = sum(sorted(parts.values())[-best:], Fraction(0))
            found += [highest, highest / min(best, len(parts))]
        for columns in (self.columns, list(parts)):
            points = [self.points[column] for column in columns]
            total = sum((p for p in points if p is not None), Fraction(0))
            if None not in points and total:
                found.append(100 * whole / total)
            weights = [self.weights[column] for column in columns]
            share = sum((w for w in weights if w is not None), Fraction(0))
            if None not in weights and share:
                found += [self._by_weights(parts, scale) / share for scale in (True, False)]
        return found

    def _by_weights(self, parts: Mapping[int, Fraction], percent: bool) -> Fraction:
        """Scores times their weights: as percents of their points, or as they are."""
        return sum(
            (
                score * (self.weights[column] or 0) * (Fraction(100) / (self.points[column] or 100) if percent else 1)
                for column, score in parts.items()
            ),
            Fraction(0),
        )


def _best_of(text: str) -> int:
    """How many of the best a heading speaks of: 'Best two', 'top 5 labs'; 0 where it does not."""
    found = words.BEST_FEW.search(text)
    return words.SMALL_NUMBERS.get(found[1].lower(), 0) or int(found[1]) if found else 0


def _differ(parts: Mapping[int, Fraction]) -> bool:
    first, *others = parts.values()
    return any(one != first for one in others)


def _may_differ(cell: FoundCell) -> Fraction:
    """How far a figure that is shown with so many places may be from the exact one: one of the last place."""
    places = len(cell.text.rstrip("%").partition(".")[2])
    return Fraction(11, 10) / 10 ** min(places, 6) if places else Fraction(51, 100)
