"""What a student and an item show beside a finding, as small bars: one for each score, in an order that people know."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from vinemark.core.audit.finding import Facts, Finding
from vinemark.core.audit.score_table import IS_BLANK, IS_EXEMPT, IS_MISSING

THOUSANDTHS = 1000
HIGHEST_BAR = 1250
"""A bar ends here, however far above its points a score is."""
FEWEST = 3
NO_NUMBER_WORDS: Mapping[int, str] = {IS_BLANK: "blank", IS_EXEMPT: "exempt", IS_MISSING: "missing"}


@dataclass(frozen=True)
class SketchBar:
    """One score: its part of the points in thousandths, None for a cell without a number; what it is, in words; and
    whether the finding is about it."""

    height: int | None
    words: str
    marked: bool


@dataclass(frozen=True)
class Sketch:
    """Bars under a title, and the middle one by height, in thousandths (None without any number)."""

    title: str
    bars: Sequence[SketchBar]
    median: int | None

    @property
    def words(self) -> str:
        """For who cannot see it: 'blanks 2, median 84%, here 8%'."""
        blank = sum(bar.height is None for bar in self.bars)
        parts = [f"{len(self.bars)} scores"]
        if blank:
            parts.append(f"{blank} without a number")
        if self.median is not None:
            parts.append(f"median {_percent(self.median)}")
        parts += [f"here {bar.words}" for bar in self.bars if bar.marked][:3]
        return ", ".join(parts)


def sketches(facts: Facts, finding: Finding) -> list[Sketch]:
    """The item of a finding over the class, in the order of the class, and its student over the items of the plan."""
    table = facts.table
    items = [column.item.id for column in table.columns]
    row = next((n for n, one in enumerate(table.students) if one.id == finding.student), None)
    place = items.index(finding.item) if finding.item in items else None
    found = []
    if place is not None and finding.item is not None:
        names = [student.name for student in table.students]
        title = f"{table.columns[place].item.name}, in the order of the class"
        found.append(_sketch(title, names, _parts(table.cells[:, place], table.unit), row))
    if row is not None:
        titles = [column.item.name for column in table.columns]
        title = f"{table.students[row].plain_name}, item by item"
        found.append(_sketch(title, titles, _parts(table.cells[row], table.unit), place))
    return [one for one in found if len(one.bars) >= FEWEST]


def _parts(cells: Iterable[int], unit: int) -> list[int]:
    """Whole numbers of 1 / unit as thousandths; below 0 what is no number."""
    return [int(cell) if cell < 0 else min(int(cell) * THOUSANDTHS // unit, HIGHEST_BAR) for cell in cells]


def _sketch(title: str, names: Sequence[str], parts: Sequence[int], marked: int | None) -> Sketch:
    bars = [
        SketchBar(
            part if part >= 0 else None, f"{name}: {NO_NUMBER_WORDS.get(part) or _percent(part)}", place == marked
        )
        for place, (name, part) in enumerate(zip(names, parts, strict=True))
    ]
    numbers = sorted(part for part in parts if part >= 0)
    return Sketch(title, bars, numbers[len(numbers) // 2] if numbers else None)


def _percent(part: int) -> str:
    return f"{(part + 5) // 10}%"
