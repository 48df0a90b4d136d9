"""The calculation against worked values, each with its source, and against ways to compute it otherwise."""

from fractions import Fraction
from itertools import combinations
from math import lcm
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.builders import category, grade, plan
from tests.core.grade.percents import percent_of
from vinemark.core.grade.drops import DropRule, InPlay, drop_rule, dropped


def test_kane_and_kane_dropping_lowest_grades() -> None:
    """D. M. Kane and J. M. Kane, "Dropping Lowest Grades", Mathematics Magazine 79 (2006); from memory."""
    one = plan(category("100", "100", "20", drop_lowest=1))
    assert grade(one, "80", "20", "1").percent == Fraction(675, 10)
    four = ("100", "42", "14", "3")
    assert grade(plan(category("100", "91", "55", "38", drop_lowest=1)), *four).percent == Fraction(15600, 246)
    two = grade(plan(category("100", "91", "55", "38", drop_lowest=2)), *four)
    assert two.percent == Fraction(10300, 138)
    assert [i.state for i in two.categories[0].items] == ["kept", "dropped_lowest", "dropped_lowest", "kept"]


def test_a_raised_score_can_lower_a_grade_under_lowest_percent() -> None:
    """Arithmetic: 40/100, 5/10, 100/100 drop one: 95.454545; the 40 raised to 51: 75.5."""
    of = plan(category("100", "10", "100", drop_lowest=1, drop_by="lowest_percent"))
    assert percent_of(of, "40", "5", "100") == "95.454545"
    assert percent_of(of, "51", "5", "100") == "75.500000"


def test_drop_with_a_blank() -> None:
    """Arithmetic: 90, 80, 70 and a blank, drop one: 80 when the blank counts 0, 85 when it waits."""
    assert grade(plan(category(*["100"] * 4, drop_lowest=1, blanks="zero")), "90", "80", "70").percent == 80
    assert grade(plan(category(*["100"] * 4, drop_lowest=1)), "90", "80", "70").percent == 85


scored = st.tuples(st.integers(1, 60), st.integers(0, 70), st.booleans())


@settings(deadline=None)
@given(st.lists(scored, min_size=1, max_size=7), st.integers(0, 8), st.integers(0, 2), st.integers(0, 30))
def test_helps_most_is_truly_the_best_of_all(
    rows: list[tuple[int, int, bool]], lowest: int, highest: int, extra: int
) -> None:
    """Outside check: every possible choice is tried."""
    common = lcm(*(m for m, _, _ in rows))
    earned, sizes = [v for _, v, _ in rows], [m for m, _, _ in rows]
    free = [n for n, row in enumerate(rows) if row[2]]
    play = InPlay(earned, sizes, free, lambda: [v * common // m for m, v, _ in rows])
    top, low = dropped(DropRule(highest, lowest, None, False, False), play, extra)
    rest = [n for n in range(len(rows)) if n not in top]
    choices = combinations([n for n in rest if n in free], len(low))
    kept = [[n for n in rest if n not in choice] for choice in choices]
    best = max(Fraction(sum(earned[n] for n in k) + extra, sum(sizes[n] for n in k)) for k in kept)
    mine = [n for n in rest if n not in low]
    assert Fraction(sum(earned[n] for n in mine) + extra, sum(sizes[n] for n in mine)) == best
    assert mine


def test_sixty_items_and_twenty_drops_stay_quick_and_agree_with_lowest_for_equal_points() -> None:
    scores = [str((n * 37) % 101) for n in range(60)]
    found = grade(plan(category(*["100"] * 60, drop_lowest=20)), *scores).percent
    kept = sorted(map(int, scores))[20:]
    assert found == Fraction(sum(kept), 40)


@settings(deadline=None)
@given(st.lists(st.integers(0, 10), min_size=3, max_size=6), st.integers(0, 5), st.integers(1, 10))
def test_raising_a_score_never_lowers_a_category_under_helps_most(row: list[int], place: int, by: int) -> None:
    rule = category(*(str(5 + 3 * n) for n in range(len(row))), drop_lowest=2)
    raised = [v + by if n == place else v for n, v in enumerate(row)]
    before, after = (grade(plan(rule), *map(str, r)).percent for r in (row, raised))
    assert before is not None
    assert after is not None
    assert after >= before


def test_each_way_of_dropping_is_one_by_itself_and_extra_credit_drops_nothing() -> None:
    assert drop_rule(category("10", "10"), True) is None
    rules: list[dict[str, Any]] = [{"drop_lowest": 1}, {"drop_highest": 1}, {"keep_best": 0}, {"keep_best": 1}]
    for rule in rules:
        assert drop_rule(category("10", "10", **rule), True) is not None
        assert drop_rule(category("10", "10", extra=True, **rule), True) is None
