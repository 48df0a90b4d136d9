"""Checks of the plan: found where it is due, silent where it is not."""

from dataclasses import replace
from datetime import date
from fractions import Fraction

import pytest

from tests.builders import AFTER, DURING, category, course, items, plan, roster
from tests.core.audit.looked_at import FULL, GOOD, found, of_code, only
from vinemark.core.course.course import RosterEntry
from vinemark.core.plan.plan import Category, ScaleRow


def test_weights_off_is_exact() -> None:
    """3 x 33.33 is due (99.99), three exact thirds are not."""
    near = plan(*(category("1", weight="33.33", prefix=p) for p in "abc"))
    thirds = plan(*(category("1", weight="100/3", prefix=p) for p in "abc"))
    finding = only(course(near, {"ada": ["1", "1", "1"]}), "weights-off")
    assert "99.99 of 100: 0.01 left to assign" in finding.message
    assert finding.level == "stop"
    assert found(course(thirds, {"ada": ["1", "1", "1"]})) == []
    assert found(course(replace(near, basis="points"), {"ada": ["1", "1", "1"]})) == []


def test_category_empty() -> None:
    empty = Category("lab", "Labs", Fraction(50))
    of = plan(category("10", weight="50"), empty)
    assert found(course(of, {"ada": ["9"]})) == [("category-empty", "lab")]
    free = plan(category("10"), replace(empty, weight=Fraction(0)))
    assert found(course(free, {"ada": ["9"]})) == []


def test_a_category_with_planned_items_is_not_empty_while_the_term_runs() -> None:
    planned = Category("lab", "Labs", Fraction(50), items=items("10", prefix="l", counts=False, due=date(2026, 12, 1)))
    of = course(plan(category("10", weight="50"), planned), {"ada": ["9"]})
    assert found(of, DURING) == []
    assert found(of, AFTER) == [("category-empty", "lab"), ("item-planned", "lab")]
    assert found(of, date(2026, 12, 2)) == [("category-empty", "lab"), ("item-planned", "lab")]


def test_scale_hole() -> None:
    broken = replace(GOOD, scale=(ScaleRow("A", Fraction(90)),))
    none = replace(GOOD, scale=())
    assert "the lowest letter must start at 0" in only(course(broken, FULL), "scale-hole").message
    assert found(course(none, FULL)) == [("scale-hole", None)]
    on_pass = {s: RosterEntry(s, s.capitalize(), "Mai", basis="pass") for s in FULL}
    assert found(course(none, FULL, roster(*FULL, **on_pass))) == []


def test_a_category_that_weighs_nothing_is_said_with_how_many_items_it_holds() -> None:
    none = category("10", "10", weight="0", prefix="j")
    of = course(plan(*GOOD.categories, none), {"ada": ["9", "8", "1", "1"]})
    assert only(of, "weight-zero").message == "Category j has a weight of 0, so its 2 items change no grade."
    single = course(plan(*GOOD.categories, category("10", weight=None, prefix="j")), {"ada": ["9", "8", "1"]})
    assert only(single, "weight-zero").message == "Category j has a weight of 0, so its 1 item changes no grade."
    assert of_code(replace(of, plan=replace(of.plan, basis="points")), "weight-zero") == []
    assert list(only(of, "weight-zero").evidence) == ["J 0: 10 points", "J 1: 10 points"]


def test_the_one_category_that_lacks_a_weight_is_given_what_is_open() -> None:
    of = course(plan(category("1", weight="60"), category("1", weight=None, prefix="j")), {"ada": ["1", "1"]})
    facts = only(of, "weights-off").facts
    assert (facts.target, facts.amount) == ("c-j", 40)
    two = course(plan(*(category("1", weight=None, prefix=p) for p in "ab")), {"ada": ["1", "1"]})
    assert only(two, "weights-off").facts.amount is None
    over = course(plan(category("1", weight="120"), category("1", weight=None, prefix="j")), {"ada": ["1", "1"]})
    assert only(over, "weights-off").facts.amount is None


@pytest.mark.parametrize(
    ("shares", "due"),
    [
        (["50", "50"], False),
        (["50", "50.01"], False),
        (["50", "50.011"], True),
        (["16.67"] * 6, False),
        (["16.7"] * 6, True),
        (["40", "50"], True),
    ],
)
def test_own_shares_may_miss_by_half_a_hundredth_an_item(shares: list[str], due: bool) -> None:
    own = replace(category(*["10"] * len(shares)), split="own_shares")
    own = replace(own, items=tuple(replace(i, share=Fraction(s)) for i, s in zip(own.items, shares, strict=True)))
    of = course(plan(own), {"ada": ["9"] * len(shares)})
    assert bool(of_code(of, "shares-off")) is due
    assert of_code(replace(of, plan=plan(own, basis="points")), "shares-off") == []


@pytest.mark.parametrize("name", ["Bonus quiz", "Extra credit: map", "extra-credit", "Extra points 2"])
def test_a_name_that_says_extra_credit_counts_as_regular_work(name: str) -> None:
    named = replace(
        GOOD.categories[0], items=(replace(GOOD.categories[0].items[0], name=name), GOOD.categories[0].items[1])
    )
    of = course(plan(named), FULL)
    assert only(of, "extra-unmarked").item == "i0"
    whole = course(plan(replace(GOOD.categories[0], name=name)), FULL)
    assert [(f.category, f.item) for f in of_code(whole, "extra-unmarked")] == [("c-i", None)]
    bonus = replace(category("5", weight="5", prefix="x"), name=name, extra=True)
    assert of_code(course(plan(*GOOD.categories, bonus), {"ada": ["9", "8", "3"]}), "extra-unmarked") == []


def test_a_name_with_extra_in_another_word_is_nothing() -> None:
    named = replace(GOOD.categories[0], name="Extraction labs")
    assert of_code(course(plan(named), FULL), "extra-unmarked") == []


@pytest.mark.parametrize(
    ("lowest", "highest", "best", "said"),
    [
        (1, 0, None, None),
        (2, 0, None, "drops so many of its 3 items that one would be left"),
        (1, 1, None, "drops so many of its 3 items that one would be left"),
        (3, 0, None, "drops so many of its 3 items that none would be left"),
        (0, 0, 2, None),
        (0, 0, 3, "keeps the best 3 of 3, so nothing is dropped"),
        (0, 1, 2, "drops so many of its 3 items that one would be left"),
        (0, 2, 2, "drops so many of its 3 items that none would be left"),
    ],
)
def test_drops_that_leave_too_little(lowest: int, highest: int, best: int | None, said: str | None) -> None:
    dropping = replace(category("10", "10", "10"), drop_lowest=lowest, drop_highest=highest, keep_best=best)
    findings = of_code(course(plan(dropping), {"ada": ["9", "8", "7"]}), "drop-too-many")
    assert [f.message for f in findings] == ([f"Category i {said}."] if said else [])
    assert [list(f.evidence) for f in findings] == [["I 0: 10 points", "I 1: 10 points", "I 2: 10 points"]] * bool(said)


def test_the_evidence_of_a_drop_lists_what_it_takes_from() -> None:
    mixed = category("10", "10", "1", "5")
    items = (*mixed.items[:2], replace(mixed.items[2], extra=True), replace(mixed.items[3], counts=False))
    of = course(plan(replace(mixed, drop_lowest=2, items=items)), {"ada": ["9", "8", "1"]})
    assert list(only(of, "drop-too-many").evidence) == ["I 0: 10 points", "I 1: 10 points"]
    empty = replace(mixed, items=items[2:])
    said = only(course(plan(empty), {"ada": ["1"]}), "category-empty").evidence
    assert list(said) == ["I 2: 1 point, extra credit", "I 3: does not count yet"]


def test_one_of_two_dropped_is_usual_and_two_of_two_are_not() -> None:
    for count, due in ((1, False), (2, True)):
        of = course(plan(replace(category("10", "10"), drop_lowest=count)), FULL)
        assert bool(of_code(of, "drop-too-many")) is due


def test_another_drop_would_help_more_only_where_points_differ() -> None:
    """80 of 100, 20 of 100 and 1 of 20: the lowest percent drops 1 of 20, dropping 20 of 100 leaves more."""
    uneven = replace(category("100", "100", "20"), drop_lowest=1, drop_by="lowest_percent")
    of = course(plan(uneven), {"ada": ["80", "20", "1"], "bo": ["50", "50", "1"]})
    finding = only(of, "drop-unfair")
    assert "for 1 of 2 students" in finding.message
    assert finding.evidence == ["Mai Ada: 50.00% in Category i, 67.50% with the best drop."]
    even = replace(uneven, split="even")
    assert of_code(course(plan(even), {"ada": ["80", "20", "1"]}), "drop-unfair") == []
    by_points = course(plan(even, basis="points"), {"ada": ["80", "20", "1"]})
    assert len(of_code(by_points, "drop-unfair")) == 1


def test_a_planned_item_whose_day_is_over() -> None:
    one, two = GOOD.categories[0].items
    planned = replace(GOOD.categories[0], items=(one, replace(two, counts=False, due=date(2026, 11, 1))))
    of = course(plan(planned), {"ada": ["9", "8"], "bo": ["9", None]})
    assert of_code(of, "item-planned", date(2026, 11, 1)) == []
    (finding,) = of_code(of, "item-planned", date(2026, 11, 2))
    assert finding.message == "I 1 does not count yet; it was due Nov 1, 2026."
    assert finding.evidence == ["1 of 2 students have a score on it."]
    undated = replace(planned, items=(one, replace(two, counts=False)))
    (finding,) = of_code(course(plan(undated), FULL), "item-planned")
    assert finding.message.endswith("it has no date, and the term has ended.")


def test_the_later_of_two_names_alike_is_named() -> None:
    twice = plan(category("10", weight="50"), replace(category("10", weight="50", prefix="j"), name="CATEGORY  I"))
    assert only(course(twice, FULL), "same-name").category == "c-j"
    items_alike = replace(category("10", "10"), items=tuple(replace(i, name="Map") for i in category("10", "10").items))
    assert only(course(plan(items_alike), FULL), "same-name").item == "i1"


def test_an_item_belongs_where_its_name_fits() -> None:
    quizzes = replace(category("10", "10", weight="50", prefix="q"), name="Quizzes")
    quizzes = replace(quizzes, items=tuple(replace(i, name=f"Quiz {n}") for n, i in enumerate(quizzes.items, 1)))
    labs = replace(category("10", "10", weight="50", prefix="l"), name="Labs")
    stray = replace(labs, items=(replace(labs.items[0], name="Lab 1"), replace(labs.items[1], name="Quiz 3")))
    finding = only(course(plan(quizzes, stray), {"ada": ["9", "8", "7", "9"]}), "misfiled")
    assert (finding.item, finding.facts.target) == ("l1", "c-q")
    bonus = replace(stray, extra=True, weight=Fraction(5))
    full = replace(quizzes, weight=Fraction(100))
    assert len(of_code(course(plan(full, bonus), {"ada": ["9", "8", "7", "9"]}), "misfiled")) == 1
