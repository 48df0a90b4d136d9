"""The text of a PDF: its words grouped into lines, columns, boxes and cells of tables by where they stand."""

import io
import re
import warnings
from collections.abc import Iterator, Mapping, Sequence
from itertools import pairwise, takewhile
from typing import Any, Final, NamedTuple

import pdfplumber
from pdfminer.pdfdocument import PDFPasswordIncorrect

from vinemark.core.base.refused import Refused
from vinemark.exchange.syllabus_pdf_tables import Word, height_of, ruled_tables, word_rows
from vinemark.exchange.syllabus_tables import RAISED, bar_row, leads

PAGES = 60
PdfCell = list[Word]


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


WORDS_TAKEN: Final = {"x_tolerance": 1.5, "y_tolerance": 2, "keep_blank_chars": False, "extra_attrs": ["fontname"]}


def _pdf_page(page: Any) -> str:
    words: list[Word] = _with_notes(page.extract_words(**WORDS_TAKEN))
    parts: list[str] = []
    for table in ruled_tables(page, words):
        parts.append(_flow([word for word in words if height_of(word) < table.box[1]], float(page.width)))
        if table.arranges or table.stands_beside:
            parts += [_pdf_lines(cell) for cell in table.cells()]
        else:
            rows = (bar_row([text.replace("|", "/") for text in texts]) for texts in table.texts())
            parts.append("\n".join(line for row in rows for line in row))
        words = table.leaves(words)
    parts.append(_flow(words, float(page.width)))
    return "\n\n".join(part for part in parts if part)


MOST_DIGITS_OF_A_NOTE = 2


def _with_notes(words: list[Word]) -> list[Word]:
    """Words with the small raised number of a footnote as its sign: at the end of the word before it, or alone."""
    made = [dict(word) for word in words]
    ends: dict[int, list[Word]] = {}
    starts: dict[int, list[Word]] = {}
    for word in made:
        ends.setdefault(int(word["x1"]), []).append(word)
        starts.setdefault(int(word["x0"]), []).append(word)
    gone: list[int] = []
    for word in made:
        if not (word["text"].isdecimal() and len(word["text"]) <= MOST_DIGITS_OF_A_NOTE):
            continue
        before = _beside_raised(word, ends, int(word["x0"]) - 2)
        if before is not None:
            before |= {"text": before["text"] + word["text"].translate(RAISED), "x1": word["x1"]}
            gone.append(id(word))
        elif _beside_raised(word, starts, int(word["x1"])) is not None:
            word["text"] = word["text"].translate(RAISED)
    return [word for word in made if id(word) not in gone]


MOST_IN_A_COLUMN = 200


def _beside_raised(small: Word, places: Mapping[int, Sequence[Word]], x: int) -> Word | None:
    """The word that begins or ends within so many points of x, and beside which a small one is raised."""
    near = (word for n in range(x, x + 6) for word in places.get(n, ())[:MOST_IN_A_COLUMN])
    return next((word for word in near if _is_raised(small, word)), None)


def _is_raised(small: Word, beside: Word) -> bool:
    """Whether a word is smaller than one beside it, and stands higher."""
    height, full = small["bottom"] - small["top"], beside["bottom"] - beside["top"]
    return bool(
        height < 0.85 * full and beside["top"] - full / 2 < small["top"] and small["bottom"] < beside["bottom"] - 1
    )


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
    if not all(sides) or _leads_with_amounts(sides[1]):
        return 0
    prose = any(sum(map(len, side)) >= 6 * len(side) for side in sides)
    air, level = (0.9, 0.5) if prose else (1.5, 0.4)
    close = all(_is_close(side, air) for side in sides)
    return min(map(len, sides)) if close and _level(*sides) < level else 0


LEADING_SHARE = re.compile(r"\d{1,3}(?:\.\d{1,2})?%")
FEWEST_LEADING = 3


def _leads_with_amounts(side: Sequence[list[Word]]) -> bool:
    """Whether lines begin with percentages: the names of a table stand beside them, not another text."""
    return sum(LEADING_SHARE.fullmatch(row[0]["text"]) is not None for row in side) >= FEWEST_LEADING


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
    drawn = [row for row in rows if not _is_rule(row)] or rows
    cut = _whole_cells([_segments(row, height) for row in drawn])
    lines: list[str] = []
    place = 0
    while place < len(cut):
        first = cut[place][0][0]
        if place and first["top"] - cut[place - 1][0][-1]["bottom"] > height * 0.75:
            lines.append("")
        end = _table_end(cut, place)
        if end - place >= LEAST_ROWS:
            lines += _pdf_table(cut[place:end])
            place = end
        else:
            indent = round((float(first["x0"]) - base) / (height * 0.5))
            lines.append(" " * indent + _as_line(cut[place], height))
            place += 1
    return "\n".join(lines)


def _as_line(segments: Sequence[PdfCell], height: float) -> str:
    """A line with what its type tells: a heading is larger or bold, a name in bold leads what follows."""
    if len(segments) > 1 and NUMBER_OF_SECTION.fullmatch(_words_of(segments[0])):
        segments = [[*segments[0], *segments[1]], *segments[2:]]
    text = "    ".join(_words_of(segment) for segment in segments)
    words = segments[0]
    if len(segments) > 1 or "*" in text:
        return text
    bold = sum(1 for _ in takewhile(_is_bold, words))
    larger = words[0]["bottom"] - words[0]["top"] > LARGER * height
    if (larger or bold == len(words)) and LINE_OF_A_HEADING.fullmatch(text) and len(words) <= MOST_WORDS_OF_A_HEADING:
        return f"# {text}"
    if 0 < bold < len(words) and bold <= MOST_WORDS_OF_A_HEADING and leads(_words_of(words[:bold])):
        return f"**{_words_of(words[:bold])}** {_words_of(words[bold:])}"
    return text


NUMBER_OF_SECTION = re.compile(r"\d{1,2}(?:\.\d{1,2}){0,2}\.?")
LARGER = 1.15
MOST_WORDS_OF_A_HEADING = 8
LINE_OF_A_HEADING = re.compile(r"[A-Z0-9][^%=|]{1,68}[^%=|.,;:]")
BOLD = re.compile(r"bold|black|heavy", re.I)


def _is_bold(word: Word) -> bool:
    return BOLD.search(str(word["fontname"])) is not None


def _is_rule(row: Sequence[Word]) -> bool:
    """Whether a line is one of typed dashes, as above a sum."""
    return len(row) == 1 and set(str(row[0]["text"])) <= {"-", "_", "=", "–", "—"}


LEAST_ROWS = 2


def _segments(row: list[Word], height: float) -> list[PdfCell]:
    """The stretches of a line between wide gaps."""
    found: list[PdfCell] = [[row[0]]]
    for left, right in pairwise(row):
        if right["x0"] - left["x1"] > height * 0.8:
            found.append([])
        found[-1].append(right)
    return found


def _whole_cells(cut: Sequence[list[PdfCell]]) -> list[list[PdfCell]]:
    """Rows in which a first cell that is wrapped stands in one."""
    made: list[list[PdfCell]] = []
    for row in cut:
        if made and len(made[-1]) == 1 and len(row) > 1 and _wraps(made[-1][0], row[0], _lower(row)):
            made[-1] = [made[-1][0] + row[0], *row[1:]]
        elif made and len(made[-1]) > 1 and len(row) == 1 and _wraps(made[-1][0], row[0], False):
            made[-1] = [made[-1][0] + row[0], *made[-1][1:]]
        else:
            made.append(row)
    return made


def _lower(row: Sequence[PdfCell]) -> bool:
    """Whether the first cell stands lower than all others: these are at the middle of a cell of several lines."""
    return all(row[0][0]["bottom"] - cell[0]["bottom"] > A_LITTLE for cell in row[1:])


A_LITTLE = 2.0


def _wraps(above: PdfCell, below: PdfCell, lower: bool) -> bool:
    """Whether a cell goes on in the line below: its other cells stand between the two lines, or a bracket is open."""
    height = above[-1]["bottom"] - above[-1]["top"]
    near = below[0]["top"] - above[-1]["bottom"] < height * 0.6 and abs(below[0]["x0"] - above[0]["x0"]) < A_LITTLE
    text = _words_of(above)
    goes_on = text.rfind("(") > text.rfind(")") and ")" in _words_of(below)
    named = re.search("[A-Za-z]{2}", text) is not None
    return bool(near and named) and (
        lower or goes_on or (str(below[0]["text"])[:1].islower() and text[-1:] not in ".:;")
    )


def _words_of(segment: PdfCell) -> str:
    return " ".join(str(word["text"]) for word in segment)


def _table_end(cut: Sequence[list[PdfCell]], start: int) -> int:
    """How far lines of several cells go on; a line of one cell within them goes on with the cell above it."""
    end = start
    for place in range(start, len(cut)):
        if len(cut[place]) > 1:
            if place > start and _parts(cut[max(start, place - 2) : place + 1]):
                break
            end = place + 1
        elif place == start or not _goes_on(cut[place][0], cut[place - 1]) or place + 1 - end > 1:
            break
    return end


def _parts(rows: Sequence[list[PdfCell]]) -> bool:
    """Whether the last of two or three rows stands apart: much lower than the others from one another, or, with one
    above it, with air between them and more or fewer cells."""
    height = rows[0][0][0]["bottom"] - rows[0][0][0]["top"]
    *before, after = (below[0][0]["top"] - above[0][-1]["top"] for above, below in pairwise(rows))
    if not before:
        return bool(after > 2 * height and len(rows[0]) != len(rows[1]))
    return bool(after > 1.8 * height and after > 1.8 * before[0])


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
