"""Checks of the final grades: found where it is due, silent where it is not."""

import itertools
import random
from dataclasses import replace
from datetime import date
from fractions import Fraction

import pytest

from tests.builders import category, course, grade, plan, roster
from tests.core.audit.looked_at import FULL, GOOD, found, of_code, only
from vinemark.core.audit.checks.grades import Ranked, _against_the_order
from vinemark.core.course.course import Course, GradingBasis, RosterEntry, Settled, Student


def test_unsettled_once_one_is_settled_and_always_when_submitting() -> None:
    records = roster("ada", "bo")
    assert found(course(GOOD, FULL, records)) == []
    assert found(course(GOOD, FULL, records), submitting=True) == [("unsettled", "ada"), ("unsettled", "bo")]
    assert found(course(GOOD, FULL, records, {"ada": Settled("B")})) == [("unsettled", "bo")]


def test_needs_last_attended_is_met_by_a_date_or_never_attended() -> None:
    records = roster("ada", "bo")
    for given, due in (
        (Settled("F"), True),
        (Settled("F", last_attended=date(2026, 11, 2)), False),
        (Settled("F", never_attended=True), False),
    ):
        of = course(GOOD, FULL, records, {"ada": Settled("B"), "bo": given})
        assert (("needs-last-attended", "bo") in found(of)) is due


ONE = plan(category("100"))


def settled_class(percents: dict[str, str], codes: dict[str, str | Settled], **options: RosterEntry) -> Course:
    """Students with one score each and a settled code, all on the roster."""
    grades = {s: Settled(c) if isinstance(c, str) else c for s, c in codes.items()}
    return course(ONE, {s: [p] for s, p in percents.items()}, roster(*percents, **options), grades)


@pytest.mark.parametrize(
    ("percent", "near"),
    [("89.5", False), ("89.51", True), ("89.999999", True), ("90", False), ("79.6", True), ("95", False)],
)
def test_near_is_less_than_half_a_percent_short(percent: str, near: bool) -> None:
    assert bool(of_code(course(ONE, {"ada": [percent]}), "near-cutoff")) is near
    assert grade(ONE, percent).percent == Fraction(percent)


def test_how_short_is_said_with_as_many_decimals_as_show_it() -> None:
    def message(percent: str) -> str:
        return only(course(ONE, {"ada": [percent]}), "near-cutoff").message

    assert message("89.75") == "Mai Ada is 0.25 short of A."
    assert message("89.9999") == "Mai Ada is 0.0001 short of A."
    assert message("89.9999999") == "Mai Ada is almost nothing short of A."


def test_rounding_decides_a_letter_that_the_exact_percent_does_not_reach() -> None:
    rounded = plan(category("100"), decimals=0)
    finding = only(course(rounded, {"ada": ["89.6"], "bo": ["89.4"]}), "rounding-decides")
    assert finding.message == "Mai Ada has B by the exact percent and A once it is rounded."
    assert finding.evidence == ["Exactly 89.6", "Rounded 90"]
    assert of_code(course(ONE, {"ada": ["89.6"]}), "rounding-decides") == []


def test_settled_otherwise_without_a_reason() -> None:
    of = settled_class({"ada": "85", "bo": "85", "cy": "85"}, {"ada": "A", "bo": Settled("A", "report"), "cy": "B"})
    finding = only(of, "settled-differs")
    assert (finding.student, finding.facts.target) == ("ada", "B")
    assert finding.message == "Mai Ada is settled as A; computed is B; no reason."
    assert only(settled_class({"ada": "85"}, {"ada": Settled("A", "  ")}), "settled-differs").student == "ada"


@pytest.mark.parametrize(("code", "percent", "differs"), [("P", "85", False), ("NP", "85", True), ("P", "40", True),
                                                         ("NP", "40", False), ("I", "85", False)])  # fmt: skip
def test_pass_codes_are_held_against_the_letter(code: str, percent: str, differs: bool) -> None:
    of = settled_class({"ada": percent}, {"ada": code}, ada=RosterEntry("ada", "Ada", "Mai", basis="pass"))
    assert bool(of_code(of, "settled-differs")) is differs


def test_without_records_only_letters_of_the_scale_are_held_against() -> None:
    for code, differs in (("A", True), ("B", False), ("X", False)):
        of = course(ONE, {"ada": ["85"]}, None, {"ada": Settled(code)})
        assert bool(of_code(of, "settled-differs")) is differs


def test_a_higher_percent_with_a_lower_letter() -> None:
    of = settled_class({"ada": "85", "bo": "82", "cy": "81"}, {"ada": "C", "bo": "B", "cy": "B"})
    finding = only(of, "order-broken")
    assert finding.message.startswith("Mai Ada has 85.00% and C; Mai Cy has 81.00% and B")
    assert finding.evidence == ["Computed for Mai Ada: B"]
    raised = settled_class({"ada": "85", "bo": "82"}, {"ada": "B", "bo": "A"})
    assert [f.student for f in of_code(raised, "order-broken")] == ["bo"]
    reasoned = settled_class({"ada": "85", "bo": "82"}, {"ada": Settled("C", "late report"), "bo": "B"})
    assert of_code(reasoned, "order-broken") == []
    equal = settled_class({"ada": "85", "bo": "85"}, {"ada": "C", "bo": "B"})
    assert of_code(equal, "order-broken") == []


@pytest.mark.parametrize("seed", range(40))
def test_everyone_out_of_order_is_found_as_by_looking_at_every_pair(seed: int) -> None:
    """Against looking at all pairs, which is slow and plain."""
    rng = random.Random(seed)
    percents = {f"s{n}": str(rng.randint(55, 95)) for n in range(12)}
    codes = {s: rng.choice("ABCDF") for s in percents}
    of = settled_class(percents, codes)  # type: ignore[arg-type]
    order = "ABCDF"
    expected = set()
    for one, other in itertools.permutations(percents, 2):
        if Fraction(percents[one]) > Fraction(percents[other]) and order.index(codes[one]) > order.index(codes[other]):
            expected |= {s for s in (one, other) if codes[s] != grade(ONE, percents[s]).letter}
    assert {f.student for f in of_code(of, "order-broken")} == expected


def test_percents_that_differ_beyond_forty_binary_places_are_in_their_order() -> None:
    hair = Fraction(1, 10**20)
    rows = [(Student("low", "Ada"), 0, Fraction(85)), (Student("high", "Bo"), 1, 85 + hair)]
    ranked = [Ranked(*row, 85 << 40) for row in rows]
    assert {one.id for one, _ in _against_the_order(ranked)} == {"low", "high"}
    assert not list(_against_the_order([row._replace(percent=Fraction(85)) for row in ranked]))


def test_the_order_of_the_largest_class_is_looked_at_without_looking_at_every_pair() -> None:
    """Counted and not timed: each student is met by a fixed number of steps."""

    class Counting(Fraction):
        compared = 0

        def __lt__(self, other: object) -> bool:
            Counting.compared += 1
            return super().__lt__(other)  # type: ignore[operator]

    people = [Student(f"s{n}", "Ada") for n in range(400)]
    ranked = [Ranked(s, n % 5, Counting(n % 97), n % 97) for n, s in enumerate(people)]
    assert list(_against_the_order(ranked))
    assert Counting.compared < 400 * 40


@pytest.mark.parametrize(
    ("code", "basis", "why"),
    [("X", "letter", "the registrar does not know it"), ("W", "letter", "only the registrar sets it"),
     ("P", "letter", "it is not for the letter basis"), ("A", "pass", "it is not for the pass basis")],
)  # fmt: skip
def test_a_code_that_the_office_does_not_take(code: str, basis: GradingBasis, why: str) -> None:
    of = settled_class({"ada": "95"}, {"ada": code}, ada=RosterEntry("ada", "Ada", "Mai", basis=basis))
    assert only(of, "code-refused").message == f"The registrar does not take {code} for Mai Ada: {why}."


def test_never_attended_is_contradicted_by_a_day_or_by_work() -> None:
    never = Settled("F", never_attended=True)
    worked = only(settled_class({"ada": "5"}, {"ada": never}), "attended-contradicts")
    assert worked.message.endswith("has a score above 0 on I 0.")
    dated = replace(never, last_attended=date(2026, 10, 1))
    day = only(settled_class({"ada": "0"}, {"ada": dated}), "attended-contradicts")
    assert day.message.endswith("has a last date of attendance, Oct 1, 2026.")
    assert of_code(settled_class({"ada": "0"}, {"ada": never}), "attended-contradicts") == []


def test_a_passing_grade_without_work() -> None:
    for code, due in (("D", True), ("F", False), ("I", False)):
        assert bool(of_code(settled_class({"ada": "0", "bo": "80"}, {"ada": code}), "grade-without-work")) is due
    of = settled_class({"ada": "0"}, {"ada": Settled("D", "oral exam")})
    assert of_code(of, "grade-without-work") == []
    on_pass = settled_class({"ada": "0"}, {"ada": "P"}, ada=RosterEntry("ada", "Ada", "Mai", basis="pass"))
    assert only(on_pass, "grade-without-work").student == "ada"


@pytest.mark.parametrize(
    ("day", "where"),
    [
        (date(2026, 8, 30), "before the term starts"),
        (date(2026, 8, 31), None),
        (date(2026, 12, 18), None),
        (date(2026, 12, 19), "after the term ends"),
    ],
)
def test_a_last_date_of_attendance_lies_in_the_term(day: date, where: str | None) -> None:
    of = settled_class({"ada": "40"}, {"ada": Settled("F", last_attended=day)})
    findings = of_code(of, "attended-outside", date(2027, 1, 5))
    assert [str(where) in f.message for f in findings] == ([True] if where else [])


def test_nor_is_it_later_than_today() -> None:
    of = settled_class({"ada": "40"}, {"ada": Settled("F", last_attended=date(2026, 11, 2))})
    assert of_code(of, "attended-outside", date(2026, 11, 2)) == []
    assert "later than today" in of_code(of, "attended-outside", date(2026, 11, 1))[0].message


def test_an_incomplete_lacks_what_neither_it_nor_the_office_says() -> None:
    bare = settled_class({"ada": "40"}, {"ada": "I"})
    assert only(bare, "needs-fallback").message == "I of Mai Ada has no fallback grade and has no finish-by date."
    assert bare.records is not None
    fixed_by_office = replace(bare.records, incomplete_fallback="D", incomplete_finish_by=date(2027, 5, 1))
    assert of_code(replace(bare, records=fixed_by_office), "needs-fallback") == []
    for fallback in ("P", "I", "W", "X"):
        of = settled_class({"ada": "40"}, {"ada": Settled("I", fallback_grade=fallback, finish_by=date(2027, 5, 1))})
        assert f"falls back to {fallback}, which" in only(of, "needs-fallback").message


@pytest.mark.parametrize(
    ("day", "where"),
    [
        (date(2026, 12, 18), "not after the term’s end"),
        (date(2026, 12, 19), None),
        (date(2027, 12, 18), None),
        (date(2027, 12, 19), "more than 365 days after the term’s end"),
    ],
)
def test_a_finish_by_date_lies_within_the_offices_limit(day: date, where: str | None) -> None:
    of = settled_class({"ada": "40"}, {"ada": Settled("I", fallback_grade="D", finish_by=day)})
    findings = of_code(of, "finish-by-outside")
    assert [str(where) in f.message for f in findings] == ([True] if where else [])
    assert of.records is not None
    free = replace(of, records=replace(of.records, incomplete_limit_days=None))
    assert bool(of_code(free, "finish-by-outside")) is (day <= date(2026, 12, 18))
