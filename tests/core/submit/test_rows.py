"""From the computed grade to the rows that go out, and back."""

from dataclasses import replace

from tests.builders import AFTER, category, course, plan, roster
from tests.core.small_class import PLAN, small_class
from vinemark.core.audit import audit
from vinemark.core.audit.finding import Facts
from vinemark.core.course.course import Course, RosterEntry, Settled, Status
from vinemark.core.settle.settling import checked_grade
from vinemark.core.submit.grade_row import GradeRow
from vinemark.core.submit.hours import Gate
from vinemark.core.submit.rows import (
    SubmitRow,
    left,
    midterm_findings,
    plan_stops,
    submission_rows,
    submittable,
    with_every_grade_due,
)
from vinemark.core.submit.submission import AtRegistrar

SETTLED = {"ada": Settled("B"), "bo": Settled("P"), "cy": Settled("F")}


def rows(of: Course, held: dict[str, GradeRow] | None = None, refused: dict[str, str] | None = None) -> list[SubmitRow]:
    return submission_rows(of, audit(of, AFTER, submitting=True), AtRegistrar(held or {}, refused or {}))


def test_a_stop_about_one_student_stops_that_row_only() -> None:
    found = {row.student_id: row for row in rows(small_class(SETTLED))}
    assert [found[s].state for s in ("ada", "bo", "cy")] == ["ready", "ready", "stopped"]
    assert [f.code for f in found["cy"].stops] == ["needs-last-attended"]
    assert [row.id for row in submittable(small_class(SETTLED), found.values(), [], False, Gate("open"))] == [
        "ada",
        "bo",
    ]
    assert left(found.values()) == 3


def test_a_stop_about_the_plan_stops_the_section() -> None:
    of = replace(small_class(SETTLED), plan=plan(category("100", weight="90")))
    assert [f.code for f in plan_stops(audit(of, AFTER, submitting=True))] == ["weights-off"]


def test_received_rows_are_done_and_changed_ones_can_be_corrected() -> None:
    of = small_class(SETTLED)
    held = {"ada": GradeRow("ada", "B"), "bo": GradeRow("bo", "NP")}
    states = {row.student_id: row.state for row in rows(of, held, {"cy": "no date"})}
    assert states == {"ada": "received", "bo": "to correct", "cy": "stopped"}
    assert left(rows(of, held)) == 2


def test_rows_on_their_way_are_signed_until_they_change_or_arrive() -> None:
    of = small_class(SETTLED)
    there = AtRegistrar(on_the_way={"ada": GradeRow("ada", "B"), "bo": GradeRow("bo", "NP")})
    found = submission_rows(of, audit(of, AFTER, submitting=True), there)
    assert [row.state for row in found] == ["signed", "ready", "stopped"]
    assert ([row.id for row in submittable(of, found, [], False, Gate("open"))], left(found)) == (["bo"], 3)


def test_once_posted_a_row_that_is_held_otherwise_is_not_to_be_sent_again() -> None:
    of = small_class(SETTLED)
    there = AtRegistrar({"ada": GradeRow("ada", "C"), "bo": GradeRow("bo", "P")}, posted=True)
    found = submission_rows(of, audit(of, AFTER, submitting=True), there)
    assert [row.state for row in found] == ["changed since", "received", "changed since"]
    assert submittable(of, found, [], False, Gate("open")) == []


def test_the_midterm_run_sends_codes_alone_and_no_date_stops_it() -> None:
    of = replace(small_class(SETTLED), midterm={"ada": Settled("C"), "cy": Settled("F")}).for_run("midterm")
    found = submission_rows(of, midterm_findings(Facts(of, AFTER, submitting=True)), AtRegistrar())
    assert [(row.student_id, row.state) for row in found] == [("ada", "ready"), ("bo", "stopped"), ("cy", "ready")]
    assert submittable(of, found, [], False, Gate("open")) == [GradeRow("ada", "C"), GradeRow("cy", "F")]
    assert of.for_run("final").settled == SETTLED
    assert checked_grade(of, "cy", Settled("F"), "F") == Settled("F")


def test_the_plan_and_dates_stop_no_midterm() -> None:
    of = replace(small_class(SETTLED), plan=plan(category("100", weight="90"))).for_run("midterm")
    assert {f.code for f in midterm_findings(Facts(of, AFTER, submitting=True))} == {"unsettled"}


def test_who_is_withdrawn_auditing_or_set_aside_is_never_stopped_for_want_of_a_grade() -> None:
    statuses: tuple[tuple[str, Status], ...] = (("bo", "withdrawn"), ("cy", "auditing"))
    there = {s: RosterEntry(s, s, "Mai", status=status) for s, status in statuses}
    scores = {"ada": ["85"], "bo": ["65"], "cy": ["40"], "di": ["50"]}
    of = course(PLAN, scores, roster(*scores, **there), aside={"di": "moved"})
    findings = with_every_grade_due(Facts(of, AFTER), [])
    rows = submission_rows(of, findings, AtRegistrar())
    assert [(r.student_id, r.state) for r in rows] == [
        ("ada", "stopped"), ("bo", "withdrawn"), ("cy", "auditing"), ("di", "set aside"),
    ]  # fmt: skip
    assert [f.student for f in findings if f.code == "unsettled"] == ["ada"]
    assert left(rows) == 1


def test_a_row_that_is_on_the_roster_alone_stands_there_with_what_stops_it() -> None:
    of = course(PLAN, {"ada": ["85"]}, roster("bo", "ada"), {"ada": Settled("B")})
    rows = submission_rows(of, audit(of, AFTER), AtRegistrar(refused={"ada": "closed"}))
    assert [(r.student_id, r.state, r.refused) for r in rows] == [("bo", "stopped", None), ("ada", "ready", "closed")]
    assert [f.code for f in rows[0].stops] == ["not-in-section"]
