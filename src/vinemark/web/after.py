"""After: changes of grade, the diary of incompletes, and the archive of a section."""

import re
from collections.abc import Mapping
from contextlib import suppress
from uuid import uuid4

from flask import Blueprint, Response, abort, redirect, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from vinemark.core.after.grade_change import GradeChange, new_grade
from vinemark.core.after.incompletes import Incomplete, diary
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Student
from vinemark.core.grade.codes import codes_for, needs_of
from vinemark.core.scores.last_work import last_work
from vinemark.core.submit.grade_row import sending_row, text_digest
from vinemark.exchange import archive, course_file
from vinemark.store import archives, grade_changes
from vinemark.store.history import AlreadyDoneError, ChangedSinceError
from vinemark.web.context import (
    Standing,
    act,
    courier,
    database,
    instructor_standing,
    leave_notice,
    page,
    require_sign_in,
    settings,
    standing,
    whole_standing,
)
from vinemark.web.desk import my_email
from vinemark.web.settled_form import fields_of, typed_settled
from vinemark.web.submit import STALE_SECONDS, tell

blueprint = Blueprint("after", __name__, url_prefix="/s/<int:section_id>/after")
blueprint.before_request(require_sign_in)
LARGEST_EVIDENCE = 10 * 1024 * 1024
LONGEST_NOTE = 2000


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """The page; ?student opens the form for one student, with what is settled for them now."""
    found = standing(section_id)
    chosen = found.course.student(request.args.get("student", ""))
    return _page(found, chosen)


def _page(
    found: Standing, chosen: Student | None, refused: Refused | None = None, ask: bool = True
) -> ResponseReturnValue:
    course = found.course
    typed: Mapping[str, str] = request.form if refused else _typed(found, chosen)
    return page(
        "after",
        found,
        422 if refused else 200,
        chosen=chosen,
        typed=typed,
        refused=refused,
        needs=needs_of(course, typed.get("grade", "").strip()),
        codes=codes_for(course, course.grading_basis(chosen.id)) if chosen else [],
        suggestion=last_work(course, chosen.id, found.as_of) if chosen else None,
        students=course.enrolled() if found.posted_at else [],
        # An answer that comes in while the form is filled in must not touch what was typed.
        ask=ask and chosen is None and _stale(found),
        names={s.id: s.name for s in course.students},
        incompletes=_diary(found),
        records=course.records,
    )


def _stale(found: Standing) -> bool:
    """Whether the office is to be asked again now that the page is opened."""
    mine = found.section.role == "instructor" and found.section.office_ref and not found.section.archive
    read = found.read_back.read_at if found.read_back else None
    return bool(mine) and read is not None and (settings().clock.now() - read).total_seconds() > STALE_SECONDS


@blueprint.post("/refresh")
def refresh(section_id: int) -> ResponseReturnValue:
    """When the page is opened: the office's answers and what it holds, without a word where nothing is new."""
    found = instructor_standing(section_id)
    tell(courier(found).read_back("final"))
    fresh = standing(section_id)
    return _page(fresh, fresh.course.student(request.args.get("student", "")), ask=False)


def _diary(found: Standing) -> list[Incomplete]:
    return diary(found.course, found.held, found.fell_back, found.changes, settings().clock.today())


def _typed(found: Standing, chosen: Student | None) -> dict[str, str]:
    """What the form starts with: the settled grade, where it moved from what the office holds."""
    drift = next((d for d in found.drifts if chosen and d.student_id == chosen.id), None)
    fields = fields_of(found.course.settled.get(chosen.id)) if chosen and drift else {}
    return {**fields, "why": fields["reason"]} if fields else {}


@blueprint.post("/changes/<student_id>")
def ask(section_id: int, student_id: str) -> ResponseReturnValue:
    """Ask for a change of grade: kept first, then sent."""
    found = instructor_standing(section_id)
    student = found.student(student_id)
    if not found.posted_at:
        leave_notice("The office has not posted yet: settle the grade and send its row again.", trouble=True)
        return _back(found)
    try:
        change, content = _asked(found, student)
    except Refused as error:
        return _page(found, student, error)
    was = change.old.code if change.old else "none"
    what = f"change of grade asked for {student.plain_name}: {was} to {change.new.code}"
    try:
        made = grade_changes.ask(database(), act(section_id), change, my_email(), content, what)
    except ChangedSinceError as error:
        leave_notice(str(error), trouble=True)
    except AlreadyDoneError:
        pass
    else:
        _go(found, made)
    return _back(found)


def _asked(found: Standing, student: Student) -> tuple[GradeChange, bytes | None]:
    """The request as typed. Raises Refused at the field."""
    form, old = request.form, found.held.get(student.id)
    typed = typed_settled()
    if not typed.grade.strip():
        raise Refused("grade", "type the new grade")
    made = new_grade(found.course, student.id, old, typed, form.get("why", ""))
    before = found.course.settled.get(student.id)
    note, name, content = _evidence()
    change = GradeChange(
        0, str(uuid4()), student.id, old, sending_row(found.course, student.id, made), made, made.reason or "",
        note, name, current_user.name, settings().clock.now(), "waiting",
        owed=old.owed if old else before.owed if before else None,
    )  # fmt: skip
    return change, content


def _evidence() -> tuple[str | None, str | None, bytes | None]:
    note = request.form.get("evidence_note", "").strip() or None
    if note and len(note) > LONGEST_NOTE:
        raise Refused("evidence_note", f"is longer than {LONGEST_NOTE} characters")
    upload = request.files.get("evidence")
    if upload is None or not upload.filename:
        return note, None, None
    content = upload.read(LARGEST_EVIDENCE + 1)
    if len(content) > LARGEST_EVIDENCE:
        raise Refused("evidence", "is larger than 10 MB")
    return note, upload.filename[-200:], content


def _go(found: Standing, change_id: int) -> None:
    change = grade_changes.change_of(database(), found.id, change_id)
    if change is not None and change.state == "waiting":
        tell(courier(found).ask(change))


def _back(found: Standing) -> ResponseReturnValue:
    return redirect(url_for("after.show", section_id=found.id))


@blueprint.post("/changes/again/<int:change_id>")
def ask_again(section_id: int, change_id: int) -> ResponseReturnValue:
    """Send a request again that was not confirmed: the office takes it once."""
    found = instructor_standing(section_id)
    _go(found, change_id)
    return _back(found)


@blueprint.post("/read-back")
def read_back(section_id: int) -> ResponseReturnValue:
    """Ask the office for its answers and what it holds now."""
    found = instructor_standing(section_id)
    trouble = courier(found).read_back("final")
    if trouble is None:
        leave_notice("Read back from the office.")
    tell(trouble)
    return _back(found)


@blueprint.get("/changes/evidence/<int:change_id>")
def evidence(section_id: int, change_id: int) -> ResponseReturnValue:
    """The file kept with a change of grade, to be saved and never shown in the page."""
    whole_standing(section_id)
    kept = grade_changes.evidence_of(database(), section_id, change_id)
    if kept is None:
        abort(404)
    name = re.sub(r"[^A-Za-z0-9._ -]", "_", kept.name)
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(kept.content, mimetype="application/octet-stream", headers=headers)


@blueprint.post("/archive")
def take_archive(section_id: int) -> ResponseReturnValue:
    """Everything about the section in one file; its digest goes into the history."""
    found = whole_standing(section_id)
    data = archive.write(_archive(found))
    if found.section.role == "instructor":
        with suppress(AlreadyDoneError):
            archives.note_made(database(), act(section_id), text_digest(data))
    stem = re.sub(r"[^A-Za-z0-9]+", "-", f"{found.section.name.short} {found.section.term.name}").strip("-")
    headers = {"Content-Disposition": f'attachment; filename="{stem}.archive.zip"'}
    return Response(data, mimetype="application/zip", headers=headers)


def _archive(found: Standing) -> archive.Archive:
    connection = database()
    return archive.Archive(
        course=course_file.write(found.course),
        made_at=settings().clock.now().isoformat(timespec="seconds"),
        syllabus=found.course.syllabus,
        history=archives.history_values(connection, found.id),
        sendings=archives.sending_values(connection, found.id),
        changes=archives.change_values(connection, found.id),
        beside=archives.beside_values(connection, found.id),
    )
