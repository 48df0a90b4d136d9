"""The text of a syllabus from a file: plain text, Markdown, HTML, DOCX, PDF. Tables become rows, cells apart by '|'."""

import io
import re
import warnings
import zipfile
from collections.abc import Callable, Iterator, Mapping, Sequence
from itertools import pairwise
from typing import Any

import docx
import pdfplumber
from bs4 import BeautifulSoup, Comment, Tag
from bs4.element import NavigableString
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
HIDDEN = ("script", "style", "nav", "head", "noscript", "template", "svg")


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


def _html_parts(tag: Tag, depth: int) -> Iterator[str]:
    for child in tag.children:
        if isinstance(child, NavigableString):
            yield str(child) if tag.name == "pre" else re.sub(r"[ \t\r\n]+", " ", str(child))
        elif isinstance(child, Tag):
            yield from _html_tag(child, depth)


def _html_tag(tag: Tag, depth: int) -> Iterator[str]:
    name = tag.name
    if name == "br":
        yield "\n"
    elif name == "table" and not tag.find("table"):
        yield "\n\n" + "\n".join(_html_rows(tag)) + "\n\n"
    elif name in {"ul", "ol", "dl"}:
        yield "\n" + "".join(_html_parts(tag, depth + 1)) + "\n"
    elif name in {"li", "dt"}:
        inner = "".join(_html_parts(tag, depth)).strip()
        yield "\n" + "  " * max(0, depth - 1) + "- " + inner
    elif name == "dd":
        yield ": " + "".join(_html_parts(tag, depth)).strip()
    elif re.fullmatch(r"h[1-6]", name):
        yield "\n\n# " + " ".join("".join(_html_parts(tag, depth)).split()) + "\n\n"
    elif name in BLOCKS:
        yield "\n\n" + "".join(_html_parts(tag, depth)).strip(" ") + "\n\n"
    else:
        yield from _html_parts(tag, depth)


def _html_rows(table: Tag) -> Iterator[str]:
    for row in table.find_all("tr"):
        cells = row.find_all(["td", "th"])
        texts = [" ".join("".join(_html_parts(cell, 0)).split()) for cell in cells]
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
    return re.sub(r"\n{3,}", "\n\n", "\n".join(_docx_lines(document, _style_names(document)))).strip("\n") + "\n"


StyleNames = Mapping[str | None, str]


def _style_names(document: Any) -> StyleNames:
    """The names of the styles by their ids, looked up once."""
    return {style.style_id: style.name or "" for style in document.styles}


def _docx_lines(container: Any, styles: StyleNames) -> Iterator[str]:
    for block in container.iter_inner_content():
        if isinstance(block, DocxTable):
            yield ""
            yield from _docx_rows(block, styles)
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


def _docx_rows(table: DocxTable, styles: StyleNames) -> Iterator[str]:
    """Rows of cells; a cell that goes on from the row above says again what stands there."""
    above: dict[int, str] = {}
    for row in table._tbl.tr_lst:
        texts: list[str] = []
        column = row.grid_before
        for cell in row.tc_lst:
            goes_on = cell.vMerge == "continue" and column in above
            text = above[column] if goes_on else " ".join(_docx_cell(_Cell(cell, table), styles).split())
            above[column] = text
            texts.append(text)
            column += cell.grid_span
        if any(texts):
            yield "| " + " | ".join(texts) + " |"


def _docx_cell(cell: _Cell, styles: StyleNames) -> str:
    return " ".join(_docx_lines(cell, styles))


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
        return _pdf_lines(words)
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
    two = least <= len(rows) * 0.1 and len(left) >= 8 and len(right) >= 8 and _prose(left, right, x)
    return x if two else None


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
            a["x1"] <= gutter <= b["x0"] and b["x0"] - a["x1"] < 6 for a, b in pairwise(row)
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
    """Lines with their indents, wide gaps kept as wide, an empty line where there is air."""
    rows = _pdf_rows(words)
    base = min(float(w["x0"]) for w in words)
    heights = sorted(float(r[0]["bottom"] - r[0]["top"]) for r in rows)
    height = heights[len(heights) // 2]
    lines: list[str] = []
    for above, row in zip([None, *rows], rows, strict=False):
        if above is not None and row[0]["top"] - above[0]["bottom"] > height * 0.75:
            lines.append("")
        lines.append(" " * round((float(row[0]["x0"]) - base) / (height * 0.5)) + _pdf_line(row, height))
    return "\n".join(lines)


def _pdf_line(row: list[Word], height: float) -> str:
    text = str(row[0]["text"])
    for left, right in pairwise(row):
        text += ("    " if right["x0"] - left["x1"] > height * 0.8 else " ") + str(right["text"])
    return text


_READERS: dict[str, Callable[[bytes], str]] = {
    ".txt": _plain, ".md": _plain, ".html": _html, ".htm": _html, ".docx": _docx, ".pdf": _pdf,
}  # fmt: skip
