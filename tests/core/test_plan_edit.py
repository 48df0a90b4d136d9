"""Edits of a plan."""

from fractions import Fraction

import pytest

from tests.builders import category, plan
from vinemark.core import plan_edit as edit
from vinemark.core.course_format import Refused
from vinemark.core.plan import Plan, weight_total
from vinemark.core.plan_edit import TypedItem as Typed


def two() -> Plan:
    return plan(category("10", "20", weight="40"), category("5", weight="60", prefix="j"))


def names(of: Plan) -> list[str]:
    return [c.name for c in of.categories]


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
    assert caught.value.place == place


def test_rename_move_and_delete() -> None:
    of = edit.rename_category(two(), "c-i", "  Field   notebooks ")
    assert names(edit.move_category(of, "c-i", 1)) == ["Category j", "Field notebooks"]
    assert names(edit.move_category(of, "c-i", -1)) == names(of)
    assert names(edit.delete_category(of, "c-i")) == ["Category j"]
    with pytest.raises(Refused):
        edit.rename_category(of, "gone", "X")


def test_items_are_added_changed_moved_and_filed_elsewhere() -> None:
    of = edit.add_item(two(), "c-j", Typed("Quiz", "12.5", "2026-10-01"))
    assert of.item("i2") is not None
    of = edit.change_item(of, "i2", Typed("Quiz 1", "10"))
    found = of.item("i2")
    assert found is not None
    assert (found.name, found.points, found.due) == ("Quiz 1", 10, None)
    assert [i.id for i in edit.move_item(of, "i1", -1).categories[0].items] == ["i1", "i0"]
    assert [i.id for i in edit.file_item(of, "i0", "c-j").categories[1].items] == ["j0", "i2", "i0"]
    assert edit.delete_item(of, "i2").item("i2") is None


@pytest.mark.parametrize(
    ("name", "points", "due", "place"),
    [("", "1", "", "name"), ("A", "0", "", "points"), ("A", "", "", "points"), ("A", "-1", "", "points"),
     ("A", "1", "soon", "due")],
)  # fmt: skip
def test_an_item_is_refused_at_its_field(name: str, points: str, due: str, place: str) -> None:
    with pytest.raises(Refused) as caught:
        edit.add_item(two(), "c-i", Typed(name, points, due))
    assert caught.value.place == place


def test_ids_are_never_given_twice() -> None:
    of = edit.add_item(two(), "c-i", Typed("A", "1"))
    of = edit.add_item(edit.delete_item(of, "i0"), "c-i", Typed("B", "1"))
    ids = [item.id for _, item in of.items()]
    assert len(ids) == len(set(ids))


def test_rules_of_a_sentence() -> None:
    of = two()
    for rule, value in (("split", "even"), ("blanks", "zero"), ("drops", "lowest 2"), ("drops", "highest 1"),
                        ("drop_by", "lowest_percent"), ("ceiling", "105%"), ("extra", "yes")):  # fmt: skip
        of = edit.set_rule(of, "c-i", rule, value)
    found = of.categories[0]
    assert (found.split, found.blanks, found.drop_lowest, found.drop_highest) == ("even", "zero", 2, 1)
    assert (found.drop_by, found.ceiling, found.extra) == ("lowest_percent", 105, True)
    assert edit.set_rule(of, "c-i", "ceiling", "none").categories[0].ceiling is None


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


def test_own_shares_start_as_exact_equal_ones_and_need_one_each() -> None:
    """Arithmetic: three equal shares are exactly 100/3 each."""
    three = plan(category("10", "20", "5", weight="100"))
    own = edit.set_rule(three, "c-i", "split", "own_shares")
    assert [i.share for i in own.categories[0].items] == [Fraction(100, 3)] * 3
    changed = edit.change_item(own, "i0", Typed("I 0", "10", share="50%"))
    assert changed.categories[0].items[0].share == 50
    with pytest.raises(Refused) as caught:
        edit.add_item(own, "c-i", Typed("New", "10"))
    assert caught.value.place == "share"
    moved = edit.file_item(plan(*own.categories, category("5", weight="0", prefix="j")), "j0", "c-i")
    assert moved.categories[0].items[3].share == 25


@pytest.mark.parametrize(
    ("typed", "names"),
    [
        ("Map quiz 1–3", ["Map quiz 1", "Map quiz 2", "Map quiz 3"]),
        ("Lab 9 - 11", ["Lab 9", "Lab 10", "Lab 11"]),
        ("Week 2 to 3", ["Week 2", "Week 3"]),
        ("Quiz", ["Quiz"]),
        ("Essay 1", ["Essay 1"]),
        ("2026-27 report", ["2026-27 report"]),
    ],
)
def test_a_typed_name_can_stand_for_several(typed: str, names: list[str]) -> None:
    assert edit.series_names(typed) == names


def test_several_items_at_once_with_their_dates() -> None:
    of = edit.add_items(two(), "c-j", Typed("Map quiz 1–3", "10", "2026-09-07"), "7")
    assert [(i.name, str(i.due)) for i in of.categories[1].items[1:]] == [
        ("Map quiz 1", "2026-09-07"), ("Map quiz 2", "2026-09-14"), ("Map quiz 3", "2026-09-21"),
    ]  # fmt: skip
    for name in ("Quiz 3–1", "Quiz 1–99"):
        with pytest.raises(Refused) as caught:
            edit.add_items(two(), "c-j", Typed(name, "10"))
        assert caught.value.place == "name"


def test_an_items_own_rules() -> None:
    found = edit.add_item(two(), "c-i", Typed("A", "1", extra=True, planned=True, protected=True)).item("i2")
    assert found is not None
    assert (found.extra, found.counts, found.droppable) == (True, False, False)


def test_a_ceiling_for_the_course() -> None:
    assert edit.set_course_ceiling(two(), "100").ceiling == 100
    assert edit.set_course_ceiling(two(), "none").ceiling is None


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
    of = edit.set_scale(two(), [("A−", "90"), ("", ""), ("F", "0")])
    assert [(r.letter, r.cutoff) for r in of.scale] == [("A-", 90), ("F", 0)]
    with pytest.raises(Refused) as caught:
        edit.set_scale(two(), [("A", "90"), ("B", "x")])
    assert caught.value.place == "from-1"
    with pytest.raises(Refused) as caught:
        edit.set_scale(two(), [("", "90")])
    assert caught.value.place == "letter-0"
