"""Tables of a text: rows with as many places as the table has columns, each place a cell or nothing."""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import islice

from vinemark.core.syllabus.read.layout import Page
from vinemark.core.syllabus.read.lines import Span, TextLine, TextSection

AIR = 40
"""So many empty lines and rules may stand between the rows of a table."""
FEWEST_HEADINGS = 3
AIRY = {"blank", "rule"}


@dataclass
class TextTable:
    """Rows of equal length; a place without a cell is None."""

    rows: list[list[Span | None]]
    lines: list[TextLine]
    section: TextSection

    @property
    def start(self) -> int:
        """Where its first row begins."""
        return self.lines[0].start

    @property
    def end(self) -> int:
        """Where its last row ends."""
        return self.lines[-1].end

    @property
    def width(self) -> int:
        """Number of columns."""
        return len(self.rows[0]) if self.rows else 0


def tables_of(page: Page) -> list[TextTable]:
    """Every table, in the order of the text."""
    return [_table(page, lines) for lines in _runs(page, page.lines)]


def _runs(page: Page, lines: Sequence[TextLine]) -> Iterator[list[TextLine]]:
    """Rows that follow one another, with air between them or not."""
    run: list[TextLine] = []
    for number, line in enumerate(lines):
        if line.kind == "row":
            if run and lines[number - 1].kind in AIRY and _opens_another(page, run, lines[number : number + 2]):
                yield run
                run = []
            run.append(line)
        elif run and not (line.kind in AIRY and _goes_on(lines, number)):
            yield run
            run = []
    if run:
        yield run


def _opens_another(page: Page, run: Sequence[TextLine], lines: Sequence[TextLine]) -> bool:
    """Whether a row after air begins a table of its own: the first of a scale; or words only, and more cells than any
    row before, or fewer, as many as the row below it has."""
    if _is_scale_line(page, lines[0]) and len(lines[0].cells) > max(len(before.cells) for before in run):
        return True
    if _all_lettered(page, lines[0]) and not any(_all_lettered(page, before) for before in run):
        return len(run) > 1
    if _is_scale_row(page, lines[0]) and not any(_is_scale_row(page, before) for before in run):
        return len(run) > 1
    words = [page.flat[cell.start : cell.end] for cell in lines[0].cells]
    if any(re.search(r"\d", cell) for cell in words):
        return False
    widest = max(len(before.cells) for before in run)
    narrower = 2 <= len(words) < widest and len(lines[-1].cells) == len(words) and len(run) > 1
    return narrower or (len(words) > widest and len(words) >= FEWEST_HEADINGS)


LETTER_CELL = re.compile(r"[A-F][+-]?")
VALUE_CELL = re.compile(r"\D{0,12}\d[\d.,%-]{0,20}[^a-z]{0,16}(?:\b(?:and|or|points|percent)\b[a-z ]{0,16})?", re.I)


LETTERED_CELL = re.compile(r"(?<!\d)\d.{0,24}(?<![A-Za-z])[A-F][+-]?$|^[A-F][+-]?(?![A-Za-z]).{0,24}\d")


def _is_scale_line(page: Page, line: TextLine) -> bool:
    """Whether a row is a whole scale, a letter and its range in each cell."""
    return sum(bool(LETTERED_CELL.search(page.text[a:b].strip())) for a, b in line.cells) >= FEWEST_HEADINGS


def _all_lettered(page: Page, line: TextLine) -> bool:
    """Whether each of several cells is a letter and its range: '94 - 100 A     77 - 79 C+'."""
    return len(line.cells) > 1 and all(LETTERED_CELL.search(page.text[a:b].strip()) for a, b in line.cells)


def _is_scale_row(page: Page, line: TextLine) -> bool:
    """Whether a row is a letter beside a number or a range."""
    cells = [page.text[cell.start : cell.end].strip() for cell in line.cells]
    if len(cells) != 2:
        return False
    letters = [cell for cell in cells if LETTER_CELL.fullmatch(cell)]
    return len(letters) == 1 and any(VALUE_CELL.fullmatch(cell) for cell in cells if cell not in letters)


def _goes_on(lines: Sequence[TextLine], number: int) -> bool:
    below = next((line for line in islice(lines, number + 1, number + 1 + AIR) if line.kind not in AIRY), None)
    return below is not None and below.kind == "row"


def _table(page: Page, lines: list[TextLine]) -> TextTable:
    piped = all(page.text[line.start : line.end].lstrip().startswith("|") for line in lines)
    section = lines[0].section or page.sections[0]
    if piped:
        rows = [[cell if cell.end > cell.start else None for cell in line.cells] for line in lines]
    else:
        rows = _aligned(lines)
    width = max(map(len, rows))
    return TextTable([[*row, *[None] * (width - len(row))] for row in rows], lines, section)


def _aligned(lines: Sequence[TextLine]) -> list[list[Span | None]]:
    """Cells of typed columns, each put where it stands beside the cells of the fullest row."""
    fullest = max(lines, key=lambda line: len(line.cells))
    columns = [(c.start - fullest.start, c.end - fullest.start) for c in fullest.cells]
    rows: list[list[Span | None]] = []
    for line in lines:
        if len(line.cells) == len(columns):
            rows.append(list(line.cells))
            continue
        row: list[Span | None] = [None] * len(columns)
        free = 0
        for n, cell in enumerate(line.cells):
            last = len(columns) - (len(line.cells) - n)
            place = min(range(free, last + 1), key=lambda c: _distance(columns[c], cell, line.start))
            row[place], free = cell, place + 1
        rows.append(row)
    return rows


def _distance(column: tuple[int, int], cell: Span, start: int) -> int:
    left, right = abs(column[0] - (cell.start - start)), abs(column[1] - (cell.end - start))
    return min(left, right)


def cell_words(page: Page, cell: Span | None) -> str:
    """The words of a cell in small letters; of no cell, none."""
    return page.flat[cell.start : cell.end].strip() if cell else ""
