"""Moments across hours that come twice or never. The changes of Central Time in 2026 (back on Nov 1, forward on Mar 8,
at 2:00) are those of the IANA database; RFC 3339, 5.6 is the way in which a moment is written."""

import re
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
import time_machine
from hypothesis import given
from hypothesis import strategies as st

from vinemark.clock import Clock
from vinemark.core.base.moments import (
    college_time,
    elapsed,
    find_zone,
    later,
    moment_of,
    stamp,
    use_zone,
    wall_clock,
)
from vinemark.core.base.refused import Refused

CENTRAL = ZoneInfo("America/Chicago")
TWICE = datetime(2026, 11, 1, 1, 30)
INSTANTS = st.integers(
    int(datetime(2026, 10, 31, tzinfo=UTC).timestamp()), int(datetime(2026, 11, 3, tzinfo=UTC).timestamp())
)


@pytest.fixture(autouse=True)
def central_time() -> Iterator[None]:
    use_zone(CENTRAL)
    yield
    use_zone(None)


def test_an_hour_that_comes_twice_is_told_apart() -> None:
    assert stamp(TWICE) == "2026-11-01T01:30:00-05:00"
    assert stamp(TWICE.replace(fold=1)) == "2026-11-01T01:30:00-06:00"
    for text in ("2026-11-01T01:30:00-05:00", "2026-11-01T01:30:00-06:00"):
        assert moment_of(text) == TWICE
        assert stamp(moment_of(text)) == text


def test_what_is_later_is_so_by_the_time_that_passed() -> None:
    assert stamp(later(TWICE, timedelta(minutes=40))) == "2026-11-01T01:10:00-06:00"
    assert stamp(later(TWICE.replace(fold=1), -timedelta(hours=1))) == "2026-11-01T01:30:00-05:00"
    assert later(datetime(2026, 3, 8, 1, 59), timedelta(minutes=1)) == datetime(2026, 3, 8, 3, 0)
    assert elapsed(TWICE, TWICE.replace(fold=1)) == timedelta(hours=1)
    assert elapsed(datetime(2026, 3, 8, 1), datetime(2026, 3, 8, 3)) == timedelta(hours=1)


def test_moments_from_elsewhere_are_told_by_the_colleges_clock() -> None:
    assert moment_of("2026-12-20T03:00:00Z") == datetime(2026, 12, 19, 21)
    assert moment_of("2026-12-19T21:00:00") == datetime(2026, 12, 19, 21)
    assert college_time(datetime(2026, 12, 20, 3, tzinfo=UTC)) == datetime(2026, 12, 19, 21)


@given(INSTANTS, INSTANTS)
def test_order_and_distance_of_what_is_kept_are_those_of_the_instants(one: int, other: int) -> None:
    first, second = (college_time(datetime.fromtimestamp(at, UTC)) for at in (one, other))
    kept = [datetime.fromisoformat(stamp(at)) for at in (first, second)]
    assert [at.timestamp() for at in kept] == [one, other]
    assert elapsed(first, second) == timedelta(seconds=other - one)
    assert stamp(later(first, timedelta(seconds=other - one))) == stamp(second)
    assert all(re.fullmatch(r"\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d-0[56]:00", stamp(at)) for at in (first, second))


def test_the_clock_of_the_machine_is_gone_by_without_a_zone() -> None:
    use_zone(None)
    here = datetime(2026, 7, 1, 12).astimezone()
    assert stamp(datetime(2026, 7, 1, 12)) == here.isoformat(timespec="seconds")
    assert moment_of(here.astimezone(UTC).isoformat()) == datetime(2026, 7, 1, 12)


def test_the_application_sees_the_hour_come_twice() -> None:
    seen = []
    for minutes in (0, 60, 120):
        with time_machine.travel(datetime(2026, 11, 1, 6, 30, tzinfo=UTC) + timedelta(minutes=minutes), tick=False):
            assert wall_clock() == Clock().now()
            seen.append(stamp(Clock().now()))
    assert seen == ["2026-11-01T01:30:00-05:00", "2026-11-01T01:30:00-06:00", "2026-11-01T02:30:00-06:00"]


@pytest.mark.parametrize("name", ["Chicago", "America/Nowhere", "../etc/passwd", "-6"])
def test_a_zone_that_is_none_is_refused(name: str) -> None:
    with pytest.raises(Refused, match="America/Chicago"):
        find_zone(name)


def test_without_a_name_the_machines_zone_is_meant() -> None:
    assert find_zone("") is None
    assert find_zone("America/Chicago") == CENTRAL
