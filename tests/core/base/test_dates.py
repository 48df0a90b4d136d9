"""Dates as sentences say them: common practice, no source."""

from datetime import date, datetime

from vinemark.core.base.dates import day_words, short_day_words, time_words, weekday_time_words


def test_a_day_has_no_leading_zero() -> None:
    assert day_words(date(2026, 11, 2)) == "2 Nov 2026"
    assert short_day_words(date(2026, 11, 2)) == "2 Nov"


def test_a_time_is_said_with_its_day() -> None:
    at = datetime(2026, 12, 21, 17, 5)
    assert time_words(at) == "21 Dec, 17:05"
    assert weekday_time_words(at) == "Mon 21 Dec, 17:05"
