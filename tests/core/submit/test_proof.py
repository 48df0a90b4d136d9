"""From the computed grade to the rows that go out, and back."""

from dataclasses import replace
from datetime import date
from fractions import Fraction

from tests.builders import AFTER, course, roster
from tests.core.small_class import PLAN, small_class
from vinemark.core.audit import audit
from vinemark.core.course.course import Adjustment, Course, RosterEntry, Settled
from vinemark.core.grade.calculation import grade_of
from vinemark.core.submit.grade_row import GradeRow
from vinemark.core.submit.proof import code_column, in_roster_order, proof_lines, row_words
from vinemark.core.submit.rows import (
    SubmitRow,
    submission_rows,
)
from vinemark.core.submit.submission import AtRegistrar


def rows(of: Course, held: dict[str, GradeRow] | None = None) -> list[SubmitRow]:
    return submission_rows(of, audit(of, AFTER, submitting=True), AtRegistrar(held or {}, held or {}))


def test_the_proof_sheet_stands_in_the_rosters_order_with_what_is_beside() -> None:
    of = replace(small_class({"cy": Settled("F", last_attended=date(2026, 11, 2)), "ada": Settled("B")}))
    grades = {s.id: grade_of(of, s.id, AFTER) for s in of.students}
    lines = proof_lines(of, rows(of), grades)
    assert [(x.student_id, x.percent, x.letter, x.settled, x.beside, x.state) for x in lines] == [
        ("ada", "85.00", "B", "B", "", "ready"),
        ("bo", "65.00", "D", "", "", "stopped"),
        ("cy", "40.00", "F", "F", "last attended Nov 2, 2026", "ready"),
    ]
    assert code_column(of, rows(of)) == "B\n\nF"


def test_an_adjusted_percent_says_so() -> None:
    of = replace(small_class({}), adjustments={"ada": Adjustment(Fraction(2), "a late essay")})
    lines = proof_lines(of, rows(of), {s.id: grade_of(of, s.id, AFTER) for s in of.students})
    assert [(x.percent, x.adjusted) for x in lines] == [("87.00", "+2"), ("65.00", ""), ("40.00", "")]


def test_the_column_of_codes_has_a_line_for_each_of_the_roster_and_no_other() -> None:
    gone = {"bo": RosterEntry("bo", "Bo", "Mai", status="withdrawn")}
    of = course(
        PLAN, {"dee": ["1"], "cy": ["40"], "ada": ["85"], "bo": ["65"]}, roster("ada", "bo", "cy", "eli", **gone),
        {"ada": Settled("B"), "bo": Settled("D"), "cy": Settled("F"), "dee": Settled("F")},
    )  # fmt: skip
    assert code_column(of, rows(of)).split("\n") == ["B", "", "F", ""]


def test_rows_as_they_were_sent_in_the_rosters_order_with_what_is_beside_them() -> None:
    of = small_class({})
    assert of.records is not None
    listed = [entry.id for entry in of.records.roster]
    rows = [GradeRow("stranger", "A"), *(GradeRow(student, "B") for student in reversed(listed))]
    assert [row.id for row in in_roster_order(of, rows)] == [*listed, "stranger"]
    left = GradeRow("ada", "F", "2026-11-02")
    owing = GradeRow("ada", "I", None, False, "C", "2027-05-01", "the essay")
    zero = GradeRow("ada", "F", None, True)
    said = [row_words(row, date.isoformat) for row in (GradeRow("ada", "B"), left, owing, zero)]
    assert said == [
        "", "last attended 2026-11-02", "falls back to C, by 2027-05-01, owes the essay", "never attended, zero hours"
    ]  # fmt: skip
