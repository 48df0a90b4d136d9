"""Edits of a plan."""

from fractions import Fraction

import pytest

from tests.builders import category, plan
from vinemark.core import plan_edit as edit
from vinemark.core.course_format import Refused
from vinemark.core.plan import Plan, weight_total


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
    of = edit.add_item(two(), "c-j", "Quiz", "12.5", "2026-10-01")
    assert of.item("i2") is not None
    of = edit.change_item(of, "i2", "Quiz 1", "10", "")
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
        edit.add_item(two(), "c-i", name, points, due)
    assert caught.value.place == place


def test_ids_are_never_given_twice() -> None:
    of = edit.add_item(two(), "c-i", "A", "1", "")
    of = edit.add_item(edit.delete_item(of, "i0"), "c-i", "B", "1", "")
    ids = [item.id for _, item in of.items()]
    assert len(ids) == len(set(ids))


def test_rules_of_a_sentence() -> None:
    of = edit.set_rule(two(), "c-i", "split", "even")
    of = edit.set_rule(of, "c-i", "blanks", "zero")
    of = edit.set_rule(of, "c-i", "drop_lowest", "2")
    found = of.categories[0]
    assert (found.split, found.blanks, found.drop_lowest) == ("even", "zero", 2)
    for rule, value in (("split", "own_shares"), ("blanks", "never"), ("drop_lowest", "x"), ("colour", "red")):
        with pytest.raises(Refused):
            edit.set_rule(of, "c-i", rule, value)


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
