"""The text of a PDF: its words grouped into lines, columns, boxes and cells of tables by where they stand."""

import io
import warnings
from collections.abc import Iterator, Sequence
from itertools import pairwise
from typing import Any, NamedTuple

import pdfplumber
from pdfminer.pdfdocument import PDFPasswordIncorrect

from vinemark.core.base.refused import Refused
from vinemark.exchange.syllabus_pdf_tables import Word, height_of, ruled_tables, word_rows
from vinemark.exchange.syllabus_tables import bar_row

PAGES = 60


def read_pdf(data: bytes) -> str:
    """The text of all pages. Refused with a reason a person can act on."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            with pdfplumber.open(io.BytesIO(data)) as document:
                if len(document.pages) > PAGES:
                    raise Refused("file", f"has more than {PAGES} pages")
                return "\n".join(_pdf_pages(document.pages))
    except Refused:
        raise
    except Exception as error:
        if isinstance(error, PDFPasswordIncorrect) or isinstance(
            error.__cause__ or error.args[:1], PDFPasswordIncorrect
        ):
            raise Refused("file", "is protected by a password; save it without one") from error
        if any(isinstance(a, PDFPasswordIncorrect) for a in error.args) or b"/Encrypt" in data:
            raise Refused("file", "is protected by a password; save it without one") from error
        raise Refused("file", "is no PDF that can be read") from error


def _pdf_pages(pages: Sequence[Any]) -> Iterator[str]:
    for page in pages:
        yield _pdf_page(page)


def _pdf_page(page: Any) -> str:
    words: list[Word] = page.extract_words(x_tolerance=1.5, y_tolerance=2, keep_blank_chars=False)
    parts: list[str] = []
    for table in ruled_tables(page, words):
        parts.append(_flow([word for word in words if height_of(word) < table.box[1]], float(page.width)))
        if table.arranges:
            parts += [_pdf_lines(cell) for cell in table.cells()]
        else:
            rows = (bar_row([text.replace("|", "/") for text in texts]) for texts in table.texts())
            parts.append("\n".join(line for row in rows for line in row))
        words = [word for word in words if height_of(word) > table.box[3]]
    parts.append(_flow(words, float(page.width)))
    return "\n\n".join(part for part in parts if part)


def _flow(words: list[Word], width: float) -> str:
    """The lines of some words, columns and boxes one after the other."""
    if not words:
        return ""
    gutter = _gutter(words, width)
    parts = _around_a_box(words, width) if gutter is None else _in_reading_order(words, gutter)
    return "\n\n".join(_pdf_lines(part) for part in parts if part)


def _gutter(words: list[Word], width: float) -> float | None:
    """Where two columns of text meet: an upright stripe in the middle that long lines on both sides leave free."""
    rows = word_rows(words)
    crossings = {x: sum(1 for w in words if w["x0"] < x < w["x1"]) for x in (width * n / 200 for n in range(76, 125))}
    least = min(crossings.values())
    free = [x for x, count in crossings.items() if count == least]
    x = free[len(free) // 2]
    left = [row for row in rows if _reach(row, 0, x) > width * 0.25]
    right = [row for row in rows if _reach(row, x, width) > width * 0.25]
    lines = min(len(left), len(right))
    two = (lines >= 8 and _prose(left, right, x)) or (lines >= 5 and _flow_apart(words, x))
    return x if least <= len(rows) * 0.1 and two else None


def _flow_apart(words: list[Word], x: float) -> bool:
    """Whether lines on both sides of a stripe are of several words and at heights of their own, as in no table."""
    left, right = (word_rows(side) for side in ([w for w in words if w["x1"] <= x], [w for w in words if w["x0"] >= x]))
    several = all(sum(map(len, side)) >= 4 * len(side) for side in (left, right))
    return several and _level(left, right) < 1 / 2


MOST_WORDS_OF_A_PAGE = 4_000


def _around_a_box(words: list[Word], width: float) -> Iterator[list[Word]]:
    """What stands above a box beside the running text, the box, the text beside it, and what stands below."""
    rows = word_rows(words)
    runs = (_beside(rows, width * n / 100) for n in range(25, 81)) if len(words) <= MOST_WORDS_OF_A_PAGE else ()
    best = max((run for run in runs if run is not None), key=lambda run: run.lines, default=None)
    if best is None:
        yield words
        return
    inner = [word for row in rows[best.first : best.last] for word in row]
    sides = [w for w in inner if w["x1"] <= best.x], [w for w in inner if w["x0"] >= best.x]
    yield [word for row in rows[: best.first] for word in row]
    yield from sorted(sides, key=len)
    yield [word for row in rows[best.last :] for word in row]


class _Run(NamedTuple):
    """Rows of a page that a stripe at x parts into two sides; `lines` of the shorter side."""

    first: int
    last: int
    x: float
    lines: int


LEAST_OF_BOX = 6


def _beside(rows: list[list[Word]], x: float) -> _Run | None:
    """The longest run of rows that a stripe parts, where both sides are lines at heights of their own."""
    parted = [not any(w["x0"] - 4 < x < w["x1"] + 4 for w in row) for row in rows]
    best: _Run | None = None
    first = 0
    for last in range(len(rows) + 1):
        if last < len(rows) and parted[last]:
            continue
        lines = _lines_beside(rows[first:last], x) if last - first >= LEAST_OF_BOX else 0
        if lines >= LEAST_OF_BOX and (best is None or lines > best.lines):
            best = _Run(first, last, x, lines)
        first = last + 1
    return best


def _lines_beside(rows: list[list[Word]], x: float) -> int:
    """How many lines the shorter side has, 0 where these are cells of a table: at the same heights, or with air."""
    words = [word for row in rows for word in row]
    sides = [word_rows(side) for side in ([w for w in words if w["x1"] <= x], [w for w in words if w["x0"] >= x])]
    if not all(sides):
        return 0
    prose = any(sum(map(len, side)) >= 6 * len(side) for side in sides)
    air, level = (0.9, 0.5) if prose else (1.5, 0.4)
    close = all(_is_close(side, air) for side in sides)
    return min(map(len, sides)) if close and _level(*sides) < level else 0


def _is_close(rows: list[list[Word]], air: float) -> bool:
    """Whether lines follow one another as text does, most with less than so many heights of a line between them."""
    gaps = [float(b[0]["top"] - a[0]["bottom"]) / float(a[0]["bottom"] - a[0]["top"]) for a, b in pairwise(rows)]
    return sum(gap < air for gap in gaps) * 4 >= len(gaps) * 3


def _level(left: list[list[Word]], right: list[list[Word]]) -> float:
    """The share of lines on the left that stand at the height of one on the right."""
    heights = [float(row[0]["bottom"]) for row in right]
    return sum(1 for row in left if any(abs(float(row[0]["bottom"]) - h) < 1 for h in heights)) / max(1, len(left))


def _reach(row: list[Word], low: float, high: float) -> float:
    inside = [w for w in row if w["x0"] >= low and w["x1"] <= high]
    return float(inside[-1]["x1"] - inside[0]["x0"]) if inside else 0.0


def _prose(left: list[list[Word]], right: list[list[Word]], x: float) -> bool:
    """Whether both sides are running text, not a table with two wide cells: lines of several words on both sides."""
    counts = [sum(1 for w in row if w["x1"] <= x) for row in left] + [
        sum(1 for w in row if w["x0"] >= x) for row in right
    ]
    return sum(1 for c in counts if c >= 4) > len(counts) * 0.6


def _in_reading_order(words: list[Word], gutter: float) -> Iterator[list[Word]]:
    """What stands across both columns as it comes, and between that the left column before the right."""
    left: list[Word] = []
    right: list[Word] = []
    for row in word_rows(words):
        across = any(w["x0"] < gutter < w["x1"] for w in row) or any(
            a["x1"] <= gutter <= b["x0"] and b["x0"] - a["x1"] < max(6, (a["bottom"] - a["top"]) / 2)
            for a, b in pairwise(row)
        )
        if across:
            yield from (left, right, row)
            left, right = [], []
        else:
            left += [w for w in row if w["x1"] <= gutter]
            right += [w for w in row if w["x0"] >= gutter]
    yield from (left, right)


def _pdf_lines(words: list[Word]) -> str:
    """Lines with their indents, tables as rows of cells, an empty line where there is air."""
    rows = word_rows(words)
    base = min(float(w["x0"]) for w in words)
    heights = sorted(float(r[0]["bottom"] - r[0]["top"]) for r in rows)
    height = heights[len(heights) // 2]
    cut = [_segments(row, height) for row in rows]
    lines: list[str] = []
    place = 0
    while place < len(rows):
        if place and rows[place][0]["top"] - rows[place - 1][0]["bottom"] > height * 0.75:
            lines.append("")
        end = _table_end(cut, place)
        if end - place >= LEAST_ROWS:
            lines += _pdf_table(cut[place:end])
            place = end
        else:
            indent = round((float(rows[place][0]["x0"]) - base) / (height * 0.5))
            lines.append(" " * indent + "    ".join(_words_of(segment) for segment in cut[place]))
            place += 1
    return "\n".join(lines)


PdfCell = list[Word]
LEAST_ROWS = 2


def _segments(row: list[Word], height: float) -> list[PdfCell]:
    """The stretches of a line between wide gaps."""
    found: list[PdfCell] = [[row[0]]]
    for left, right in pairwise(row):
        if right["x0"] - left["x1"] > height * 0.8:
            found.append([])
        found[-1].append(right)
    return found


def _words_of(segment: PdfCell) -> str:
    return " ".join(str(word["text"]) for word in segment)


def _table_end(cut: Sequence[list[PdfCell]], start: int) -> int:
    """How far lines of several cells go on; a line of one cell within them goes on with the cell above it."""
    end = start
    for place in range(start, len(cut)):
        if len(cut[place]) > 1:
            end = place + 1
        elif place == start or not _goes_on(cut[place][0], cut[place - 1]) or place + 1 - end > 1:
            break
    return end


def _goes_on(segment: PdfCell, above: Sequence[PdfCell]) -> bool:
    """Whether a lone cell stands right below a cell of the row above, not at its beginning."""
    near = segment[0]["top"] - above[0][0]["bottom"] < (segment[0]["bottom"] - segment[0]["top"]) * 0.6
    return bool(near) and any(abs(segment[0]["x0"] - cell[0]["x0"]) < 3 for cell in above[1:])


def _pdf_table(rows: Sequence[list[PdfCell]]) -> Iterator[str]:
    columns = _columns(rows)
    texts: list[list[str]] = []
    for row in rows:
        cells = [""] * len(columns)
        for segment in row:
            place = max(range(len(columns)), key=lambda c: _overlap(columns[c], segment))
            cells[place] = f"{cells[place]} {_words_of(segment)}".strip()
        if texts and len(row) == 1 and not cells[0]:
            texts[-1] = [f"{above} {more}".strip() for above, more in zip(texts[-1], cells, strict=True)]
        else:
            texts.append(cells)
    for cells in texts:
        yield from bar_row([cell.replace("|", "/") for cell in cells])


def _columns(rows: Sequence[list[PdfCell]]) -> list[tuple[float, float]]:
    """The stretches of the page that the cells of the fullest rows cover."""
    most = max(len(row) for row in rows)
    full = [row for row in rows if len(row) == most]
    return [
        (min(float(row[c][0]["x0"]) for row in full), max(float(row[c][-1]["x1"]) for row in full)) for c in range(most)
    ]


def _overlap(column: tuple[float, float], segment: PdfCell) -> float:
    """How much of a cell lies in a column; below 0 how far off it lies."""
    left, right = float(segment[0]["x0"]), float(segment[-1]["x1"])
    return min(column[1], right) - max(column[0], left)
