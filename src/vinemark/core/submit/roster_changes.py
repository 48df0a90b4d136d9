"""What changed on the registrar's roster since it was last taken over, and how the section is brought in line."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from vinemark.core.course.course import Course, Records, RosterEntry, Student
from vinemark.core.grade.codes import codes_for

GONE = "no longer on the registrar’s roster"
RosterChangeKind = Literal["added", "gone", "withdrawn", "enrolled again", "auditing", "changed basis", "renamed"]
_STATUS_KINDS: dict[str, RosterChangeKind] = {
    "withdrawn": "withdrawn",
    "auditing": "auditing",
    "enrolled": "enrolled again",
}


@dataclass(frozen=True)
class RosterChange:
    """One change of one person: what it was and what it is now."""

    kind: RosterChangeKind
    student_id: str
    name: str
    was: str = ""
    now: str = ""

    @property
    def words(self) -> str:
        """For a sentence after the name: 'withdrawn', 'renamed: was Ode, Marit'."""
        if self.kind == "renamed":
            return f"renamed, was {self.was}"
        return f"{self.kind}, {self.was} to {self.now}" if self.kind == "changed basis" else self.kind


def roster_changes(before: Sequence[RosterEntry], now: Sequence[RosterEntry]) -> list[RosterChange]:
    """Everything that changed between two pulls, in the new roster's order; those who are gone stand last."""
    old = {entry.id: entry for entry in before}
    here = {entry.id for entry in now}
    found = [change for entry in now for change in _changes_of(old.get(entry.id), entry)]
    return found + [RosterChange("gone", e.id, e.name) for e in before if e.id not in here]


def _changes_of(was: RosterEntry | None, now: RosterEntry) -> list[RosterChange]:
    if was is None:
        return [RosterChange("added", now.id, now.name)]
    found = []
    if was.status != now.status:
        found.append(RosterChange(_STATUS_KINDS[now.status], now.id, now.name, was.status, now.status))
    if was.basis != now.basis:
        found.append(RosterChange("changed basis", now.id, now.name, was.basis, now.basis))
    if (was.family_name, was.given_name) != (now.family_name, now.given_name):
        found.append(RosterChange("renamed", now.id, now.name, was.name, now.name))
    return found


@dataclass
class Mending:
    """What brings the section in line with the roster: students to add, names, grades to open, who is set aside."""

    added: list[Student] = field(default_factory=list)
    names: dict[str, tuple[str, str]] = field(default_factory=dict)
    opened: list[str] = field(default_factory=list)
    aside: dict[str, str | None] = field(default_factory=dict)

    @property
    def words(self) -> str:
        """For the history and the notice."""
        parts = [
            (len(self.added), "added"),
            (len(self.names), "renamed"),
            (len(self.opened), "settled grades opened again"),
            (sum(reason is not None for reason in self.aside.values()), "set aside"),
            (sum(reason is None for reason in self.aside.values()), " put back"),
        ]
        return ", ".join(f"{count} {what}" for count, what in parts if count) or "nothing had to be changed here"


def mending(course: Course, changes: Sequence[RosterChange], rules_changed: bool = False) -> Mending:
    """How the section follows the roster: added people join it, names are taken over, a settled grade of somebody
    who withdrew or whose basis does not take the code is opened, and who is gone is set aside with that reason.

    Where the registrar's rules changed, every settled grade that it does not take any more is opened.
    """
    made = Mending()
    for student_id in dict.fromkeys(change.student_id for change in changes):
        entry = course.records.entry(student_id) if course.records else None
        _follow(course, made, student_id, entry)
    for student in course.enrolled() if rules_changed else ():
        if student.id not in made.opened and not _still_good(course, student.id):
            made.opened.append(student.id)
    return made


def joins_section(entry: RosterEntry) -> bool:
    """Whether somebody on the registrar's roster belongs into the section: enrolled or auditing."""
    return entry.status != "withdrawn"


def _follow(course: Course, made: Mending, student_id: str, entry: RosterEntry | None) -> None:
    student = course.student(student_id)
    if student is None:
        if entry is not None and joins_section(entry):
            made.added.append(Student(entry.id, entry.family_name, entry.given_name))
        return
    if entry is None:
        if student.set_aside is None:
            made.aside[student_id] = GONE
        return
    if student.set_aside == GONE:
        made.aside[student_id] = None
    if (student.family_name, student.given_name) != (entry.family_name, entry.given_name):
        made.names[student_id] = (entry.family_name, entry.given_name)
    if not _still_good(course, student_id):
        made.opened.append(student_id)


def _still_good(course: Course, student_id: str) -> bool:
    """Whether the registrar would take the settled grade; so it is where nothing is settled."""
    settled, entry = course.settled.get(student_id), course.records.entry(student_id) if course.records else None
    if settled is None or entry is None:
        return True
    return entry.status != "withdrawn" and settled.grade in {rule.code for rule in codes_for(course, entry.basis)}


def rule_changes(before: Records, now: Records) -> list[str]:
    """What changed in the registrar's rules between two pulls, in words."""
    old, new = ({rule.code: rule for rule in records.codes} for records in (before, now))
    found = [f"the code {code} is new" for code in new if code not in old]
    found += [f"the code {code} is gone" for code in old if code not in new]
    found += [f"the code {code} has other rules" for code in new if old.get(code, new[code]) != new[code]]
    others: Mapping[str, tuple[object, object]] = {
        "days for an incomplete": (before.incomplete_limit_days, now.incomplete_limit_days),
        "the fallback grade it fixes": (before.incomplete_fallback, now.incomplete_fallback),
        "the finish-by date it fixes": (before.incomplete_finish_by, now.incomplete_finish_by),
        "how never attended is said": (before.never_attended, now.never_attended),
        "the lowest letter that passes": (before.pass_from, now.pass_from),
    }
    return found + [f"{what} changed" for what, (was, is_now) in others.items() if was != is_now]
