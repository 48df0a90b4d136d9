"""Scores: the sheet, one cell at a time, or a file of them."""

from contextlib import suppress

from flask import Blueprint, abort, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.calculation import grade_of
from vinemark.core.course import Student
from vinemark.core.course_format import Refused, write_cell
from vinemark.core.distribution import strip
from vinemark.core.entry import read_entry
from vinemark.core.sheet import column, sheet_row, sheet_rows
from vinemark.core.standing import blanks
from vinemark.core.working import working
from vinemark.exchange.score_file import ScoreFile, heading_names, read_scores, shown
from vinemark.exchange.tables import decode
from vinemark.store import scores
from vinemark.store.history import AlreadyDoneError
from vinemark.store.scores import Change
from vinemark.web.context import (
    Standing,
    act,
    database,
    leave_notice,
    page,
    require_sign_in,
    settings,
    standing,
)

blueprint = Blueprint("scores", __name__, url_prefix="/s/<int:section_id>/scores")
blueprint.before_request(require_sign_in)


def writable(section_id: int) -> Standing:
    """The section, for a person who may enter scores."""
    found = standing(section_id)
    if found.section.role == "reviewer":
        abort(403)
    return found


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """The sheet."""
    found = standing(section_id)
    today = settings().clock.today()
    course = found.course
    return page(
        "scores",
        found,
        plan=course.plan,
        rows=sheet_rows(course, today),
        columns={item.id: column(course, item) for _, item in course.plan.items()},
        blanks=blanks(course),
        blanks_due=blanks(course, today),
    )


@blueprint.post("/cell")
def cell(section_id: int) -> ResponseReturnValue:
    """Keep one cell; the answer is the student's row as it stands then, or 422 with the reason."""
    found = writable(section_id)
    sent = request.get_json()
    student, item = found.course.student(str(sent.get("student"))), found.course.plan.item(str(sent.get("item")))
    if student is None or item is None:
        return jsonify(reason="This student or item is no longer in the section; load the page again."), 422
    try:
        entry = read_entry(str(sent.get("typed", "")), item)
    except Refused as error:
        return jsonify(reason=error.reason), 422
    what = f"{student.plain_name}, {item.name}: {write_cell(entry.cell) or 'blank'}"
    with suppress(AlreadyDoneError):
        scores.write_cells(database(), act(section_id), [Change(student.id, item.id, entry.cell)], what)
    return _row_answer(standing(section_id), student, item.id, entry.remark)


def _row_answer(found: Standing, student: Student, item_id: str, remark: str) -> ResponseReturnValue:
    row = sheet_row(found.course, student, settings().clock.today())
    item = found.course.plan.item(item_id)
    assert item is not None  # noqa: S101
    return jsonify(
        row=render_template("scores/_row.html", row=row, plan=found.course.plan),
        foot=vars(column(found.course, item)),
        kept_at=found.last_kept,
        remark=remark,
    )


@blueprint.get("/standing")
def rail(section_id: int) -> ResponseReturnValue:
    """The stem and the bar, after scores were entered."""
    found = standing(section_id)
    return render_template("section/standing.html", step="scores", at=found, today=settings().clock.now())


@blueprint.get("/working/<student_id>")
def margin(section_id: int, student_id: str) -> ResponseReturnValue:
    """The working of one student, for the margin."""
    found = standing(section_id)
    student = found.student(student_id)
    grade = grade_of(found.course, student.id, settings().clock.today())
    return render_template(
        "scores/_working.html",
        at=found,
        student=student,
        working=working(found.course.plan, grade),
        plan=found.course.plan,
        line=strip(found.course.plan, {student.id: grade}, frozenset()),
    )


@blueprint.get("/import")
def choose_file(section_id: int) -> ResponseReturnValue:
    """The form for a file of scores."""
    return page("scores", standing(section_id), importing=True, error="", file=None)


@blueprint.post("/import")
def look_at_file(section_id: int) -> ResponseReturnValue:
    """What taking a file would change; nothing is kept yet."""
    found = writable(section_id)
    upload = request.files.get("file")
    if upload is None or not upload.filename:
        return _import_page(found, "Choose a file.")
    try:
        text = decode(upload.read())
        file = read_scores(text, found.course)
    except Refused as error:
        return _import_page(found, f"This file {error.reason}." if error.place == "file" else str(error))
    return _import_page(found, "", file, text, upload.filename)


def _import_page(
    found: Standing, error: str, file: ScoreFile | None = None, text: str = "", name: str = ""
) -> ResponseReturnValue:
    names = {s.id: s.plain_name for s in found.course.students}
    return page(
        "scores",
        found,
        422 if error else 200,
        importing=True,
        error=error,
        file=file,
        text=text,
        name=name,
        names=names,
        item_names={item.id: item.name for _, item in found.course.plan.items()},
        shown=shown,
        headings=heading_names(file.items) if file else "",
    )


@blueprint.post("/import/take")
def take_file(section_id: int) -> ResponseReturnValue:
    """Keep the changes of a file that was looked at, in one act with one undo."""
    found = writable(section_id)
    try:
        file = read_scores(request.form.get("text", ""), found.course)
    except Refused as error:
        return _import_page(found, str(error))
    name = request.form.get("name", "a file")[:120]
    changes = [Change(c.student_id, c.item_id, c.cell) for c in file.changes]
    if changes:
        people = len({change.student_id for change in changes})
        what = f"{len(changes)} scores of {people} students taken from {name}"
        try:
            entry = scores.write_cells(database(), act(section_id), changes, what, "import")
            leave_notice(f"{what}.", entry)
        except AlreadyDoneError:
            pass
    return redirect(url_for("scores.show", section_id=section_id))
