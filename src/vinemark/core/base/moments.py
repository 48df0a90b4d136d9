"""Moments: by the college's clock while the program works with them, with their distance from UTC where they are kept.

A clock that goes back an hour shows some times twice. In the program the second one has `fold` 1; in what is kept
the offset tells them apart, as RFC 3339 writes it.
"""

from datetime import UTC, datetime, timedelta, tzinfo
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from vinemark.core.base.refused import Refused

_used: list[tzinfo | None] = [None]


def find_zone(name: str) -> tzinfo | None:
    """A zone by its name in the IANA database; None, the machine's own, without a name. Raises Refused."""
    if not name:
        return None
    try:
        return ZoneInfo(name)
    except (ZoneInfoNotFoundError, ValueError, OSError):
        raise Refused("VINEMARK_ZONE", f"must be a zone like America/Chicago; there is none named {name}") from None


def use_zone(zone: tzinfo | None) -> None:
    """Go by the clock of this zone from now on; a program does it once, when it starts."""
    _used[0] = zone


def wall_clock() -> datetime:
    """The time now by the college's clock, without a zone."""
    return _by_clock(datetime.now(UTC))


def stamp(at: datetime) -> str:
    """A moment as it is kept: by the college's clock, to the second, with the offset: 2026-12-19T14:05:33-06:00."""
    return _with_offset(at).isoformat(timespec="seconds")


def moment_of(text: str) -> datetime:
    """A moment that is kept, by the college's clock; one without an offset is by it already. Raises ValueError."""
    return college_time(datetime.fromisoformat(text))


def college_time(at: datetime) -> datetime:
    """A moment by the college's clock, without a zone, whatever zone it is in."""
    return at if at.tzinfo is None else _by_clock(at)


def later(at: datetime, by: timedelta) -> datetime:
    """The moment that is so much later, or earlier, also across an hour that comes twice or never."""
    return _by_clock(_with_offset(at).astimezone(UTC) + by)


def elapsed(since: datetime, until: datetime) -> timedelta:
    """How long it is from one moment to another, also across an hour that comes twice or never."""
    return _with_offset(until).astimezone(UTC) - _with_offset(since).astimezone(UTC)


def _with_offset(at: datetime) -> datetime:
    return at.replace(tzinfo=_used[0]) if at.tzinfo is None and _used[0] else at.astimezone(_used[0])


def _by_clock(at: datetime) -> datetime:
    """By the college's clock, with its fold."""
    if _used[0]:
        return at.astimezone(_used[0]).replace(tzinfo=None)
    return datetime.fromtimestamp(at.timestamp())
