"""A student's statement: for the student, and for whoever teaches the section exactly as the student has it."""

from collections.abc import Mapping

from flask import Blueprint, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.base.refused import Refused
from vinemark.core.course.cell import Cell
from vinemark.core.plan.scale import sorted_scale
from vinemark.core.scores.sheet import shown_percent
from vinemark.core.scores.typed_score import read_plan_score
from vinemark.core.statement.what_if import Needed, needed, tried
from vinemark.section.acts.questions import ask_about_score
from vinemark.section.statement import StudentsSection, students_section
from vinemark.store.students_see import studied_section
from vinemark.web.databases import database
from vinemark.web.request import (
    my_email,
    new_act,
    require_sign_in,
    settings,
    snapshots,
    take_notice,
    tell_without_undo,
    whole_section,
)

MOST_TYPED = 200

blueprint = Blueprint("statement", __name__, url_prefix="/s/<int:section_id>/statement")
blueprint.before_request(require_sign_in)


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """One's own statement."""
    return _page(_own(section_id), url_for("statement.try_own", section_id=section_id))


@blueprint.get("/try")
def try_own(section_id: int) -> ResponseReturnValue:
    """What scores still to come would do to one's grade; nothing is kept."""
    return _tried(_own(section_id))


@blueprint.post("/ask/<item_id>")
def ask(section_id: int, item_id: str) -> ResponseReturnValue:
    """Ask about one of one's own scores."""
    found = _own(section_id)
    outcome = ask_about_score(database(), found, new_act(section_id), item_id, request.form.get("question", ""))
    if isinstance(outcome, Refused):
        address = url_for("statement.try_own", section_id=section_id)
        return _page(found, address, refused=outcome, about=item_id), 422
    tell_without_undo(outcome)
    return redirect(url_for("statement.show", section_id=section_id, _anchor=f"work-{item_id}"))


@blueprint.get("/of/<student_id>")
def preview(section_id: int, student_id: str) -> ResponseReturnValue:
    """The statement of a student, exactly as the student has it."""
    address = url_for("statement.try_theirs", section_id=section_id, student_id=student_id)
    return _page(_theirs(section_id, student_id), address, preview=True)


@blueprint.get("/of/<student_id>/try")
def try_theirs(section_id: int, student_id: str) -> ResponseReturnValue:
    """What-if as that student has it."""
    return _tried(_theirs(section_id, student_id))


def _own(section_id: int) -> StudentsSection:
    studied = studied_section(database(), my_email(), section_id)
    now = settings().clock.now()
    found = studied and students_section(database(), snapshots(), studied.record, studied.student_id, now)
    if not found:
        abort(404)
    return found


def _theirs(section_id: int, student_id: str) -> StudentsSection:
    section = whole_section(section_id)
    found = students_section(section.connection, snapshots(), section.record, student_id, section.now)
    if found is None:
        abort(404)
    return found


def _page(
    found: StudentsSection, try_address: str, preview: bool = False, refused: Refused | None = None, about: str = ""
) -> str:
    shown = found.statement
    return render_template(
        "statement/statement.html",
        folder="statement",
        found=found,
        statement=shown,
        record=found.record,
        now=found.now,
        preview=preview,
        notice=None if preview else take_notice(),
        refused=refused,
        about=about,
        typed=request.form.get("question", ""),
        try_address=try_address,
        letters=[row.letter for row in sorted_scale(shown.whole.scale)] if shown.shows.letter else [],
    )


def _tried(found: StudentsSection) -> ResponseReturnValue:
    """The grade with what is typed; where one item is asked for a letter, what it would take."""
    shown = found.statement
    if not shown.shows.what_if:
        abort(404)
    try:
        typed = _typed(found)
    except Refused as refused:
        return render_template("statement/_tried.html", refused=refused, statement=shown), 422
    grade = tried(shown.course, shown.whole, shown.student.id, typed, shown.as_of)
    percent = shown_percent(shown.whole, grade.percent) if shown.shows.percent and grade.percent is not None else ""
    return render_template(
        "statement/_tried.html",
        refused=None,
        statement=shown,
        grade=grade,
        percent=percent,
        typed=typed,
        want=_wanted(found, typed) if shown.shows.letter else None,
    )


def _wanted(found: StudentsSection, typed: Mapping[str, Cell]) -> Needed | None:
    """What one item would have to bring for the letter that is chosen, beside what is typed for others."""
    shown, letter = found.statement, request.args.get("letter", "")
    item = shown.whole.item(request.args.get("item", ""))
    if item is None or item.id not in _to_come(found) or letter not in {row.letter for row in shown.whole.scale}:
        return None
    return needed(shown.course, shown.whole, shown.student.id, item, letter, typed, shown.as_of)


def _to_come(found: StudentsSection) -> set[str]:
    return {one.item.id for one in found.statement.to_come}


def _typed(found: StudentsSection) -> Mapping[str, Cell]:
    """The scores typed for work to come. Raises Refused, named by its item."""
    plan, coming, cells = found.statement.whole, _to_come(found), dict[str, Cell]()
    for item_id, text in list(_led_by("score-").items())[:MOST_TYPED]:
        item = plan.item(item_id)
        if item is not None and item_id in coming and text.strip():
            try:
                cells[item_id] = read_plan_score(plan, item, text).cell
            except Refused as error:
                raise Refused(item.name, error.reason) from error
    return cells


def _led_by(lead: str) -> Mapping[str, str]:
    """Fields of the address such as score-q1, by what follows the lead."""
    return {name.removeprefix(lead): value for name, value in request.args.items() if name.startswith(lead)}
