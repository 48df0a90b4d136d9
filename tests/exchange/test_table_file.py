"""Files of scores as grids: numbers as they are stored, rows and columns as a person counts them."""

import io
import json
from collections.abc import Callable
from datetime import date
from fractions import Fraction
from pathlib import Path

import pytest
from click.testing import CliRunner
from openpyxl import Workbook
from openpyxl.styles import Font
from openpyxl.worksheet.worksheet import Worksheet

from tests.exchange.hostile_files import ods, ods_cell
from vinemark.cli import main
from vinemark.core.base.refused import Refused
from vinemark.core.table.grid import FoundCell, Grid
from vinemark.exchange.table_file import read_grids_of

TEXT = "Name,Lab 1\nÖde,9.50\n"


def xlsx(fill: Callable[[Worksheet], object], other: Callable[[Workbook], object] = lambda _: None) -> bytes:
    book, out = Workbook(), io.BytesIO()
    sheet = book.active
    assert isinstance(sheet, Worksheet)
    fill(sheet)
    other(book)
    book.save(out)
    return out.getvalue()


def only(data: bytes) -> Grid:
    (grid,) = read_grids_of(data)
    return grid


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "cp1252"])
def test_a_text_in_its_encoding(encoding: str) -> None:
    grid = only(TEXT.encode(encoding))
    assert [cell.text for cell in grid.rows[2]] == ["Öde", "9.50"]
    assert grid.cell(2, 1).number == Fraction("9.5")
    assert grid.name is None


@pytest.mark.parametrize(
    ("text", "cells"),
    [
        ("Name;Lab\n\"Ode; M\";9,5\n", ["Ode; M", Fraction("9.5")]),
        ("Name\tLab\nOde, M\t9.5\n", ["Ode, M", Fraction("9.5")]),
        ("Name,Lab\n\"Ode, \"\"M\"\"\n Jo\",9.5\n", ["Ode, \"M\" Jo", Fraction("9.5")]),
        ("Name,Lab\n=\"00123\",0.1000000000000000000000001\n", ["00123", Fraction(10**24 + 1, 10**25)]),
    ],
)  # fmt: skip
def test_separators_and_quotes(text: str, cells: list[object]) -> None:
    """Quotes are those of RFC 4180, section 2."""
    found = only(text.encode()).rows[2]
    assert [found[0].text, found[1].number] == cells


ALIGNED = """CHEM 101 as of Nov 3

No.  Name                 ID       HW1   HW2   MT
                                   /20   /20   /100
1    Abara, Ngozi         55210    18    20    84
2    Birch, Tom           55214    15          71
3    Conti, Maria Elena   55217    20    20    95

mean                               17.7  20    83.3
"""


def test_columns_of_blanks_part_a_line_where_no_sign_does() -> None:
    rows = only(ALIGNED.encode()).rows
    assert [cell.text for cell in rows[1]] == ["CHEM 101 as of Nov 3"]
    assert [cell.text for cell in rows[3]] == ["No.", "Name", "ID", "HW1", "HW2", "MT"]
    assert [cell.text for cell in rows[4]] == ["", "", "", "/20", "/20", "/100"]
    assert [cell.text for cell in rows[6]] == ["2", "Birch, Tom", "55214", "15", "", "71"]
    assert [cell.text for cell in rows[7]] == ["3", "Conti, Maria Elena", "55217", "20", "20", "95"]
    assert [cell.text for cell in rows[9]] == ["mean", "", "", "17.7", "20", "83.3"]


def test_a_line_that_is_too_long_is_refused() -> None:
    with pytest.raises(Refused, match="lines of more than"):
        read_grids_of(b"a   b   c\n" * 5 + b"x" * 3000)


def test_a_binary_number_is_the_shortest_decimal() -> None:
    grid = only(xlsx(lambda sheet: sheet.append([87.39999999999999, 0.1 + 0.2, 12345678901234, 1 / 3])))
    assert [cell.number for cell in grid.rows[1]] == [
        Fraction("87.4"), Fraction("0.3"), 12345678901234, Fraction("0.3333333333"),
    ]  # fmt: skip


def test_formats_of_numbers() -> None:
    def fill(sheet: Worksheet) -> None:
        sheet.append([0.875, 123, date(2026, 9, 14), True, "Ode"])
        for place, shown in (("A1", "0%"), ("B1", "00000"), ("C1", "yyyy-mm-dd")):
            sheet[place].number_format = shown
        sheet["E1"].font = Font(strike=True)

    assert only(xlsx(fill)).rows[1] == [
        FoundCell("87.5%", Fraction("87.5"), True), FoundCell("00123", Fraction(123)),
        FoundCell("2026-09-14", day=date(2026, 9, 14)), FoundCell("TRUE"), FoundCell("Ode", struck=True),
    ]  # fmt: skip


def test_rows_and_merged_cells_stand_where_they_stand() -> None:
    def fill(sheet: Worksheet) -> None:
        sheet["C3"] = "Labs"
        sheet.merge_cells("C3:E3")
        sheet["B7"] = "Ode"

    grid = only(xlsx(fill))
    assert sorted(grid.rows) == [3, 7]
    assert grid.spans == {(3, 2): 3}
    assert grid.cell(7, 1).text == "Ode"


def test_sheets_that_are_empty_are_none_and_hidden_ones_say_so() -> None:
    def more(book: Workbook) -> None:
        hidden = book.create_sheet("Draft")
        hidden.append(["Name"])
        hidden.sheet_state = "hidden"
        book.create_sheet("Empty")

    grids = read_grids_of(xlsx(lambda sheet: sheet.append(["Name"]), more))
    assert [(grid.name, grid.hidden) for grid in grids] == [("Sheet", False), ("Draft", True)]


def test_an_opendocument_sheet() -> None:
    cell = '<table:table-cell office:value-type="percentage" office:value="0.875">'
    blank = '<table:table-row table:number-rows-repeated="2"><table:table-cell/></table:table-row>'
    labs = ods_cell("Labs", 'table:number-columns-spanned="2"')
    row = f"<table:table-row>{labs}<table:covered-table-cell/>{cell}<text:p>88%</text:p></table:table-cell>"
    grid = only(ods(f"{blank}{row}</table:table-row>"))
    assert grid.rows == {3: [FoundCell("Labs"), FoundCell(), FoundCell("87.5%", Fraction("87.5"), True)]}
    assert grid.spans == {(3, 0): 2}


def test_a_number_of_millions_of_digits_is_none() -> None:
    cell = '<table:table-cell office:value-type="float" office:value="1E+90000000"/>'
    assert only(ods(f"<table:table-row>{ods_cell('a')}{cell}</table:table-row>")).cell(1, 1).number is None


@pytest.mark.parametrize("data", [b"PK\x03\x04 broken", xlsx(lambda _: None), b"\x00" * 90])
def test_what_is_no_table_is_refused(data: bytes) -> None:
    with pytest.raises(Refused):
        read_grids_of(data)


def test_the_command(tmp_path: Path) -> None:
    file = tmp_path / "scores.csv"
    file.write_text("Name,Lab 1,Lab 2\nOde,9,8\nQuist,7,x\n", encoding="utf-8")
    done = CliRunner().invoke(main, ["read-table", str(file)])
    assert done.exit_code == 0
    assert json.loads(done.output)["cells"] == {"2": {"2": "9", "3": "8"}, "3": {"2": "7", "3": {"text": "x"}}}
    (tmp_path / "bad.xlsx").write_bytes(b"PK nothing")
    (tmp_path / "none.csv").write_text("Red,Green\n1,2\n", encoding="utf-8")
    for bad in ("bad.xlsx", "none.csv", "gone.csv"):
        refused = CliRunner().invoke(main, ["read-table", str(tmp_path / bad)])
        assert refused.exit_code == 2
        assert refused.stdout == ""
        assert refused.stderr.startswith("error: ")
        assert refused.stderr.count("\n") == 1
