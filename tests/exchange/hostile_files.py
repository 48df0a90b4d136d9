"""Files that are meant to hurt, made from a few lines each; nothing large is kept."""

import io
import random
import zipfile
import zlib
from collections.abc import Callable, Mapping
from typing import NamedTuple

import docx
from docx.oxml import parse_xml
from docx.oxml.ns import nsdecls

from tests.seeds import seed

BLANKS = b" " * (1 << 20)


class HostileFile(NamedTuple):
    """What it does, what it is called, how it is made."""

    what: str
    name: str
    make: Callable[[], bytes]


def packed(files: Mapping[str, bytes | str]) -> bytes:
    """A zip."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made:
        for name, data in files.items():
            made.writestr(name, data)
    return out.getvalue()


def packed_large(name: str, megabytes: int, begins: bytes = b"") -> bytes:
    """A zip of one file that unpacks to so much."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made, made.open(name, "w", force_zip64=True) as file:
        file.write(begins)
        for _ in range(megabytes):
            file.write(BLANKS)
    return out.getvalue()


def pdf(stream: bytes) -> bytes:
    """A PDF of one page with a deflated content stream."""
    deflated = zlib.compress(stream, 9)
    font = b"<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica >>"
    parts = [
        b"<< /Type /Catalog /Pages 2 0 R >>",
        b"<< /Type /Pages /Kids [3 0 R] /Count 1 >>",
        b"<< /Type /Page /Parent 2 0 R /MediaBox [0 0 612 792] /Contents 4 0 R /Resources << /Font << /F " + font
        + b" >> >> >>",
        b"<< /Length %d /Filter /FlateDecode >>\nstream\n%s\nendstream" % (len(deflated), deflated),
    ]  # fmt: skip
    out = b"%PDF-1.4\n"
    for number, part in enumerate(parts, 1):
        out += b"%d 0 obj\n%s\nendobj\n" % (number, part)
    return out + b"trailer << /Size 5 /Root 1 0 R >>\n%%EOF"


def ods(rows: str, lead: str = "") -> bytes:
    """An OpenDocument spreadsheet of one table."""
    names = " ".join(f'xmlns:{n}="urn:oasis:names:tc:opendocument:xmlns:{n}:1.0"' for n in ("office", "table", "text"))
    table = f'<table:table table:name="t">{rows}</table:table>'
    whole = f"<office:body><office:spreadsheet>{table}</office:spreadsheet></office:body>"
    return packed({"content.xml": f"{lead}<office:document-content {names}>{whole}</office:document-content>"})


def ods_cell(text: str, more: str = "") -> str:
    """A cell with a text."""
    return f'<table:table-cell office:value-type="string" {more}><text:p>{text}</text:p></table:table-cell>'


def document(change: Callable[[docx.document.Document], object]) -> bytes:
    """A DOCX that was changed."""
    made, out = docx.Document(), io.BytesIO()
    change(made)
    made.save(out)
    return out.getvalue()


def _wide_cell(made: docx.document.Document) -> None:
    table = made.add_table(1, 1)
    table.cell(0, 0)._tc.get_or_add_tcPr().append(parse_xml(f'<w:gridSpan {nsdecls("w")} w:val="90000000"/>'))


def _deep_item(made: docx.document.Document) -> None:
    properties = made.add_paragraph("Homework 40%")._p.get_or_add_pPr()
    level = '<w:ilvl w:val="90000000"/><w:numId w:val="1"/>'
    properties.append(parse_xml(f"<w:numPr {nsdecls('w')}>{level}</w:numPr>"))


def _many_cells(made: docx.document.Document) -> None:
    row = made.add_table(1, 1).rows[0]._tr
    for _ in range(9_000):
        row.append(parse_xml(f"<w:tc {nsdecls('w')}><w:p/></w:tc>"))


def _texts() -> list[HostileFile]:
    chance = random.Random(seed(16))
    sign = chance.choice("1.,;(- \n%")
    pair = "".join(chance.choice("1a.,(%-; \n") for _ in range(2))
    texts = {
        "digits": "7" * 40_000,
        "one sign": sign * 40_000,
        "a pair of signs": pair * 20_000,
        "leader dots": "94 - 100 " + "." * 40_000 + " A",
        "a bracket and dots": "(" + "." * 40_000,
        "a sentence without an end": "drop the lowest " * 2_500,
        "lines of air": "\n" * 100_000,
        "weights without names": "10% " * 8_000,
    }
    return [HostileFile(what, "a.txt", text.encode) for what, text in texts.items()]


SYLLABUSES = (
    *_texts(),
    HostileFile("a page that unpacks to 400 MB", "a.pdf", lambda: pdf(BLANKS * 400)),
    HostileFile("a page of 500,000 words", "a.pdf", lambda: pdf(b"BT /F 1 Tf " + b"1 0 0 1 9 9 Tm (a) Tj " * 500_000)),
    HostileFile("nested 30,000 deep", "a.html", lambda: b"<div>" * 30_000 + b"Homework 40%"),
    HostileFile("tables in tables", "a.html", lambda: b"<table><tr><td>" * 4_000 + b"Homework 40%"),
    HostileFile("a million paragraphs", "a.html", lambda: b"<p>a" * 2_000_000),
    HostileFile("a cell over 90 million columns", "a.docx", lambda: document(_wide_cell)),
    HostileFile("an item 90 million deep", "a.docx", lambda: document(_deep_item)),
    HostileFile("a row of 9,000 cells", "a.docx", lambda: document(_many_cells)),
    HostileFile("a document that unpacks to 80 MB", "a.docx", lambda: packed_large("word/document.xml", 80)),
)
ENTITIES = '<!DOCTYPE l [<!ENTITY a "aaaaaaaaaa">' + "".join(
    f'<!ENTITY {new} "{f"&{old};" * 10}">' for old, new in zip("abcdefgh", "bcdefghi", strict=True)
) + "]>"  # fmt: skip
TABLES = (
    HostileFile("a row 90 million times", "a.ods", lambda: ods(
        f'<table:table-row table:number-rows-repeated="90000000">{ods_cell("id")}</table:table-row>')),
    HostileFile("a cell 90 million times", "a.ods", lambda: ods(
        f'<table:table-row>{ods_cell("id", """table:number-columns-repeated="90000000" """)}</table:table-row>')),
    HostileFile("a number of 90 million digits", "a.ods", lambda: ods(
        f'<table:table-row>{ods_cell("id")}{ods_cell("Quiz")}</table:table-row><table:table-row>{ods_cell("L1")}'
        '<table:table-cell office:value-type="float" office:value="1E+90000000"/></table:table-row>')),
    HostileFile("20 million empty nodes", "a.ods", lambda: ods("<a/>" * 20_000_000)),
    HostileFile("entities of entities", "a.ods", lambda: ods(
        f"<table:table-row>{ods_cell('&i;')}</table:table-row>", ENTITIES)),
    HostileFile("a sheet that unpacks to 120 MB", "a.xlsx", lambda: packed_large("xl/workbook.xml", 120)),
    HostileFile("a million rows", "a.csv", lambda: b"id,a\n" + b"1,2\n" * 1_000_000),
    HostileFile("two million columns", "a.csv", lambda: b"id,a" + b",1" * 2_000_000),
    HostileFile("a quote without an end", "a.csv", lambda: b'id,name\n"' + b"x" * 4_000_000),
    HostileFile("no encoding", "a.csv", lambda: b"id,name\n" + bytes([0x81, 0x8D, 0x8F, 0x90, 0x9D]) * 700_000),
)  # fmt: skip
COURSES = (
    HostileFile("lists 900,000 deep", "a.json", lambda: b"[" * 900_000),
    HostileFile("four million objects", "a.json", lambda: b"[" + b"{}," * 4_000_000 + b"{}]"),
    HostileFile("a number of 9 million digits", "a.json", lambda: b'{"format": ' + b"9" * 9_000_000 + b"}"),
    HostileFile("an archive whose manifest unpacks to 120 MB", "a.zip", lambda: packed_large(
        "manifest.json", 120, b'{"format": "vine-mark-archive/1"}')),
    HostileFile("an archive of 9,000 files", "a.zip", lambda: packed(
        {"manifest.json": '{"format": "vine-mark-archive/1"}', **{f"f{n}": "" for n in range(9_000)}})),
    HostileFile("a roster of a million lines", "a.zip", lambda: packed(
        {"users.csv": "sourcedId,givenName,familyName,status\n" + "1,a,b,\n" * 1_000_000,
         "lineItems.csv": "sourcedId,title,resultValueMax\n1,a,1\n"})),
)  # fmt: skip
