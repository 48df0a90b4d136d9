"""Groups whose row has no figure: what they are worth is the sum of the parts that stand deeper below them."""

from collections.abc import Iterator, Mapping, Sequence

from vinemark.core.syllabus.read.blocks import points_of, weights_of
from vinemark.core.syllabus.read.layout import Page
from vinemark.core.syllabus.read.lines import Span, TextLine
from vinemark.core.syllabus.read.naming import clean
from vinemark.core.syllabus.read.row_reading import RowReading, is_one_piece
from vinemark.core.syllabus.read.tables import TextTable

FEWEST_MEMBERS = 2


def with_groups(page: Page, tables: Sequence[TextTable], found: Sequence[RowReading]) -> list[RowReading]:
    """The rows with the groups that bare rows name; the parts of one piece of work are left out."""
    rows = {row.line: row for row in found}
    numbers = {line.start: number for number, line in enumerate(page.lines)}
    groups = [group for table in tables for group in _groups_of(page, table, rows, numbers)]
    groups += _pieces_of_lists(page, rows, numbers)
    parts = {part.line for group, parts in groups if is_one_piece(group.name) for part in parts}
    kept = [row for row in found if row.line not in parts]
    return sorted([*kept, *(group for group, _ in groups)], key=lambda row: row.line)


def _pieces_of_lists(
    page: Page, rows: Mapping[int, RowReading], numbers: Mapping[int, int]
) -> Iterator[tuple[RowReading, list[RowReading]]]:
    """'Interview project', an item without a figure, over its guide and its transcript with theirs."""
    for number, line in enumerate(page.lines):
        name = clean(page.text[line.start : line.end].strip()).text if line.kind == "item" else ""
        if not name or number in rows or len(name.split()) > MOST_WORDS_OF_A_PIECE or not is_one_piece(name):
            continue
        below = [one for one in page.lines[number + 1 : number + 1 + MOST_PARTS] if one.kind != "blank"]
        parts = _parts(below, line, rows, numbers)
        if len(parts) >= FEWEST_MEMBERS:
            yield _made_of(name, Span(line.start, line.end), line, page, parts, number), parts


MOST_WORDS_OF_A_PIECE, MOST_PARTS = 5, 12


def _made_of(
    name: str, place: Span, line: TextLine, page: Page, parts: Sequence[RowReading], number: int
) -> RowReading:
    made = RowReading(name, *place, line.indent, line.section or page.sections[0], number)
    made.weight, made.points = weights_of(parts) or None, points_of(parts) or None
    return made


def _groups_of(
    page: Page, table: TextTable, rows: Mapping[int, RowReading], numbers: Mapping[int, int]
) -> Iterator[tuple[RowReading, list[RowReading]]]:
    for place, line in enumerate(table.lines):
        cells = [cell for cell in table.rows[place] if cell is not None]
        if len(cells) != 1 or numbers[line.start] in rows:
            continue
        parts = _parts(table.lines[place + 1 :], line, rows, numbers)
        name = clean(page.text[cells[0].start : cells[0].end]).text
        if name and len(parts) >= FEWEST_MEMBERS:
            yield _made_of(name, cells[0], line, page, parts, numbers[line.start]), parts


def _parts(
    below: Sequence[TextLine], line: TextLine, rows: Mapping[int, RowReading], numbers: Mapping[int, int]
) -> list[RowReading]:
    """The rows that stand deeper right below a line; none where one of them has no figure."""
    parts: list[RowReading] = []
    for deeper in below:
        if deeper.indent <= line.indent:
            break
        if numbers[deeper.start] not in rows:
            return []
        parts.append(rows[numbers[deeper.start]])
    return parts
