"""Everything in an archive beside its course file, held to what was written when it was made: each value by a reader.

What passes can be kept, and every page can show it.
"""

import json
import re
from collections.abc import Callable, Iterable, Mapping
from datetime import date, datetime, time
from typing import Any, Final, get_args

from vinemark.core.after.grade_change import ChangeState
from vinemark.core.base.limits import COUNT_LIMIT, FIRST_DAY, LAST_DAY, NOTE_LIMIT, OTHER_CENTURY, more_than
from vinemark.core.base.moments import college_time
from vinemark.core.base.refused import (
    Keys,
    Refused,
    any_text,
    iso_day,
    iso_moment,
    one_line,
    one_of,
    rows,
    whole_number,
)
from vinemark.core.course.cell_text import kept_cell
from vinemark.core.course.course import RUNS, Course
from vinemark.core.course.read_plan import read_plan
from vinemark.core.course.read_records import read_settled
from vinemark.core.scores.visibility import VISIBILITY_RULES, ShownGrade
from vinemark.core.statement.shown import read_students_see
from vinemark.core.submit.grade_row import GradeRow, read_grade_row
from vinemark.core.submit.receipt import read_receipt
from vinemark.core.submit.submission import SubmissionState
from vinemark.exchange import course_file

Reader = Callable[[object, str], object]
LONGEST_HISTORY: Final = 200_000
DEEPEST: Final = 12
_CLASS_KIND: Final = "class-list"
"""An entry that changes several things of a class at once, cells among them."""
_CELL_KINDS: Final = {"scores", "import", "remark"}
"""Kinds of history whose values are cells: a student, an item, a text or nothing."""


def refuse_broken(archive: Any, course: Course) -> None:
    """Refuse the first value that no archive of ours has, at its place."""
    _table(archive.history, "history.json", _HISTORY, LONGEST_HISTORY)
    _refuse_repeated((entry["id"] for entry in archive.history), "history.json", "id")
    _table(archive.submissions, "sendings.json", _SENDING, COUNT_LIMIT.most)
    _refuse_repeated((one["key"] for one in archive.submissions), "sendings.json", "key")
    _table(archive.changes, "changes-of-grade.json", _CHANGE, COUNT_LIMIT.most)
    _refuse_repeated((one["key"] for one in archive.changes), "changes-of-grade.json", "key")
    beside = Keys(archive.beside, "beside.json", tuple(_BESIDE))
    for name, columns in _BESIDE.items():
        rows_of = beside.maybe(name, _as_it_is) or [] if name in _LATER else beside.needed(name, _as_it_is)
        _table(rows_of, beside.at(name), columns, LONGEST_HISTORY)
    _moment(archive.made_at, "manifest.json.made_at")
    for name, key in (("office", ()), ("read_back", ("run",)), ("opened", ("run",)), ("plans", ("version",))):
        found = [tuple(row[part] for part in key) for row in archive.beside[name]]
        _refuse_repeated(found, f"beside.json.{name}", " and ".join(key) or "row")
    _refuse_strangers(archive, course)


def _refuse_strangers(archive: Any, course: Course) -> None:
    known = {student.id for student in course.students}
    for number, change in enumerate(archive.changes):
        if change["student_id"] not in known:
            raise Refused(f"changes-of-grade.json[{number}].student_id", "is no student of the course file")
        if (change["evidence"] is None) != (change["evidence_name"] is None):
            raise Refused(f"changes-of-grade.json[{number}].evidence_name", "does not go with its file")


def _table(value: object, field: str, columns: Mapping[str, Reader], most: int) -> None:
    """Rows that have all of some columns and no other."""
    for number, row in enumerate(rows(_as_it_is)(value, field)):
        if number >= most:
            raise Refused(field, f"has more than {most:,} rows")
        keys = Keys(row, f"{field}[{number}]", tuple(columns))
        for name, read in columns.items():
            if name in _LATER_COLUMNS:
                keys.given(name, read, None)
            else:
                keys.needed(name, read)
        if columns is _HISTORY:
            _history_values(keys)


def _refuse_repeated(found: Iterable[object], field: str, what: str) -> None:
    seen: set[object] = set()
    for one in found:
        if one in seen:
            raise Refused(field, f"has one {what} twice: {one}")
        seen.add(one)


# --- single values ---


def _as_it_is(value: object, _: str) -> object:
    return value


def _kept(value: object, field: str) -> object:
    return kept_cell(None if value is None else any_text(value, field), field)


def _maybe(read: Reader) -> Reader:
    return lambda value, field: None if value is None else read(value, field)


def _line(value: object, field: str) -> str:
    """A text of a line, which may be empty."""
    return "" if value == "" else one_line(value, field)


def _note(value: object, field: str) -> str:
    found = any_text(value, field)
    if len(found) > NOTE_LIMIT.most:
        raise Refused(field, more_than(NOTE_LIMIT))
    return found


def _day_within(day: date, field: str) -> None:
    if not FIRST_DAY <= day <= LAST_DAY:
        raise Refused(field, OTHER_CENTURY)


def _moment(value: object, field: str) -> datetime:
    """A time with its offset, or by the college's clock without one, as archives had it before."""
    found = datetime.fromisoformat(iso_moment(value, field))
    _day_within(found.date(), field)
    return college_time(found)


def _number(value: object, field: str) -> int:
    if isinstance(value, bool) or not isinstance(value, int) or not 0 < value < 2**53:
        raise Refused(field, "must be a whole number above 0")
    return value


def _flag_number(value: object, field: str) -> int | None:
    if value is not None and value not in {0, 1}:
        raise Refused(field, "must be 0, 1 or null")
    return value if isinstance(value, int) else None


def _any(value: object, field: str, depth: int = 0) -> object:
    """Any JSON that can be kept and shown."""
    if depth > DEEPEST:
        raise Refused(field, "is nested too deeply")
    if isinstance(value, str):
        return any_text(value, field)
    if isinstance(value, Mapping):
        for key, one in value.items():
            any_text(key, field)
            _any(one, field, depth + 1)
    elif isinstance(value, list):
        for one in value:
            _any(one, field, depth + 1)
    elif isinstance(value, int) and abs(value) >= 2**53:
        raise Refused(field, "is too large a number")
    return value


def _json(read: Reader) -> Reader:
    """A text that is JSON of something."""

    def reader(value: object, field: str) -> object:
        try:
            found = json.loads(any_text(value, field))
        except (ValueError, RecursionError) as error:
            raise error if isinstance(error, Refused) else Refused(field, "is not JSON") from None
        return read(found, field)

    return reader


def _grade_row(value: object, field: str) -> GradeRow:
    row = read_grade_row(value, field)
    for key, day in (("last_attended", row.last_attended), ("finish_by", row.finish_by)):
        if day is not None:
            _day_within(date.fromisoformat(day), f"{field}.{key}")
    _note(row.owed or "", f"{field}.owed")
    return row


def _settled(value: object, field: str) -> object:
    found = read_settled(value, field)
    for key, day in (("last_attended", found.last_attended), ("finish_by", found.finish_by)):
        if day is not None:
            _day_within(day, f"{field}.{key}")
    for key, note in (("reason", found.reason), ("owed", found.owed)):
        _note(note or "", f"{field}.{key}")
    return found


def _said_moment(value: object, field: str) -> str:
    """A time as the registrar said it, which may name its zone; it is shown and not reckoned with."""
    found = iso_moment(value, field)
    _day_within(datetime.fromisoformat(found).date(), field)
    return found


def _receipt(value: object, field: str) -> object:
    found = read_receipt(value, field)
    _said_moment(found.received_at, f"{field}.received_at")
    return found


def _course_text(value: object, field: str) -> object:
    try:
        return course_file.course_of_text(any_text(value, field))
    except Refused as error:
        raise Refused(f"{field}.{error.field}", error.reason) from None


def _plan(value: object, field: str) -> object:
    found = course_file.parse_json(any_text(value, field))
    if isinstance(found, dict):
        for item, label in Keys(found.pop("labels", {}), f"{field}.labels", None).value.items():
            _line(label, f"{field}.labels.{item}")
    return read_plan(found, field)


def _pair_of(read: Reader) -> Reader:
    def reader(value: object, field: str) -> object:
        if not isinstance(value, list) or len(value) != 2:
            raise Refused(field, "must be a pair")
        return [read(one, field) for one in value]

    return reader


def _clock(value: object, field: str) -> time:
    try:
        found = time.fromisoformat(one_line(value, field))
    except ValueError as error:
        raise error if isinstance(error, Refused) else Refused(field, "must be a time of day") from None
    if found.tzinfo is not None:
        raise Refused(field, "must be a time without a zone")
    return found


def _hexadecimal(value: object, field: str) -> str:
    found = any_text(value, field)
    if not re.fullmatch(r"([0-9a-f]{2}){0,32}", found):
        raise Refused(field, "must be up to 64 hexadecimal digits")
    return found


def _hours(value: object, field: str) -> None:
    keys = Keys(value, field, ("windows", "transfers"))
    windows = Keys(keys.needed("windows", _as_it_is), f"{field}.windows", RUNS)
    for run in windows.value:
        windows.needed(run, _pair_of(_moment))
    keys.needed("transfers", rows(_pair_of(_clock)))


def _layout(value: object, field: str) -> None:
    keys = Keys(value, field, ("columns", "dates"))
    keys.needed("columns", rows(_pair_of(_line)))
    keys.needed("dates", one_line)


def _chosen(value: object, field: str) -> object:
    return read_students_see(_as_it_is(value, field))


def _cells(value: object, field: str) -> list[list[str | None]]:
    """Cells as history keeps them; what they are of, without their texts."""
    places = []
    for number, one in enumerate(rows(_as_it_is)(value, field)):
        at = f"{field}[{number}]"
        if not isinstance(one, list) or len(one) != 3:
            raise Refused(at, "must be a student, an item and a text")
        for part in one:
            _maybe(any_text)(part, at)
        places.append(one[:2])
    return places


def _history_values(keys: Keys) -> None:
    """What stands before and after an entry of cells is cells, of both the same."""
    if keys.value["kind"] in _CELL_KINDS:
        before, after = keys.maybe("before", _cells), keys.maybe("after", _cells)
        if before is not None and after is not None and before != after:
            raise Refused(keys.at("after"), "has other cells than before")
    elif keys.value["kind"] == _CLASS_KIND:
        for side in ("before", "after"):
            Keys(keys.needed(side, _as_it_is), keys.at(side), None).needed("cells", _cells)


# --- tables: every column with what may stand in it ---

_HISTORY: Final[Mapping[str, Reader]] = {
    "id": _number, "at": _moment, "person": _maybe(_line), "kind": one_line, "what": any_text, "before": _any,
    "after": _any, "undoes": _maybe(_number), "salt": _hexadecimal, "seal": _hexadecimal, "first_digest": _hexadecimal,
}  # fmt: skip
_SENDING: Final[Mapping[str, Reader]] = {
    "key": one_line, "run": one_of(RUNS), "signed_at": _moment, "signed_by": _line, "signer_email": _line,
    "course_digest": one_line, "course": _course_text, "findings": any_text, "withdrawn_at": _maybe(_moment),
    "rows": rows(_grade_row), "digest": one_line, "state": one_of(get_args(SubmissionState)),
    "trouble": _maybe(_note), "receipt": _maybe(_receipt), "answered_at": _maybe(_moment), "history_seal": _hexadecimal,
}  # fmt: skip
_LATER_COLUMNS: Final = frozenset({"salt", "seal", "first_digest", "history_seal", "shows", "only_some"})
"""What rows of older archives do not have."""
_CHANGE: Final[Mapping[str, Reader]] = {
    "key": one_line, "student_id": one_line, "old": _maybe(_grade_row), "new": _grade_row, "settled": _settled,
    "owed": _maybe(_note), "reason": _note, "evidence_note": _maybe(_note), "evidence_name": _maybe(one_line),
    "evidence": _as_it_is, "asked_by": _line, "asker_email": _maybe(_line), "asked_at": _moment,
    "state": one_of(get_args(ChangeState)), "number": _maybe(one_line), "word": _maybe(_note),
    "answered_at": _maybe(_moment), "trouble": _maybe(_note),
}  # fmt: skip
_BESIDE: Final[Mapping[str, Mapping[str, Reader]]] = {
    "office": {"office_ref": _maybe(_line), "opens": _maybe(_moment), "due": _maybe(_moment),
               "pulled_at": _maybe(_moment), "hours": _maybe(_json(_hours)), "layout": _maybe(_json(_layout))},
    "read_back": {"run": one_of(RUNS), "rows": _json(rows(_grade_row)), "posted_at": _maybe(_said_moment),
                  "read_at": _moment, "fell_back": _json(rows(_grade_row))},
    "remarks": {"student_id": one_line, "item_id": one_line, "remark": _note},
    "access": {"item_id": one_line, "access": one_of(VISIBILITY_RULES)},
    "opened": {"run": one_of(RUNS), "at": _moment, "shows": one_of(get_args(ShownGrade)),
               "only_some": whole_number},
    "seen_by": {"run": one_of(RUNS), "student_id": one_line},
    "stands": {"place": any_text, "facts": any_text, "reason": _note, "person": _line, "at": _moment},
    "plans": {"version": _number, "plan": _plan, "undoes": _maybe(_number)},
    "scores": {"student_id": one_line, "item_id": one_line, "cell": _kept},
    "details": {"student_id": one_line, "preferred": any_text, "pronunciation": any_text, "remark": _note,
                "joined": _maybe(iso_day)},
    "groups": {"item_id": one_line, "student_id": one_line, "name": one_line},
    "former_ids": {"former_id": one_line, "student_id": one_line},
    "comparisons": {"number": _number, "name": _line, "headings": _json(rows(_line)), "likely": whole_number,
                    "against": one_of(("computed", *RUNS)), "unknown": _json(rows(any_text)), "at": _moment},
    "figures": {"number": _number, "student_id": one_line, "place": whole_number, "figure": _line},
    "students_see": {"chosen": _json(_chosen)},
    "looked": {"student_id": any_text, "day": iso_day, "email": _line, "name": _line, "role": _line, "what": _line,
               "first_at": _moment, "last_at": _moment, "times": whole_number},
    "questions": {"student_id": one_line, "item_id": one_line, "question": _note, "asked_at": _moment,
                  "answer": _maybe(_note), "answered_by": _maybe(_line), "answered_at": _maybe(_moment)},
}  # fmt: skip
_LATER: Final = frozenset(
    {"details", "former_ids", "groups", "comparisons", "figures", "students_see", "questions", "seen_by", "looked"}
)
"""What older archives do not have."""
