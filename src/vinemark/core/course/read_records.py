"""The registrar's records and settled grades of a course file, from parsed JSON values."""

from collections.abc import Mapping
from datetime import date

from vinemark.core.base.refused import (
    Keys,
    Refused,
    any_text,
    count,
    flag,
    iso_day,
    number,
    one_of,
    refuse_repeat,
    rows,
    text,
)
from vinemark.core.course import course as c
from vinemark.core.course.read_rules import read_decimals

_RECORD_KEYS = (
    "roster", "codes", "incomplete_limit_days", "incomplete_fallback", "incomplete_finish_by",
    "never_attended", "pass_from", "numbers",
)  # fmt: skip


def as_texts(value: object) -> object:
    """Whole numbers and days as text: the readers here take no machine numbers."""
    if isinstance(value, dict):
        return {key: as_texts(found) for key, found in value.items()}
    if isinstance(value, list):
        return [as_texts(found) for found in value]
    if isinstance(value, date):
        return value.isoformat()
    return str(value) if isinstance(value, int) and not isinstance(value, bool) else value


def read_records(value: object, field: str = "records") -> c.Records:
    """The registrar's roster and rules."""
    keys = Keys(value, field, _RECORD_KEYS)
    records = c.Records(
        roster=keys.given("roster", rows(read_roster_entry), ()),
        codes=keys.given("codes", rows(_read_code), ()),
        incomplete_limit_days=keys.maybe("incomplete_limit_days", count),
        incomplete_fallback=keys.maybe("incomplete_fallback", text),
        incomplete_finish_by=keys.maybe("incomplete_finish_by", iso_day),
        never_attended=keys.given("never_attended", one_of(c.NEVER_ATTENDED), "first_day"),
        pass_from=keys.maybe("pass_from", text),
        numbers=keys.maybe("numbers", _read_numbers),
    )
    refuse_repeat([r.id for r in records.roster], lambda i: f"{field}.roster[{i}].id")
    refuse_repeat([r.code for r in records.codes], lambda i: f"{field}.codes[{i}].code")
    return records


def _read_numbers(value: object, field: str) -> c.NumberGrades:
    keys = Keys(value, field, ("from", "to", "decimals"))
    lowest, highest = keys.needed("from", number), keys.needed("to", number)
    if highest < lowest:
        raise Refused(keys.at("to"), "must not be less than from")
    return c.NumberGrades(lowest, highest, keys.needed("decimals", read_decimals))


def read_roster_entry(value: object, field: str) -> c.RosterEntry:
    """One line of a roster. Raises Refused at the field."""
    keys = Keys(value, field, ("id", "family_name", "given_name", "status", "basis"))
    return c.RosterEntry(
        keys.needed("id", text),
        keys.needed("family_name", text),
        keys.needed("given_name", any_text),
        keys.given("status", one_of(c.STATUSES), "enrolled"),
        keys.given("basis", one_of(c.GRADING_BASES), "letter"),
    )


def _read_code(value: object, field: str) -> c.CodeRule:
    keys = Keys(value, field, ("code", "basis", "needs", "office_only"))
    return c.CodeRule(
        keys.needed("code", text),
        keys.given("basis", rows(one_of(c.GRADING_BASES)), ()),
        keys.given("needs", rows(one_of(c.NEEDS)), ()),
        keys.given("office_only", flag, False),
    )


def read_all_settled(keys: Keys, key: str, students: set[str]) -> dict[str, c.Settled]:
    value = keys.value.get(key, {})
    if not isinstance(value, Mapping):
        raise Refused(key, "must be an object")
    for student in value:
        if student not in students:
            raise Refused(f"{key}.{student}", "unknown student")
    return {student: read_settled(entry, f"{key}.{student}") for student, entry in value.items()}


_SETTLED_KEYS = ("grade", "reason", "last_attended", "fallback_grade", "finish_by", "never_attended", "owed")


def read_settled(value: object, field: str) -> c.Settled:
    """One settled grade."""
    keys = Keys(value, field, _SETTLED_KEYS)
    return c.Settled(
        keys.needed("grade", text),
        keys.maybe("reason", any_text),
        keys.maybe("last_attended", iso_day),
        keys.maybe("fallback_grade", text),
        keys.maybe("finish_by", iso_day),
        keys.given("never_attended", flag, False),
        keys.maybe("owed", any_text),
    )
