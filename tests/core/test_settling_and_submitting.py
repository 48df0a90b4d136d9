"""From the computed grade to the rows that go out, and back."""

import hashlib
from dataclasses import replace
from datetime import date
from fractions import Fraction

import pytest

from tests.builders import AFTER, TERM, category, course, items, plan, roster
from vinemark.core.audit import audit
from vinemark.core.audit.finding import Facts
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Course, NeverAttended, RosterEntry, Settled
from vinemark.core.grade.calculation import grade_of
from vinemark.core.grade.codes import computed_code
from vinemark.core.plan.plan import Category
from vinemark.core.scores.last_work import last_work
from vinemark.core.settle.settling import checked_grade, letter_counts, still_open, take_as_computed
from vinemark.core.submit.compare import compared_rows
from vinemark.core.submit.grade_row import GradeRow, digest, grade_row
from vinemark.core.submit.hours import Gate
from vinemark.core.submit.progress import stem
from vinemark.core.submit.proof import code_column, proof_lines
from vinemark.core.submit.rows import (
    SubmitRow,
    left,
    midterm_findings,
    plan_stops,
    submission_rows,
    submittable,
)
from vinemark.core.submit.submission import AtRegistrar

PLAN = plan(category("100"))
PASS = {"bo": RosterEntry("bo", "Bo", "Mai", basis="pass")}


def klass(settled: dict[str, Settled] | None = None, pass_from: str | None = None) -> Course:
    records = replace(roster("ada", "bo", "cy", **PASS), pass_from=pass_from)
    return course(PLAN, {"ada": ["85"], "bo": ["65"], "cy": ["40"]}, records, settled)


def code(of: Course, student: str) -> str | None:
    return computed_code(of, student, grade_of(of, student, AFTER))


def test_the_pass_code_follows_the_offices_rule() -> None:
    assert (code(klass(), "ada"), code(klass(), "bo")) == ("B", "P")
    assert code(klass(pass_from="C"), "bo") == "NP"
    assert code(klass(pass_from="D"), "bo") == "P"


def test_taking_all_as_computed_leaves_what_is_settled() -> None:
    of = klass({"ada": Settled("A", "raised")})
    grades = {s.id: grade_of(of, s.id, AFTER) for s in of.enrolled()}
    assert take_as_computed(of, grades) == {"bo": Settled("P"), "cy": Settled("F")}


def test_another_grade_than_the_computed_one_needs_a_reason() -> None:
    with pytest.raises(Refused) as caught:
        checked_grade(klass(), "ada", Settled("A", " "), "B")
    assert (caught.value.field, caught.value.reason) == ("reason", "say why it is A and not B")
    assert checked_grade(klass(), "ada", Settled("a", "strong report"), "B") == Settled("A", "strong report")
    assert checked_grade(klass(), "ada", Settled("B"), "B") == Settled("B")


@pytest.mark.parametrize(
    ("student", "typed", "place"),
    [
        ("ada", Settled("P"), "grade"),
        ("bo", Settled("A"), "grade"),
        ("ada", Settled("W"), "grade"),
        ("ada", Settled("1"), "grade"),
        ("cy", Settled("F", last_attended=date(2026, 8, 30)), "last_attended"),
        ("cy", Settled("F", last_attended=date(2026, 12, 19)), "last_attended"),
        ("ada", Settled("I", finish_by=date(2026, 12, 18), fallback_grade="C"), "finish_by"),
        ("ada", Settled("I", finish_by=date(2027, 1, 18), fallback_grade="I"), "fallback_grade"),
    ],
)
def test_what_the_office_does_not_take_is_refused_at_its_field(student: str, typed: Settled, place: str) -> None:
    with pytest.raises(Refused) as caught:
        checked_grade(klass(), student, typed, code(klass(), student))
    assert caught.value.field == place


def test_nobody_outside_the_roster_is_given_a_grade() -> None:
    gone = {"bo": RosterEntry("bo", "Bo", "Mai", status="withdrawn")}
    scores = {"ada": ["85"], "bo": ["65"], "dee": ["90"], "eli": ["90"]}
    of = course(PLAN, scores, roster("ada", "bo", "eli", **gone), aside={"eli": "sits in"})
    for student in ("bo", "dee", "eli", "nobody"):
        with pytest.raises(Refused, match="only a student on the roster"):
            checked_grade(of, student, Settled("A", "asked for it"), "A")


def test_settled_grades_are_counted_in_the_scales_order() -> None:
    of = klass({"ada": Settled("B"), "bo": Settled("P"), "cy": Settled("B", "raised")})
    assert (letter_counts(of), still_open(of)) == ([("B", 2), ("P", 1)], 0)
    assert still_open(klass()) == 3


def test_what_a_code_does_not_need_is_not_kept() -> None:
    typed = Settled("B", last_attended=date(2026, 11, 2), fallback_grade="C", never_attended=True)
    assert checked_grade(klass(), "ada", typed, "B") == Settled("B")
    never = Settled("F", last_attended=date(2026, 11, 2), never_attended=True)
    assert checked_grade(klass(), "cy", never, "F") == Settled("F", never_attended=True)
    open_ = Settled("I", finish_by=date(2027, 5, 1), fallback_grade="c", owed="report")
    assert checked_grade(klass(), "ada", open_, "B").fallback_grade == "C"


def test_the_last_work_is_the_latest_dated_one_with_a_score_above_0() -> None:
    made = [items("10", prefix=f"k{n}", due=date(2026, 10, n + 1))[0] for n in range(4)]
    of = course(plan(Category("c", "C", Fraction(100), items=tuple(made))), {"ada": ["5", "6", "0", "missing"]})
    found = last_work(of, "ada", AFTER)
    assert found is not None
    assert found.due == date(2026, 10, 2)
    assert last_work(of, "ada", date(2026, 10, 1)) == of.plan.item("k00")


SETTLED = {"ada": Settled("B"), "bo": Settled("P"), "cy": Settled("F")}


def rows(of: Course, held: dict[str, GradeRow] | None = None, refused: dict[str, str] | None = None) -> list[SubmitRow]:
    return submission_rows(of, audit(of, AFTER, submitting=True), AtRegistrar(held or {}, refused or {}))


def test_a_stop_about_one_student_stops_that_row_only() -> None:
    found = {row.student_id: row for row in rows(klass(SETTLED))}
    assert [found[s].state for s in ("ada", "bo", "cy")] == ["ready", "ready", "stopped"]
    assert [f.code for f in found["cy"].stops] == ["needs-last-attended"]
    assert [row.id for row in submittable(klass(SETTLED), found.values(), [], False, Gate("open"))] == ["ada", "bo"]
    assert left(found.values()) == 3


def test_a_stop_about_the_plan_stops_the_section() -> None:
    of = replace(klass(SETTLED), plan=plan(category("100", weight="90")))
    assert [f.code for f in plan_stops(audit(of, AFTER, submitting=True))] == ["weights-off"]


def test_received_rows_are_done_and_changed_ones_can_be_corrected() -> None:
    of = klass(SETTLED)
    held = {"ada": GradeRow("ada", "B"), "bo": GradeRow("bo", "NP")}
    states = {row.student_id: row.state for row in rows(of, held, {"cy": "no date"})}
    assert states == {"ada": "received", "bo": "to correct", "cy": "stopped"}
    assert left(rows(of, held)) == 2


def test_rows_on_their_way_are_signed_until_they_change_or_arrive() -> None:
    of = klass(SETTLED)
    there = AtRegistrar(on_the_way={"ada": GradeRow("ada", "B"), "bo": GradeRow("bo", "NP")})
    found = submission_rows(of, audit(of, AFTER, submitting=True), there)
    assert [row.state for row in found] == ["signed", "ready", "stopped"]
    assert ([row.id for row in submittable(of, found, [], False, Gate("open"))], left(found)) == (["bo"], 3)


def test_once_posted_a_row_that_is_held_otherwise_is_not_to_be_sent_again() -> None:
    of = klass(SETTLED)
    there = AtRegistrar({"ada": GradeRow("ada", "C"), "bo": GradeRow("bo", "P")}, posted=True)
    found = submission_rows(of, audit(of, AFTER, submitting=True), there)
    assert [row.state for row in found] == ["changed since", "received", "changed since"]
    assert submittable(of, found, [], False, Gate("open")) == []


@pytest.mark.parametrize(("said", "row"), [
    ("first_day", GradeRow("cy", "F", TERM.starts.isoformat())),
    ("zero_hours", GradeRow("cy", "F", None, True)),
])  # fmt: skip
def test_never_attended_is_said_as_the_office_wants_it(said: NeverAttended, row: GradeRow) -> None:
    """Common practice, no source: the term's first day at one school, zero hours at another."""
    of = klass(SETTLED)
    assert of.records is not None
    asks = replace(of, records=replace(of.records, never_attended=said))
    assert grade_row(asks, "cy", Settled("F", never_attended=True)) == row


def test_the_midterm_run_sends_codes_alone_and_no_date_stops_it() -> None:
    of = replace(klass(SETTLED), midterm={"ada": Settled("C"), "cy": Settled("F")}).for_run("midterm")
    found = submission_rows(of, midterm_findings(Facts(of, AFTER, submitting=True)), AtRegistrar())
    assert [(row.student_id, row.state) for row in found] == [("ada", "ready"), ("bo", "stopped"), ("cy", "ready")]
    assert submittable(of, found, [], False, Gate("open")) == [GradeRow("ada", "C"), GradeRow("cy", "F")]
    assert of.for_run("final").settled == SETTLED
    assert checked_grade(of, "cy", Settled("F"), "F") == Settled("F")


def test_the_plan_and_dates_stop_no_midterm() -> None:
    of = replace(klass(SETTLED), plan=plan(category("100", weight="90"))).for_run("midterm")
    assert {f.code for f in midterm_findings(Facts(of, AFTER, submitting=True))} == {"unsettled"}


def test_the_proof_sheet_stands_in_the_rosters_order_with_what_is_beside() -> None:
    of = replace(klass({"cy": Settled("F", last_attended=date(2026, 11, 2)), "ada": Settled("B")}))
    grades = {s.id: grade_of(of, s.id, AFTER) for s in of.students}
    lines = proof_lines(of, rows(of), grades)
    assert [(x.student_id, x.percent, x.letter, x.settled, x.beside, x.state) for x in lines] == [
        ("ada", "85.00", "B", "B", "", "ready"),
        ("bo", "65.00", "D", "", "", "stopped"),
        ("cy", "40.00", "F", "F", "last attended 2026-11-02", "ready"),
    ]
    assert code_column(of, rows(of)) == "B\n\nF"


def test_the_column_of_codes_has_a_line_for_each_of_the_roster_and_no_other() -> None:
    gone = {"bo": RosterEntry("bo", "Bo", "Mai", status="withdrawn")}
    of = course(
        PLAN, {"dee": ["1"], "cy": ["40"], "ada": ["85"], "bo": ["65"]}, roster("ada", "bo", "cy", "eli", **gone),
        {"ada": Settled("B"), "bo": Settled("D"), "cy": Settled("F"), "dee": Settled("F")},
    )  # fmt: skip
    assert code_column(of, rows(of)).split("\n") == ["B", "", "F", ""]


def test_withdrawn_and_set_aside_students_are_not_left_to_do() -> None:
    gone = {"bo": RosterEntry("bo", "Bo", "Mai", status="withdrawn")}
    of = course(
        PLAN, {"ada": ["85"], "bo": ["65"], "dee": ["1"]}, roster("ada", "bo", **gone), aside={"dee": "sits in"}
    )
    found = {row.student_id: row.state for row in rows(of)}
    assert found == {"ada": "stopped", "bo": "withdrawn", "dee": "set aside"}
    assert left(rows(of)) == 1


def test_the_digest_is_sha_256_of_the_rows_in_any_order() -> None:
    """Source: SHA-256 of FIPS 180-4, by Python's hashlib, over the text that docs/formats.md spells out."""
    one, two = GradeRow("a", "B"), GradeRow("b", "F", "2026-11-02")
    text = (
        '[{"code":"B","fallback_grade":null,"finish_by":null,"id":"a","last_attended":null,"never_attended":false},'
        '{"code":"F","fallback_grade":null,"finish_by":null,"id":"b","last_attended":"2026-11-02",'
        '"never_attended":false}]'
    )
    assert digest([two, one]) == hashlib.sha256(text.encode()).hexdigest()
    assert digest([one]) != digest([two])


def test_reading_back_finds_every_difference() -> None:
    sent = {"a": GradeRow("a", "B"), "b": GradeRow("b", "C"), "c": GradeRow("c", "D")}
    held = {"a": GradeRow("a", "B"), "b": GradeRow("b", "D"), "d": GradeRow("d", "A")}
    assert [(line.student_id, line.agrees) for line in compared_rows(sent, held)] == [
        ("a", True), ("b", False), ("c", False), ("d", False),
    ]  # fmt: skip


def test_the_stem_says_where_a_section_stands() -> None:
    of = klass(SETTLED)
    held = {s: grade_row(of, s, settled) for s, settled in SETTLED.items()}
    before = stem(of, audit(of, AFTER), AtRegistrar({}))
    assert [(n.words, n.done) for n in before] == [
        ("weights fill 100", True), ("no blanks left", True), ("1 stop", False), ("3 of 3", True),
        ("nothing sent yet", False),
    ]  # fmt: skip
    assert stem(of, [], AtRegistrar(held))[4].words == "3 of 3 received"
    assert stem(of, [], AtRegistrar(held, posted=True))[4].words == "posted"
    assert [n.words for n in stem(course(plan(), {"ada": []}), [], AtRegistrar({}))][:2] == [
        "no items yet",
        "no scores yet",
    ]
