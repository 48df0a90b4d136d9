"""What students see: chosen in one sentence, with a look at exactly what one of them has."""

from dataclasses import fields

from flask import Blueprint, redirect, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.scores.visibility import item_visibility
from vinemark.core.settle.settling import still_open
from vinemark.core.statement.shown import SEEN_WORDS, StudentsSee
from vinemark.section.acts.settle import choose_students_see
from vinemark.section.statement import visible_items
from vinemark.web.request import instructors_section, new_act, page, require_sign_in, student_of, tell

blueprint = Blueprint("seen", __name__, url_prefix="/s/<int:section_id>/seen")
blueprint.before_request(require_sign_in)


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """The choices, what is visible, and whose statement can be looked at."""
    section = instructors_section(section_id)
    course, chosen = section.course, section.snapshot.loaded.visibility
    items = [(item, item_visibility(course, item, chosen.get(item.id))) for item in course.plan.columns.values()]
    return page(
        "settle",
        section,
        folder="seen",
        chosen=section.snapshot.loaded.students_see,
        switches=SEEN_WORDS,
        items=items,
        visible=len(visible_items(section.snapshot)),
        runs=[(run, section.snapshot.run(run), still_open(section.snapshot.run(run).course))
              for run in section.snapshot.runs],
        students=[student for student in course.students if not student.set_aside],
    )  # fmt: skip


@blueprint.get("/look")
def look(section_id: int) -> ResponseReturnValue:
    """To the statement of the student who was chosen."""
    section = instructors_section(section_id)
    student = student_of(section, request.args.get("student", ""))
    return redirect(url_for("statement.preview", section_id=section_id, student_id=student.id))


@blueprint.post("")
def choose(section_id: int) -> ResponseReturnValue:
    """Choose what students see of visible work."""
    section = instructors_section(section_id)
    chosen = StudentsSee(**{one.name: request.form.get(one.name) == "1" for one in fields(StudentsSee)})
    tell(choose_students_see(section, new_act(section_id), chosen))
    return redirect(url_for("seen.show", section_id=section_id))
