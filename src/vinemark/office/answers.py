"""Every answer of the registrar as plain data, read by one strict reader.

A key that is needed and missing, or holds something else, is refused at its place; keys that are not known here are
left alone, so that a registrar's system may grow.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, time
from typing import Literal, get_args

from vinemark.core.base.moments import moment_of
from vinemark.core.base.refused import (
    Keys,
    Refused,
    any_text,
    iso_day,
    iso_moment,
    one_line,
    one_of,
    refuse_repeat,
    rows,
    text,
    whole_number,
)
from vinemark.core.course.course import RUNS, Records, Run, SectionName, Student, Term
from vinemark.core.course.read_records import as_texts, read_records
from vinemark.core.submit.file_layout import FileLayout, read_column
from vinemark.core.submit.grade_row import GradeRow, read_grade_row
from vinemark.core.submit.hours import OfficeHours, Transfer, Window

AnswerState = Literal["pending", "granted", "refused"]
ANSWER_STATES: tuple[AnswerState, ...] = get_args(AnswerState)


@dataclass(frozen=True)
class OfficeSection:
    """A section as the registrar lists it."""

    ref: str
    term: Term
    name: SectionName
    windows: Mapping[Run, Window]
    people: int


@dataclass(frozen=True)
class OfficeRoster:
    """A section with its roster, as students and as records, and the registrar's rules, hours and file layout."""

    section: OfficeSection
    students: Sequence[Student]
    records: Records
    hours: OfficeHours
    layout: FileLayout | None


@dataclass(frozen=True)
class ChangeAnswer:
    """Where a change of grade stands at the registrar, with a word."""

    key: str
    number: str
    state: AnswerState
    word: str | None
    received_at: str
    answered_at: str | None


@dataclass(frozen=True)
class HeldGrades:
    """What the registrar has for a section and run.

    `fell_back` are the incompletes whose fallback grade the registrar applied, as they were before, and when.
    """

    rows: Sequence[GradeRow]
    posted_at: str | None
    fell_back: Sequence[tuple[GradeRow, str]] = ()
    changes: Sequence[ChangeAnswer] = ()


def read_sections(value: object) -> list[OfficeSection]:
    """The sections of an instructor."""
    return list(Keys(value, "", None).needed("sections", rows(_section)))


def read_roster(value: object) -> OfficeRoster:
    """One section with its roster and the registrar's rules."""
    keys, section = Keys(value, "", None), _section(value, "section")
    people = keys.needed("roster", rows(_person))
    rules = keys.needed("rules", _object)
    entries = [{key: person[key] for key in person if key != "email"} for person in people]
    arrangements = Keys(keys.needed("arrangements", _object), "arrangements", None)
    return OfficeRoster(
        section,
        [Student(p["id"] or "", p["family_name"] or "", p["given_name"] or "", p["email"]) for p in people],
        read_records(as_texts({**rules, "roster": entries}), "records"),
        OfficeHours(section.windows, arrangements.needed("transfers", rows(_transfer))),
        arrangements.maybe("file", _layout),
    )


def read_held(value: object) -> HeldGrades:
    """What the registrar has of a run."""
    keys = Keys(value, "", None)
    grades = keys.needed("grades", rows(read_grade_row))
    refuse_repeat([row.id for row in grades], lambda i: f"grades[{i}].id")
    return HeldGrades(
        list(grades),
        keys.maybe("posted_at", iso_moment),
        list(keys.needed("fell_back", rows(_fallback))),
        list(keys.needed("changes", rows(read_change))),
    )


def read_change(value: object, field: str = "") -> ChangeAnswer:
    """The answer to a change of grade."""
    keys = Keys(value, field, None)
    return ChangeAnswer(
        keys.needed("key", text),
        keys.needed("number", one_line),
        keys.needed("state", one_of(ANSWER_STATES)),
        keys.maybe("word", any_text),
        keys.needed("received_at", iso_moment),
        keys.maybe("answered_at", iso_moment),
    )


def _section(value: object, field: str) -> OfficeSection:
    keys = Keys(value, field, None)
    return OfficeSection(
        keys.needed("ref", text),
        keys.needed("term", _term),
        SectionName(keys.needed("course", text), keys.needed("title", text), keys.needed("number", any_text)),
        keys.needed("runs", _windows),
        keys.needed("people", whole_number),
    )


def _term(value: object, field: str) -> Term:
    keys = Keys(value, field, None)
    return Term(keys.needed("name", text), keys.needed("starts", iso_day), keys.needed("ends", iso_day))


def _windows(value: object, field: str) -> Mapping[Run, Window]:
    keys = Keys(value, field, None)
    return {run: keys.needed(run, _window) for run in RUNS if run in keys.value}


def _window(value: object, field: str) -> Window:
    keys = Keys(value, field, None)
    return Window(keys.needed("opens", _moment), keys.needed("due", _moment))


def _person(value: object, field: str) -> Mapping[str, str | None]:
    keys = Keys(value, field, None)
    known = ("id", "family_name", "status", "basis")
    return {
        **{key: keys.needed(key, text) for key in known},
        "given_name": keys.needed("given_name", any_text),
        "email": keys.maybe("email", text),
    }


def _transfer(value: object, field: str) -> Transfer:
    ends = rows(_clock)(value, field)
    if len(ends) != 2:
        raise Refused(field, "must be two times")
    return Transfer(*ends)


def _layout(value: object, field: str) -> FileLayout:
    keys = Keys(value, field, None)
    return FileLayout(keys.needed("columns", rows(read_column)), keys.needed("dates", text))


def _fallback(value: object, field: str) -> tuple[GradeRow, str]:
    keys = Keys(value, field, None)
    return keys.needed("was", read_grade_row), keys.needed("at", iso_moment)


def _moment(value: object, field: str) -> datetime:
    try:
        return moment_of(text(value, field))
    except ValueError:
        raise Refused(field, "must be a date with a time") from None


def _clock(value: object, field: str) -> time:
    try:
        return time.fromisoformat(text(value, field))
    except ValueError:
        raise Refused(field, "must be a time of day") from None


def _object(value: object, field: str) -> Mapping[str, object]:
    return Keys(value, field, None).value
