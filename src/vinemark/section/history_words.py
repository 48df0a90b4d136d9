"""An entry of the history in words: what it was about, and how that stood before and after."""

import json
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from vinemark.core.audit import CODES
from vinemark.core.base.dates import day_words, weekday_time_words
from vinemark.core.base.moments import moment_of
from vinemark.core.base.refused import Refused
from vinemark.core.course.cell_text import shown_text
from vinemark.core.course.read_cells import read_adjustment
from vinemark.core.course.read_records import read_settled
from vinemark.core.course.stand_in import student_id_words
from vinemark.core.plan.diff import plan_differences
from vinemark.core.scores.adjusting import adjustment_words
from vinemark.core.scores.part_limit import read_part_limit
from vinemark.core.scores.visibility import SHOWN_GRADE_WORDS, VISIBILITY_WORDS
from vinemark.core.statement.shown import StudentsSee, read_students_see
from vinemark.core.submit.proof import beside_words
from vinemark.section.state import SectionState
from vinemark.store import history, plans
from vinemark.store.history import LaterEntry
from vinemark.store.visibility import grades_visible_of

_NOTHING = "nothing"
_BLANK = "blank"
MOST = 400
"""So many changes of one entry are listed."""


@dataclass(frozen=True)
class EntryLine:
    """One thing that an entry changed."""

    what: str
    before: str
    after: str


@dataclass(frozen=True)
class EntryDetail:
    """What an entry changed, the first of it, and how much more there is."""

    lines: Sequence[EntryLine]
    more: int = 0


GROUPS: Mapping[str, Sequence[str]] = {
    "Scores": ("scores", "import", "remark", "groups"),
    "Plan and syllabus": ("plan", "rehearsal", "syllabus", "reading", "match", "syllabus note"),
    "Findings": ("finding", "comparison"),
    "Settled grades": ("settled-final", "settled-midterm", "adjustment", "set-aside"),
    "What students see": ("access", "grades-opened", "students-see", "question", "told"),
    "Registrar": ("office", "roster", "signed", "sending", "read-back", "grade-change"),
    "Students and section": (
        "section",
        "students",
        "class-list",
        "student-detail",
        "student-id",
        "student-deleted",
        "archive",
        "people",
    ),
}
"""The groups by which the history is filtered, each with its kinds of entries."""


def entry_detail(section: SectionState, entry_id: int) -> EntryDetail | None:
    """What an entry of the section changed, in words; None where there is no such entry."""
    row = history.entry_of(section.connection, section.id, entry_id)
    if row is None:
        return None
    entry = history.as_later_entry(row)
    words = _WORDS.get(entry.kind)
    try:
        lines = list(words(section, entry)) if words else []
    except (Refused, KeyError, TypeError, ValueError, IndexError, AttributeError):
        # An old entry, or one from an archive, may have another shape: its sentence still says what was done.
        lines = []
    changed = [line for line in lines if line.before != line.after]
    return EntryDetail(changed[:MOST], max(0, len(changed) - MOST))


def _who(section: SectionState, student_id: str) -> str:
    student = section.course.student(student_id)
    return student.name if student else student_id


def _item(section: SectionState, item_id: str) -> str:
    item = section.course.plan.columns.get(item_id)
    return item.name if item else item_id


def _cells(section: SectionState, entry: LaterEntry) -> Iterable[EntryLine]:
    say = str if entry.kind == "remark" else shown_text
    yield from _cell_lines(section, entry.before or [], entry.after or [], say)


def _cell_lines(section: SectionState, was: Any, now: Any, say: Callable[[str], str]) -> Iterable[EntryLine]:
    before = {(cell[0], cell[1]): cell[2] for cell in was}
    for student, item, text in now:
        what = f"{_who(section, student)}, {_item(section, item)}"
        old = before.get((student, item))
        yield EntryLine(what, say(old) if old else _BLANK, say(text) if text else _BLANK)


def _by_key(
    name: Callable[[SectionState, str], str], say: Callable[[SectionState, Any], str]
) -> Callable[[SectionState, LaterEntry], Iterable[EntryLine]]:
    def lines(section: SectionState, entry: LaterEntry) -> Iterable[EntryLine]:
        before, after = entry.before or {}, entry.after or {}
        for key in {**before, **after}:
            yield EntryLine(name(section, key), say(section, before.get(key)), say(section, after.get(key)))

    return lines


def _settled(section: SectionState, text: Any) -> str:
    if not text:
        return "not settled"
    settled = read_settled(json.loads(text), "settled")
    reason = f"reason: {settled.reason}" if settled.reason else ""
    return ", ".join(filter(None, (settled.grade, beside_words(section.course, settled, day_words), reason)))


def _adjustment(kept: Any) -> str:
    return adjustment_words(read_adjustment({"percent": kept[0], "reason": kept[1]}, "adjustment"))


def _accepted(_: SectionState, value: Any) -> str:
    return f"accepted as is: {value[1]} ({value[2]})" if value else "open"


def _finding(section: SectionState, key: str) -> str:
    code, student, *_ = [*key.split("|"), ""]
    name = CODES[code].name if code in CODES else code
    return f"{name}, {_who(section, student)}" if student else name


def _grades_visible(section: SectionState, value: Any) -> str:
    if not value:
        return "hidden"
    found = grades_visible_of(value)
    since = weekday_time_words(moment_of(found.since))
    only = f", to {', '.join(_who(section, one) for one in sorted(found.only))}" if found.only is not None else ""
    return f"{SHOWN_GRADE_WORDS[found.shows]}, since {since}{only}"


def _plan(section: SectionState, entry: LaterEntry) -> Iterable[EntryLine]:
    first, second = plans.plans_of_entry(section.connection, section.id, entry)
    for line in plan_differences(first, second):
        if line.side != "both":
            yield EntryLine("", line.text if line.side == "first" else "", line.text if line.side == "second" else "")


def _roster(section: SectionState, entry: LaterEntry) -> Iterable[EntryLine]:
    def people(records: Any) -> dict[str, str]:
        rows = (records or {}).get("roster", [])
        return {one["id"]: f"{one['family_name']}, {one['given_name']}: {one['status']}" for one in rows}

    before, after = people(entry.before), people(entry.after)
    for student in {**before, **after}:
        yield EntryLine(student, before.get(student, _NOTHING), after.get(student, _NOTHING))


def _signed(section: SectionState, entry: LaterEntry) -> Iterable[EntryLine]:
    for row in entry.after["rows"]:
        yield EntryLine(_who(section, row["id"]), "", row["code"])


def _change(section: SectionState, entry: LaterEntry) -> Iterable[EntryLine]:
    old, new = entry.after.get("old"), entry.after["new"]
    yield EntryLine(_who(section, new["id"]), old["code"] if old else _NOTHING, new["code"])


def _added(section: SectionState, entry: LaterEntry) -> Iterable[EntryLine]:
    for student in entry.after["students"]:
        yield EntryLine(_who(section, student), _NOTHING, "in the section")


def _class_list(section: SectionState, entry: LaterEntry) -> Iterable[EntryLine]:
    before, after = entry.before, entry.after
    for student, kept in after["people"].items():
        yield EntryLine(student_id_words(student), _person(before["people"].get(student)), _person(kept))
    for student, kept in after["details"].items():
        yield EntryLine(_who(section, student), _detail_words(before["details"].get(student)), _detail_words(kept))
    extensions = zip(before.get("extensions", []), after.get("extensions", []), strict=True)
    for (student, item, was), (_, _, due) in extensions:
        yield EntryLine(f"{_who(section, student)}, {_item(section, item)}", _due_words(was), _due_words(due))
    remarks = zip(before.get("remarks", []), after.get("remarks", []), strict=True)
    for (student, item, was), (_, _, text) in remarks:
        yield EntryLine(f"{_who(section, student)}, {_item(section, item)}", was or _NOTHING, f"remark: {text}")
    for old, new in after["ids"].items():
        yield EntryLine(_who(section, new), student_id_words(old), student_id_words(new))
    if before["version"] != after["version"]:
        yield from _plan(section, entry)
    yield from _cell_lines(section, before["cells"], after["cells"], shown_text)


def _due_words(kept: str | None) -> str:
    return f"due {day_words(date.fromisoformat(kept))}" if kept else "due as for the class"


def _group_lines(section: SectionState, entry: LaterEntry) -> Iterable[EntryLine]:
    for item, after in entry.after.items():
        before = entry.before.get(item, {})
        for student in {**before, **after}:
            what = f"{_who(section, student)}, {_item(section, item)}"
            yield EntryLine(what, f"group {before.get(student, '–')}", f"group {after.get(student, '–')}")


def _person(kept: Any) -> str:
    if not kept:
        return "not in the section"
    family, given, email, aside = kept
    said = (f"{family}, {given}" if given else family, email, f"set aside: {aside}" if aside else "")
    return ", ".join(filter(None, said))


def _detail_words(kept: Any) -> str:
    if not kept:
        return _NOTHING
    preferred, pronunciation, remark, joined = kept
    said = {"goes by": preferred, "said": pronunciation, "joined": joined, "remark": remark}
    return "; ".join(f"{lead} {value}" for lead, value in said.items() if value)


def _students_see(_: SectionState, entry: LaterEntry) -> Iterable[EntryLine]:
    before, after = (read_students_see(kept) if kept else StudentsSee() for kept in (entry.before, entry.after))
    yield EntryLine("What students see", before.words, after.words)


def _part(section: SectionState, kept: Any) -> str:
    if isinstance(kept, dict):
        return f"{kept['role']}: {read_part_limit(kept).words(section.course)}"
    return str(kept) if kept else "no part"


def _differences(section: SectionState, entry: LaterEntry) -> Iterable[EntryLine]:
    for text in entry.after["differences"]:
        yield EntryLine("Left as it is", "", str(text))


_WORDS: Mapping[str, Callable[[SectionState, LaterEntry], Iterable[EntryLine]]] = {
    "scores": _cells,
    "import": _cells,
    "remark": _cells,
    "adjustment": _by_key(_who, lambda _, kept: _adjustment(kept) if kept else _NOTHING),
    "settled-final": _by_key(_who, _settled),
    "settled-midterm": _by_key(_who, _settled),
    "set-aside": _by_key(_who, lambda _, reason: f"set aside: {reason}" if reason else "in the class"),
    "access": _by_key(_item, lambda _, rule: VISIBILITY_WORDS.get(rule or "held", str(rule))),
    "grades-opened": _by_key(lambda _, run: f"{run.capitalize()} grades", _grades_visible),
    "finding": _by_key(_finding, _accepted),
    "plan": _plan,
    "rehearsal": _plan,
    "office": _roster,
    "signed": _signed,
    "grade-change": _change,
    "section": _added,
    "students": _added,
    "class-list": _class_list,
    "groups": _group_lines,
    "students-see": _students_see,
    "told": lambda section, entry: [EntryLine(_who(section, one), "", "told") for one in entry.after["students"]],
    "people": _by_key(lambda _, email: email, _part),
    "match": _differences,
}
TOLD = frozenset(_WORDS)
"""The kinds of entries that have more to tell than their sentence."""
