"""Which row of a grid is what: the headings, what stands above and below them, and the students."""

import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Literal

from vinemark.core.table import words
from vinemark.core.table.grid import FoundCell, Grid
from vinemark.core.table.heading import find_day

LineKind = Literal["title", "heading", "group", "points", "weight", "date", "figures", "note", "other"]
_LOOKED_AT = 30
_PEOPLE = (
    words.ID_HEADING,
    words.FAMILY_HEADING,
    words.GIVEN_HEADING,
    words.NAME_HEADING,
    words.EMAIL_HEADING,
    words.USERNAME_HEADING,
)


@dataclass
class Lines:
    """The rows of a table: the headings' row, with one that stands over it for all columns (`second`), under it for
    some of them (`below`), or counts those that are said several times (`counting`); every row that is no student with
    its kind, the students' rows, and for those under a line such as 'Withdrawn' the words of that line."""

    heading: int
    second: int | None = None
    below: int | None = None
    counting: int | None = None
    kinds: dict[int, LineKind] = field(default_factory=dict)
    students: list[int] = field(default_factory=list)
    under: dict[int, str] = field(default_factory=dict)

    def of(self, kind: LineKind) -> list[int]:
        """Rows of a kind, in order."""
        return sorted(row for row, one in self.kinds.items() if one == kind)


def find_heading(grid: Grid) -> int | None:
    """The row of headings: the one with most words that name columns, over rows that hold people and scores."""
    best: tuple[int, int] | None = None
    for row in sorted(grid.rows)[:_LOOKED_AT]:
        score = _heading_score(grid, row)
        if score and (best is None or score > best[0]):
            best = score, row
    return best[1] if best else None


def _heading_score(grid: Grid, row: int) -> int:
    cells = list(grid.filled(row))
    worded = [cell for _, cell in cells if cell.wordy or cell.day]
    people = sum(any(one.fullmatch(words.as_label(cell.text)) for _, cell in cells) for one in _PEOPLE)
    if len(worded) < 2 or not (people or _unnamed_people(grid, row)):
        return 0
    columns = [column for column, _ in cells]
    below = [r for r in sorted(grid.rows) if r > row][:12]
    filled = sum(any(grid.cell(r, column).text for r in below) for column in columns)
    return 4 * people + filled + len(worded)


def read_lines(grid: Grid, heading: int) -> Lines:
    """Every row told apart."""
    lines = Lines(heading)
    lines.kinds[heading] = "heading"
    _above(grid, lines)
    people = people_columns(grid, heading)
    rest = sorted(r for r in grid.rows if r > heading)
    if rest and _heads_some(grid, rest[0], heading, people):
        lines.below, lines.kinds[rest[0]], lines.kinds[heading] = rest[0], "heading", "group"
    elif rest and _counts_headings(grid, rest[0], heading, people):
        lines.counting, lines.kinds[rest[0]] = rest[0], "heading"
    said = ""
    for row in rest[lines.below is not None or lines.counting is not None :]:
        kind = _below(grid, lines, row, people)
        if kind is None:
            lines.students.append(row)
            if said:
                lines.under[row] = said
            continue
        lines.kinds[row] = kind
        if kind == "title":
            said = " ".join(cell.text for _, cell in grid.filled(row))
    return lines


def _heads_some(grid: Grid, row: int, heading: int, people: dict[str, int]) -> bool:
    """Whether a row under the headings has headings of its own for what stands under wide ones."""
    cells = list(grid.filled(row))
    bare = [column for column, _ in cells if not grid.cell(heading, column).text]
    return (
        len(cells) > 1
        and bool(bare)
        and all(cell.wordy and not points_like(cell.text) for _, cell in cells)
        and not {column for column, _ in cells} & {*people.values()}
        and min(column for column, _ in cells) > min(people.values(), default=0)
    )


def _counts_headings(grid: Grid, row: int, heading: int, people: dict[str, int]) -> bool:
    """Whether a row under the headings numbers those that are said several times: HW, HW, Quiz over 1, 2, 1."""
    cells = dict(grid.filled(row))
    if not cells or set(cells) & {*people.values()}:
        return False
    seen: Counter[str] = Counter()
    for column, cell in sorted(cells.items()):
        said = grid.cell(heading, column).text
        seen[said] += 1
        if not said or cell.number != seen[said]:
            return False
    return max(seen.values()) > 1


def points_like(text: str) -> bool:
    """Whether a text names points, as 'out of 20' does."""
    return bool(words.POINTS_CELL.fullmatch(text))


def people_columns(grid: Grid, heading: int) -> dict[str, int]:
    """Where names and ids stand, by their headings."""
    found: dict[str, int] = {}
    kinds = (
        ("id", words.ID_HEADING),
        ("family", words.FAMILY_HEADING),
        ("given", words.GIVEN_HEADING),
        ("name", words.NAME_HEADING),
        ("email", words.EMAIL_HEADING),
    )
    for column, cell in grid.filled(heading):
        for kind, pattern in kinds:
            if kind not in found and pattern.fullmatch(words.as_label(cell.text)):
                found[kind] = column
                break
    return found if found.keys() & {"family", "given", "name"} else found | _unnamed_people(grid, heading)


def _unnamed_people(grid: Grid, heading: int) -> dict[str, int]:
    """Where names stand under no heading: in the first columns, left of all scores."""
    rows = [r for r in sorted(grid.rows) if r > heading][:_LOOKED_AT]
    bare = [column for column in (0, 1) if not grid.cell(heading, column).text]
    named = [column for column in bare if 3 * sum(_is_name(grid.cell(r, column)) for r in rows) >= 2 * len(rows)]
    scored = [column for column, _ in grid.filled(heading)]
    under = [grid.cell(rows[0], column) for column in scored] if rows else []
    if not named or 2 * sum(cell.wordy and not points_like(cell.text) for cell in under) > len(under):
        return {}
    return {"family": named[0], "given": named[1]} if len(named) == 2 else {"name": named[0]}


def _is_name(cell: FoundCell) -> bool:
    return cell.wordy and not any(sign.isdigit() for sign in cell.text) and len(cell.text) < 60


def _above(grid: Grid, lines: Lines) -> None:
    """Rows over the headings: groups spread over columns of scores, a second row of headings, titles, notes."""
    first = _first_score_column(grid, lines.heading)
    own = {column for column, _ in grid.filled(lines.heading)}
    for row in sorted((r for r in grid.rows if r < lines.heading), reverse=True):
        cells = list(grid.filled(row))
        columns = {column for column, _ in cells}
        near = lines.heading - row <= 2 and not lines.of("group") and lines.second is None
        if near and len(columns & own) >= max(3, len(own) - 2) and all(cell.wordy for _, cell in cells):
            lines.second, lines.kinds[row] = row, "heading"
        elif near and first is not None and _heads_groups(grid, row, first):
            lines.kinds[row] = "group"
        else:
            kind = _labelled(grid, row, cells)
            text = " ".join(cell.text for _, cell in cells)
            lines.kinds[row] = kind or ("note" if words.NOTE_LINE.search(text) and len(cells) == 1 else "title")


def _heads_groups(grid: Grid, row: int, first: int) -> bool:
    """Whether a row over the headings names groups: words over scores alone, or a merged cell over some."""
    cells = list(grid.filled(row))
    columns = [column for column, _ in cells]
    if len(cells) == 1 and _stacked(grid, row, columns[0]):
        return False
    worded = min(columns) >= first and all(cell.number is None for _, cell in cells)
    return worded or (len(cells) > 1 and max(columns) >= first and _spans_scores(grid, row, first))


def _stacked(grid: Grid, row: int, column: int) -> bool:
    """Whether another line of one cell stands over or under it: title lines do."""
    near = [dict(grid.filled(other)) for other in (row - 1, row + 1)]
    return any(set(cells) == {column} for cells in near) and not any(at_row == row for at_row, _ in grid.spans)


def _spans_scores(grid: Grid, row: int, first: int) -> bool:
    return any(column >= first and at_row == row and wide > 1 for (at_row, column), wide in grid.spans.items())


def _first_score_column(grid: Grid, heading: int) -> int | None:
    for column, cell in grid.filled(heading):
        known = (*_PEOPLE, words.SECTION_HEADING, words.STATUS_HEADING, words.OTHER_HEADING, words.RUNNING_HEADING)
        if not any(one.fullmatch(words.as_label(cell.text)) for one in known):
            return column
    return None


def _labelled(grid: Grid, row: int, cells: Sequence[tuple[int, FoundCell]]) -> LineKind | None:
    """What a row is by the word at its beginning, where the rest of it fits."""
    numbers = [cell for _, cell in cells if cell.number is not None]
    label = words.as_label(next((cell.text for _, cell in cells if cell.wordy), ""))
    said = sum(points_like(cell.text) for _, cell in cells)
    if words.POINTS_LABEL.fullmatch(label) and numbers:
        return "points"
    if said and said + len(numbers) > 1 and said + len(numbers) + 1 >= len(cells):
        return "points"
    percents = sum(cell.percent for _, cell in cells)
    if (words.WEIGHT_LABEL.fullmatch(label) and numbers) or (1 < percents == len(cells) and _makes_whole(numbers)):
        return "weight"
    dated = [cell for _, cell in cells if cell.day or find_day(cell.text)[1]]
    if dated and (words.DATE_LABEL.fullmatch(label) or len(dated) >= 2):
        return "date"
    if (words.FIGURES_LABEL.fullmatch(label) or words.GRADE_COUNT.fullmatch(label)) and numbers:
        return "figures"
    return None


def _makes_whole(numbers: Sequence[FoundCell]) -> bool:
    """Whether percents without a word beside them are weights: they come to 100, a bonus aside."""
    return 100 <= sum((cell.number or 0) for cell in numbers) <= 110


def _below(grid: Grid, lines: Lines, row: int, people: dict[str, int]) -> LineKind | None:
    """What a row under the headings is; None for a student."""
    cells = list(grid.filled(row))
    named = _name_of(grid, row, people)
    kind = _labelled(grid, row, cells)
    if kind is not None and not _has_a_score_of(kind, named, grid, row, people):
        return "figures" if kind == "points" and _is_highest(lines, cells) else kind
    if _repeats(grid, row, lines.heading):
        return "heading"
    if words.TRIAL_STUDENT.search(named):
        return "other"
    if len(cells) == 1 and (cells[0][1].wordy or not named):
        return _lone(cells[0][1].text, bool(lines.students))
    return None if named else _nameless(grid, lines, row, people)


def _is_highest(lines: Lines, cells: Sequence[tuple[int, FoundCell]]) -> bool:
    """Whether 'max' under the students is the highest score: the points are said above them."""
    label = words.as_label(next((cell.text for _, cell in cells if cell.wordy), ""))
    return bool(lines.students and lines.of("points") and words.FIGURES_LABEL.fullmatch(label))


def _has_a_score_of(kind: LineKind, named: str, grid: Grid, row: int, people: dict[str, int]) -> bool:
    """Whether a row that looks labelled is somebody's: '9/10' beside a name is no day, 'Low' with an id is a name."""
    if kind == "date":
        days = [find_day(cell.text)[1] for _, cell in grid.filled(row) if not cell.day]
        yearless = all(day is None or day.year is None for day in days) and not any(c.day for _, c in grid.filled(row))
        return bool(named) and yearless and not words.DATE_LABEL.fullmatch(words.as_label(named))
    return kind == "figures" and "id" in people and bool(re.search(r"\d", grid.cell(row, people["id"]).text))


def _nameless(grid: Grid, lines: Lines, row: int, people: dict[str, int]) -> LineKind | None:
    """What a row of several cells without a name is: a student known by an id alone, points, figures, a note."""
    cells = list(grid.filled(row))
    numbers = sum(cell.number is not None for _, cell in cells)
    code = grid.cell(row, people["id"]) if "id" in people else None
    if not people or (code is not None and code.text and any(cell.number is not None for _, cell in cells[1:])):
        return None if numbers > 1 else "other"
    if numbers == len(cells):
        return "points" if not lines.students else "figures"
    if words.NOTE_LINE.search(" ".join(cell.text for _, cell in cells)):
        return "note"
    return "figures" if numbers else "other"


def _lone(text: str, after: bool) -> LineKind:
    """A line of one cell: the part of the class that it names, or a note."""
    if len(text) < 40 and words.PART_OF_CLASS.fullmatch(text):
        return "title"
    return "note" if after or words.NOTE_LINE.search(text) else "title"


def _repeats(grid: Grid, row: int, heading: int) -> bool:
    own = Counter(cell.text for _, cell in grid.filled(heading))
    again = Counter(cell.text for _, cell in grid.filled(row))
    return sum((own & again).values()) >= max(2, sum(own.values()) - 1)


def _name_of(grid: Grid, row: int, people: dict[str, int]) -> str:
    parts = [grid.cell(row, people[kind]) for kind in ("name", "family", "given") if kind in people]
    return " ".join(cell.text for cell in parts if re.search(r"[^\W\d_]", cell.text) and not cell.blank)
