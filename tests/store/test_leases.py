"""Leases: what only one process may do at a time."""

from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from tests.store.conftest import AT, Kept
from vinemark.core.base.moments import later, use_zone
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


def test_one_from_before_the_clock_was_set_back_holds_nobody_up(kept: Kept) -> None:
    assert hold(kept.connection, "delivery", "one", AT, AT + MINUTE)
    day_before = AT - timedelta(days=1)
    assert hold(kept.connection, "delivery", "two", day_before, day_before + MINUTE)
    assert not hold(kept.connection, "delivery", "one", day_before, day_before + MINUTE)


def test_an_hour_that_comes_twice_lengthens_none(kept: Kept) -> None:
    use_zone(ZoneInfo("America/Chicago"))
    try:
        first = datetime(2026, 11, 1, 1, 59)
        assert hold(kept.connection, "delivery", "one", first, later(first, MINUTE))
        assert not hold(kept.connection, "delivery", "two", first, later(first, MINUTE))
        again = later(first, 2 * MINUTE)
        assert again == datetime(2026, 11, 1, 1, 1)
        assert hold(kept.connection, "delivery", "two", again, later(again, MINUTE))
    finally:
        use_zone(None)
