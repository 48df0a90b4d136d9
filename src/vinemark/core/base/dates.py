"""Dates and times as a sentence says them, in the college's way: in this one place."""

from dataclasses import dataclass
from datetime import date, datetime, time
from typing import Final, Literal

from vinemark.core.base.refused import Refused

Order = Literal["month-day", "day-month"]
ORDERS: Final[tuple[Order, ...]] = ("month-day", "day-month")
HOURS: Final = (12, 24)


@dataclass(frozen=True)
class DateStyle:
    """How a college writes dates and times: the order of month and day, and whether the clock has 12 or 24 hours."""

    order: Order = "month-day"
    hours: int = 12


_used: list[DateStyle] = [DateStyle()]


def date_style(order: str, hours: str) -> DateStyle:
    """The style that two settings name. Raises Refused for any other word."""
    known = next((one for one in ORDERS if one == order), None)
    if known is None:
        raise Refused("VINEMARK_DATES", f"must be one of {', '.join(ORDERS)}")
    if hours not in {str(one) for one in HOURS}:
        raise Refused("VINEMARK_HOURS", "must be 12 or 24")
    return DateStyle(known, int(hours))


def use_style(style: DateStyle) -> None:
    """Write every date and time in this style from now on; a program does it once, when it starts."""
    _used[0] = style


def month_first() -> bool:
    """Whether 9/7 is the seventh of September here."""
    return _used[0].order == "month-day"


def day_words(day: date) -> str:
    """'Nov 2, 2026'."""
    return f"{day:%b} {day.day}, {day.year}" if _used[0].order == "month-day" else f"{day.day} {day:%b} {day.year}"


def short_day_words(day: date) -> str:
    """'Nov 2', where the year is plain."""
    return f"{day:%b} {day.day}" if _used[0].order == "month-day" else f"{day.day} {day:%b}"


def weekday_words(day: date) -> str:
    """'Saturday, Dec 19, 2026'."""
    return f"{day:%A}, {day_words(day)}"


def clock_words(at: datetime | time) -> str:
    """'5:00 PM'."""
    if _used[0].hours == 24:
        return f"{at:%H:%M}"
    return f"{at.hour % 12 or 12}:{at:%M} {'AM' if at.hour < 12 else 'PM'}"


def time_words(at: datetime) -> str:
    """'Dec 21, 5:00 PM'."""
    return f"{short_day_words(at)}, {clock_words(at)}"


def weekday_time_words(at: datetime) -> str:
    """'Mon, Dec 21, 5:00 PM'."""
    return f"{at:%a}, {time_words(at)}"


def iso_day_words(text: str) -> str:
    """A day that a record keeps as YYYY-MM-DD, in words; any other text as it is."""
    try:
        return day_words(date.fromisoformat(text))
    except ValueError:
        return text
