"""When the registrar takes grades: the window of each run, and its daily transfers, in which edits would collide.

A window takes its first second and its last; a transfer runs from its start up to, not including, its end.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime, time, timedelta
from typing import Literal

from vinemark.core.base.dates import clock_words, time_words
from vinemark.core.course.course import Run

MINUTES_A_DAY = 24 * 60
LONGEST_CHAIN = 4


@dataclass(frozen=True)
class Window:
    """When a run opens and when it is due; local time."""

    opens: datetime
    due: datetime


@dataclass(frozen=True)
class Transfer:
    """A while each day in which the registrar takes nothing; one that ends before it starts goes past midnight."""

    start: time
    end: time

    def ends_after(self, now: datetime) -> datetime | None:
        """When the transfer that runs now ends; None where it does not run."""
        for day in (now.date() - timedelta(days=1), now.date()):
            start, end = datetime.combine(day, self.start), datetime.combine(day, self.end)
            if end <= start:
                end += timedelta(days=1)
            if start <= now < end:
                return end
        return None

    def __str__(self) -> str:
        return f"{self.start:%H:%M} to {self.end:%H:%M}"


@dataclass(frozen=True)
class OfficeHours:
    """The registrar's windows by run, and its daily transfers."""

    windows: Mapping[Run, Window] = field(default_factory=dict)
    transfers: tuple[Transfer, ...] = ()


@dataclass(frozen=True)
class Gate:
    """Whether a sending can go now: `open`, `waits` until a time, or `closed` for good; with the reason."""

    state: Literal["open", "waits", "closed"]
    reason: str = ""
    until: datetime | None = None


def gate(hours: OfficeHours, run: Run, now: datetime) -> Gate:
    """Whether the registrar takes a sending of a run now.

    Before the window opens and inside a transfer a sending waits. Where the wait would end after the run is due,
    it cannot go any more, and that is said at once.
    """
    window = hours.windows.get(run)
    if window is None:
        return Gate("closed", f"the registrar has no {run} run for this section")
    if now > window.due:
        return Gate("closed", f"the {run} run closed {time_words(window.due)}")
    until, reason = _free_from(hours, max(now, window.opens))
    if now < window.opens:
        reason = f"the {run} run opens {time_words(window.opens)}"
    if not reason:
        return Gate("open")
    if until > window.due:
        return Gate("closed", f"{reason}, and the {run} run closes {time_words(window.due)}, before that")
    return Gate("waits", reason, until)


def _free_from(hours: OfficeHours, at: datetime) -> tuple[datetime, str]:
    """The first moment from `at` outside every transfer, and which transfer is in the way."""
    reason = ""
    for _ in range(LONGEST_CHAIN):
        ends = [(end, transfer) for transfer in hours.transfers if (end := transfer.ends_after(at)) is not None]
        if not ends:
            break
        at, transfer = max(ends, key=lambda pair: pair[0])
        reason = f"the registrar’s transfer runs until {clock_words(transfer.end)}"
    return at, reason


@dataclass(frozen=True)
class Dial:
    """One day of the registrar as a line from midnight to midnight, in minutes.

    `shut` are the transfers; `due` and `opens` are given where they fall on this day.
    """

    now: int
    shut: tuple[tuple[int, int], ...]
    due: int | None
    opens: int | None


def dial(hours: OfficeHours, run: Run, now: datetime) -> Dial:
    """The registrar's day, to be drawn."""
    window = hours.windows.get(run)
    shut = [piece for transfer in hours.transfers for piece in _pieces(transfer)]
    return Dial(
        _minute(now.time()),
        tuple(sorted(shut)),
        _minute(window.due.time()) if window and window.due.date() == now.date() else None,
        _minute(window.opens.time()) if window and window.opens.date() == now.date() else None,
    )


def _pieces(transfer: Transfer) -> list[tuple[int, int]]:
    start, end = _minute(transfer.start), _minute(transfer.end)
    return [(start, end)] if start < end else [(start, MINUTES_A_DAY), (0, end)]


def _minute(at: time) -> int:
    return at.hour * 60 + at.minute
