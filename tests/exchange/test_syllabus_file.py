"""Texts from files of every kind, with their tables and columns, and files that cannot be read."""

import io
import json
from pathlib import Path

import docx
import pytest
from click.testing import CliRunner
from docx.opc.constants import CONTENT_TYPE as CT
from docx.opc.packuri import PackURI
from docx.opc.part import Part
from docx.oxml import parse_xml
from reportlab.lib.pagesizes import letter
from reportlab.lib.pdfencrypt import StandardEncryption
from reportlab.lib.styles import getSampleStyleSheet
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import BaseDocTemplate, Frame, PageTemplate, Paragraph, SimpleDocTemplate, Table

from tests.syllabus.documents import DOCUMENTS, Document
from vinemark.cli import main
from vinemark.core.base.refused import Refused
from vinemark.core.syllabus import read_syllabus
from vinemark.core.syllabus.written import syllabus_json
from vinemark.exchange.syllabus_file import read_text

CASES = Path(__file__).parent.parent / "cases" / "syllabus"
TABLE = next(d for d in DOCUMENTS if d.name == "table with pipes and a letter line")
PROSE = next(d for d in DOCUMENTS if d.name == "a long paragraph of weights")


WHOLE = ("a02", "a05", "a09", "a12", "a15", "b01", "b08", "b14")


@pytest.mark.parametrize("gold", [CASES / f"{name}.gold.json" for name in WHOLE], ids=lambda p: p.name)
def test_the_sample_documents(gold: Path) -> None:
    """Source: the sample cases that come with the format, every stated fact equal."""
    file = next(p for p in CASES.glob(gold.name.replace("gold.json", "*")) if not p.name.endswith(".json"))
    mine = syllabus_json(read_syllabus(read_text(file.name, file.read_bytes())))
    wanted = json.loads(gold.read_text(encoding="utf-8"))
    for key in ("basis", "scale", "scale_unit", "rounding", "blanks"):
        assert mine[key] == wanted[key], key
    found = {c["name"]: c for c in mine["categories"]}  # type: ignore[attr-defined]
    assert len(found) == len(wanted["categories"])
    for said in wanted["categories"]:
        name = next(n for n in (said["name"], *said.get("aliases", [])) if n in found)
        for key in ("weight", "points", "count", "points_each", "drop_lowest", "keep_best", "extra"):
            assert found[name][key] == said[key] or found[name][key] in said.get("also", {}).get(key, []), (name, key)
    assert all(any(text in u["text"] for u in mine["unread"]) for text in wanted.get("unread", []))  # type: ignore[attr-defined]


def rows(document: Document) -> list[list[str]]:
    lines = [line for line in document.text.splitlines() if line.startswith("|") and "--" not in line]
    return [[cell.strip() for cell in line.strip("|").split("|")] for line in lines]


def no_trouble(document: Document, text: str) -> None:
    assert document.score(read_syllabus(text)).amiss == []


def as_docx(document: Document) -> bytes:
    made = docx.Document()
    made.add_heading("How grades are made", 1)
    table = made.add_table(0, 3)
    for row in rows(document):
        for cell, text in zip(table.add_row().cells, row, strict=True):
            cell.text = text
    for line in document.text.split("\n\n")[-1].splitlines():
        made.add_paragraph(line)
    made.add_paragraph("The lowest notebook is dropped, and so are the two lowest map quizzes.")
    stream = io.BytesIO()
    made.save(stream)
    return stream.getvalue()


OF_WORD = 'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"'


def run(text: str, name: str = "t") -> str:
    return f"<w:r><w:{name}>{text}</w:{name}></w:r>"


def test_docx_with_controls_of_a_form_tracked_changes_and_a_text_box() -> None:
    """Source: ECMA-376 part 1, 17.5.2 (sdt), 17.13.5 (ins, del); a box is given twice, for old readers again."""
    box = f"<w:txbxContent><w:p>{run('Final exam 40%')}</w:p></w:txbxContent>"
    made = docx.Document()
    for block in (
        f"<w:sdt><w:sdtPr/><w:sdtContent><w:p>{run('Quizzes ')}<w:del>{run('50%', 'delText')}</w:del>"
        f"<w:ins>{run('20%')}</w:ins></w:p></w:sdtContent></w:sdt>",
        f"<w:p>{run('Labs ')}<w:sdt><w:sdtContent>{run('4')}</w:sdtContent></w:sdt>"
        f"<w:smartTag>{run('0%')}</w:smartTag></w:p>",
        f"<w:p><w:r><mc:AlternateContent xmlns:mc='http://schemas.openxmlformats.org/markup-compatibility/2006'>"
        f"<mc:Choice>{box}</mc:Choice><mc:Fallback>{box}</mc:Fallback></mc:AlternateContent></w:r></w:p>",
    ):
        made.element.body.append(parse_xml(block.replace(">", f" {OF_WORD}>", 1)))
    stream = io.BytesIO()
    made.save(stream)
    assert read_text("a.docx", stream.getvalue()).split("\n\n") == ["Quizzes 20%", "Labs 40%", "Final exam 40%\n"]


def test_the_notes_of_a_docx_stand_where_they_are_referred_to_and_below() -> None:
    """Source: ECMA-376 part 1, 17.11 (footnotes and endnotes), 17.3.2.42 (vertAlign)."""
    made = docx.Document()
    raised = '<w:r><w:rPr><w:vertAlign w:val="superscript"/></w:rPr><w:t>2</w:t></w:r>'
    refers = '<w:r><w:footnoteReference w:id="7"/></w:r>'
    for block in (
        f"<w:p>{run('Quizzes')}{refers}{run(' 20%')}</w:p>",
        f"<w:p>{run('Exams')}{raised}{run(' 80%')}</w:p>",
    ):
        made.element.body.append(parse_xml(block.replace(">", f" {OF_WORD}>", 1)))
    note = (
        f"<w:footnotes {OF_WORD}><w:footnote w:id='7'><w:p>{run('The lowest ')}{run('is dropped.')}</w:p></w:footnote>"
    )
    kind = "http://schemas.openxmlformats.org/officeDocument/2006/relationships/footnotes"
    part = Part(PackURI("/word/footnotes.xml"), CT.WML_FOOTNOTES, f"{note}</w:footnotes>".encode(), made.part.package)
    made.part.relate_to(part, kind)
    stream = io.BytesIO()
    made.save(stream)
    text = read_text("a.docx", stream.getvalue())
    assert text.split("\n\n") == ["Quizzes¹ 20%", "Exams² 80%", "¹ The lowest is dropped.\n"]
    assert read_syllabus(text).categories[0].drop_lowest == 1


NOTED = "Grading", "Quizzes{0}: 20%", "Exams: 80%", "{0} The two lowest are dropped."


@pytest.mark.parametrize("kind", ["html", "pdf"])
def test_the_sign_of_a_note_is_no_number(kind: str) -> None:
    lines = [line.format("<sup>4</sup>" if kind == "html" else "<super size=7>4</super>") for line in NOTED]
    if kind == "html":
        data = "".join(f"<p>{line}</p>" for line in lines).encode()
    else:
        stream = io.BytesIO()
        style = getSampleStyleSheet()["Normal"]
        SimpleDocTemplate(stream, pagesize=letter).build([Paragraph(line, style) for line in lines])
        data = stream.getvalue()
    text = read_text(f"a.{kind}", data)
    assert "Quizzes⁴" in text
    assert [(c.name, c.drop_lowest) for c in read_syllabus(text).categories] == [("Quizzes", 2), ("Exams", 0)]


def test_a_cell_of_two_lines_beside_one_in_its_middle() -> None:
    stream = io.BytesIO()
    page = Canvas(stream, pagesize=letter)
    for y, words in ((700, "Class questions"), (686, "Homework (12 sets, lowest 2"), (674, "dropped)"), (660, "Labs")):
        page.drawString(72, y, words)
    for y, percent in ((700, "5%"), (680, "20%"), (660, "75%")):
        page.drawString(300, y, percent)
    page.save()
    text = read_text("a.pdf", stream.getvalue())
    assert text.split("\n") == [
        "| Class questions | 5% |", "| Homework (12 sets, lowest 2 dropped) | 20% |", "| Labs | 75% |",
    ]  # fmt: skip


def test_a_table_of_one_row_only_arranges_its_lists() -> None:
    made = docx.Document()
    left, right = made.add_table(rows=1, cols=2).rows[0].cells
    left.text = "Tuesdays at two"
    right.text = "Grade:"
    for line in ("Tests (4) 40%", "Paper 60%"):
        right.add_paragraph(line)
    stream = io.BytesIO()
    made.save(stream)
    page = "<table><tr><td>Tuesdays at two</td><td>Grade:<br>Tests (4) 40%<br>Paper 60%</td></tr></table>"
    for text in (read_text("a.docx", stream.getvalue()), read_text("a.html", page.encode())):
        assert "|" not in text
        assert [c.name for c in read_syllabus(text).categories] == ["Tests", "Paper"]


def test_what_is_bold_leads_its_block() -> None:
    made = docx.Document()
    made.add_paragraph().add_run("Labs.").bold = True
    made.paragraphs[0].add_run(" Ten of them.")
    made.add_paragraph().add_run("25%").bold = True
    made.paragraphs[1].add_run(" for labs")
    stream = io.BytesIO()
    made.save(stream)
    assert read_text("a.docx", stream.getvalue()) == "**Labs.** Ten of them.\n\n25% for labs\n"
    html = "<p><b>Labs.</b> Ten of them.</p><ul><li><strong>25%</strong> for labs</li></ul>"
    assert read_text("a.html", html.encode()) == "**Labs.** Ten of them.\n\n- 25% for labs\n"
    styles = getSampleStyleSheet()
    stream = io.BytesIO()
    story = [Paragraph("Grading", styles["Heading1"]), Paragraph("<b>Labs.</b> Ten of them.", styles["Normal"])]
    SimpleDocTemplate(stream, pagesize=letter).build(story)
    assert [line for line in read_text("a.pdf", stream.getvalue()).split("\n") if line] == [
        "# Grading", "**Labs.** Ten of them.",
    ]  # fmt: skip


def as_pdf(document: Document) -> bytes:
    style = getSampleStyleSheet()
    stream = io.BytesIO()
    rest = [Paragraph(p.replace("\n", " "), style["Normal"]) for p in document.text.split("\n\n")[3:]]
    story = [Paragraph("How grades are made", style["Heading2"]), Table(rows(document)), *rest]
    SimpleDocTemplate(stream, pagesize=letter).build(story)
    return stream.getvalue()


def test_a_table_in_docx_and_in_pdf() -> None:
    no_trouble(TABLE, read_text("a.docx", as_docx(TABLE)))
    no_trouble(TABLE, read_text("a.pdf", as_pdf(TABLE)))


def test_two_columns_in_a_pdf_are_read_one_after_the_other() -> None:
    style = getSampleStyleSheet()["Normal"]
    stream = io.BytesIO()
    frames = [Frame(40, 40, 250, 700), Frame(320, 40, 250, 700)]
    made = BaseDocTemplate(stream, pagesize=letter)
    made.addPageTemplates([PageTemplate(frames=frames)])
    filler = "We look closely at stones, at the way they break and at what the river has done to them over time. " * 14
    made.build([Paragraph(filler, style), Paragraph(PROSE.text.replace("\n", " "), style), Paragraph(filler, style)] * 1
               + [Paragraph(filler * 2, style)])  # fmt: skip
    text = read_text("columns.pdf", stream.getvalue())
    no_trouble(PROSE, text)


def test_short_columns_whose_lines_stand_at_heights_of_their_own_are_columns() -> None:
    stream = io.BytesIO()
    canvas = Canvas(stream, pagesize=letter)
    left = """Maps and how to read them, taught by
walking. Forty percent of the time we
are outside, in any weather that is not
dangerous. Bring shoes that may be wet.
A map is lent to each of you in September
and must come back by the end of the term.
Labs (10)      40%
Field days      20%"""
    right = """Letters: A is 90 and up, B is 80 and
up, C is 70 and up and D is 60 and up.
There is no rounding of any average at
all. Labs not handed in are counted as
zero. The final exam is worth the other
40% of the grade and is comprehensive."""
    for x, top, lines in ((50, 700, left), (330, 693, right)):
        for number, line in enumerate(lines.splitlines()):
            canvas.drawString(x, top - 14 * number, line)
    canvas.save()
    text = read_text("a.pdf", stream.getvalue())
    assert text.index("Field days") < text.index("Letters")
    assert "There is no rounding of any average at\nall." in text


@pytest.mark.parametrize("drawn", [True, False])
def test_a_box_with_a_frame_stands_before_the_text_beside_it(drawn: bool) -> None:
    stream = io.BytesIO()
    canvas = Canvas(stream, pagesize=letter)
    text = "We look at air and water with as|little mathematics as we can.|Each takes part in one|of the two debates."
    box = "Grades|Worksheets 20%|Exams 40%|Final 40%"
    for x, lines in ((50, text), (330, box)):
        for number, line in enumerate(lines.split("|")):
            canvas.drawString(x, 700 - 14 * number, line)
    if drawn:
        canvas.rect(322, 650, 150, 64)
    canvas.save()
    read = read_text("a.pdf", stream.getvalue())
    assert {word for part in (text, box) for word in part.replace("|", " ").split()} == set(
        read.replace("|", " ").split()
    )
    assert ("as\nlittle mathematics" in read) is drawn
    assert [c.name for c in read_syllabus(read).categories] == ["Worksheets", "Exams", "Final"] or not drawn


@pytest.mark.parametrize("beside", [[], [("beside", 450, 606)]])
def test_no_word_of_a_page_is_lost_where_lines_around_cells_are_incomplete(beside: list[tuple[str, int, int]]) -> None:
    """Words beside a table, between its cells, and where a cell's lines are missing."""
    stream = io.BytesIO()
    canvas = Canvas(stream, pagesize=letter)
    for row in range(3):
        canvas.rect(60, 600 - 20 * row, 150, 20)
        canvas.rect(210 if row != 1 else 300, 600 - 20 * row, 60, 20)
    words = [*beside, ("above", 60, 640), ("between", 225, 586), ("below", 60, 500)]
    words += [(f"name{row}", 65, 606 - 20 * row) for row in range(3)] + [("share0", 215, 606), ("share2", 215, 566)]
    for word, x, y in words:
        canvas.drawString(x, y, word)
    canvas.save()
    text = read_text("a.pdf", stream.getvalue())
    assert {word for word, _, _ in words} == set(text.replace("|", " ").split())


def test_html_without_what_a_page_hides() -> None:
    html = f"""<html><head><style>.a::after {{ content: "Quizzes 50%" }}</style><script>x = "40%"</script></head><body>
    <nav>Homework 99%</nav><!-- Essay 10% --><p hidden>Project 20%</p>
    <h2>Grading</h2><p>{PROSE.text}</p></body></html>"""
    text = read_text("a.html", html.encode())
    no_trouble(PROSE, text)
    for hidden in ("50%", "40%", "99%", "10%"):
        assert hidden not in text


def test_html_that_leaves_out_what_may_be_left_out() -> None:
    """Source: HTML, section 13.1.2.4: a page needs no html, head and body."""
    page = "<!doctype html><meta charset=utf-8><title>Syllabus</title><main><p>Labs 40%<p>Final exam 60%</main>"
    assert read_text("a.html", page.encode()).split() == ["Labs", "40%", "Final", "exam", "60%"]


def test_html_definition_lists_and_nested_lists() -> None:
    html = "<h1>Grading</h1><dl><dt>Quizzes</dt><dd>40%</dd><dt>Final exam</dt><dd>60%</dd></dl>"
    found = read_syllabus(read_text("a.htm", html.encode())).categories
    assert [(c.name, c.weight) for c in found] == [("Quizzes", 40), ("Final exam", 60)]


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "cp1252"])
def test_plain_text_in_its_encodings(encoding: str) -> None:
    text = "Grading – Séminaire 40%, Final exam 60%\r\nA 90"
    assert read_text("a.txt", text.encode(encoding)) == text.replace("\r\n", "\n")


def encrypted_pdf() -> bytes:
    stream = io.BytesIO()
    canvas = Canvas(stream, encrypt=StandardEncryption("secret", canPrint=0))
    canvas.drawString(72, 700, "Homework 100%")
    canvas.save()
    return stream.getvalue()


def scanned_pdf() -> bytes:
    stream = io.BytesIO()
    canvas = Canvas(stream)
    canvas.rect(100, 100, 300, 300, fill=1)
    canvas.save()
    return stream.getvalue()


@pytest.mark.parametrize(
    ("name", "data", "reason"),
    [
        ("a.pdf", encrypted_pdf(), "protected by a password"),
        ("a.pdf", scanned_pdf(), "holds no text"),
        ("a.pdf", b"%PDF-1.4 broken", "no PDF that can be read"),
        ("a.docx", b"PK\x03\x04 broken", "no DOCX that can be read"),
        ("a.docx", b"\xd0\xcf\x11\xe0 old", "protected by a password, or an old DOC"),
        ("a.txt", b"   \n", "holds no text"),
        ("a.txt", b"\x00\x01\x02" * 50, "is no text"),
        ("a.xlsx", b"", "must be one of"),
        ("a.txt", b"x" * 10_000_001, "larger than 10 MB"),
    ],
)
def test_a_file_that_cannot_be_read_says_why(name: str, data: bytes, reason: str) -> None:
    with pytest.raises(Refused) as caught:
        read_text(name, data)
    assert reason in caught.value.reason


def test_the_command(tmp_path: Path) -> None:
    file = tmp_path / "syllabus.md"
    file.write_text(TABLE.text, encoding="utf-8")
    done = CliRunner().invoke(main, ["read-syllabus", str(file)])
    assert done.exit_code == 0
    assert [c["name"] for c in json.loads(done.output)["categories"]][:2] == ["Field notebooks", "Map quizzes"]
    (tmp_path / "bad.pdf").write_bytes(b"nothing")
    for bad in ("bad.pdf", "gone.txt"):
        refused = CliRunner().invoke(main, ["read-syllabus", str(tmp_path / bad)])
        assert refused.exit_code == 2
        assert refused.stdout == ""
        assert refused.stderr.startswith("error: ")
        assert refused.stderr.count("\n") == 1


def cells(html: str) -> list[list[str]]:
    lines = read_text("a.html", f"<html><body>{html}</body></html>".encode()).splitlines()
    return [[cell.strip() for cell in line.strip("|").split("|")] for line in lines if line.startswith("|")]


def test_a_cell_stands_in_every_place_it_covers() -> None:
    table = (
        "<table><tr><th>Part</th><th>Work</th><th>Share</th></tr><tr><td "
        "rowspan=2>Lab</td><td>Quiz</td><td>10%</td></tr>"
        "<tr><td>Report</td><td>30%</td></tr><tr><td colspan=2>Final</td><td>60%</td></tr></table>"
    )
    assert cells(table) == [["Part", "Work", "Share"], ["Lab", "Quiz", "10%"], ["Lab", "Report", "30%"],
                            ["Final", "Final", "60%"]]  # fmt: skip


def test_a_span_of_any_size_and_a_deep_page_are_answered() -> None:
    assert len(cells("<table><tr><td colspan=100000000 rowspan=99999999>Quiz</td><td>10%</td></tr></table>")[0]) == 40
    deep = "<div>" * 900 + "Homework 20%" + "</div>" * 900
    assert "Homework 20%" in read_text("a.html", f"<html><body>{deep}</body></html>".encode())


def test_a_table_that_only_arranges_the_page_is_unwrapped() -> None:
    page = (
        "<table><tr><td><h2>Grading</h2><p>Labs are 40% of the "
        "grade.</p></td><td><table><tr><td>Final</td><td>60%</td></tr>"
        "</table></td></tr></table>"
    )
    assert cells(page) == [["Final", "60%"]]
    assert "# Grading" in read_text("a.html", f"<html><body>{page}</body></html>".encode())


def test_a_second_line_of_a_cell_is_told_from_the_first() -> None:
    assert cells("<table><tr><td>Quizzes<br>10 of them</td><td>20%</td></tr></table>") == [
        ["Quizzes; 10 of them", "20%"]
    ]


def test_a_table_without_lines_whose_names_stand_at_the_middle_of_their_rows_is_one_table() -> None:
    data = (CASES.parent / "syllabus_by_hand" / "az10.pdf").read_bytes()
    rows = [line for line in read_text("az10.pdf", data).splitlines() if line.startswith("|")]
    assert [row.split(" | ")[0].strip("| ") for row in rows] == [
        "Reading questions", "Essay 1 (1,000 words)", "Essay 2 (1,500 words)", "Final exam", "Class discussion",
    ]  # fmt: skip
