"""Groups of an item, kept and undone."""

import pytest

from tests.store.conftest import Kept
from vinemark.store.class_list import ClassChange, write_class
from vinemark.store.groups import grouped_items, groups_of, write_groups
from vinemark.store.history import ChangedSinceError
from vinemark.store.undo import undo_entry


def test_groups_are_kept_for_each_item_and_undone(kept: Kept) -> None:
    first = write_groups(kept.connection, kept.act(), "i0", {"ada": "1", "bo": "1"}, "groups")
    assert write_groups(kept.connection, kept.act(), "i0", {"ada": "1", "bo": "1"}, "groups") is None
    write_groups(kept.connection, kept.act(), "i1", {"ada": "2"}, "groups")
    assert grouped_items(kept.connection, kept.section) == ["i0", "i1"]
    assert first is not None
    undo_entry(kept.connection, kept.act(), first)
    assert groups_of(kept.connection, kept.section, "i0") == {}
    assert groups_of(kept.connection, kept.section, "i1") == {"ada": "2"}


def test_an_undoing_stops_at_a_later_change(kept: Kept) -> None:
    first = write_groups(kept.connection, kept.act(), "i0", {"ada": "1"}, "groups")
    write_groups(kept.connection, kept.act(), "i0", {"bo": "1"}, "groups")
    assert first is not None
    with pytest.raises(ChangedSinceError):
        undo_entry(kept.connection, kept.act(), first)


def test_another_number_keeps_the_group(kept: Kept) -> None:
    write_groups(kept.connection, kept.act(), "i0", {"ada": "1"}, "groups")
    write_class(kept.connection, kept.act(), ClassChange(ids={"ada": "L1"}), "number")
    assert groups_of(kept.connection, kept.section, "i0") == {"L1": "1"}
