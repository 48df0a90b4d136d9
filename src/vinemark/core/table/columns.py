"""What each column of a table holds: by what stands in it and by what adds up, its heading being a hint."""

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Literal

from vinemark.core.table import words
from vinemark.core.table.grid import FoundCell, Grid
from vinemark.core.table.heading import Heading, read_heading
from vinemark.core.table.lines import Lines

TableRole = Literal[
    "id", "name", "family_name", "given_name", "email", "section", "status", "item", "subtotal", "total", "letter",
    "remark", "other",
]  # fmt: skip
_MOST = Fraction(4, 5)
"""What most cells of a column hold is what the column holds."""


@dataclass(frozen=True)
class ReadColumn:
    """One column: where it stands, counted from 0, its heading as it is and taken apart, and its role."""

    column: int
    text: str
    heading: Heading
    role: TableRole = "other"
    lettered: bool = False


@dataclass(frozen=True)
class Held:
    """The cells of a column over the students, and what share of those that are filled is of a kind."""

    cells: Sequence[FoundCell]

    @property
    def filled(self) -> list[FoundCell]:
        """Those that hold something."""
        return [cell for cell in self.cells if not cell.blank]

    def share(self, pattern: re.Pattern[str]) -> Fraction:
        """How many of the filled ones are of a pattern as a whole."""
        filled = self.filled
        return (
            Fraction(sum(bool(pattern.fullmatch(cell.text)) for cell in filled), len(filled)) if filled else Fraction(0)
        )

    @property
    def numeric(self) -> bool:
        """Whether at least half of what is filled are numbers, words for missing and exempt aside."""
        rest = [c for c in self.filled if c.text.lower() not in words.MISSING_WORDS | words.EXEMPT_WORDS]
        numbers = sum(c.number is not None or bool(SCORE_OF.fullmatch(c.text)) for c in rest)
        return bool(numbers) and 2 * numbers >= len(rest)

    @property
    def percents(self) -> bool:
        """Whether its numbers are mostly percents."""
        numbers = [cell for cell in self.filled if cell.number is not None]
        return bool(numbers) and 2 * sum(cell.percent for cell in numbers) > len(numbers)


SCORE_OF = re.compile(r"(\d{1,4}(?:\.\d{1,4})?) ?/ ?(\d{1,4}(?:\.\d{1,4})?)")
_EMAIL = re.compile(r"[^\s@]{1,64}@[^\s@.]{1,63}(?:\.[^\s@.]{1,63}){1,9}")
_CODE = re.compile(r"[A-Za-z]{0,4}[-. ]?\d{2,12}(?:[-.]\d{1,12}){0,4}[A-Za-z]?")
_NAME = re.compile(r"[^\W\d_][^\d@]{1,60}")
_MEETING = re.compile(r"[PATLEX1✓xX]|present|absent|late|tardy", re.IGNORECASE)


def read_columns(grid: Grid, lines: Lines) -> list[ReadColumn]:
    """Every column with anything in it among headings and students."""
    found = _with_bare_days([_column(grid, lines, place) for place in range(grid.width)])
    columns = [
        _by_itself(one, cells_held(grid, lines, one.column), points_in_table(grid, lines, one) is not None)
        for one in found
        if _is_there(grid, lines, one)
    ]
    columns = _meetings_together(grid, lines, columns)
    columns = _without_what_stands_beside(grid, lines, _only_one(columns, "email"))
    return _people(grid, lines, _named(grid, lines, columns))


def _meetings_together(grid: Grid, lines: Lines, columns: Sequence[ReadColumn]) -> list[ReadColumn]:
    """An empty column among those that mark who was there is one more meeting."""
    stems = [_without_number(one.text) for one in columns if one.role == "other" and one.text]
    return [
        replace(one, role="other")
        if one.role == "item"
        and stems.count(_without_number(one.text)) > 1
        and not cells_held(grid, lines, one.column).filled
        else one
        for one in columns
    ]


def _without_number(text: str) -> str:
    return text.rstrip("0123456789 ").lower()


def _without_what_stands_beside(grid: Grid, lines: Lines, columns: Sequence[ReadColumn]) -> list[ReadColumn]:
    """Columns beside the table, behind an empty one and without an entry of a student, are no work to come."""
    there = {one.column for one in columns}
    first = next((c for c in range(min(there, default=0), max(there, default=0)) if c not in there), None)

    def beside(one: ReadColumn) -> bool:
        return first is not None and one.column > first and not cells_held(grid, lines, one.column).filled

    return [replace(one, role="other") if beside(one) else one for one in columns]


def _named(grid: Grid, lines: Lines, columns: Sequence[ReadColumn]) -> list[ReadColumn]:
    """Names where no heading says them: words before all work that nearly every student has of their own."""
    if any(one.role in {"name", "family_name", "given_name"} for one in columns):
        return list(columns)
    end = min((one.column for one in columns if one.role == "item"), default=0)
    found = [
        one
        for one in columns
        if one.column < end and one.role in {"other", "remark"} and _like_names(cells_held(grid, lines, one.column))
    ]
    roles: dict[int, TableRole] = {one.column: "name" for one in found[:1]}
    if len(found) > 1 and found[1].column == found[0].column + 1:
        roles = {found[0].column: "family_name", found[1].column: "given_name"}
    return [replace(one, role=roles.get(one.column, one.role)) for one in columns]


def _like_names(held: Held) -> bool:
    texts = [cell.text for cell in held.cells]
    return held.share(_NAME) == 1 and all(texts) and 4 * len({*texts}) >= 3 * len(texts)


_BARE_DAY = re.compile(r"([^\n]{0,79}[^\d\n]) (\d{1,2})/(\d{1,2})")


def _with_bare_days(columns: Sequence[ReadColumn]) -> list[ReadColumn]:
    """'Log 9/14' beside 'Log 9/21': the end is a date where the rest is the same for several columns."""
    matches = {one.column: match for one in columns if (match := _BARE_DAY.fullmatch(one.text))}
    rests = [match[1] for match in matches.values()]
    return [
        replace(one, heading=_dated(one, match))
        if (match := matches.get(one.column)) and rests.count(match[1]) > 1
        else one
        for one in columns
    ]


def _dated(one: ReadColumn, match: re.Match[str]) -> Heading:
    heading = read_heading(f"{match[1]} ({match[2]}/{match[3]})")
    return replace(heading, percent=one.heading.percent)


def cells_held(grid: Grid, lines: Lines, column: int) -> Held:
    """The cells of a column over the students."""
    return Held([grid.cell(row, column) for row in lines.students])


def _column(grid: Grid, lines: Lines, place: int) -> ReadColumn:
    parts = [grid.cell(row, place).text for row in (lines.second, lines.heading) if row is not None]
    below = grid.cell(lines.below, place).text if lines.below is not None else ""
    counted = grid.cell(lines.counting, place).text if lines.counting is not None else ""
    text = below or " ".join(part for part in (*parts, counted) if part)
    heading = read_heading(text)
    if cells_held(grid, lines, place).percents or heading.percent:
        heading = replace(heading, percent=True)
    return ReadColumn(place, text, heading)


def _is_there(grid: Grid, lines: Lines, one: ReadColumn) -> bool:
    return bool(one.text) or any(grid.cell(row, one.column).text for row in lines.students)


def _by_itself(one: ReadColumn, held: Held, pointed: bool) -> ReadColumn:
    """The role that a column's own cells and heading give it; figures of several columns come later."""
    lettered = bool(held.filled) and not held.numeric and held.share(words.COURSE_GRADE) >= _MOST
    return replace(
        one, role=_person_role(words.as_label(one.text), held) or _score_role(one, held, pointed), lettered=lettered
    )


def _person_role(text: str, held: Held) -> TableRole | None:
    if held.share(_EMAIL) >= _MOST:
        return "email"
    if words.NAME_HEADING.fullmatch(text) and held.numeric:
        return None
    said = next((role for pattern, role in _PERSON_HEADINGS if pattern.fullmatch(text)), None)
    if said == "status" and (held.numeric or (text.lower() == "standing" and held.share(words.STATUS_WORD) < _MOST)):
        return None
    if said == "id" and words.RUNNING_HEADING.fullmatch(text) and _runs(held):
        return "other"
    worded = said is None and held.share(words.STATUS_WORD) >= _MOST and not held.numeric
    return "status" if worded else said


_PERSON_HEADINGS: tuple[tuple[re.Pattern[str], TableRole], ...] = (
    (words.OTHER_HEADING, "other"),
    (words.USERNAME_HEADING, "other"),
    (words.FAMILY_HEADING, "family_name"),
    (words.GIVEN_HEADING, "given_name"),
    (words.NAME_HEADING, "name"),
    (words.ID_HEADING, "id"),
    (words.STATUS_HEADING, "status"),
    (words.SECTION_HEADING, "section"),
)


def _runs(held: Held) -> bool:
    """Whether numbers count up by one, from one."""
    numbers = [cell.number for cell in held.cells]
    return numbers == list(range(1, len(numbers) + 1))


def _score_role(one: ReadColumn, held: Held, pointed: bool) -> TableRole:
    if _are_course_grades(one, held):
        return "letter"
    if words.REMARK_HEADING.fullmatch(one.text) or (held.filled and not held.numeric and _about_remarks(one)):
        return "remark"
    if held.numeric or pointed:
        return "item" if one.text else "other"
    return _worded_role(one, held) if held.filled else _empty_role(one)


def _are_course_grades(one: ReadColumn, held: Held) -> bool:
    """Whether a column headed 'Note' holds grades and no remarks."""
    single = words.REMARK_HEADING.fullmatch(one.text) and " " not in one.text
    return (
        bool(single)
        and len(held.filled) > 2
        and held.share(words.COURSE_GRADE) == 1
        and len({cell.text for cell in held.filled}) > 1
    )


def _about_remarks(one: ReadColumn) -> bool:
    return bool(words.REMARK_AT_END.search(one.text))


def _worded_role(one: ReadColumn, held: Held) -> TableRole:
    """A column of words: letters, ticks of who was there, remarks."""
    if _marks_meetings(one, held):
        return "other"
    text = words.as_label(one.heading.name)
    if held.share(words.COURSE_GRADE) >= _MOST:
        return "letter" if words.LETTER_HEADING.fullmatch(text) or words.TOTAL_HEADING.fullmatch(text) else "item"
    if held.share(_MEETING) >= _MOST:
        return "other"
    return "remark" if max(len(cell.text) for cell in held.filled) > 12 or not one.text else "other"


def _marks_meetings(one: ReadColumn, held: Held) -> bool:
    """Whether somebody ticked who was there: P and A, not B or C."""
    texts = {cell.text.upper() for cell in held.filled}
    there = texts <= {"P", "A", "T", "L", "E", "X", "✓", "PRESENT", "ABSENT", "LATE", "TARDY"}
    name = words.as_label(one.heading.name)
    course = words.LETTER_HEADING.fullmatch(name) or words.TOTAL_HEADING.fullmatch(name)
    return (
        there
        and not course
        and (bool(words.ATTENDANCE_HEADING.search(one.text)) or bool(texts & {"P", "X", "✓", "PRESENT"}))
    )


def _empty_role(one: ReadColumn) -> TableRole:
    """A column without entries: work that is still to come, or a figure of the course."""
    if words.LETTER_HEADING.fullmatch(words.as_label(one.heading.name)):
        return "letter"
    return "item" if one.text else "other"


def _only_one(columns: Sequence[ReadColumn], role: TableRole) -> list[ReadColumn]:
    """Of several columns of a role the first."""
    first = next((one.column for one in columns if one.role == role), None)
    return [replace(one, role="other") if one.role == role and one.column != first else one for one in columns]


def _people(grid: Grid, lines: Lines, columns: Sequence[ReadColumn]) -> list[ReadColumn]:
    """Ids where no heading says them; a running number at the side is none."""
    found = [replace(one, role="other") if _counts_up(grid, lines, one) else one for one in _only_one(columns, "id")]
    if any(one.role == "id" for one in found):
        return found
    named = [one for one in found if words.USERNAME_HEADING.fullmatch(one.text)]
    bare = [one for one in found if not one.text and _codes(cells_held(grid, lines, one.column))]
    beside = [one for one in found if _stands_by_a_name(one, found) and _coded(grid, lines, one)]
    chosen = (beside or named or bare)[:1]
    return [replace(one, role="id") if one in chosen else one for one in found]


def _counts_up(grid: Grid, lines: Lines, one: ReadColumn) -> bool:
    """Whether a column before all names holds 1, 2, 3 and so on."""
    numbers = [grid.cell(row, one.column).number for row in lines.students]
    return (
        one.role == "item"
        and one.column == 0
        and one.heading.points is None
        and len(numbers) > 2
        and numbers == list(range(1, len(numbers) + 1))
    )


def _stands_by_a_name(one: ReadColumn, columns: Sequence[ReadColumn]) -> bool:
    names = [o.column for o in columns if o.role in {"name", "family_name", "given_name"}]
    return one.role in {"item", "other"} and any(abs(one.column - column) == 1 for column in names)


def _coded(grid: Grid, lines: Lines, one: ReadColumn) -> bool:
    """Whether a column holds codes as a registrar's are: one for each, equally long, with letters or many digits."""
    texts = [cell.text for cell in cells_held(grid, lines, one.column).filled]
    long = all(len(text) > 4 or not text.isdecimal() for text in texts)
    known = words.OTHER_HEADING.fullmatch(one.text) or one.heading.points is not None
    return not known and long and len({len(text) for text in texts}) == 1 and _codes(Held(_cells(texts)))


def _cells(texts: Sequence[str]) -> list[FoundCell]:
    return [FoundCell(text) for text in texts]


def _codes(held: Held) -> bool:
    texts = [cell.text for cell in held.filled]
    return len(set(texts)) == len(texts) > 1 and held.share(_CODE) == 1


def points_in_table(grid: Grid, lines: Lines, one: ReadColumn) -> Fraction | None:
    """The points of a column that a row of points or its heading says."""
    found = [n for row in lines.of("points") if (n := points_said(grid.cell(row, one.column))) is not None]
    return found[0] if found else one.heading.points


def points_said(cell: FoundCell) -> Fraction | None:
    """The points of a cell in a row of points: '20', 'out of 20', '/20', '20 pts'."""
    if cell.number is not None:
        return cell.number
    match = words.POINTS_CELL.fullmatch(cell.text)
    return Fraction(match[1]) if match else None
