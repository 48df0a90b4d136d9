"""The class list: who is in the section, added, corrected, set aside, withdrawn, joined late, removed."""

from flask import Blueprint, redirect, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Student
from vinemark.core.course.detail import NO_DETAIL, TypedStudent
from vinemark.core.course.stand_in import is_stand_in
from vinemark.core.scores.trial_student import TRIAL_ID
from vinemark.section.acts import class_list as acts
from vinemark.section.acts import settle
from vinemark.section.outcome import Conflict, Done, Outcome
from vinemark.section.state import SectionState
from vinemark.store import class_list
from vinemark.web.request import (
    any_section,
    instructors_section,
    new_act,
    page,
    require_sign_in,
    student_of,
    tell,
)

CLASS_LIST_FOLDER = "class_list"
TYPED_FIELDS = ("id", "family_name", "given_name", "email", "preferred", "pronunciation", "remark", "joined")

blueprint = Blueprint("class_list", __name__, url_prefix="/s/<int:section_id>/class")
blueprint.before_request(require_sign_in)


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """The list, with one student beside it."""
    section = any_section(section_id)
    return _page(section, section.course.student(request.args.get("student", "")))


def _page(section: SectionState, student: Student | None, refused: Refused | None = None) -> ResponseReturnValue:
    details = class_list.details_of(section.connection, section.id)
    detail = details.get(student.id, NO_DETAIL) if student else NO_DETAIL
    return page(
        "scores",
        section,
        422 if refused else 200,
        CLASS_LIST_FOLDER,
        details=details,
        no_detail=NO_DETAIL,
        student=student,
        detail=detail,
        was=acts.student_fingerprint(student, detail) if student else "",
        kept=class_list.kept_for(section.connection, section.id, [student.id]).get(student.id, 0) if student else 0,
        roster_ids=len(acts.ids_of_roster(section.course)),
        undated=acts.undated_words(section.course),
        no_id=student is not None and is_stand_in(student.id),
        trial=section.course.student(TRIAL_ID),
        refused=refused,
        form=request.form,
    )


def _answer(section: SectionState, student: Student | None, outcome: Outcome) -> ResponseReturnValue:
    """The list again: with the reason at its field where something was refused."""
    if isinstance(outcome, Refused):
        return _page(section, student, outcome)
    tell(outcome)
    keep = student is not None and (isinstance(outcome, Conflict) or section.fresh().course.student(student.id))
    named = student.id if student and keep else None
    return redirect(url_for("class_list.show", section_id=section.id, student=named))


@blueprint.post("/add")
def add(section_id: int) -> ResponseReturnValue:
    """Students pasted or typed, one a line."""
    section, form = instructors_section(section_id), request.form
    outcome = acts.add_people(section, new_act(section_id), form.get("people", ""), bool(form.get("twice")))
    return _answer(section, None, outcome)


@blueprint.post("/trial")
def add_trial(section_id: int) -> ResponseReturnValue:
    """A test student, to try the plan on."""
    section = instructors_section(section_id)
    return _answer(section, None, acts.add_trial(section, new_act(section_id), request.form.get("all", "")))


@blueprint.post("/trial/remove")
def remove_trial(section_id: int) -> ResponseReturnValue:
    """The test student goes."""
    section = instructors_section(section_id)
    return _answer(section, None, acts.remove_trial(section, new_act(section_id)))


@blueprint.post("/ids")
def take_ids(section_id: int) -> ResponseReturnValue:
    """The registrar's numbers for those who have none yet."""
    section = instructors_section(section_id)
    outcome = acts.take_ids(section, new_act(section_id))
    tell(outcome)
    return redirect(url_for("class_list.show", section_id=section_id))


@blueprint.post("/<student_id>/correct")
def correct(section_id: int, student_id: str) -> ResponseReturnValue:
    """A student as typed."""
    section, form = instructors_section(section_id), request.form
    student = student_of(section, student_id)
    typed = TypedStudent(**{field: form.get(field, "") for field in TYPED_FIELDS})
    outcome = acts.correct(section, new_act(section_id), student, typed, form.get("was", ""))
    if isinstance(outcome, Done):
        tell(outcome)
        number = typed.id.strip() or student.id
        return redirect(url_for("class_list.show", section_id=section_id, student=number))
    return _answer(section, student, outcome)


@blueprint.post("/<student_id>/joined")
def joined(section_id: int, student_id: str) -> ResponseReturnValue:
    """The day a student joined, with what becomes exempt."""
    section = instructors_section(section_id)
    student = student_of(section, student_id)
    outcome = acts.joined_late(section, new_act(section_id), student, request.form.get("joined", ""))
    return _answer(section, student, outcome)


@blueprint.post("/<student_id>/withdraw")
def withdraw(section_id: int, student_id: str) -> ResponseReturnValue:
    """A student who left."""
    section, form = instructors_section(section_id), request.form
    student = student_of(section, student_id)
    outcome = acts.withdraw(section, new_act(section_id), student, form.get("day", ""), form.get("note", ""))
    return _answer(section, student, outcome)


@blueprint.post("/<student_id>/aside")
def set_aside(section_id: int, student_id: str) -> ResponseReturnValue:
    """Set aside with a reason."""
    section = instructors_section(section_id)
    student = student_of(section, student_id)
    outcome = settle.set_aside(section, new_act(section_id), student, request.form.get("aside", ""))
    return _answer(section, student, outcome)


@blueprint.post("/<student_id>/back")
def put_back(section_id: int, student_id: str) -> ResponseReturnValue:
    """Back in the class."""
    section = instructors_section(section_id)
    student = student_of(section, student_id)
    return _answer(section, student, settle.put_back(section, new_act(section_id), student))


@blueprint.post("/<student_id>/remove")
def remove(section_id: int, student_id: str) -> ResponseReturnValue:
    """Take a student out of whom nothing is kept."""
    section = instructors_section(section_id)
    student = student_of(section, student_id)
    return _answer(section, student, acts.remove(section, new_act(section_id), student))
