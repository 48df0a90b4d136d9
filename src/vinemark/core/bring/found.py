"""What a file was found to hold, in one sentence."""

from collections.abc import Sequence

from vinemark.core.bring.columns import BroughtColumn
from vinemark.core.table.lines import LineKind
from vinemark.core.table.read import TableReading

_ROWS: dict[LineKind, tuple[str, str]] = {
    "points": ("a row of points possible", "rows of points possible"),
    "weight": ("a row of weights", "rows of weights"),
    "date": ("a row of dates", "rows of dates"),
    "figures": ("a row of averages or counts", "rows of averages or counts"),
    "note": ("a note", "notes"),
}
_COLUMNS = {"total": "column of totals", "letter": "column of letters", "remark": "column of remarks"}


def found_words(reading: TableReading, columns: Sequence[BroughtColumn]) -> str:
    """'95 students, 10 columns of scores, a row of points possible, a column of totals'."""
    scores = sum(one.role == "item" for one in columns)
    parts = [_counted(len(reading.students), "student")]
    if scores:
        parts.append(_counted(scores, "column of scores", "columns of scores"))
    kinds = [kind for _, kind in reading.left_out]
    for kind, (one, many) in _ROWS.items():
        if kinds.count(kind):
            parts.append(one if kinds.count(kind) == 1 else f"{kinds.count(kind)} {many}")
    for role, word in _COLUMNS.items():
        count = sum(one.role == role for one in columns)
        if count:
            parts.append(f"a {word}" if count == 1 else f"{count} {word.replace('column', 'columns')}")
    left = [student for student in reading.students if student.status != "enrolled"]
    if left:
        parts.append(f"{len(left)} withdrawn or auditing")
    return ", ".join(parts)


def _counted(number: int, one: str, many: str = "") -> str:
    return f"{number} {one if number == 1 else many or one + 's'}"
