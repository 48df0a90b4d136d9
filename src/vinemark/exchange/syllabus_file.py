"""The text of a syllabus from a file: plain text, Markdown, HTML, DOCX, PDF. Tables become rows, cells apart by '|'."""

import io
import re
import zipfile
from collections.abc import Callable, Iterator, Mapping
from itertools import takewhile
from typing import Any

import docx
from bs4 import BeautifulSoup, Comment, Tag
from bs4.element import NavigableString, PreformattedString
from charset_normalizer import from_bytes
from docx.oxml import parse_xml
from docx.table import Table as DocxTable
from docx.table import _Cell
from docx.text.paragraph import Paragraph

from vinemark.core.base.limits import TEXT_LIMIT
from vinemark.core.base.refused import Refused
from vinemark.exchange.syllabus_pdf import read_pdf
from vinemark.exchange.syllabus_tables import (
    LONG_CELL,
    MOST_ROWS_READ,
    MOST_TABLE_COLUMNS,
    RAISED,
    GridCell,
    Spans,
    bar_row,
    cell_line,
    leads,
    spread,
)
from vinemark.exchange.tables import DETECTED

LARGEST = 10_000_000
UNPACKED = 60_000_000
DEEPEST_LIST = 9
DEEPEST_TABLE = 8
SEVERAL_PARAGRAPHS = 3
"""A table of one row whose cell has so many only arranges them."""
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
        inner = _with_lead("".join(_html_parts(tag, depth, lists)).strip(), _html_lead(tag))
        yield "\n" + "  " * max(0, lists - 1) + "- " + inner
    elif name == "dd":
        yield ": " + "".join(_html_parts(tag, depth, lists)).strip()
    elif name == "sup":
        yield "".join(_html_parts(tag, depth, lists)).strip().translate(RAISED)
    elif re.fullmatch(r"h[1-6]", name):
        yield "\n\n# " + " ".join("".join(_html_parts(tag, depth, lists)).split()) + "\n\n"
    elif name in BLOCKS:
        yield "\n\n" + _with_lead("".join(_html_parts(tag, depth, lists)).strip(" "), _html_lead(tag)) + "\n\n"
    else:
        yield from _html_parts(tag, depth, lists)


def _html_lead(tag: Tag) -> str:
    """The words in bold that a block begins with."""
    first = next((c for c in tag.children if isinstance(c, Tag) or str(c).strip()), None)
    if not isinstance(first, Tag) or first.name not in {"b", "strong"}:
        return ""
    return " ".join("".join(_html_parts(first, 0)).split())


def _is_layout(table: Tag) -> bool:
    """Whether a table only arranges a page: it holds headings, tables, cells of running text, or alone a list."""
    if table.find(["table", "h1", "h2", "h3", "h4", "h5", "h6"]):
        return True
    cells = table.find_all(["td", "th"], limit=MOST_ROWS_READ)
    if len(table.find_all("tr", limit=2)) == 1 and any(_lines_in(cell) >= SEVERAL_PARAGRAPHS for cell in cells):
        return True
    return any(len(cell.find_all(["p", "li"], limit=3)) > 1 and len(cell.get_text()) > LONG_CELL for cell in cells)


def _lines_in(cell: Tag) -> int:
    return max(len(cell.find_all(["p", "li", "div"], limit=5)), 1 + len(cell.find_all("br", limit=5)))


def _html_rows(table: Tag, depth: int) -> Iterator[str]:
    above: Spans = {}
    for row in table.find_all("tr", limit=MOST_ROWS_READ):
        if row.find_parent("table") is not table:
            continue
        cells = [
            GridCell(cell_line("".join(_html_parts(cell, depth))), _span(cell, "colspan"), _span(cell, "rowspan"))
            for cell in row.find_all(["td", "th"], recursive=False, limit=MOST_TABLE_COLUMNS)
        ]
        yield from bar_row(spread(cells, above))


def _span(cell: Tag, name: str) -> int:
    said = str(cell.get(name) or "1").strip()
    return max(1, min(int(said), MOST_TABLE_COLUMNS)) if re.fullmatch(r"\d{1,9}", said) else 1


LONGEST_LEAD = 60


def _with_lead(text: str, lead: str) -> str:
    """A block with the words in bold that lead it between signs of emphasis: the label or name of what follows."""
    words, rest = lead.strip(), text.removeprefix(lead)
    plain = len(words) <= LONGEST_LEAD and leads(words) and "*" not in words and "\n" not in words
    if not plain or not text.startswith(lead) or not rest.strip():
        return text
    before, after = lead[: len(lead) - len(lead.lstrip())], lead[len(lead.rstrip()) :]
    return f"{before}**{words}**{after}{rest}"


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
    notes = _docx_notes(document)
    unwrap(document.element.body)
    lines = [*_docx_lines(document, _style_names(document)), "", *notes]
    return re.sub(r"\n{3,}", "\n\n", "\n".join(lines)).strip("\n") + "\n"


def _docx_notes(document: Any) -> list[str]:
    """The footnotes and endnotes that the text refers to, numbered where it does and as lines of their own."""
    lines: list[str] = []
    for kind in ("footnote", "endnote"):
        texts = _texts_of_notes(document, kind)
        for refers in list(document.element.body.iter(_OF_WORD + f"{kind}Reference")):
            text = texts.get(refers.get(_OF_WORD + "id"))
            if text:
                number = str(len(lines) + 1).translate(RAISED)
                lines.append(f"{number} {text}")
                shown = refers.makeelement(_OF_WORD + "t", {})
                shown.text = number
                refers.addnext(shown)
    return lines


def _texts_of_notes(document: Any, kind: str) -> Mapping[str | None, str]:
    part = next((r.target_part for r in document.part.rels.values() if r.reltype.endswith(f"/{kind}s")), None)
    if part is None:
        return {}
    notes = parse_xml(part.blob).iter(_OF_WORD + kind)
    return {
        note.get(_OF_WORD + "id"): " ".join("".join(t.text or "" for t in note.iter(_OF_WORD + "t")).split())
        for note in notes
    }


_OF_WORD = "{http://schemas.openxmlformats.org/wordprocessingml/2006/main}"
WRAPPERS = tuple(_OF_WORD + name for name in ("sdt", "sdtContent", "ins", "moveTo", "smartTag", "customXml"))
"""What only stands around text: controls of a form, what was put in and not yet taken over, tags."""
UNSEEN = (*(_OF_WORD + name for name in ("del", "moveFrom", "sdtPr", "sdtEndPr", "smartTagPr", "customXmlPr")),
    "{http://schemas.openxmlformats.org/markup-compatibility/2006}Fallback")  # fmt: skip
"""What a reader of the page does not see, or sees a second time."""


def unwrap(body: Any) -> None:
    """Make a document's body of plain paragraphs and tables: text in controls, tracked changes as if they were taken
    over, and text boxes after the paragraph that holds them (ECMA-376 part 1, 17.5, 17.13, 17.3.3.19)."""
    for gone in list(body.iter(*UNSEEN)):
        gone.getparent().remove(gone)
    for box in list(body.iter(_OF_WORD + "txbxContent")):
        around: Any = next(box.iterancestors(_OF_WORD + "p"), None)
        box.getparent().remove(box)
        for block in reversed(box) if around is not None else ():
            around.addnext(block)
    for run in body.iter(_OF_WORD + "r"):
        if any(align.get(_OF_WORD + "val") == "superscript" for align in run.iter(_OF_WORD + "vertAlign")):
            for text in run.iter(_OF_WORD + "t"):
                text.text = (text.text or "").translate(RAISED)
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
    text = _with_lead(paragraph.text, _bold_lead(paragraph)).strip("\n")
    style = styles.get(paragraph._p.style, "")
    if style.startswith(("Heading", "Title")) and text.strip():
        yield from ("", "# " + " ".join(text.split()), "")
    elif style.startswith("List") or (paragraph._p.pPr is not None and paragraph._p.pPr.numPr is not None):
        yield "  " * (_docx_level(paragraph, style) - 1) + "- " + " ".join(text.split())
    else:
        yield from ("", *text.split("\n"), "") if text.strip() else ("",)


def _bold_lead(paragraph: Paragraph) -> str:
    """The words in bold at the beginning of a paragraph."""
    return "".join(run.text for run in takewhile(lambda run: run.bold or not run.text.strip(), paragraph.runs))


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
            text = above[column] if goes_on else cell_line(_docx_cell(_Cell(cell, table), styles, depth))
            above[column] = text
            span = min(cell.grid_span, MOST_TABLE_COLUMNS)
            cells.append(GridCell(text, span))
            column += span
        yield from bar_row(spread(cells, {}))


def _docx_cell(cell: _Cell, styles: StyleNames, depth: int) -> str:
    return "\n".join(_docx_lines(cell, styles, depth + 1))


def _docx_is_layout(table: DocxTable, styles: StyleNames) -> bool:
    """Whether a table only arranges a page: it holds other tables, headings, or cells of running text."""
    alone = len(table._tbl.tr_lst) == 1
    for row in table._tbl.tr_lst[:MOST_ROWS_READ]:
        for tc in row.tc_lst[:MOST_TABLE_COLUMNS]:
            cell = _Cell(tc, table)
            paragraphs = [p for p in cell.paragraphs if p.text.strip()]
            headed = any(styles.get(p._p.style, "").startswith("Heading") for p in paragraphs)
            several = len(paragraphs) > 1 and sum(len(p.text) for p in paragraphs) > LONG_CELL
            if tc.tbl_lst or headed or several or (alone and len(paragraphs) >= SEVERAL_PARAGRAPHS):
                return True
    return False


def _docx_unwrapped(table: DocxTable, styles: StyleNames, depth: int) -> Iterator[str]:
    for row in table._tbl.tr_lst[:MOST_ROWS_READ]:
        for tc in row.tc_lst[:MOST_TABLE_COLUMNS]:
            if tc.vMerge != "continue":
                yield ""
                yield from _docx_lines(_Cell(tc, table), styles, depth + 1)
                yield ""


_READERS: dict[str, Callable[[bytes], str]] = {
    ".txt": _plain, ".md": _plain, ".html": _html, ".htm": _html, ".docx": _docx, ".pdf": read_pdf,
}  # fmt: skip
