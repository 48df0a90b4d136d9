"""A file of grades in the layout of whichever office: which column holds what, and how it writes dates."""

from dataclasses import dataclass
from datetime import date

from vinemark.core.base.refused import Refused, any_text, rows
from vinemark.core.submit.grade_row import GradeRow

DATES = {"YYYY-MM-DD": "%Y-%m-%d", "MM/DD/YYYY": "%m/%d/%Y", "DD.MM.YYYY": "%d.%m.%Y"}
ZERO_HOURS = "0.00"


def read_column(value: object, field: str) -> tuple[str, str]:
    """A heading and what it holds. Raises Refused at the field."""
    pair = rows(any_text)(value, field)
    if len(pair) != 2:
        raise Refused(field, "must be a heading and what it holds")
    return pair[0], pair[1]


@dataclass(frozen=True)
class FileLayout:
    """How a file of grades looks at this school: a heading and what it holds for each column, and its dates."""

    columns: tuple[tuple[str, str], ...]
    dates: str

    @property
    def headings(self) -> list[str]:
        """The first line."""
        return [heading for heading, _ in self.columns]

    def line(self, key: str, section: str, name: str, row: GradeRow) -> list[str]:
        """One student's line, in the order of the columns; a column that is not known here stays empty."""
        values = {
            "key": key,
            "section": section,
            "id": row.id,
            "name": name,
            "code": row.code,
            "last_attended": self._date(row.last_attended),
            "hours": ZERO_HOURS if row.never_attended else "",
            "fallback_grade": row.fallback_grade or "",
            "finish_by": self._date(row.finish_by),
            "owed": row.owed or "",
        }
        return [values.get(holds, "") for _, holds in self.columns]

    def _date(self, day: str | None) -> str:
        return date.fromisoformat(day).strftime(DATES.get(self.dates, "%Y-%m-%d")) if day else ""
