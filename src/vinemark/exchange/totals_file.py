"""A table of totals or letters from elsewhere: which column holds them, and what it says of each student."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from vinemark.core.audit.outside_totals import OutsideFigure, read_figure
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Course
from vinemark.exchange.score_matching import PERSON, ColumnMatch, Matching, RowMatch, match_columns, match_rows
from vinemark.exchange.tables import Table, cell_at

SAYS_TOTAL = ("total", "final", "percent", "grade", "letter")


@dataclass(frozen=True)
class Totals:
    """The heading of the column, the figures by student id, and the rows of nobody known."""

    heading: str
    figures: Mapping[str, OutsideFigure]
    unknown: Sequence[str]


def read_totals(table: Table, course: Course) -> Totals:
    """The fullest column of percents or letters; one headed as a total goes before one that is an item's.

    Raises Refused where no column says who a row is, or none holds percents or letters.
    """
    columns = match_columns(table, course, Matching())
    if not any(column.target in PERSON for column in columns):
        raise Refused("file", "has no column for the student id, email address or name")
    rows = match_rows(table, columns, course, Matching())
    found = [(c.heading, _figures(c, rows, course)) for c in columns if _may_hold_totals(c)]
    if not any(figures for _, figures in found):
        raise Refused("file", "has no column of percents or letters beside the students")
    heading, figures = max(found, key=lambda one: (len(one[1]), _headed_as_total(one[0])))
    return Totals(heading, figures, [row.says for row in rows if row.student is None])


def _headed_as_total(heading: str) -> bool:
    return any(word in heading.casefold() for word in SAYS_TOTAL)


def _may_hold_totals(column: ColumnMatch) -> bool:
    return column.target not in PERSON and (not column.target or _headed_as_total(column.heading))


def _figures(column: ColumnMatch, rows: Sequence[RowMatch], course: Course) -> dict[str, OutsideFigure]:
    letters = [row.letter for row in course.plan.scale]
    read = {m.student: read_figure(cell_at(m.row, column.index), letters) for m in rows if m.student}
    return {student: figure for student, figure in read.items() if figure is not None}
