"""Acts after posting: a change of grade asked for, kept first and then sent."""

from dataclasses import dataclass
from uuid import uuid4

from vinemark.core.after.grade_change import GradeChange, new_grade
from vinemark.core.base.refused import Refused
from vinemark.core.course.bounds import refuse_oversized_grade
from vinemark.core.course.course import Settled, Student
from vinemark.core.submit.grade_row import grade_row, text_digest
from vinemark.exchange.apart import make_apart, unheard
from vinemark.exchange.archive_pages import readable_archive
from vinemark.section.delivery.courier import courier_of
from vinemark.section.delivery.gateway import Gateway
from vinemark.section.gathering import gathered
from vinemark.section.outcome import Conflict, Done, Outcome, act
from vinemark.section.state import SectionState
from vinemark.store import archives, grade_changes
from vinemark.store.history import Act

LARGEST_EVIDENCE = 10 * 1024 * 1024
LONGEST_NOTE = 2000


@dataclass(frozen=True)
class TypedRequest:
    """A change of grade as typed, with its evidence: a note, or a file of at most 10 MB."""

    grade: Settled
    why: str
    note: str
    file_name: str = ""
    file: bytes | None = None


@dataclass(frozen=True)
class Asker:
    """Who asks."""

    name: str
    email: str


def ask_change(
    section: SectionState, request: Act, gateway: Gateway, student: Student, typed: TypedRequest, asker: Asker
) -> Outcome:
    """Ask for a change of grade: kept first, then sent."""
    if not section.of_run.posted_at:
        return Conflict("The registrar has not posted yet: settle the grade and send its row again.")
    kept = _keep_request(section, request, student, typed, asker)
    if not isinstance(kept, Done) or kept.entry is None:
        return kept
    # What the act gives as its entry is the request itself: it has no undo.
    return send_change(section, request, gateway, kept.entry)


@act
def _keep_request(section: SectionState, request: Act, student: Student, typed: TypedRequest, asker: Asker) -> Done:
    change = _request(section, request, student, typed, asker)
    was = change.old.code if change.old else "none"
    what = f"change of grade asked for {student.plain_name}: {was} to {change.new.code}"
    made = grade_changes.write_request(section.connection, request, change, asker.email, typed.file, what)
    return Done(entry=made)


def _request(section: SectionState, request: Act, student: Student, typed: TypedRequest, asker: Asker) -> GradeChange:
    course, old = section.course, section.of_run.there(student.id)
    if not typed.grade.grade.strip():
        raise Refused("grade", "type the new grade")
    refuse_oversized_grade(typed.grade)
    made = new_grade(course, student.id, old, typed.grade, typed.why)
    note = typed.note.strip() or None
    if note and len(note) > LONGEST_NOTE:
        raise Refused("evidence_note", f"is longer than {LONGEST_NOTE} characters")
    if typed.file is not None and len(typed.file) > LARGEST_EVIDENCE:
        raise Refused("evidence", "is larger than 10 MB")
    before = course.settled.get(student.id)
    return GradeChange(
        id=0,
        key=str(uuid4()),
        student_id=student.id,
        old=old,
        new=grade_row(course, student.id, made),
        settled=made,
        reason=made.reason or "",
        evidence_note=note,
        evidence_name=typed.file_name[-200:] if typed.file is not None else None,
        asked_by=asker.name,
        asked_at=request.at,
        state="waiting",
        owed=old.owed if old else before.owed if before else None,
    )


def send_change(section: SectionState, request: Act, gateway: Gateway, change_id: int) -> Outcome:
    """Send a request that was not confirmed yet: the registrar takes it once."""
    change = grade_changes.change_of(section.connection, section.id, change_id)
    going = courier_of(section.connection, gateway, request, section.record)
    if going is None or change is None or change.state != "waiting":
        return Done()
    return going.ask(change)


def make_archive(section: SectionState, request: Act) -> bytes:
    """Everything about the section in one file; its digest goes into the history where its instructor takes it.

    Raises Refused where it is not made.
    """
    found = gathered(section.connection, section.id, section.course, section.now)
    data = make_apart(unheard, readable_archive, found)
    if section.role == "instructor":
        _note_archive(section, request, text_digest(data))
    return data


@act
def _note_archive(section: SectionState, request: Act, digest: str) -> Done:
    archives.note_made(section.connection, request, digest)
    return Done()
