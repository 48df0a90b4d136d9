"""What weights and items come to."""

from dataclasses import replace
from fractions import Fraction

from tests.builders import AFTER, DURING, category, course, items, plan
from vinemark.core.grade.examples import basis_choices, extra_words
from vinemark.core.plan.plan import Category
from vinemark.core.plan.worth import counts_times_points, item_worth, weights_now, worth_words


def test_weights_now_while_a_category_has_no_scores() -> None:
    """Arithmetic: 40 and 50 of 90 are in force 44.444444 and 55.555556; scored alone, 40 is 100."""
    of = plan(category("10", weight="40"), category("10", weight="50", prefix="j"))
    both = course(of, {"ada": ["5", "5"]})
    assert weights_now(of, both.recorded_items, AFTER) == {"c-i": Fraction(400, 9), "c-j": Fraction(500, 9)}
    assert weights_now(of, course(of, {"ada": ["5"]}).recorded_items, AFTER) == {"c-i": 100}
    assert weights_now(of, course(of, {"ada": ["exempt"]}).recorded_items, AFTER) == {}
    zeros = plan(category("10", weight="40", blanks="zero"), category("10", weight="50", prefix="j"))
    assert weights_now(zeros, course(zeros, {"ada": []}).recorded_items, AFTER) == {"c-i": 100}


def test_what_an_item_is_worth() -> None:
    """Common practice: a category of 50 with four items, then five: 12.5, then 10 points of the final grade each."""
    four, five = (plan(category(*["7"] * n, weight="50", split="even")) for n in (4, 5))
    assert set(item_worth(four, four.categories[0]).values()) == {Fraction("12.5")}
    assert worth_words(five, five.categories[0]) == "Each is worth 10 points of the final grade."
    dropped = plan(category(*["7"] * 5, weight="50", split="even", drop_lowest=1))
    assert worth_words(dropped, dropped.categories[0]) == "Each is worth 12.5 points of the final grade."
    mixed = plan(category("5", "10", weight="15"))
    assert worth_words(mixed, mixed.categories[0]) == "Items are worth 5 to 10 points of the final grade."
    points = plan(category("25", "75"), basis="points")
    assert worth_words(points, points.categories[0]) == "Items are worth 25 to 75 points of the final grade."


def test_counts_times_points() -> None:
    """Common practice, arithmetic: 10 x 10 + 2 x 50 + 5 x 10 = 250."""
    assert counts_times_points(items(*["10"] * 10, "50", "50", *["10"] * 5)) == "10 × 10 + 2 × 50 + 5 × 10 = 250"
    assert counts_times_points(items("12.5")) == "12.5"
    assert counts_times_points(()) == ""


def test_both_bases_on_the_sections_own_categories() -> None:
    """Arithmetic: all of 40% (10 points) and 60% of 60% (90 points): weighted 76, by points 64."""
    of = plan(category("10", weight="40"), category("90", weight="60", prefix="j"))
    weighted, points = basis_choices(of)
    assert weighted.label.endswith("all of Category i and 60% of the rest: 76%")
    assert points.label.endswith("all of Category i and 60% of the rest: 64%")
    assert len(basis_choices(plan())) == 2


def test_what_a_full_and_an_empty_extra_item_do_to_a_student_at_80() -> None:
    """Arithmetic: 8 of 10 and 2 more on top are 10 of 10; as a category up to 5 percent, 85."""
    inside = plan(Category("c", "Quizzes", Fraction(100), items=(*items("10"), *items("2", prefix="x", extra=True))))
    assert extra_words(inside, inside.categories[0]) == (
        "A student at 80% without it gets 100% with X 0 in full; left blank it changes nothing."
    )
    on_top = plan(category("10"), replace(category("1", weight="5", prefix="x"), extra=True))
    assert "gets 85% with" in extra_words(on_top, on_top.categories[1])
    assert extra_words(on_top, on_top.categories[0]) == ""
    assert extra_words(plan(), category("1", extra=True)) == ""


def test_dates_matter_to_blanks_that_count_once_due() -> None:
    of = plan(Category("c", "C", Fraction(60), blanks="zero_when_due", items=items("5", due=DURING)))
    assert weights_now(of, course(of, {"ada": []}).recorded_items, DURING) == {}
    assert weights_now(of, course(of, {"ada": []}).recorded_items, AFTER) == {"c": 100}


def test_a_category_without_a_weight_has_none_of_what_is_in_force() -> None:
    of = plan(category("10", weight="40"), category("10", weight=None, prefix="j"))
    both = course(of, {"ada": ["5", "5"]})
    assert weights_now(of, both.recorded_items, AFTER) == {"c-i": 100, "c-j": 0}
    none = plan(category("10", weight=None))
    assert weights_now(none, course(none, {"ada": ["5"]}).recorded_items, AFTER) == {}
