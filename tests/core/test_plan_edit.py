"""Edits of a plan."""

from fractions import Fraction

import pytest

from tests.builders import category, plan
from vinemark.core.base.refused import Refused
from vinemark.core.plan import edit, items
from vinemark.core.plan.edit import TypedRow as Row
from vinemark.core.plan.items import GroupEdit
from vinemark.core.plan.items import TypedItem as Typed
from vinemark.core.plan.plan import Plan, weight_total
from vinemark.core.plan.worth import cutoffs_in_points


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
    assert caught.value.field == place


def test_rename_move_and_delete() -> None:
    of = edit.rename_category(two(), "c-i", "  Field   notebooks ")
    assert names(edit.move_category(of, "c-i", 1)) == ["Category j", "Field notebooks"]
    assert names(edit.move_category(of, "c-i", -1)) == names(of)
    assert names(edit.delete_category(of, "c-i")) == ["Category j"]
    with pytest.raises(Refused):
        edit.rename_category(of, "gone", "X")


def test_items_are_added_changed_moved_and_filed_elsewhere() -> None:
    of = items.add_item(two(), "c-j", Typed("Quiz", "12.5", "2026-10-01"))
    assert of.item("i2") is not None
    of = items.change_item(of, "i2", Typed("Quiz 1", "10"))
    found = of.item("i2")
    assert found is not None
    assert (found.name, found.points, found.due) == ("Quiz 1", 10, None)
    assert [i.id for i in items.move_item(of, "i1", -1).categories[0].items] == ["i1", "i0"]
    assert [i.id for i in items.file_item(of, "i0", "c-j").categories[1].items] == ["j0", "i2", "i0"]
    assert items.delete_item(of, "i2").item("i2") is None


@pytest.mark.parametrize(
    ("name", "points", "due", "place"),
    [("", "1", "", "name"), ("A", "0", "", "points"), ("A", "", "", "points"), ("A", "-1", "", "points"),
     ("A", "1", "soon", "due")],
)  # fmt: skip
def test_an_item_is_refused_at_its_field(name: str, points: str, due: str, place: str) -> None:
    with pytest.raises(Refused) as caught:
        items.add_item(two(), "c-i", Typed(name, points, due))
    assert caught.value.field == place


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


def test_own_shares_start_as_exact_equal_ones_and_need_one_each() -> None:
    """Arithmetic: three equal shares are exactly 100/3 each."""
    three = plan(category("10", "20", "5", weight="100"))
    own = edit.set_rule(three, "c-i", "split", "own_shares")
    assert [i.share for i in own.categories[0].items] == [Fraction(100, 3)] * 3
    changed = items.change_item(own, "i0", Typed("I 0", "10", share="50%"))
    assert changed.categories[0].items[0].share == 50
    with pytest.raises(Refused) as caught:
        items.add_item(own, "c-i", Typed("New", "10"))
    assert caught.value.field == "share"
    moved = items.file_item(plan(*own.categories, category("5", weight="0", prefix="j")), "j0", "c-i")
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
    assert items.series_names(typed) == names


def test_several_items_at_once_with_their_dates() -> None:
    of = items.add_items(two(), "c-j", Typed("Map quiz 1–3", "10", "2026-09-07"), "7")
    assert [(i.name, str(i.due)) for i in of.categories[1].items[1:]] == [
        ("Map quiz 1", "2026-09-07"), ("Map quiz 2", "2026-09-14"), ("Map quiz 3", "2026-09-21"),
    ]  # fmt: skip
    for name in ("Quiz 3–1", "Quiz 1–99"):
        with pytest.raises(Refused) as caught:
            items.add_items(two(), "c-j", Typed(name, "10"))
        assert caught.value.field == "name"


def test_an_items_own_rules() -> None:
    found = items.add_item(two(), "c-i", Typed("A", "1", extra=True, planned=True, protected=True)).item("i2")
    assert found is not None
    assert (found.extra, found.counts, found.droppable) == (True, False, False)


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


def test_an_item_put_at_a_place() -> None:
    of = two()
    assert [i.id for i in items.file_item(of, "j0", "c-i", 1).categories[0].items] == ["i0", "j0", "i1"]
    assert [i.id for i in items.file_item(of, "i0", "c-i", 1).categories[0].items] == ["i1", "i0"]
    assert [i.id for i in items.file_item(of, "i0", "c-i", 99).categories[0].items] == ["i1", "i0"]


def test_several_items_together() -> None:
    of = items.add_items(plan(category("10", weight="40"), category("5", weight="60", prefix="j")), "c-j",
                         Typed("Lab 1–3", "20", "2026-09-07", label="L"), "7")  # fmt: skip
    assert [i.label for i in of.categories[1].items] == ["", "L 1", "L 2", "L 3"]
    chosen = [i.id for i in of.categories[1].items if i.label]
    changed = items.change_items(
        of, chosen, GroupEdit(points="25", days="-7", counts="no", protected="yes", extra="yes")
    )
    made = changed.categories[1].items[1]
    assert (made.points, str(made.due), made.counts, made.droppable, made.extra) == (
        25,
        "2026-08-31",
        False,
        False,
        True,
    )
    assert changed.categories[1].items[0] == of.categories[1].items[0]
    moved = items.change_items(of, chosen, GroupEdit(category="c-i"))
    assert [i.name for i in moved.categories[0].items] == ["I 0", "Lab 1", "Lab 2", "Lab 3"]
    assert len(items.delete_items(of, chosen).categories[1].items) == 1
    for bad, place in ((GroupEdit(points="0"), "points"), (GroupEdit(days="soon"), "days")):
        with pytest.raises(Refused) as caught:
            items.change_items(of, chosen, bad)
        assert caught.value.field == place
    with pytest.raises(Refused):
        items.change_items(of, [], GroupEdit())
    with pytest.raises(Refused):
        items.change_item(of, chosen[0], Typed("Lab", "5", label="a label much too long"))


def test_an_extra_category_up_to_so_many_percent() -> None:
    of = edit.add_extra_category(two(), "Field day", "3", True)
    made = of.categories[-1]
    assert (made.extra, made.weight, made.cap) == (True, 3, 100)
    assert edit.add_extra_category(two(), "Field day", "3", False).categories[-1].cap is None


def test_a_category_with_its_items_in_one_go() -> None:
    of = items.add_filled_category(plan(), ("Map quizzes", "15"), "3", "10")
    assert [(i.name, i.points) for i in of.categories[0].items] == [(f"Map quiz {n}", 10) for n in (1, 2, 3)]
    one = items.add_filled_category(of, ("Survey report", "25"), "1", "200").categories[1]
    assert [i.name for i in one.items] == ["Survey report"]
    assert items.add_filled_category(plan(), ("Essays", "15"), "", "").categories[0].items == ()
    for number, points, place in (
        ("0", "5", "number_of"),
        ("61", "5", "number_of"),
        ("", "5", "number_of"),
        ("2", "", "points"),
    ):
        with pytest.raises(Refused) as caught:
            items.add_filled_category(plan(), ("Essays", "15"), number, points)
        assert caught.value.field == place
