"""Rows at either end of the students that are none: told by what they hold, whatever they are called."""

from collections.abc import Mapping, Sequence
from fractions import Fraction

from vinemark.core.table.grid import Grid
from vinemark.core.table.lines import LineKind, Lines

_MOST_AT_AN_END = 8
_FEWEST = 3
_NEAR = Fraction(1, 50)


def set_ends_apart(grid: Grid, lines: Lines, people: Mapping[str, int]) -> None:
    """Takes rows out of the students that have no id, given name or comma where all others have one, or whose numbers
    are the means of the others': points and weights above, figures below."""
    for at_end in (True, False):
        for _ in range(_MOST_AT_AN_END):
            if len(lines.students) <= _FEWEST:
                return
            row = lines.students[-1 if at_end else 0]
            rest = lines.students[:-1] if at_end else lines.students[1:]
            if not (_unlike(grid, row, rest, people) or (at_end and _means(grid, row, rest))):
                break
            lines.students = rest
            lines.kinds[row] = _kind(grid, row, rest, at_end)


def _unlike(grid: Grid, row: int, others: Sequence[int], people: Mapping[str, int]) -> bool:
    """Whether what makes a student of the others is not there."""
    for kind in ("id", "email", "given"):
        if kind in people and all(grid.cell(other, people[kind]).text for other in others[:-1]):
            return not grid.cell(row, people[kind]).text
    name = people.get("name")
    inner = others[:-_MOST_AT_AN_END]
    commas = name is not None and bool(inner) and all("," in grid.cell(other, name).text for other in inner)
    return commas and "," not in grid.cell(row, name or 0).text


def _numbers(grid: Grid, row: int) -> dict[int, Fraction]:
    return {column: cell.number for column, cell in grid.filled(row) if cell.number is not None}


def _means(grid: Grid, row: int, others: Sequence[int]) -> bool:
    """Whether every number is the mean of those above it; four at least, and not all of them whole."""
    numbers = _numbers(grid, row)
    return (
        len(numbers) > _FEWEST
        and any(number.denominator > 2 for number in numbers.values())
        and all(_mean_of(grid, column, others, number) for column, number in numbers.items())
    )


def _mean_of(grid: Grid, column: int, others: Sequence[int], number: Fraction) -> bool:
    found = [n for other in others if (n := grid.cell(other, column).number) is not None]
    return bool(found) and abs(sum(found, Fraction(0)) / len(found) - number) <= _NEAR * (abs(number) + 1)


def _kind(grid: Grid, row: int, others: Sequence[int], at_end: bool) -> LineKind:
    numbers = _numbers(grid, row)
    if not numbers:
        return "other"
    percents = all(grid.cell(row, column).percent for column in numbers)
    if not at_end and percents and 100 <= sum(numbers.values()) <= 110:
        return "weight"
    return "figures" if at_end or not _at_least_all(grid, numbers, others) else "points"


def _at_least_all(grid: Grid, numbers: Mapping[int, Fraction], others: Sequence[int]) -> bool:
    """Whether nearly nobody has more, as of points possible."""
    over = sum(
        (grid.cell(other, column).number or 0) > number for column, number in numbers.items() for other in others
    )
    return 20 * over <= len(numbers) * len(others)
