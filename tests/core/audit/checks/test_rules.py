"""Checks of further rules: found where it is due, silent where it is not."""

from dataclasses import replace
from datetime import date
from fractions import Fraction

from tests.builders import AFTER, DURING, category, course, items, plan, roster
from tests.core.audit.looked_at import found, of_code, only
from vinemark.core.audit.finding import Facts
from vinemark.core.audit.run import audit_facts
from vinemark.core.course.cell import DetailedScore
from vinemark.core.course.course import Adjustment, Course, NumberGrades, Settled
from vinemark.core.plan.plan import Rounding
from vinemark.core.plan.rules import (
    Alternative,
    Condition,
    Consequence,
    LateRule,
    RecordedItem,
    Requirement,
)

PLAN = plan(category("10", "10", weight="40"), category("50", weight="60", prefix="j"))
GOOD = {"ada": ["9", "9", "45"], "bo": ["8", "9", "44"]}
FAILING = Consequence("letter_at_most", letter="F")
FAILS = Requirement("r1", Condition("percent_below", Fraction(60), item="j0"), FAILING)


def codes(of: Course, as_of: date = AFTER) -> list[str]:
    return [code for code, _ in found(of, as_of)]


def test_weights_of_each_alternative() -> None:
    off = Alternative("a1", "The final counts more", {"c-i": Fraction(10), "c-j": Fraction(80)})
    right = Alternative("a2", "Even", {"c-i": Fraction(50), "c-j": Fraction(50)})
    finding = only(course(replace(PLAN, alternatives=(off, right)), GOOD), "weights-off")
    assert "The final counts more" in finding.message
    assert (finding.level, finding.category, finding.evidence[-1]) == ("stop", None, "Sum: 90%")


def test_late_work_without_a_rule() -> None:
    late = course(PLAN, GOOD).with_cells({("ada", "i0"): DetailedScore(Fraction(8), None, 2)})
    finding = only(late, "late-unruled")
    assert (finding.category, finding.level, list(finding.evidence)) == ("c-i", "look", ["Mai Ada: I 0"])
    ruled = replace(PLAN, categories=(replace(PLAN.categories[0], late=LateRule(Fraction(10))), PLAN.categories[1]))
    assert codes(replace(late, plan=ruled)) == []


def test_adjustments_want_a_reason() -> None:
    of = course(PLAN, GOOD)
    given = {"ada": Adjustment(Fraction(2), " "), "bo": Adjustment(Fraction(-1), "agreed")}
    finding = only(replace(of, adjustments=given), "adjusted-bare")
    assert (finding.student, finding.level) == ("ada", "look")
    assert codes(replace(of, adjustments={"ada": Adjustment(Fraction(0))})) == []


def test_a_requirement_that_lowers_the_letter() -> None:
    of = course(replace(PLAN, requirements=(FAILS,)), {"ada": ["10", "10", "29"], "bo": ["10", "10", "50"]})
    finding = only(of, "requirement-lowers")
    assert (finding.student, finding.level) == ("ada", "note")
    assert finding.message == "Mai Ada has F instead of C: a requirement is not met."
    assert list(finding.evidence) == ["If J 0 is below 60%, the letter is at most F."]


def test_whose_letter_a_requirement_lowers_is_near_no_cutoff_and_in_no_order() -> None:
    """40 + 29.8 = 69.8 percent: just below C, and by rounding C."""
    rounded = replace(PLAN, rounding=Rounding(0, "exact"))
    cells = {"ada": ["10", "10", "24.8333333333"], "bo": ["10", "10", "30"]}
    assert "near-cutoff" in codes(course(rounded, cells))
    lowered = course(replace(rounded, requirements=(FAILS,)), cells)
    assert [code for code in codes(lowered) if code in {"near-cutoff", "rounding-decides"}] == []
    settled = {"ada": Settled("F"), "bo": Settled("D")}
    of = course(
        replace(PLAN, requirements=(FAILS,)), {"ada": ["10", "10", "29"], "bo": ["5", "5", "31"]}, settled=settled
    )
    assert of_code(of, "order-broken") == []


def test_a_requirement_that_sees_nothing() -> None:
    absences = replace(
        PLAN,
        recorded=(RecordedItem("abs", "Absences"),),
        requirements=(Requirement("r", Condition("value_above", Fraction(3), item="abs"), FAILING),),
    )
    of = course(absences, GOOD)
    finding = only(of, "requirement-blind")
    assert (finding.item, finding.category, finding.level) == ("abs", None, "look")
    assert codes(of, DURING) == []
    assert codes(of.with_cells({("bo", "abs"): Fraction(0)})) == []
    blank = course(replace(PLAN, requirements=(FAILS,)), {"ada": ["9", "9", None]})
    assert only(blank, "requirement-blind").item == "j0"
    missed = Requirement("r", Condition("missed_at_least", Fraction(1), "c-j"), FAILING)
    assert (
        only(course(replace(PLAN, requirements=(missed,)), {"ada": ["9", "9", None]}), "requirement-blind").item is None
    )


def test_a_planned_item_that_a_requirement_counts_is_no_finding() -> None:
    tally = replace(PLAN.categories[0], items=(*PLAN.categories[0].items, *items("1", prefix="t", counts=False)))
    of = replace(PLAN, categories=(tally, PLAN.categories[1]))
    cells = {"ada": ["9", "9", "1", "45"], "bo": ["8", "9", "5", "44"]}
    assert codes(course(of, cells)) == ["item-planned"]
    above = Requirement("r", Condition("value_above", Fraction(3), item="t0"), FAILING)
    assert codes(course(replace(of, requirements=(above,)), cells)) == ["requirement-lowers"]


SYLLABUS = """Grading
Category i 40%, Category j 60%.
Late work loses 10% per day.
You must pass the final exam to pass the course.
"""


def test_promises_that_are_open_once_grades_are_settled() -> None:
    of = replace(course(PLAN, GOOD), syllabus=SYLLABUS)
    assert of_code(of, "promise-open") == []
    settled = replace(of, settled={"ada": Settled("A")})
    assert [f.message.partition("“")[2] for f in of_code(settled, "promise-open")] == [
        "Late work loses 10% per day.”", "You must pass the final exam to pass the course.”",
    ]  # fmt: skip
    late = replace(PLAN.categories[0], late=LateRule(Fraction(10)))
    held = replace(settled, plan=replace(PLAN, categories=(late, PLAN.categories[1]), requirements=(FAILS,)))
    assert of_code(held, "promise-open") == []
    remarked = Facts(settled, AFTER, remarked=["Late work loses 10% per day."])
    assert len([f for f in audit_facts(remarked) if f.code == "promise-open"]) == 1


def numbered(settled: dict[str, str], decimals: int = 0) -> Course:
    records = replace(roster("ada", "bo"), numbers=NumberGrades(Fraction(0), Fraction(100), decimals))
    return course(PLAN, GOOD, records, {student: Settled(grade) for student, grade in settled.items()})


def test_numbers_as_final_grades() -> None:
    """36 + 54 = 90 and 34 + 52.8 = 86.8 percent."""
    assert codes(numbered({"ada": "90", "bo": "87"})) == []
    assert of_code(numbered({"ada": "91", "bo": "87"}), "settled-differs")[0].message == (
        "Mai Ada is settled as 91; computed is 90; no reason."
    )
    assert [f.student for f in of_code(numbered({"ada": "86", "bo": "87"}), "order-broken")] == ["ada"]
    assert [f.message for f in of_code(numbered({"ada": "A", "bo": "86.8"}), "code-refused")] == [
        "The registrar does not take A for Mai Ada: it takes a number, not a letter.",
        "The registrar does not take 86.8 for Mai Bo: it takes at most 0 decimals.",
    ]
    assert of_code(numbered({"ada": "101", "bo": "87"}), "code-refused")[0].message.endswith("from 0 to 100.")
    assert codes(numbered({"ada": "90", "bo": "86.8"}, 1)) == []
    letters = course(PLAN, GOOD, roster("ada", "bo"), {"ada": Settled("90"), "bo": Settled("B")})
    assert [f.student for f in of_code(letters, "code-refused")] == ["ada"]
