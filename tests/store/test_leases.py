"""Leases: what only one process may do at a time."""

from datetime import timedelta

from tests.store.conftest import AT, Kept
from vinemark.store.leases import hold, release

MINUTE = timedelta(minutes=1)


def test_one_holds_it_until_it_runs_out(kept: Kept) -> None:
    assert hold(kept.connection, "delivery", "one", AT, AT + MINUTE)
    assert hold(kept.connection, "delivery", "one", AT, AT + 2 * MINUTE)
    assert not hold(kept.connection, "delivery", "two", AT + MINUTE, AT + 3 * MINUTE)
    assert hold(kept.connection, "else", "two", AT, AT + MINUTE)
    assert hold(kept.connection, "delivery", "two", AT + 2 * MINUTE, AT + 3 * MINUTE)
    assert not hold(kept.connection, "delivery", "one", AT + 2 * MINUTE, AT + 3 * MINUTE)


def test_only_its_holder_gives_it_back(kept: Kept) -> None:
    assert hold(kept.connection, "delivery", "one", AT, AT + MINUTE)
    release(kept.connection, "delivery", "two")
    assert not hold(kept.connection, "delivery", "two", AT, AT + MINUTE)
    release(kept.connection, "delivery", "one")
    assert hold(kept.connection, "delivery", "two", AT, AT + MINUTE)
