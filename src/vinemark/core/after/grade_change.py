"""A change of grade: one student, after posting, from what the registrar has to another grade, with a reason."""

from base64 import b64encode
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any, Literal

from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Course, Settled
from vinemark.core.grade.codes import needs_of
from vinemark.core.settle.settling import checked_grade, typed_code
from vinemark.core.submit.grade_row import GradeRow, grade_row, row_values, text_digest

ChangeState = Literal["waiting", "sent", "granted", "refused", "not taken"]
LONGEST_REASON = 2000


@dataclass(frozen=True)
class GradeChange:
    """A request as it was written and what became of it.

    `waiting`: not yet confirmed by the registrar. `sent`: it has arrived there. `not taken`: it was refused there.
    `old` is None where the registrar held no grade.
    """

    id: int
    key: str
    student_id: str
    old: GradeRow | None
    new: GradeRow
    settled: Settled
    reason: str
    evidence_note: str | None
    evidence_name: str | None
    asked_by: str
    asked_at: datetime
    state: ChangeState
    owed: str | None = None
    number: str | None = None
    word: str | None = None
    answered_at: str | None = None
    trouble: str | None = None

    @property
    def open(self) -> bool:
        """Whether the registrar still owes an answer."""
        return self.state in {"waiting", "sent"}


def new_grade(course: Course, student_id: str, old: GradeRow | None, typed: Settled, why: str) -> Settled:
    """The grade asked for, checked against the registrar's codes and needs. Raises Refused at the field."""
    reason = " ".join(why.split())
    # A change of grade has its reason of its own: it does not have to agree with the computed letter.
    # The code is read first, so that a code that cannot be is said before a missing reason.
    code = typed_code(course, student_id, typed.grade)
    made = checked_grade(course, student_id, replace(typed, reason=reason or "change of grade"), code)
    if not reason:
        raise Refused("why", "type why the grade changes, for the registrar")
    if len(reason) > LONGEST_REASON:
        raise Refused("why", f"is longer than {LONGEST_REASON} characters")
    _refuse_lacking(course, made)
    made = replace(made, reason=reason)
    if grade_row(course, student_id, made) == old:
        raise Refused("grade", f"the registrar has {made.grade} already")
    return made


def _refuse_lacking(course: Course, made: Settled) -> None:
    needs = needs_of(course, made.grade)
    if "last_attended" in needs and made.last_attended is None and not made.never_attended:
        raise Refused("last_attended", f"{made.grade} needs the last date of attendance")
    if "fallback_grade" in needs and not made.fallback_grade:
        raise Refused("fallback_grade", f"{made.grade} needs a fallback grade")
    if "finish_by" in needs and made.finish_by is None:
        raise Refused("finish_by", f"{made.grade} needs a finish-by date")


def request_values(
    student_id: str, old: GradeRow | None, new: GradeRow, reason: str, evidence: dict[str, str] | None
) -> dict[str, Any]:
    """What the registrar is asked, as JSON values. `evidence` is as `evidence_values` makes it."""
    return {
        "student": student_id,
        "old": row_values(old) if old else None,
        "new": row_values(new),
        "reason": reason,
        "evidence": evidence,
    }


def evidence_values(note: str | None, name: str | None, content: bytes | None) -> dict[str, str] | None:
    """What goes to the registrar as evidence: the note, and a file with its name, its digest and its bytes (base64)."""
    values = {"note": note} if note else {}
    if name and content is not None:
        values |= {"file": name, "sha256": text_digest(content), "content": b64encode(content).decode()}
    return values or None
