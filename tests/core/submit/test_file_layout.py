"""A file of grades in an office's own layout."""

import pytest

from vinemark.core.submit.file_layout import FileLayout
from vinemark.core.submit.grade_row import GradeRow

ROW = GradeRow("L1", "F", "2026-10-02")
COLUMNS = (("Term key", "key"), ("Student", "id"), ("Grade", "code"), ("Last seen", "last_attended"),
           ("Hours", "hours"), ("Campus", "campus"))  # fmt: skip


@pytest.mark.parametrize(
    ("dates", "seen"), [("YYYY-MM-DD", "2026-10-02"), ("MM/DD/YYYY", "10/02/2026"), ("DD.MM.YYYY", "02.10.2026"),
                        ("what", "2026-10-02")],
)  # fmt: skip
def test_dates_as_the_office_writes_them_and_an_unknown_column_stays_empty(dates: str, seen: str) -> None:
    layout = FileLayout(COLUMNS, dates)
    assert layout.headings == ["Term key", "Student", "Grade", "Last seen", "Hours", "Campus"]
    assert layout.line("2027-10", "HYDR 230-01", "Mai, Ada", ROW) == ["2027-10", "L1", "F", seen, "", ""]


def test_never_attended_is_0_hours_and_an_incomplete_says_what_is_owed() -> None:
    beside = (("", "hours"), ("", "fallback_grade"), ("", "finish_by"), ("", "owed"), ("", "name"), ("", "section"))
    layout = FileLayout(beside, "MM/DD/YYYY")
    never = GradeRow("L1", "F", never_attended=True)
    assert layout.line("k", "s", "n", never) == ["0.00", "", "", "", "n", "s"]
    incomplete = GradeRow("L1", "I", fallback_grade="D", finish_by="2027-02-01", owed="the report")
    assert layout.line("k", "s", "n", incomplete)[:4] == ["", "D", "02/01/2027", "the report"]
