"""The text of a syllabus from a file: plain text, Markdown, HTML, DOCX, PDF. Tables become rows, cells apart by '|'."""

import io
import re
import warnings
import zipfile
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from itertools import pairwise
from typing import Any, NamedTuple

import docx
import pdfplumber
from bs4 import BeautifulSoup, Comment, Tag
from bs4.element import NavigableString, PreformattedString
from charset_normalizer import from_bytes
from docx.table import Table as DocxTable
from docx.table import _Cell
from docx.text.paragraph import Paragraph
from pdfminer.pdfdocument import PDFPasswordIncorrect

from vinemark.core.base.limits import TEXT_LIMIT
from vinemark.core.base.refused import Refused
from vinemark.exchange.tables import DETECTED

LARGEST = 10_000_000
UNPACKED = 60_000_000
PAGES = 60
DEEPEST_LIST = 9
DEEPEST_TABLE = 8
KINDS = (".txt", ".md", ".html", ".htm", ".docx", ".pdf")


def read_text(name: str, data: bytes) -> str:
    """The text of a file, by the end of its name. Refused with a reason a person can act on."""
    kind = next((k for k in KINDS if name.lower().endswith(k)), None)
    if kind is None:
        raise Refused("file", f"must be one of {', '.join(k.removeprefix('.') for k in KINDS)}")
    if len(data) > LARGEST:
        raise Refused("file", f"is larger than {LARGEST // 1_000_000} MB")
    text = _READERS[kind](data)
    if not text.strip():
        raise Refused("file", "holds no text" + ("; a scan must be typed or pasted" if kind == ".pdf" else ""))
    refuse_longer(text)
    return text


def refuse_longer(text: str) -> None:
    """Refuse a text that is longer than a syllabus may be."""
    if len(text) > TEXT_LIMIT.most:
        raise Refused("file", f"holds more than {TEXT_LIMIT.most:,} signs; put in its grading part alone")


def _plain(data: bytes) -> str:
    wide = data[:2] in (b"\xff\xfe", b"\xfe\xff")
    if not wide and b"\0" in data[:1000]:
        raise Refused("file", "is no text")
    for encoding in ("utf-16",) if wide else ("utf-8-sig", "cp1252"):
        try:
            return _even_lines(data.decode(encoding))
        except UnicodeDecodeError:
            continue
    best = from_bytes(data[:DETECTED]).best()
    if best is None:
        raise Refused("file", "is in no known encoding")
    return _even_lines(data.decode(best.encoding, errors="replace"))


def _even_lines(text: str) -> str:
    return text.replace("\r\n", "\n").replace("\r", "\n").replace("\0", " ")


# --- HTML -------------------------------------------------------------------------------------

BLOCKS = frozenset(
    [
        "p",
        "div",
        "section",
        "article",
        "main",
        "header",
        "footer",
        "ul",
        "ol",
        "li",
        "dl",
        "dt",
        "dd",
        "table",
        "tr",
        "h1",
        "h2",
        "h3",
        "h4",
        "h5",
        "h6",
        "br",
        "hr",
        "pre",
        "blockquote",
        "form",
        "fieldset",
        "address",
        "figure",
        "figcaption",
        "tbody",
        "thead",
        "caption",
        "body",
        "html",
        "details",
        "summary",
    ]
)
DEEPEST_ELEMENT = 60
"""Elements nested deeper than this are taken as plain text."""
HIDDEN = ("script", "style", "nav", "title", "noscript", "template", "svg")


def _html(data: bytes) -> str:
    soup = BeautifulSoup(data, "lxml")
    for hidden in soup(HIDDEN):
        hidden.decompose()
    for comment in soup.find_all(string=lambda s: isinstance(s, Comment)):
        comment.extract()
    for tag in soup.find_all(hidden_by_attribute):
        tag.decompose()
    text = "".join(_html_parts(soup, 0))
    lines = (re.sub(r"(?<=\S)[ \t\u00a0]+", " ", line.rstrip(" \t\u00a0")) for line in text.split("\n"))
    return re.sub(r"\n{3,}", "\n\n", "\n".join(lines)).strip("\n") + "\n"


def hidden_by_attribute(tag: Tag) -> bool:
    """Whether a page hides this element."""
    style = str(tag.get("style") or "").replace(" ", "")
    return tag.has_attr("hidden") or "display:none" in style or tag.get("aria-hidden") == "true"


def _html_parts(tag: Tag, depth: int, lists: int = 0) -> Iterator[str]:
    for child in tag.children:
        if isinstance(child, PreformattedString):
            continue
        if isinstance(child, NavigableString):
            yield str(child) if tag.name == "pre" else re.sub(r"[ \t\r\n]+", " ", str(child))
        elif isinstance(child, Tag):
            yield from _html_tag(child, depth + 1, lists)


def _html_tag(tag: Tag, depth: int, lists: int) -> Iterator[str]:
    name = tag.name
    if name == "br":
        yield "\n"
    elif depth >= DEEPEST_ELEMENT:
        yield " " + tag.get_text(" ") + " "
    elif name == "table" and not _is_layout(tag):
        yield "\n\n" + "\n".join(_html_rows(tag, depth + 1)) + "\n\n"
    elif name in {"ul", "ol", "dl"}:
        yield "\n" + "".join(_html_parts(tag, depth, lists + 1)) + "\n"
    elif name in {"li", "dt"}:
        inner = "".join(_html_parts(tag, depth, lists)).strip()
        yield "\n" + "  " * max(0, lists - 1) + "- " + inner
    elif name == "dd":
        yield ": " + "".join(_html_parts(tag, depth, lists)).strip()
    elif re.fullmatch(r"h[1-6]", name):
        yield "\n\n# " + " ".join("".join(_html_parts(tag, depth, lists)).split()) + "\n\n"
    elif name in BLOCKS:
        yield "\n\n" + "".join(_html_parts(tag, depth, lists)).strip(" ") + "\n\n"
    else:
        yield from _html_parts(tag, depth, lists)


def _is_layout(table: Tag) -> bool:
    """Whether a table only arranges a page: it holds headings, other tables, or cells of running text."""
    if table.find(["table", "h1", "h2", "h3", "h4", "h5", "h6"]):
        return True
    cells = table.find_all(["td", "th"], limit=MOST_ROWS_READ)
    return any(len(cell.find_all(["p", "li"], limit=3)) > 1 and len(cell.get_text()) > LONG_CELL for cell in cells)


def _html_rows(table: Tag, depth: int) -> Iterator[str]:
    above: Spans = {}
    for row in table.find_all("tr", limit=MOST_ROWS_READ):
        if row.find_parent("table") is not table:
            continue
        cells = [
            GridCell(_one_line("".join(_html_parts(cell, depth))), _span(cell, "colspan"), _span(cell, "rowspan"))
            for cell in row.find_all(["td", "th"], recursive=False, limit=MOST_TABLE_COLUMNS)
        ]
        yield from _bar_row(spread(cells, above))


def _span(cell: Tag, name: str) -> int:
    said = str(cell.get(name) or "1").strip()
    return max(1, min(int(said), MOST_TABLE_COLUMNS)) if re.fullmatch(r"\d{1,9}", said) else 1


# --- tables of every kind ---------------------------------------------------------------------

MOST_TABLE_COLUMNS = 40
MOST_ROWS_READ = 2_000
LONG_CELL = 160


class GridCell(NamedTuple):
    """A cell with the columns and rows it covers."""

    text: str
    columns: int = 1
    rows: int = 1


Spans = dict[int, tuple[str, int]]
"""What goes on from the rows above: by its column, the words and for how many more rows."""


def spread(cells: Iterable[GridCell], above: Spans) -> list[str]:
    """A row with a place for every column: a cell is repeated in each place that it covers."""
    row: list[str] = []
    for cell in cells:
        _go_on(row, above)
        for _ in range(cell.columns):
            if len(row) >= MOST_TABLE_COLUMNS:
                return row
            if cell.rows > 1:
                above[len(row)] = (cell.text, cell.rows - 1)
            row.append(cell.text)
    _go_on(row, above)
    return row


def _go_on(row: list[str], above: Spans) -> None:
    while len(row) in above and len(row) < MOST_TABLE_COLUMNS:
        text, rows = above.pop(len(row))
        if rows > 1:
            above[len(row)] = (text, rows - 1)
        row.append(text)


def _one_line(text: str) -> str:
    """The lines of a cell in one; a line of its own is told from the one above it by a semicolon."""
    lines = [line for part in text.split("\n") if (line := " ".join(part.split()))]
    return "; ".join(lines).replace(".; ", ". ").replace(":; ", ": ").replace("|", "/")


def _bar_row(texts: Sequence[str]) -> Iterator[str]:
    if any(texts):
        yield "| " + " | ".join(texts) + " |"


# --- DOCX -------------------------------------------------------------------------------------


def _docx(data: bytes) -> str:
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            if sum(member.file_size for member in packed.infolist()) > UNPACKED:
                raise Refused("file", "is too large when unpacked")
        document = docx.Document(io.BytesIO(data))
    except Refused:
        raise
    except Exception as error:
        if data[:4] == b"\xd0\xcf\x11\xe0":
            raise Refused("file", "is protected by a password, or an old DOC; save it as DOCX without one") from error
        raise Refused("file", "is no DOCX that can be read") from error
    unwrap(document.element.body)
    return re.sub(r"\n{3,}", "\n\n", "\n".join(_docx_lines(document, _style_names(document)))).strip("\n") + "\n"


_OF_WORD = "{http://schemas.openxmlformats.org/wordprocessingml/2006/main}"
WRAPPERS = tuple(_OF_WORD + name for name in ("sdt", "sdtContent", "ins", "moveTo", "smartTag", "customXml"))
"""What only stands around text: controls of a form, what was put in and not yet taken over, tags."""
GONE = (*(_OF_WORD + name for name in ("del", "moveFrom", "sdtPr", "sdtEndPr", "smartTagPr", "customXmlPr")),
    "{http://schemas.openxmlformats.org/markup-compatibility/2006}Fallback")  # fmt: skip
"""What a reader of the page does not see, or sees a second time."""


def unwrap(body: Any) -> None:
    """Make a document's body of plain paragraphs and tables: text in controls, tracked changes as if they were taken
    over, and text boxes after the paragraph that holds them (ECMA-376 part 1, 17.5, 17.13, 17.3.3.19)."""
    for gone in list(body.iter(*GONE)):
        gone.getparent().remove(gone)
    for box in list(body.iter(_OF_WORD + "txbxContent")):
        around: Any = next(box.iterancestors(_OF_WORD + "p"), None)
        box.getparent().remove(box)
        for block in reversed(box) if around is not None else ():
            around.addnext(block)
    for wrapper in list(body.iter(*WRAPPERS)):
        for inner in wrapper:
            wrapper.addprevious(inner)
        wrapper.getparent().remove(wrapper)


StyleNames = Mapping[str | None, str]


def _style_names(document: Any) -> StyleNames:
    """The names of the styles by their ids, looked up once."""
    return {style.style_id: style.name or "" for style in document.styles}


def _docx_lines(container: Any, styles: StyleNames, depth: int = 0) -> Iterator[str]:
    if depth > DEEPEST_TABLE:
        return
    for block in container.iter_inner_content():
        if isinstance(block, DocxTable):
            yield ""
            rows = _docx_unwrapped if _docx_is_layout(block, styles) else _docx_rows
            yield from rows(block, styles, depth)
            yield ""
        elif isinstance(block, Paragraph):
            yield from _docx_paragraph(block, styles)


def _docx_paragraph(paragraph: Paragraph, styles: StyleNames) -> Iterator[str]:
    text = paragraph.text.strip("\n")
    style = styles.get(paragraph._p.style, "")
    if style.startswith(("Heading", "Title")) and text.strip():
        yield from ("", "# " + " ".join(text.split()), "")
    elif style.startswith("List") or (paragraph._p.pPr is not None and paragraph._p.pPr.numPr is not None):
        yield "  " * (_docx_level(paragraph, style) - 1) + "- " + " ".join(text.split())
    else:
        yield from ("", *text.split("\n"), "") if text.strip() else ("",)


def _docx_level(paragraph: Paragraph, style: str) -> int:
    properties: Any = paragraph._p.pPr
    numbering = properties.numPr if properties is not None else None
    by_style = int(style[-1]) if style[-1:].isdecimal() else 1
    level = numbering.ilvl.val + 1 if numbering is not None and numbering.ilvl is not None else 1
    return min(max(by_style, level), DEEPEST_LIST)


def _docx_rows(table: DocxTable, styles: StyleNames, depth: int) -> Iterator[str]:
    """Rows of cells; a cell that goes on from the row above says again what stands there."""
    above: dict[int, str] = {}
    for row in table._tbl.tr_lst[:MOST_ROWS_READ]:
        cells: list[GridCell] = [GridCell("")] * min(row.grid_before, MOST_TABLE_COLUMNS)
        column = row.grid_before
        for cell in row.tc_lst[:MOST_TABLE_COLUMNS]:
            goes_on = cell.vMerge == "continue" and column in above
            text = above[column] if goes_on else _one_line(_docx_cell(_Cell(cell, table), styles, depth))
            above[column] = text
            span = min(cell.grid_span, MOST_TABLE_COLUMNS)
            cells.append(GridCell(text, span))
            column += span
        yield from _bar_row(spread(cells, {}))


def _docx_cell(cell: _Cell, styles: StyleNames, depth: int) -> str:
    return "\n".join(_docx_lines(cell, styles, depth + 1))


def _docx_is_layout(table: DocxTable, styles: StyleNames) -> bool:
    """Whether a table only arranges a page: it holds other tables, headings, or cells of running text."""
    for row in table._tbl.tr_lst[:MOST_ROWS_READ]:
        for tc in row.tc_lst[:MOST_TABLE_COLUMNS]:
            cell = _Cell(tc, table)
            paragraphs = [p for p in cell.paragraphs if p.text.strip()]
            headed = any(styles.get(p._p.style, "").startswith("Heading") for p in paragraphs)
            if tc.tbl_lst or headed or (len(paragraphs) > 1 and sum(len(p.text) for p in paragraphs) > LONG_CELL):
                return True
    return False


def _docx_unwrapped(table: DocxTable, styles: StyleNames, depth: int) -> Iterator[str]:
    for row in table._tbl.tr_lst[:MOST_ROWS_READ]:
        for tc in row.tc_lst[:MOST_TABLE_COLUMNS]:
            if tc.vMerge != "continue":
                yield ""
                yield from _docx_lines(_Cell(tc, table), styles, depth + 1)
                yield ""


# --- PDF --------------------------------------------------------------------------------------


def _pdf(data: bytes) -> str:
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


Word = dict[str, Any]


def _pdf_pages(pages: Sequence[Any]) -> Iterator[str]:
    for page in pages:
        yield _pdf_page(page)


def _pdf_page(page: Any) -> str:
    words: list[Word] = page.extract_words(x_tolerance=1.5, y_tolerance=2, keep_blank_chars=False)
    if not words:
        return ""
    gutter = _gutter(words, float(page.width))
    if gutter is None:
        return "\n\n".join(_pdf_lines(part) for part in _around_a_box(words, float(page.width)) if part)
    return "\n\n".join(_pdf_lines(part) for part in _in_reading_order(words, gutter) if part)


def _gutter(words: list[Word], width: float) -> float | None:
    """Where two columns of text meet: an upright stripe in the middle that long lines on both sides leave free."""
    rows = _pdf_rows(words)
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
    left, right = (_pdf_rows(side) for side in ([w for w in words if w["x1"] <= x], [w for w in words if w["x0"] >= x]))
    several = all(sum(map(len, side)) >= 4 * len(side) for side in (left, right))
    return several and _level(left, right) < 1 / 2


MOST_WORDS_OF_A_PAGE = 4_000


def _around_a_box(words: list[Word], width: float) -> Iterator[list[Word]]:
    """What stands above a box beside the running text, the box, the text beside it, and what stands below."""
    rows = _pdf_rows(words)
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
    sides = [_pdf_rows(side) for side in ([w for w in words if w["x1"] <= x], [w for w in words if w["x0"] >= x])]
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
    for row in _pdf_rows(words):
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


def _pdf_rows(words: list[Word]) -> list[list[Word]]:
    rows: list[list[Word]] = []
    for word in sorted(words, key=lambda w: (w["top"], w["x0"])):
        middle = (word["top"] + word["bottom"]) / 2
        if rows and rows[-1][0]["top"] - 1 <= middle <= rows[-1][0]["bottom"] + 1:
            rows[-1].append(word)
        else:
            rows.append([word])
    return [sorted(row, key=lambda w: float(w["x0"])) for row in rows]


def _pdf_lines(words: list[Word]) -> str:
    """Lines with their indents, tables as rows of cells, an empty line where there is air."""
    rows = _pdf_rows(words)
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
        yield from _bar_row([cell.replace("|", "/") for cell in cells])


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


_READERS: dict[str, Callable[[bytes], str]] = {
    ".txt": _plain, ".md": _plain, ".html": _html, ".htm": _html, ".docx": _docx, ".pdf": _pdf,
}  # fmt: skip
