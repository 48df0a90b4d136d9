"""Edits of a plan."""

from fractions import Fraction

import pytest

from tests.builders import category, plan
from tests.core.plan.two_categories import two
from vinemark.core.base.refused import Refused
from vinemark.core.plan import edit, items
from vinemark.core.plan.items import GroupEdit
from vinemark.core.plan.items import TypedItem as Typed


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
