"""Readers as they are run apart: hostile files become a sentence within their limits, odd and honest ones are read."""

import io
from collections.abc import Callable
from dataclasses import replace
from typing import Any

import docx
import pytest

from tests.conftest import CaseReader
from tests.exchange.hostile_files import COURSES, SYLLABUSES, TABLES, HostileFile
from tests.exchange.measured_reading import measured
from vinemark.core.base.refused import Refused
from vinemark.exchange import apart
from vinemark.exchange.apart import read_apart
from vinemark.exchange.readers import brought_section, holds_section, pasted_list, syllabus_of_file, table_of_file
from vinemark.exchange.score_file import read_file
from vinemark.exchange.syllabus_file import read_text

MOST_MEMORY = 500 * 1024  # kB


def hurt(reader: Callable[..., Any], *given: Any) -> str:
    """What is said of a file, which keeps within the limits."""
    try:
        seconds, memory, said = read_apart(measured, reader, *given)
    except Refused as refused:  # its process was ended, or broke
        return refused.reason
    assert seconds < FEWER_SECONDS
    assert memory < MOST_MEMORY
    return said or "read"


FEWER_SECONDS = 2
"""What takes longer is ended at any limit, and a day has only so many hours."""


@pytest.fixture
def sooner(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(apart, "READING", replace(apart.READING, cpu=FEWER_SECONDS))


@pytest.mark.usefixtures("sooner")
@pytest.mark.parametrize("file", SYLLABUSES, ids=[f"{file.what}{file.name[1:]}" for file in SYLLABUSES])
def test_a_hostile_syllabus(file: HostileFile) -> None:
    assert hurt(syllabus_of_file, file.name, file.make())


@pytest.mark.usefixtures("sooner")
@pytest.mark.parametrize("file", TABLES, ids=[f"{file.what}{file.name[1:]}" for file in TABLES])
def test_a_hostile_table(file: HostileFile) -> None:
    assert hurt(read_file, file.make())
    assert hurt(pasted_list, file.make())
    assert hurt(holds_section, file.make())
    assert hurt(table_of_file, file.make()) != "read"


@pytest.mark.usefixtures("sooner")
def test_a_table_of_hundreds_of_figures() -> None:
    headings = ",".join(["id", "Name", *(f"Quiz total {n} percent" for n in range(480))])
    row = ",".join(["7", "Ode", *["5"] * 480])
    odd = ["," * 481 + "9", "Avg," * 481, "9/9," * 480]
    for lines in ([headings, *[row] * 1_500], [headings, *odd, row, row]):
        assert hurt(table_of_file, "\n".join(lines).encode())


@pytest.mark.usefixtures("sooner")
@pytest.mark.parametrize("file", COURSES, ids=[f"{file.what}{file.name[1:]}" for file in COURSES])
def test_a_hostile_section(file: HostileFile) -> None:
    assert hurt(brought_section, file.make()) != "read"


def test_a_section_comes_back_whole(case: CaseReader) -> None:
    data = case.text("sample-01.course.json").encode()
    assert read_apart(brought_section, data) == brought_section(data)


# --- odd, and honest ---


def _saved(made: docx.document.Document) -> bytes:
    out = io.BytesIO()
    made.save(out)
    return out.getvalue()


def test_a_cell_that_goes_over_rows_and_columns_is_read() -> None:
    made = docx.Document()
    table = made.add_table(3, 2)
    for place, text in enumerate(["Part", "Weight", "Homework", "40%", "Exams", "60%"]):
        table.cell(place // 2, place % 2).text = text
    table.cell(0, 0).merge(table.cell(0, 1))
    assert "| Exams | 60% |" in read_text("a.docx", _saved(made))
    upright = docx.Document()
    table = upright.add_table(2, 2)
    table.cell(0, 0).merge(table.cell(1, 0)).text = "Labs"
    table.cell(0, 1).text, table.cell(1, 1).text = "30%", "due on Fridays"
    assert "| Labs | 30% |\n| Labs | due on Fridays |" in read_text("a.docx", _saved(upright))


def test_a_style_with_an_odd_name_is_read() -> None:
    made = docx.Document()
    made.styles.add_style("List of parts ²", 1)
    made.add_paragraph("Homework 40%", style="List of parts ²")
    assert "- Homework 40%" in read_text("a.docx", _saved(made))


def test_a_page_of_many_layers_is_read() -> None:
    page = b"<div>" * 150 + b"<p>Homework 40%</p>" + b"</div>" * 150
    assert "Homework 40%" in read_apart(syllabus_of_file, "a.html", page)[0]
