"""Settle: computed and settled side by side, for the whole class on one list."""

from collections.abc import Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass

from flask import Blueprint, abort, redirect, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.after.drift import Moved, moved
from vinemark.core.audit import Finding
from vinemark.core.audit.finding import stops_by_student
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import RosterEntry, Settled, Student
from vinemark.core.grade.calculation import Grade
from vinemark.core.grade.codes import codes_for, computed_code, needs_of
from vinemark.core.plan.plan import Item
from vinemark.core.scores.last_work import last_work
from vinemark.core.settle import settling
from vinemark.core.settle.same_place import refuse_unseen, same_place
from vinemark.exchange import course_file
from vinemark.store import opened
from vinemark.store import settled as store
from vinemark.store import submissions as sendings
from vinemark.store.history import AlreadyDoneError
from vinemark.web.context import (
    Standing,
    act,
    database,
    instructor_standing,
    leave_notice,
    page,
    require_sign_in,
    standing,
)
from vinemark.web.settled_form import fields_of, typed_settled

blueprint = Blueprint("settle", __name__, url_prefix="/s/<int:section_id>/settle")
blueprint.before_request(require_sign_in)


@dataclass(frozen=True)
class Line:
    """One student of the list. `typed` is what stands in the fields, refused or kept."""

    student: Student
    grade: Grade
    computed: str | None
    settled: Settled | None
    typed: Mapping[str, str]
    needs: tuple[str, ...]
    status: str
    basis: str
    stops: list[Finding]
    flags: list[Finding]
    suggestion: Item | None
    refused: Refused | None = None
    others: int = 0

    @property
    def states(self) -> str:
        """What a filter goes by."""
        flags = [("open", self.settled is None), ("changed", self.differs), ("flagged", bool(self.flags))]
        return " ".join(name for name, holds in flags if holds)

    @property
    def differs(self) -> bool:
        """Settled otherwise than computed."""
        return self.settled is not None and self.settled.grade != self.computed


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """The list."""
    return _page(standing(section_id))


def _page(found: Standing, refused: tuple[str, Refused] | None = None) -> ResponseReturnValue:
    lines = _lines(found, refused)
    return page(
        "settle",
        found,
        status=422 if refused else 200,
        lines=[line for line in lines if line.status in {"enrolled", "not on the roster"}],
        apart=[line for line in lines if line.status not in {"enrolled", "not on the roster"}],
        settled_count=sum(line.settled is not None for line in lines if line.status == "enrolled"),
        enrolled_count=sum(line.status == "enrolled" for line in lines),
        moved=_moved(found),
        missing=[entry for entry in found.course.not_in_section() if entry.status == "enrolled"],
        codes={basis: codes_for(found.course, basis) for basis in ("letter", "pass")},
        letter_counts=settling.letter_counts(found.run_course),
        raised=[line for line in lines if line.status == "enrolled" and line.differs],
        records=found.course.records,
    )


def _moved(found: Standing) -> list[Moved]:
    """Whose computed grade moved since the last signing that the office took."""
    last = next((s for s in reversed(found.sendings) if s.receipt), None)
    if last is None or found.run != "final":
        return []
    text = sendings.signed_course(database(), found.id, last.id)
    return moved(course_file.read(text), last.signed_at.date(), found.course, found.as_of) if text else []


def _lines(found: Standing, refused: tuple[str, Refused] | None = None) -> list[Line]:
    stops = stops_by_student(found.run_findings)
    grades = found.run_grades
    return [_line(found, s, grades[s.id], stops.get(s.id, []), refused) for s in found.course.students]


def _line(
    found: Standing, student: Student, grade: Grade, stops: list[Finding], refused: tuple[str, Refused] | None
) -> Line:
    course, today = found.run_course, found.as_of
    settled = course.settled.get(student.id)
    mine = refused[1] if refused and refused[0] == student.id else None
    typed: Mapping[str, str] = request.form if mine else fields_of(settled)
    code = typed.get("grade", "")
    return Line(
        student=student,
        grade=grade,
        computed=computed_code(course, student.id, grade),
        settled=settled,
        typed=typed,
        needs=needs_of(course, code),
        status="set aside" if student.set_aside else course.status(student) or "not on the roster",
        basis=course.grading_basis(student.id),
        stops=stops,
        flags=[f for f in _flags(found) if f.student == student.id and f.code != "unsettled"],
        suggestion=last_work(course, student.id, today),
        refused=mine,
        others=_others(found, student, code) if mine and mine.field == "fair" else 0,
    )


def _flags(found: Standing) -> Sequence[Finding]:
    return found.open_findings if found.run == "final" else found.run_findings


def _others(found: Standing, student: Student, code: str) -> int:
    """How many stand in the same place, for the tick that says they were seen."""
    made = settling.typed_code(found.run_course, student.id, code)
    return len(same_place(found.run_course, found.run_grades, student.id, made))


@blueprint.post("/student/<student_id>")
def settle_one(section_id: int, student_id: str) -> ResponseReturnValue:
    """Settle one student as typed; an empty code opens the grade again."""
    found = instructor_standing(section_id)
    student = found.student(student_id)
    try:
        new = _typed_settled(found, student)
    except Refused as error:
        return _page(found, (student_id, error))
    if new == found.run_course.settled.get(student_id):
        return _page(found)
    what = f"{student.plain_name}: {'open again' if new is None else 'settled as ' + new.grade}"
    with suppress(AlreadyDoneError):
        store.settle(database(), act(section_id), {student_id: new}, what, found.run)
    return _page(standing(section_id))


def _typed_settled(found: Standing, student: Student) -> Settled | None:
    form, course = request.form, found.run_course
    if not form.get("grade", "").strip():
        return None
    grades = found.run_grades
    made = settling.settle_one(
        course, student.id, typed_settled(), computed_code(course, student.id, grades[student.id])
    )
    before = course.settled.get(student.id)
    if before is None or before.grade != made.grade:
        others = same_place(course, grades, student.id, made.grade)
        refuse_unseen(others, form.get("seen", ""))
    return made


@blueprint.post("/take-rest")
def take_rest(section_id: int) -> ResponseReturnValue:
    """Take every open grade as computed, in one act with one undo."""
    found = instructor_standing(section_id)
    grades = found.run_grades
    taken = settling.take_as_computed(found.run_course, grades)
    if not taken:
        leave_notice("No open grade could be taken as computed.", trouble=True)
        return _back(found)
    with suppress(AlreadyDoneError):
        what = f"{len(taken)} {'midterm ' if found.run == 'midterm' else ''}grades taken as computed"
        entry = store.settle(database(), act(section_id), taken, what, found.run)
        left = settling.still_open(found.run_course) - len(taken)
        leave_notice(f"{what}, {left} left open." if left else f"{what}.", entry)
    return _back(found)


@blueprint.post("/open")
def open_to_students(section_id: int) -> ResponseReturnValue:
    """Open the run's settled grades to students, or hold them back."""
    found = instructor_standing(section_id)
    wanted = request.form.get("open") == "1"
    with suppress(AlreadyDoneError):
        entry = opened.open_grades(database(), act(section_id), found.run, wanted)
        leave_notice("Students see these grades now." if wanted else "Held back from students.", entry)
    return _back(found)


def _back(found: Standing) -> ResponseReturnValue:
    return redirect(url_for("settle.show", section_id=found.id, run=found.run_arg))


@blueprint.post("/aside/<student_id>")
def set_aside(section_id: int, student_id: str) -> ResponseReturnValue:
    """Set a student aside with a reason, or take them back."""
    found = instructor_standing(section_id)
    student = found.student(student_id)
    reason = " ".join(request.form.get("reason", "").split()) or None
    if request.form.get("back") != "1" and reason is None:
        return _page(found, (student_id, Refused("aside", "say why this student is set aside")))
    what = f"{student.plain_name} {'set aside: ' + reason if reason else 'taken back'}"
    with suppress(AlreadyDoneError):
        entry = store.set_aside(database(), act(section_id), student_id, reason, what)
        leave_notice(f"{what}.", entry)
    return _back(found)


@blueprint.post("/add/<student_id>")
def add_from_roster(section_id: int, student_id: str) -> ResponseReturnValue:
    """Put a student of the roster into the section."""
    found = instructor_standing(section_id)
    entry = found.course.records.entry(student_id) if found.course.records else None
    if entry is None:
        abort(404)
    if found.course.student(student_id) is None:
        with suppress(AlreadyDoneError):
            add_entry(found, entry)
    return _back(found)


def add_entry(found: Standing, entry: RosterEntry) -> None:
    """Put a person of the roster into the section, and say so."""
    new = Student(entry.id, entry.family_name, entry.given_name)
    store.add_students(database(), act(found.id), [new], f"{new.plain_name} added from the roster")
    leave_notice(f"{new.plain_name} added from the registrar’s roster.")
