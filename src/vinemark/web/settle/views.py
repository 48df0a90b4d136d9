"""Settle: computed and settled side by side, for the whole class on one list."""

from collections.abc import Mapping

from flask import Blueprint, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.base.refused import Refused
from vinemark.core.course.course import GRADING_BASES
from vinemark.core.grade.codes import codes_for, needs_of
from vinemark.core.grade.steps import steps_of
from vinemark.core.scores.adjusting import reason_of
from vinemark.core.scores.visibility import SHOWN_GRADE_WORDS
from vinemark.core.settle.settling import letter_counts
from vinemark.section.acts import settle as acts
from vinemark.section.grade_record import entries_by_hand, settled_acts
from vinemark.section.outcome import Conflict
from vinemark.section.settle_list import SettleLine, others_in_place, settle_lines
from vinemark.section.state import SectionState
from vinemark.web.mail import teller_of
from vinemark.web.people.links import sends_mail
from vinemark.web.request import (
    instructors_section,
    is_htmx,
    new_act,
    notice_of,
    page,
    require_sign_in,
    student_of,
    tell,
    whole_section,
)
from vinemark.web.ui.settled_form import fields_of, typed_settled

LATEST = 5
"""So much of what happened to a grade is told beside the list."""

blueprint = Blueprint("settle", __name__, url_prefix="/s/<int:section_id>/settle")
blueprint.before_request(require_sign_in)


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """The list."""
    return _page(whole_section(section_id))


def _page(
    section: SectionState, student_id: str = "", refused: Refused | None = None, conflict: Conflict | None = None
) -> ResponseReturnValue:
    """The list; what was refused for one student stands at its place, with what was typed.

    An act on one student from the list brings back that student's line alone.
    """
    lines, run = settle_lines(section), section.of_run
    alone = student_id if is_htmx() else ""
    shown = [line for line in lines if line.graded and alone in {"", line.student.id}]
    typed = {line.student.id: _typed(line, student_id if refused else "") for line in shown}
    enrolled = [line for line in lines if line.status == "enrolled"]
    return page(
        "settle",
        section,
        status=422 if refused else 409 if conflict else 200,
        mail=sends_mail(),
        lines=shown,
        apart=[line for line in lines if not line.graded],
        typed=typed,
        needs={student: needs_of(run.course, fields.get("grade", "")) for student, fields in typed.items()},
        refused={student_id: refused} if refused else {},
        conflicts={student_id: notice_of(conflict, again=section)} if conflict else {},
        looked_at=acts.rest_fingerprint(section),
        others=_others(section, student_id, refused),
        settled_count=sum(line.settled is not None for line in enrolled),
        enrolled_count=len(enrolled),
        moved=run.moved,
        missing=[entry for entry in section.course.not_in_section() if entry.status == "enrolled"],
        codes={basis: codes_for(section.course, basis) for basis in GRADING_BASES},
        letter_counts=letter_counts(run.course),
        raised=[line for line in enrolled if line.differs],
        records=section.course.records,
    )


@blueprint.get("/about/<student_id>")
def about(section_id: int, student_id: str) -> ResponseReturnValue:
    """For the margin: the steps of one student, the distance to the next letter, the findings, what happened."""
    section = whole_section(section_id)
    student, run = student_of(section, student_id), section.of_run
    reviewed = section.snapshot.reviewed if section.run == "final" else ()
    return render_template(
        "settle/_about.html",
        section=section,
        student=student,
        worked=steps_of(run.course.plan, run.grades[student.id], reason_of(run.course, student)),
        findings=[one for one in run.open_findings if one.student == student.id and one.code != "unsettled"],
        accepted=[one for one in reviewed if one.acceptance and one.finding.student == student.id],
        done=settled_acts(entries_by_hand(section, section.run), student)[: -LATEST - 1 : -1],
    )


def _typed(line: SettleLine, refused_id: str) -> Mapping[str, str]:
    return request.form if line.student.id == refused_id else fields_of(line.settled)


def _others(section: SectionState, student_id: str, refused: Refused | None) -> int:
    """How many stand in the same place, for the tick that says they were seen."""
    if refused is None or refused.field != "fair":
        return 0
    return others_in_place(section, student_of(section, student_id), request.form.get("grade", ""))


@blueprint.post("/student/<student_id>")
def settle_one(section_id: int, student_id: str) -> ResponseReturnValue:
    """Settle one student as typed; an empty code opens the grade again."""
    section = instructors_section(section_id)
    student = student_of(section, student_id)
    try:
        typed = typed_settled() if request.form.get("grade", "").strip() else None
    except Refused as error:
        return _page(section, student_id, error)
    outcome = acts.settle(section, new_act(section_id), student, typed, request.form.get("seen", ""))
    if isinstance(outcome, Refused):
        return _page(section, student_id, outcome)
    return _page(section.fresh(), student_id, conflict=outcome if isinstance(outcome, Conflict) else None)


@blueprint.post("/take-rest")
def settle_rest(section_id: int) -> ResponseReturnValue:
    """Settle every open grade as computed, in one act with one undo."""
    section = instructors_section(section_id)
    tell(acts.settle_rest(section, new_act(section_id), request.form.get("looked_at", "")))
    return _back(section)


@blueprint.post("/visible")
def show_grades(section_id: int) -> ResponseReturnValue:
    """Make the run's settled or computed grades visible to students, or hide them."""
    section, typed = instructors_section(section_id), request.form.get("visible", "")
    shows = next((one for one in SHOWN_GRADE_WORDS if one == typed), None)
    teller = teller_of(section_id) if request.form.get("tell") == "1" else None
    tell(acts.show_grades(section, new_act(section_id), shows, teller))
    return _back(section)


def _back(section: SectionState) -> ResponseReturnValue:
    return redirect(url_for("settle.show", section_id=section.id, run=section.run_arg))


@blueprint.post("/aside/<student_id>")
def set_aside(section_id: int, student_id: str) -> ResponseReturnValue:
    """Set a student aside with a reason, or put them back."""
    section, form = instructors_section(section_id), request.form
    student = student_of(section, student_id)
    if form.get("back") == "1":
        outcome = acts.put_back(section, new_act(section_id), student)
    else:
        outcome = acts.set_aside(section, new_act(section_id), student, form.get("reason", ""))
    if isinstance(outcome, Refused):
        return _page(section, student_id, outcome)
    tell(outcome)
    return _back(section)


@blueprint.post("/add/<student_id>")
def add_from_roster(section_id: int, student_id: str) -> ResponseReturnValue:
    """Put a student of the roster into the section."""
    section = instructors_section(section_id)
    if section.course.records is None or section.course.records.entry(student_id) is None:
        abort(404)
    tell(acts.add_from_roster(section, new_act(section_id), student_id))
    return _back(section)
