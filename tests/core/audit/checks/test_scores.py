"""Checks of the scores: found where it is due, silent where it is not."""

from dataclasses import replace
from datetime import date
from fractions import Fraction

import pytest

from tests.builders import category, course, plan, roster
from tests.core.audit.looked_at import GOOD, found, of_code, only
from vinemark.core.course.course import RosterEntry, Settled


def test_over_points_only_for_regular_items_of_ordinary_categories() -> None:
    of = course(GOOD, {"ada": ["10.5", "10"], "bo": ["10", "10"]})
    finding = only(of, "over-points")
    assert (finding.student, finding.item, finding.message) == ("ada", "i0", "Mai Ada has 10.5 of 10 on I 0.")
    bonus = replace(category("5", weight="5", prefix="x"), extra=True)
    assert found(course(plan(*GOOD.categories, bonus), {"ada": ["9", "9", "7"]})) == []


def test_blank_waits_only_after_the_term_and_names_the_letters() -> None:
    of = course(GOOD, {"ada": ["9", None], "bo": ["7", "7"]})
    assert found(of, date(2026, 12, 18)) == []
    finding = only(of, "blank-waits")
    assert finding.message == "Mai Ada has 1 blank not counted yet: I 1. Now A, with blanks as 0 F."
    zero = replace(GOOD, categories=(replace(GOOD.categories[0], blanks="zero"),))
    assert found(course(zero, {"ada": ["9", None], "bo": ["7", "7"]})) == []


def test_blank_waits_leaves_out_blank_columns_withdrawn_students_and_incompletes() -> None:
    assert found(course(GOOD, {"ada": ["9", None], "bo": ["7", None]})) == [("column-blank", "c-i")]
    gone = RosterEntry("ada", "Ada", "Mai", status="withdrawn")
    assert found(course(GOOD, {"ada": ["9", None], "bo": ["7", "7"]}, roster("ada", "bo", ada=gone))) == []
    open_ = {"ada": Settled("I", fallback_grade="C", finish_by=date(2027, 5, 1)), "bo": Settled("C")}
    assert found(course(GOOD, {"ada": ["9", None], "bo": ["7", "7"]}, roster("ada", "bo"), open_)) == []


def test_blank_under_zero_when_due_without_a_date() -> None:
    undated = replace(GOOD, categories=(replace(GOOD.categories[0], blanks="zero_when_due"),))
    assert found(course(undated, {"ada": ["9", None], "bo": ["7", "7"]})) == [("blank-waits", "ada")]


def test_the_rest_of_the_class_stands_beside_a_score_above_the_points() -> None:
    finding = only(course(GOOD, {"ada": ["10.5", "9"], "bo": ["6", "7"], "cy": ["8", "7"]}), "over-points")
    assert finding.evidence == ["Everyone else has between 6 and 8 here."]
    assert finding.facts.amount == 10
    alone = only(course(GOOD, {"ada": ["10.5", "9"], "bo": [None, "7"]}), "over-points")
    assert alone.evidence == ["Nobody else has a score on this item."]


def test_a_column_is_blank_once_its_day_is_over() -> None:
    one, two = GOOD.categories[0].items
    dated = plan(replace(GOOD.categories[0], items=(one, replace(two, due=date(2026, 11, 1)))))
    of = course(dated, {"ada": ["9", None], "bo": ["8", None]})
    assert of_code(of, "column-blank", date(2026, 11, 1)) == []
    (finding,) = of_code(of, "column-blank", date(2026, 11, 2))
    assert finding.evidence == ["All 2 cells are blank.", "Blanks of Category i: wait."]
    marked = course(dated, {"ada": ["9", "missing"], "bo": ["8", None]})
    assert of_code(marked, "column-blank") == []


@pytest.mark.parametrize(("count", "due"), [(9, False), (10, True)])
def test_ten_equal_scores_are_said(count: int, due: bool) -> None:
    of = course(GOOD, {f"s{n}": ["8", str(n % 10)] for n in range(count)})
    findings = of_code(of, "column-same")
    assert [f.item for f in findings] == (["i0"] if due else [])
    one_other = course(GOOD, {f"s{n}": ["9" if n == 3 else "8", str(n % 10)] for n in range(12)})
    assert of_code(one_other, "column-same") == []


def slips(first: str, points: str = "10") -> list[Fraction | None]:
    """A class of eight with 9 of 10 everywhere, and one cell of the first as given."""
    wide = plan(category(*[points] * 6))
    rows = {f"s{n}": [str(Fraction(points) * 9 / 10)] * 6 for n in range(8)}
    rows["s0"] = [first, *rows["s0"][1:]]
    return [f.facts.amount for f in of_code(course(wide, rows), "slipped-key")]


@pytest.mark.parametrize(
    ("typed", "meant"),
    [
        ("0.9", [9]),
        ("0.5", []),
        ("0.99", [Fraction(99, 10)]),
        ("1", [10]),
        ("1.1", []),
        ("90", [9]),
        ("39", []),
        ("40", [4]),
        ("101", []),
    ],
)
def test_a_tenth_or_ten_times_of_what_fits_is_a_slip(typed: str, meant: list[Fraction]) -> None:
    assert slips(typed) == meant


def test_too_few_others_prove_nothing() -> None:
    narrow = plan(category(*["10"] * 4))
    rows = {f"s{n}": ["9"] * 4 for n in range(8)}
    rows["s0"] = ["0.9", "9", "9", "9"]
    assert of_code(course(narrow, rows), "slipped-key") == []
    few = {f"s{n}": ["9"] * 6 for n in range(5)}
    few["s0"] = ["0.9", *["9"] * 5]
    assert of_code(course(plan(category(*["10"] * 6)), few), "slipped-key") == []


def test_no_work_at_all_once_half_the_class_has_some() -> None:
    of = course(GOOD, {"ada": ["0", "missing"], "bo": ["7", "7"]})
    finding = only(of, "no-work")
    assert (finding.student, finding.evidence) == ("ada", ["2 cells are recorded, 1 of them missing."])
    early = course(GOOD, {"ada": [None], "bo": ["7"], "cy": [None]})
    assert of_code(early, "no-work") == []
    never = {"ada": Settled("F", never_attended=True), "bo": Settled("C")}
    assert of_code(course(GOOD, {"ada": ["0"], "bo": ["7", "7"]}, roster("ada", "bo"), never), "no-work") == []


@pytest.mark.parametrize(
    ("rest", "due"), [(["0", None, "missing"], True), (["0", None, "1"], False), (["0", None], False)]
)
def test_who_stopped_has_nothing_in_the_last_three(rest: list[str | None], due: bool) -> None:
    days = [date(2026, 9, 1 + n) for n in range(1 + len(rest))]
    dated = category(*["10"] * len(days))
    dated = replace(dated, items=tuple(replace(i, due=d) for i, d in zip(dated.items, days, strict=True)))
    full: list[str | None] = ["9"] * len(days)
    of = course(plan(dated), {"ada": ["8", *rest], "bo": full, "cy": full})
    findings = of_code(of, "stopped")
    assert [f.student for f in findings] == (["ada"] if due else [])
    if due:
        assert (
            findings[0].message
            == "Mai Ada has turned in nothing since I 0, due Sep 1, 2026: 3 items blank, missing or 0."
        )
        assert (findings[0].opens, findings[0].evidence) == ("i1", ["I 1: 0", "I 2: blank", "I 3: missing"])
