"""What the registrar takes and refuses, by its own rules: one row of a sending at a time."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from typing import Any, NamedTuple


@dataclass(frozen=True)
class Desk:
    """What a row is checked against: the school's rules, the term, and the section's roster by id."""

    rules: Mapping[str, Any]
    starts: date
    ends: date
    roster: Mapping[str, Mapping[str, Any]]


class Shut(NamedTuple):
    """Why the registrar takes nothing just now, and when it does again."""

    reason: str
    until: datetime


def shut(transfers: Sequence[Sequence[str]], now: datetime) -> Shut | None:
    """The transfer that runs now; each is a start and an end as HH:MM, and may go past midnight."""
    for start, end in transfers:
        opens, at = time.fromisoformat(end), now.time()
        begins = time.fromisoformat(start)
        past_midnight = opens <= begins
        runs = begins <= at or at < opens if past_midnight else begins <= at < opens
        if runs:
            day = now.date() + timedelta(days=past_midnight and at >= begins)
            return Shut(f"the registrar’s transfer runs until {end}", datetime.combine(day, opens))
    return None


def refusal(desk: Desk, row: Mapping[str, Any], run: str = "final") -> str | None:
    """Why the registrar does not take a row; None where it does. Midterm codes need nothing beside them."""
    person = desk.roster.get(str(row.get("id")))
    if person is None:
        return "not on the roster of this section"
    if person["status"] == "withdrawn":
        return "has withdrawn; the registrar sets the code"
    code = _code(desk, str(row.get("code")))
    if code is None:
        return f"{row.get('code')} is not a code of this school"
    reason = _code_refusal(code, person["basis"])
    if reason is not None or run == "midterm":
        return reason
    return _attendance(desk, code, row) or _incomplete(desk, code, person["basis"], row)


def _code(desk: Desk, code: str) -> Mapping[str, Any] | None:
    return next((c for c in desk.rules["codes"] if c["code"] == code), None)


def _code_refusal(code: Mapping[str, Any], basis: str) -> str | None:
    if code.get("office_only"):
        return f"{code['code']} is set by the registrar alone"
    if code.get("basis") and basis not in code["basis"]:
        return f"{code['code']} is not for the {basis} basis"
    return None


def _attendance(desk: Desk, code: Mapping[str, Any], row: Mapping[str, Any]) -> str | None:
    given = row.get("last_attended")
    if "last_attended" in code.get("needs", []) and not given and not row.get("never_attended"):
        return f"{code['code']} needs the last date of attendance"
    if row.get("never_attended") and desk.rules.get("never_attended", "first_day") == "first_day":
        return f"who never attended is reported with the first day of the term, {desk.starts}"
    if not given:
        return None
    if row.get("never_attended"):
        return "never attended is said beside a last date of attendance"
    attended = _day(given)
    if attended is None or not desk.starts <= attended <= desk.ends:
        return f"the last date of attendance must lie between {desk.starts} and {desk.ends}"
    return None


def _incomplete(desk: Desk, code: Mapping[str, Any], basis: str, row: Mapping[str, Any]) -> str | None:
    needs = code.get("needs", [])
    reason = _fallback(desk, code, basis, row) if "fallback_grade" in needs else None
    return reason or (_finish_by(desk, code, row) if "finish_by" in needs else None)


def _fallback(desk: Desk, code: Mapping[str, Any], basis: str, row: Mapping[str, Any]) -> str | None:
    fixed = desk.rules.get("incomplete_fallback")
    fallback = _code(desk, str(row.get("fallback_grade")))
    if fixed and row.get("fallback_grade") != fixed:
        return f"{code['code']} falls back to {fixed} here"
    if fallback is None or "fallback_grade" in fallback.get("needs", []):
        return f"{code['code']} needs a fallback grade"
    return _code_refusal(fallback, basis)


def _finish_by(desk: Desk, code: Mapping[str, Any], row: Mapping[str, Any]) -> str | None:
    fixed = desk.rules.get("incomplete_finish_by")
    day = _day(row.get("finish_by"))
    if fixed:
        return None if row.get("finish_by") == fixed else f"{code['code']} is to be finished by {fixed} here"
    limit = desk.rules.get("incomplete_limit_days")
    if day is None or day <= desk.ends or (limit is not None and day > desk.ends + timedelta(days=limit)):
        return f"{code['code']} needs a finish-by date after {desk.ends}" + (f", {limit} days at most" if limit else "")
    return None


def _day(text: object) -> date | None:
    try:
        return date.fromisoformat(str(text))
    except ValueError:
        return None
