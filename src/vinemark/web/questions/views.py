"""Questions of students about their scores: those that wait first, answered in place."""

from flask import Blueprint, abort, redirect, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.base.refused import Refused
from vinemark.section.acts.questions import answer as answer_act
from vinemark.section.state import SectionState
from vinemark.web.mail import teller_of
from vinemark.web.request import instructors_section, new_act, page, require_sign_in, tell_without_undo

blueprint = Blueprint("questions", __name__, url_prefix="/s/<int:section_id>/questions")
blueprint.before_request(require_sign_in)


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """All questions, those without an answer first."""
    return _page(instructors_section(section_id))


def _page(section: SectionState, wrong: int = 0, refused: Refused | None = None) -> ResponseReturnValue:
    course = section.course
    return page(
        "scores",
        section,
        422 if refused else 200,
        "questions",
        questions=sorted(section.snapshot.loaded.questions, key=lambda one: (one.answer is not None, -one.id)),
        names={student.id: student.plain_name for student in course.students},
        items=course.plan.columns,
        cells={one.id: course.cell(one.student_id, one.item_id) for one in section.snapshot.loaded.questions},
        wrong=wrong,
        refused=refused,
        typed=request.form.get("answer", ""),
    )


@blueprint.post("/<int:question_id>")
def answer(section_id: int, question_id: int) -> ResponseReturnValue:
    """Answer one."""
    section = instructors_section(section_id)
    asked = next((one for one in section.snapshot.loaded.questions if one.id == question_id), None)
    if asked is None:
        abort(404)
    outcome = answer_act(section, new_act(section_id), asked, request.form.get("answer", ""), teller_of(section_id))
    if isinstance(outcome, Refused):
        return _page(section, question_id, outcome)
    tell_without_undo(outcome)
    return redirect(url_for("questions.show", section_id=section_id))
