"""What students see: chosen in one sentence, with a look at exactly what one of them has."""

from dataclasses import fields

from flask import Blueprint, abort, redirect, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.base.refused import Refused
from vinemark.core.scores.visibility import SHOWN_GRADE_WORDS, item_visibility
from vinemark.core.settle.settling import still_open
from vinemark.core.statement.shown import SEEN_WORDS, StudentsSee
from vinemark.section.acts.settle import choose_students_see, show_grades
from vinemark.section.acts.tell import tell_students, with_address
from vinemark.section.state import SectionState
from vinemark.section.statement import visible_items
from vinemark.store.outbox import letter_fates
from vinemark.web.mail import letters_summary, teller_of
from vinemark.web.people.links import sends_mail
from vinemark.web.request import (
    instructors_section,
    new_act,
    page,
    require_sign_in,
    student_of,
    tell,
    tell_without_undo,
)

blueprint = Blueprint("seen", __name__, url_prefix="/s/<int:section_id>/seen")
blueprint.before_request(require_sign_in)


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """The choices, what is visible, and whose statement can be looked at."""
    return _page(instructors_section(section_id))


def _page(section: SectionState, refused: Refused | None = None) -> ResponseReturnValue:
    section_id = section.id
    course, chosen = section.course, section.snapshot.loaded.visibility
    items = [(item, item_visibility(course, item, chosen.get(item.id))) for item in course.plan.columns.values()]
    return page(
        "settle",
        section,
        422 if refused else 200,
        folder="seen",
        chosen=section.snapshot.loaded.students_see,
        switches=SEEN_WORDS,
        items=items,
        visible=len(visible_items(section.snapshot)),
        shown_words=SHOWN_GRADE_WORDS,
        runs=[(run, section.snapshot.run(run), still_open(section.snapshot.run(run).course))
              for run in section.snapshot.runs],
        mail=sends_mail(),
        told=len(with_address(section)),
        refused=refused,
        typed=request.form,
        letters=letters_summary(letter_fates(section.connection, section_id)),
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


@blueprint.post("/grades")
def show_to(section_id: int) -> ResponseReturnValue:
    """Make a run's grades visible to everybody, to those who are settled, or to those who were chosen; or hide them."""
    section, form = instructors_section(section_id), request.form
    shows = next((one for one in SHOWN_GRADE_WORDS if one == form.get("shows")), None)
    teller = teller_of(section_id) if form.get("tell") == "1" else None
    outcome = show_grades(section, new_act(section_id), shows, teller, _only(section))
    if isinstance(outcome, Refused):
        return _page(section, outcome)
    tell(outcome)
    return redirect(url_for("seen.show", section_id=section_id))


def _only(section: SectionState) -> frozenset[str] | None:
    if request.form.get("whom") == "settled":
        return frozenset(section.of_run.course.settled)
    return frozenset(request.form.getlist("only")) if request.form.get("whom") == "chosen" else None


@blueprint.post("/tell")
def tell_them(section_id: int) -> ResponseReturnValue:
    """Tell students by email that there is something new."""
    section, teller = instructors_section(section_id), teller_of(section_id)
    if teller.link is None:
        abort(404)
    form = request.form
    outcome = tell_students(section, new_act(section_id), form.get("student", ""), form.get("more", ""), teller)
    if isinstance(outcome, Refused):
        return _page(section, outcome)
    tell_without_undo(outcome)
    return redirect(url_for("seen.show", section_id=section_id))
