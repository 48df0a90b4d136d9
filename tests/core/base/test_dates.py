"""Dates as sentences say them: common practice, no source."""

from datetime import date, datetime

from vinemark.core.base.dates import day_words, short_day_words, time_words, weekday_time_words


def test_a_day_has_no_leading_zero() -> None:
    assert day_words(date(2026, 11, 2)) == "Nov 2, 2026"
    assert short_day_words(date(2026, 11, 2)) == "Nov 2"


def test_a_time_is_said_with_its_day() -> None:
    at = datetime(2026, 12, 21, 17, 5)
    assert time_words(at) == "Dec 21, 5:05 PM"
    assert weekday_time_words(at) == "Mon, Dec 21, 5:05 PM"
