"""Dates and times as a sentence says them: in this one place."""

from datetime import date, datetime


def day_words(day: date) -> str:
    """'2 Nov 2026'."""
    return f"{day.day} {day:%b %Y}"


def short_day_words(day: date) -> str:
    """'2 Nov', where the year is plain."""
    return f"{day.day} {day:%b}"


def time_words(at: datetime) -> str:
    """'21 Dec, 17:00'."""
    return f"{at.day} {at:%b, %H:%M}"


def weekday_time_words(at: datetime) -> str:
    """'Mon 21 Dec, 17:00'."""
    return f"{at:%a} {time_words(at)}"
