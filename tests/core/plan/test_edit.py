"""Edits of a plan."""

from dataclasses import replace
from fractions import Fraction

import pytest

from tests.builders import category, plan
from tests.core.plan.two_categories import names, two
from vinemark.core.base.number import exact_text
from vinemark.core.base.refused import Refused
from vinemark.core.plan import edit, items
from vinemark.core.plan.edit import TypedRow as Row
from vinemark.core.plan.items import TypedItem as Typed
from vinemark.core.plan.plan import Plan, weight_total
from vinemark.core.plan.worth import cutoffs_in_points


def test_typed_weights_are_taken_exactly_and_never_rescaled() -> None:
    """20 + 50 + 20 + 20 is 110, 10 too much, and stays so (shared checks: arithmetic)."""
    of = edit.empty_plan()
    for name, weight in (("A", "20"), ("B", "50%"), ("C", "20"), ("D", " 20 ")):
        of = edit.add_category(of, name, weight)
    assert [c.weight for c in of.categories] == [20, 50, 20, 20]
    assert weight_total(of) == 110
    assert edit.set_weight(of, "c1", "100/3").categories[0].weight == Fraction(100, 3)


@pytest.mark.parametrize(
    ("name", "weight", "place"),
    [("", "10", "name"), ("  ", "10", "name"), ("x" * 121, "10", "name"), ("A", "", "weight"), ("A", "ten", "weight")],
)
def test_a_category_is_refused_at_its_field(name: str, weight: str, place: str) -> None:
    with pytest.raises(Refused) as caught:
        edit.add_category(edit.empty_plan(), name, weight)
    assert caught.value.field == place


def test_rename_move_and_delete() -> None:
    of = edit.rename_category(two(), "c-i", "  Field   notebooks ")
    assert names(edit.move_category(of, "c-i", 1)) == ["Category j", "Field notebooks"]
    assert names(edit.move_category(of, "c-i", -1)) == names(of)
    assert names(edit.delete_category(of, "c-i")) == ["Category j"]
    with pytest.raises(Refused):
        edit.rename_category(of, "gone", "X")


def test_ids_are_never_given_twice() -> None:
    of = items.add_item(two(), "c-i", Typed("A", "1"))
    of = items.add_item(items.delete_item(of, "i0"), "c-i", Typed("B", "1"))
    ids = [item.id for _, item in of.items()]
    assert len(ids) == len(set(ids))


def test_rules_of_a_sentence() -> None:
    of = two()
    for rule, value in (("split", "even"), ("blanks", "zero"), ("drops", "lowest 2"), ("drops", "highest 1"),
                        ("drop_by", "lowest_percent"), ("ceiling", "105%"), ("extra", "yes")):  # fmt: skip
        of = edit.set_rule(of, "c-i", rule, value)
    found = of.categories[0]
    assert (found.split, found.blanks, found.drop_lowest, found.drop_highest) == ("even", "zero", 2, 1)
    assert (found.drop_by, found.cap, found.extra) == ("lowest_percent", 105, True)
    assert edit.set_rule(of, "c-i", "ceiling", "none").categories[0].cap is None


def test_keep_best_takes_the_place_of_drop_lowest_and_back() -> None:
    best = edit.set_rule(edit.set_rule(two(), "c-i", "drops", "lowest 1"), "c-i", "drops", "best 1")
    assert (best.categories[0].keep_best, best.categories[0].drop_lowest) == (1, 0)
    lowest = edit.set_rule(best, "c-i", "drops", "lowest 1")
    assert (lowest.categories[0].keep_best, lowest.categories[0].drop_lowest) == (None, 1)


@pytest.mark.parametrize(
    ("rule", "value"),
    [("blanks", "never"), ("drops", "lowest x"), ("drops", "best 0"), ("drops", "most 1"), ("ceiling", "0"),
     ("ceiling", "high"), ("colour", "red"), ("drop_by", "luck")],
)  # fmt: skip
def test_a_rule_that_makes_no_sense_is_refused(rule: str, value: str) -> None:
    with pytest.raises(Refused):
        edit.set_rule(two(), "c-i", rule, value)


def test_a_cap_for_the_course() -> None:
    assert edit.set_course_cap(two(), "100").cap == 100
    assert edit.set_course_cap(two(), "none").cap is None


def test_basis_and_rounding() -> None:
    points = edit.set_basis(two(), "points")
    assert edit.set_basis(points, "weighted") == two()
    assert edit.set_rounding(two(), "none", "exact").rounding is None
    rounding = edit.set_rounding(two(), "2", "exact").rounding
    assert rounding is not None
    assert (rounding.decimals, rounding.letter_uses) == (2, "exact")
    with pytest.raises(Refused):
        edit.set_rounding(two(), "9", "rounded")


def test_a_scale_from_typed_rows() -> None:
    of = edit.set_scale(two(), [Row("A−", "90"), Row("", ""), Row("F", "0")])
    assert [(r.letter, r.cutoff) for r in of.scale] == [("A-", 90), ("F", 0)]
    with pytest.raises(Refused) as caught:
        edit.set_scale(two(), [Row("A", "90"), Row("B", "x")])
    assert caught.value.field == "from-1"
    with pytest.raises(Refused) as caught:
        edit.set_scale(two(), [Row("", "90")])
    assert caught.value.field == "letter-0"


def test_a_scale_in_points_of_the_course() -> None:
    """Arithmetic: on 250 points cutoffs of 90, 80, 70, 60 percent are 225, 200, 175, 150; 188 is 75.2."""
    of = plan(category("100", "100", "50", weight=None), basis="points")
    assert [str(v) for v in cutoffs_in_points(of).values()] == ["225", "200", "175", "150", "0"]
    changed = edit.set_scale(of, [Row("A", "90", "188", "225"), Row("F", "0", "0", "0")])
    assert [r.cutoff for r in changed.scale] == [Fraction("75.2"), 0]
    with pytest.raises(Refused) as caught:
        edit.set_scale(plan(basis="points"), [Row("A", "", "10", "")])
    assert caught.value.field == "points-0"


def test_an_id_that_ever_was_is_not_given_again() -> None:
    """The scores of a deleted item stay kept under its id: a new item must not find them there."""
    of = items.delete_item(items.add_item(two(), "c-i", Typed("Late", "5")), "i2")
    assert [i.id for i in items.add_item(of, "c-i", Typed("New", "5"), {"i2"}).categories[0].items] == [
        "i0", "i1", "i3",
    ]  # fmt: skip
    assert edit.add_category(two(), "More", "1", {"c7"}).categories[-1].id == "c8"


def test_an_extra_category_up_to_so_many_percent() -> None:
    of = edit.add_extra_category(two(), "Field day", "3", True)
    made = of.categories[-1]
    assert (made.extra, made.weight, made.cap) == (True, 3, 100)
    assert edit.add_extra_category(two(), "Field day", "3", False).categories[-1].cap is None


def test_a_letter_has_at_most_eight_characters() -> None:
    assert edit.set_scale(two(), [Row("A" * 8, "90"), Row("F", "0")]).scale[0].letter == "A" * 8
    with pytest.raises(Refused) as caught:
        edit.set_scale(two(), [Row("A" * 9, "90"), Row("F", "0")])
    assert caught.value.field == "letter-0"


POINTS = replace(plan(category("150", "100")), basis="points")


@pytest.mark.parametrize(
    ("text", "cutoffs"),
    [
        ("A 225-250\nB 200-224\nC 0-199", ["90", "80", "0"]),
        ("A 225\nB 200\nF 0", ["90", "80", "0"]),
        ("A 90 points\nF 0 points", ["36", "0"]),
        ("A 90-100\nF 0-89", ["90", "0"]),
        ("A 90%\nF 0%", ["90", "0"]),
    ],
)
def test_a_pasted_scale_of_a_points_plan_may_be_in_its_points(text: str, cutoffs: list[str]) -> None:
    assert [exact_text(row.cutoff) for row in edit.paste_scale(POINTS, text).scale] == cutoffs


def test_up_to_the_sum_of_a_small_plan_is_points_unless_it_says_percent() -> None:
    small = replace(plan(category("50", "30")), basis="points")
    assert [exact_text(row.cutoff) for row in edit.paste_scale(small, "A 72-80\nF 0-71").scale] == ["90", "0"]
    assert [exact_text(row.cutoff) for row in edit.paste_scale(small, "A 72-80%\nF 0-71%").scale] == ["72", "0"]
    assert [exact_text(row.cutoff) for row in edit.paste_scale(small, "A 72\nF 0").scale] == ["72", "0"]


@pytest.mark.parametrize(
    ("of", "text", "words"),
    [
        (plan(category("10")), "A 225\nF 0", "225 is more than 100 percent, and this plan goes by weights"),
        (POINTS, "A 900-1000\nF 0-899", "1000 is more than the 250 points of the plan"),
        (replace(plan(), basis="points"), "A 225\nF 0", "needs items with points first"),
    ],
)
def test_a_pasted_scale_that_cannot_be_meant_is_refused(of: Plan, text: str, words: str) -> None:
    with pytest.raises(Refused, match=words):
        edit.paste_scale(of, text)
