"""The calculation against worked values, each with its source, and against ways to compute it otherwise."""

from dataclasses import replace
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.builders import AFTER, DURING, category, grade, items, plan
from tests.core.grade.percents import cells, percent_of
from vinemark.core.base.number import fixed
from vinemark.core.grade.calculation import work_out
from vinemark.core.plan.plan import Category, Plan


def single(*weights: str) -> Plan:
    """One item of 100 points in each category."""
    return plan(*(category("100", weight=w, prefix=f"k{n}") for n, w in enumerate(weights)))


@pytest.mark.parametrize(
    ("weights", "scores", "percent"),
    [
        (("20", "25", "20", "35"), ("88", "91", "75", "68"), "79.150000"),
        (("30", "20", "10", "15", "25"), ("90", "80", "70", "40", "85"), "77.250000"),
        (("15", "10", "75"), ("100", "100", "69"), "76.750000"),
        (("15", "10", "75"), ("100", None, "69"), "74.166667"),
        (("40", "50"), ("90", "0"), "40.000000"),
    ],
)
def test_whole_plans(weights: tuple[str, ...], scores: tuple[str | None, ...], percent: str) -> None:
    """Source: arithmetic, from the weights and scores given."""
    assert percent_of(single(*weights), *scores) == percent


def test_weights_in_force_of_a_plan_that_is_not_full() -> None:
    """Arithmetic: 40 and 50 in force are 400/9 and 500/9."""
    forces = [c.weight_now for c in grade(single("40", "50"), "90", "80").categories]
    assert forces == [Fraction(400, 9), Fraction(500, 9)]


@given(st.lists(st.tuples(st.integers(1, 60), st.integers(0, 100)), min_size=1, max_size=8))
def test_weighted_means_agree_with_numpy(pairs: list[tuple[int, int]]) -> None:
    """Source: numpy.average with weights."""
    of = single(*(str(w) for w, _ in pairs))
    found = grade(of, *(str(s) for _, s in pairs)).percent
    assert found is not None
    expected = np.average([s for _, s in pairs], weights=[w for w, _ in pairs])
    assert abs(float(found) - expected) < 1e-9


def test_points_and_even_splits() -> None:
    """Arithmetic: 40/50 and 30/60 are 70/110 by points and 65 evenly."""
    assert percent_of(plan(category("50", "60")), "40", "30") == "63.636364"
    assert percent_of(plan(category("50", "60", split="even")), "40", "30") == "65.000000"


def test_own_shares_typed_as_rounded_sixths_stay_exact() -> None:
    """Arithmetic: six shares of 16.67 are 100.02; full scores are exactly 100 all the same."""
    sixths = tuple(replace(i, share=Fraction("16.67")) for i in items(*["10"] * 6))
    of = plan(Category("c", "C", Fraction(100), split="own_shares", items=sixths))
    assert grade(of, *["10"] * 6).percent == 100


@pytest.mark.parametrize(
    ("points", "scores", "percent"),
    [("100", "85", "85"), ("20", "17", "85"), ("17", "14.45", "85")],
)
def test_one_and_the_same_percentage(points: str, scores: str, percent: str) -> None:
    """Arithmetic: 85/100, 17/20 and 14.45/17 are equal, to the last digit."""
    assert grade(plan(category(points)), scores).percent == Fraction(percent)


def test_extra_credit_category_of_ten_with_six_even_items() -> None:
    """Arithmetic: k of 6 full give 10k/6 on top, exactly 10 for all six."""
    bonus = category(*["5"] * 6, weight="10", prefix="x", split="even", extra=True)
    of = plan(category("100"), bonus)
    for k in range(7):
        found = grade(of, "88.40", *["5"] * k).percent
        assert found == Fraction("88.4") + Fraction(10 * k, 6)
    capped = replace(of, cap=Fraction(100))
    assert grade(capped, "95", *["5"] * 6).percent == 100


def test_points_course_and_the_trap_of_a_new_item() -> None:
    """Common practice, arithmetic: 188/250 is 75.2, with 12 extra exactly 80; 144/155, 153/165, 144/165."""
    of = plan(category("250", weight=None), basis="points")
    assert percent_of(of, "188") == "75.200000"
    extra = replace(category("12", weight=None, prefix="x"), extra=True)
    found = grade(plan(category("250", weight=None), extra, basis="points"), "188", "12")
    assert (found.percent, found.letter) == (80, "B")
    two = plan(category("155", weight=None), category("10", weight=None, prefix="n"), basis="points")
    assert percent_of(two, "144") == "92.903226"
    assert percent_of(two, "144", "9") == "92.727273"
    assert fixed(grade(two, "144").blanks_zero or Fraction(0), 6) == "87.272727"


def test_blanks_wait_or_count_0() -> None:
    """Arithmetic: even items 90, 80, 70 and two blanks are 80, 48, and 88 with blanks in full."""
    waits = grade(plan(category(*["100"] * 5, split="even")), "90", "80", "70")
    assert (waits.percent, waits.blanks_zero, waits.blanks_full) == (80, 48, 88)
    assert grade(plan(category(*["100"] * 5, split="even", blanks="zero")), "90", "80", "70").percent == 48


def test_no_grade_yet_when_all_wait_and_0_when_blanks_count() -> None:
    """Source: the contract; all three figures are none together."""
    found = grade(plan(category("100", "100")))
    assert (found.percent, found.letter, found.blanks_zero, found.blanks_full) == (None, None, None, None)
    assert grade(plan(category("100", "100", blanks="zero"))).percent == 0


def test_a_blank_counts_once_its_due_date_is_past() -> None:
    of = plan(Category("c", "C", Fraction(100), blanks="zero_when_due", items=items("10", "10", due=DURING)))
    assert grade(of, "10", None, as_of=DURING).percent == 100
    assert grade(of, "10", None, as_of=AFTER).percent == 50


def test_missing_counts_0_and_exempt_does_not_exist() -> None:
    of = plan(category("10", "30"))
    assert grade(of, "10", "missing").percent == 25
    assert grade(of, "10", "exempt").percent == 100


@settings(deadline=None)
@given(st.lists(cells, min_size=6, max_size=6), st.integers(0, 3), st.sampled_from(["by_points", "even"]))
def test_contributions_add_up_to_the_percent_exactly(row: list[str | None], drops: int, split: str) -> None:
    of = plan(
        category("10", "5", "12", weight="33", split=split, drop_lowest=drops),
        category("10", "10", weight="60", prefix="j", split=split),
        category("4", weight="5", prefix="x", extra=True),
    )
    found = grade(of, *row)
    parts = [c.contributes for c in found.categories if c.contributes is not None]
    assert found.percent is None or sum(parts) == found.percent


def test_an_item_only_planned_leaves_every_grade_alone() -> None:
    counted = items("10", "10")
    planned = (*counted, replace(counted[0], id="later", counts=False))
    scores = {"i0": Fraction(7), "later": Fraction(0)}
    with_it = Plan("weighted", (Category("c", "C", Fraction(100), items=planned),))
    assert work_out(with_it, scores, AFTER).percent == 70
