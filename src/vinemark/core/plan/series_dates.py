"""Dates for several items in one text: 'weekly from Sep 7', 'every 2 weeks from 2026-09-07', or dates pasted."""

import re
from collections.abc import Mapping, Sequence
from datetime import date, timedelta

from vinemark.core.base.dates import month_first
from vinemark.core.base.refused import Refused
from vinemark.core.plan.plan import Plan

MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
SERIES_STEPS = {"daily": 1, "weekly": 7, "every day": 1, "every week": 7, "every other week": 14, "biweekly": 14}
SERIES = re.compile(
    r"^(?P<step>[a-z ]{5,20}|every (?P<n>\d{1,2}) (?P<unit>days?|weeks?)),? (?:from|starting|on|since) "
    r"(?P<first>.{3,30})$"
)
WEEKDAY = re.compile(r"\b(?:mon|tues?|wed(?:nes)?|thu(?:rs?)?|fri|sat(?:ur)?|sun)(?:day)?\.?,? ", re.I)
WORDED = re.compile(
    r"^(?:(?P<month>[a-z]{3,9})\.? (?P<day>\d{1,2})|(?P<day2>\d{1,2})\.? (?P<month2>[a-z]{3,9})\.?)(?:st|nd|rd|"
    r"th)?(?:,? (?P<year>\d{4}))?$"
)
DAY_FIGURES = re.compile(r"^(?P<one>\d{1,2})/(?P<two>\d{1,2})(?:/(?P<year>\d{4}|\d{2}))?$")
ISO = re.compile(r"^(?P<year>\d{4})-(?P<month>\d{1,2})-(?P<day>\d{1,2})$")


def read_series_dates(typed: str, number: int, plan: Plan) -> list[date]:
    """One date for each of so many items. Refused at 'dates' where it is no date or there are not as many."""
    text = " ".join(typed.split()).lower()
    near = _near(plan)
    series = SERIES.match(text)
    step = _step(series) if series else None
    if series and step:
        first = _day(series["first"], near)
        return [first + timedelta(days=step * n) for n in range(number)]
    days = [_day(part, near) for part in _parts(typed)]
    if len(days) != number:
        raise Refused("dates", f"{len(days)} dates for {number} items; paste one for each, or type “weekly from Sep 7”")
    return days


def _near(plan: Plan) -> date | None:
    """A date in the middle of those the plan has: one without a year is the nearest to it."""
    days = sorted(item.due for _, item in plan.items() if item.due is not None)
    return days[len(days) // 2] if days else None


def _step(series: re.Match[str]) -> int | None:
    if series["n"]:
        return int(series["n"]) * (7 if series["unit"].startswith("week") else 1) or None
    return SERIES_STEPS.get(series["step"].strip())


def _parts(typed: str) -> Sequence[str]:
    """The dates of a list: a line each, or between semicolons or commas that no year follows."""
    pieces = re.split(r"[\n;]|,(?! ?\d{4}\b)", WEEKDAY.sub("", typed))
    return [" ".join(piece.split()).lower() for piece in pieces if piece.strip()]


def _day(text: str, near: date | None) -> date:
    plain = WEEKDAY.sub("", text).strip()
    for pattern in (ISO, DAY_FIGURES, WORDED):
        match = pattern.match(plain)
        if match:
            return _dated(match, text, near)
    raise Refused("dates", f"“{text}” is no date; type it as Sep 7 or 2026-09-07")


def _dated(match: re.Match[str], text: str, near: date | None) -> date:
    month, day, year = _figures(match.groupdict())
    if not year and near is None:
        raise Refused("dates", f"“{text}” has no year; type it too, as in Sep 7, 2026")
    try:
        if year or near is None:
            return date(year or 1, month, day)
        around = [date(near.year + off, month, day) for off in (-1, 0, 1)]
    except ValueError as error:
        raise Refused("dates", f"“{text}” is no day of the calendar") from error
    return min(around, key=lambda day: abs((day - near).days))


def _figures(found: Mapping[str, str | None]) -> tuple[int, int, int | None]:
    """Month, day and year of what a pattern found; a month that does not exist is 0."""
    if found.get("one"):
        pair = (found["one"], found["two"])
        month, day = pair if month_first() else pair[::-1]
    else:
        month, day = found.get("month") or found.get("month2"), found.get("day") or found.get("day2")
    named = str(month)
    number = int(named) if named.isdecimal() else next((n for n, m in enumerate(MONTHS, 1) if named.startswith(m)), 0)
    year = found.get("year")
    return number, int(str(day)), None if not year else int(year) + (2000 if len(year) == 2 else 0)
