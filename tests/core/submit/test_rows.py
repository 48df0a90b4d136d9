"""From the computed grade to the rows that go out, and back."""

from dataclasses import replace

import pytest

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
    changed_since_signed,
    left,
    midterm_findings,
    plan_stops,
    submission_rows,
    submittable,
    with_every_grade_due,
)
from vinemark.core.submit.submission import AtRegistrar, RefusedRow

SETTLED = {"ada": Settled("B"), "bo": Settled("P"), "cy": Settled("F")}


def rows(of: Course, held: dict[str, GradeRow] | None = None) -> list[SubmitRow]:
    return submission_rows(of, audit(of, AFTER, submitting=True), AtRegistrar(held or {}, held or {}))


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
    states = {row.student_id: row.state for row in rows(of, held)}
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
    held = {"ada": GradeRow("ada", "C"), "bo": GradeRow("bo", "P")}
    there = AtRegistrar(held, held, posted=True)
    found = submission_rows(of, audit(of, AFTER, submitting=True), there)
    assert [row.state for row in found] == ["changed after submitting", "received", "changed after submitting"]
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
    rows = submission_rows(of, audit(of, AFTER), AtRegistrar())
    assert [(r.student_id, r.state) for r in rows] == [("bo", "stopped"), ("ada", "ready")]
    assert [f.code for f in rows[0].stops] == ["not-in-section"]


ADA = GradeRow("ada", "B")


def state_of_ada(there: AtRegistrar, code: str = "B") -> tuple[str, str | None]:
    of = small_class({"ada": Settled(code, "as agreed")})
    found = next(r for r in submission_rows(of, [], there) if r.student_id == "ada")
    return found.state, found.refused


@pytest.mark.parametrize(
    ("there", "state"),
    [
        (AtRegistrar(), "ready"),
        (AtRegistrar(held={"ada": ADA}, unchecked={"ada"}), "answered"),
        (AtRegistrar(held={"ada": ADA}, seen={"ada": ADA}), "received"),
        (AtRegistrar(held={"ada": ADA}, seen={"ada": ADA}, unchecked={"ada"}), "answered"),
        (AtRegistrar(held={"ada": ADA}, seen={}), "to correct"),
        (AtRegistrar(held={"ada": ADA}, seen={"ada": GradeRow("ada", "C")}), "to correct"),
        (AtRegistrar(seen={"ada": GradeRow("ada", "C")}), "to correct"),
        (AtRegistrar(seen={"ada": GradeRow("ada", "B", owed="a report")}), "to correct"),
        (AtRegistrar(seen={"ada": ADA}), "received"),
        (AtRegistrar(held={"ada": ADA}, seen={"ada": GradeRow("ada", "C")}, posted=True), "changed after submitting"),
        (AtRegistrar(seen={"ada": GradeRow("ada", "C")}, posted=True), "changed after submitting"),
    ],
)
def test_received_is_what_the_registrar_was_seen_to_have(there: AtRegistrar, state: str) -> None:
    assert state_of_ada(there) == (state, None)


def test_what_was_refused_stays_so_until_it_is_another_row() -> None:
    there = AtRegistrar(refused={"ada": RefusedRow(ADA, "no such code")})
    assert state_of_ada(there) == ("refused", "no such code")
    assert state_of_ada(there, "C") == ("ready", None)
    assert state_of_ada(replace(there, on_the_way={"ada": ADA})) == ("signed", "no such code")
    of = small_class({"ada": Settled("B")})
    found = submission_rows(of, [], there)
    assert submittable(of, found, [], False, Gate("open")) == []
    assert submittable(of, found, [], False, Gate("open"), refused_again=True) == [ADA]
    assert left(found) == 3


def test_whose_grade_changed_after_signing() -> None:
    of = small_class({"ada": Settled("B"), "bo": Settled("P")})
    signed = [ADA, GradeRow("bo", "NP"), GradeRow("cy", "F")]
    assert changed_since_signed(of, signed[:1]) == []
    assert changed_since_signed(of, signed) == [str(of.student(s).plain_name) for s in ("bo", "cy")]  # type: ignore[union-attr]
    assert changed_since_signed(of, [GradeRow("gone", "A")]) == ["gone"]
