"""A table of totals or letters from elsewhere: which columns hold them, and what each says of each student."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from vinemark.core.audit.outside_totals import read_figure
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Course
from vinemark.exchange.score_matching import PERSON, ColumnMatch, Matching, RowMatch, match_columns, match_rows
from vinemark.exchange.tables import Table, cell_at

SAYS_TOTAL = ("total", "final", "percent", "grade", "letter", "code", "mark")
MOST_TOTALS = 12
LONGEST_FIGURE = 40


@dataclass(frozen=True)
class OutsideColumn:
    """A column of totals, letters or codes: its heading, and what stands in it of each student, as it is written."""

    heading: str
    typed: Mapping[str, str]


@dataclass(frozen=True)
class OutsideTable:
    """The columns that may be meant, which of them most likely is, and the rows of nobody known."""

    columns: Sequence[OutsideColumn]
    likely: int
    unknown: Sequence[str]


def read_totals(table: Table, course: Course) -> OutsideTable:
    """The columns of percents, points, letters or codes; the fullest is likely, one headed as a total before others.

    Raises Refused where no column says who a row is, nobody in it is here, or none holds anything of the kind.
    """
    columns = match_columns(table, course, Matching())
    if not any(column.target in PERSON for column in columns):
        raise Refused("file", "has no column for the student id, email address or name")
    rows = match_rows(table, columns, course, Matching())
    if not any(row.student for row in rows):
        raise Refused("file", "names nobody of this section")
    found = [OutsideColumn(c.heading, _typed(c, rows)) for c in columns if _may_hold_totals(c)]
    known = _known(course)
    held = {place: _figures(column, known) for place, column in enumerate(found)}
    some = sorted((p for p, count in held.items() if count * 2 > len(found[p].typed)), key=lambda p: -held[p])
    if not some:
        raise Refused("file", "has no column of percents, points or letters beside the students")
    some = sorted(some[:MOST_TOTALS])
    likely = max(range(len(some)), key=lambda n: (held[some[n]], _headed_as_total(found[some[n]].heading)))
    return OutsideTable([found[p] for p in some], likely, [row.says for row in rows if row.student is None])


def _known(course: Course) -> list[str]:
    """Letters of the scale, with and without sign, and the registrar's codes."""
    letters = [row.letter for row in course.plan.scale]
    codes = [rule.code for rule in course.records.codes] if course.records else []
    return [*letters, *(letter.rstrip("+-") for letter in letters), *codes]


def _figures(column: OutsideColumn, known: Sequence[str]) -> int:
    return sum(read_figure(text, known) is not None for text in column.typed.values())


def _headed_as_total(heading: str) -> bool:
    return any(word in heading.casefold() for word in SAYS_TOTAL)


def _may_hold_totals(column: ColumnMatch) -> bool:
    return column.target not in PERSON and (not column.target or _headed_as_total(column.heading))


def _typed(column: ColumnMatch, rows: Sequence[RowMatch]) -> dict[str, str]:
    found = {m.student: cell_at(m.row, column.index).strip()[:LONGEST_FIGURE] for m in rows if m.student}
    return {student: text for student, text in found.items() if text}
