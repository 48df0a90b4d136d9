"""A college's people from files of several kinds."""

import io

import pytest
from openpyxl import Workbook

from vinemark.core.base.refused import Refused
from vinemark.exchange.people_file import people_of_file

ROWS = [["E-mail", "First name", "Last name", "Role", "Department"],
        ["ada@b.example", "Ada", "Mai", "chair", "Water"], ["bo@b.example", "Bo", "Lund", "", ""]]  # fmt: skip


def workbook() -> bytes:
    book, out = Workbook(), io.BytesIO()
    for row in ROWS:
        book.worksheets[0].append(row)
    book.save(out)
    return out.getvalue()


def text(delimiter: str) -> bytes:
    return "\r\n".join(delimiter.join(row) for row in ROWS).encode("utf-8-sig")


@pytest.mark.parametrize("data", [text(","), text(";"), text("\t"), workbook()], ids=["comma", "semi", "tab", "xlsx"])
def test_each_kind_gives_the_same(data: bytes) -> None:
    found = people_of_file(data, ["Water"])
    assert [(one.email, one.name, one.role, one.department) for one in found] == [
        ("ada@b.example", "Ada Mai", "chair", "Water"), ("bo@b.example", "Bo Lund", None, ""),
    ]  # fmt: skip


@pytest.mark.parametrize("data", [b"", b"name\nAda\n", b"email\n", b"\x00\x01", b"PK\x03\x04nothing"])
def test_what_has_no_people_is_refused(data: bytes) -> None:
    with pytest.raises(Refused):
        people_of_file(data, [])
