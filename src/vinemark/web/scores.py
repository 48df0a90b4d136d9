"""Scores: the sheet, one cell at a time, or a file of them."""

import json
from collections.abc import Collection, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass, field

from flask import Blueprint, abort, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.calculation import grade_of
from vinemark.core.column import ACTIONS, ColumnChange, column_change
from vinemark.core.course_format import Refused, write_cell
from vinemark.core.distribution import strip
from vinemark.core.entry import read_entry
from vinemark.core.plan import Item
from vinemark.core.sheet import column, histogram, sheet_row, sheet_rows
from vinemark.core.standing import blanks
from vinemark.core.working import working
from vinemark.exchange.score_file import ScoreFile, heading_names, read_scores, shown
from vinemark.exchange.tables import decode
from vinemark.store import history, scores
from vinemark.store.history import AlreadyDoneError, ChangedSinceError
from vinemark.store.scores import Change
from vinemark.store.undo import NothingToUndoError, undo
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

MOST_CELLS = 40_000

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
        last=scores.last_entry(database(), section_id),
    )


@blueprint.post("/cells")
def cells(section_id: int) -> ResponseReturnValue:
    """Keep cells in one act with one undo; what is refused, or was changed meanwhile, is said for each and not kept."""
    found = writable(section_id)
    sent = request.get_json()
    looked = _look(found, sent.get("cells") or [])
    if not looked.changes:
        return _answer(found, looked, None)
    what = str(sent.get("what") or "")[:80] or looked.words
    entry = None
    with suppress(AlreadyDoneError):
        entry = scores.write_cells(database(), act(section_id), looked.changes, what)
    return _answer(standing(section_id), looked, entry)


@dataclass
class Looked:
    """Cells as sent, sorted: to be written, refused with the reason, changed by somebody meanwhile; remarks on some."""

    changes: list[Change] = field(default_factory=list)
    refused: list[dict[str, str]] = field(default_factory=list)
    conflicts: list[dict[str, str]] = field(default_factory=list)
    remarks: list[str] = field(default_factory=list)
    words: str = ""


def _look(found: Standing, sent: Sequence[Mapping[str, object]]) -> Looked:
    looked = Looked()
    for one in sent[:MOST_CELLS]:
        student, item = found.course.student(str(one.get("student"))), found.course.plan.item(str(one.get("item")))
        if student is None or item is None:
            reason = "is for a student or item no longer in the section; load the page again"
            looked.refused.append({"student": str(one.get("student")), "item": str(one.get("item")), "reason": reason})
            continue
        place = {"student": student.id, "item": item.id}
        try:
            entry = read_entry(str(one.get("typed", "")), item, found.course.plan.scale)
        except Refused as error:
            looked.refused.append({**place, "reason": error.reason})
            continue
        now, text = write_cell(found.course.cell(student.id, item.id)) or "", write_cell(entry.cell) or ""
        if "was" in one and one["was"] != now and text != now:
            by = scores.last_writer(database(), found.id, student.id, item.id)
            looked.conflicts.append({**place, "now": now, "by": by})
            continue
        looked.changes.append(Change(student.id, item.id, entry.cell))
        looked.words = f"{student.plain_name}, {item.name}: {text or 'blank'}"
        if entry.remark:
            looked.remarks.append(entry.remark)
    if len(looked.changes) > 1:
        people = len({change.student_id for change in looked.changes})
        looked.words = f"{len(looked.changes)} cells of {people} students"
    return looked


def _answer(found: Standing, looked: Looked, entry: int | None) -> ResponseReturnValue:
    places = {(change.student_id, change.item_id) for change in looked.changes}
    return jsonify(
        **_fresh(found, places | {(c["student"], c["item"]) for c in looked.conflicts}),
        refused=looked.refused,
        conflicts=looked.conflicts,
        remark="; ".join(dict.fromkeys(looked.remarks)),
        entry=entry,
    )


def _fresh(found: Standing, places: Collection[tuple[str, str]]) -> dict[str, object]:
    """Rows and column figures as they stand now, for the cells that changed."""
    today, course = settings().clock.today(), found.course
    students = [s for s in course.students if s.id in {student for student, _ in places}]
    items = [i for _, i in course.plan.items() if i.id in {item for _, item in places}]
    rows = {
        s.id: render_template("scores/_row.html", row=sheet_row(course, s, today), plan=course.plan) for s in students
    }
    return {
        "rows": rows,
        "feet": {item.id: vars(column(course, item)) for item in items},
        "kept_at": found.last_kept,
        "last": scores.last_entry(database(), found.id),
    }


@blueprint.get("/since/<int:after>")
def since(section_id: int, after: int) -> ResponseReturnValue:
    """What others changed after an entry of the history."""
    found = standing(section_id)
    changed = scores.since(database(), section_id, after)
    fresh = _fresh(found, changed.places)
    return jsonify(**{**fresh, "last": changed.last}, plan_changed=changed.plan_changed)


@blueprint.post("/undo")
def undo_cells(section_id: int) -> ResponseReturnValue:
    """Undo an entry of cells (or an undoing: that is redo); the entry of the undoing."""
    found = writable(section_id)
    wanted = request.get_json().get("entry")
    entry = history.entry_of(database(), section_id, wanted) if isinstance(wanted, int) else None
    if entry is None or entry["kind"] not in {"scores", "import"}:
        return jsonify(reason="There is nothing to undo."), 422
    try:
        undone = undo(database(), act(section_id), entry["id"])
    except (NothingToUndoError, ChangedSinceError) as error:
        return jsonify(reason=str(error)), 422
    except AlreadyDoneError:
        return jsonify(reason="This has been undone already."), 422
    places = {(str(s), str(i)) for s, i, _ in json.loads(entry["after"])}
    return jsonify(**_fresh(standing(found.id), places), entry=undone.entry, what=undone.what)


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


@blueprint.get("/column/<item_id>")
def column_margin(section_id: int, item_id: str) -> ResponseReturnValue:
    """An item's figures, and what can be done to its whole column."""
    found = standing(section_id)
    return _column(found, _item(found, item_id))


def _item(found: Standing, item_id: str) -> Item:
    item = found.course.plan.item(item_id)
    if item is None:
        abort(404)
    return item


def _column(
    found: Standing, item: Item, refused: Refused | None = None, effect: ColumnChange | None = None
) -> ResponseReturnValue:
    return render_template(
        "scores/_column.html",
        at=found,
        item=item,
        figures=column(found.course, item),
        histogram=histogram(found.course, item),
        actions=ACTIONS,
        refused=refused,
        effect=effect,
        form=request.form,
    ), 422 if refused else 200


def _column_change(found: Standing, item: Item) -> ColumnChange:
    action, value = request.form.get("action", ""), request.form.get("value", "")
    return column_change(found.course, item, action, value, settings().clock.today())


@blueprint.post("/column/<item_id>/effect")
def column_effect(section_id: int, item_id: str) -> ResponseReturnValue:
    """How many cells of how many students an action would change, and which letters; nothing is kept."""
    found = writable(section_id)
    item = _item(found, item_id)
    try:
        return _column(found, item, effect=_column_change(found, item))
    except Refused as error:
        return _column(found, item, refused=error)


@blueprint.post("/column/<item_id>/do")
def column_do(section_id: int, item_id: str) -> ResponseReturnValue:
    """Change the whole column, in one act with one undo."""
    found = writable(section_id)
    item = _item(found, item_id)
    try:
        effect = _column_change(found, item)
    except Refused as error:
        leave_notice(f"Not changed: {error.reason}.", trouble=True)
        return redirect(url_for("scores.show", section_id=section_id))
    changes = [Change(student, item.id, cell) for student, cell in effect.cells]
    words = next(words for name, words, _ in ACTIONS if name == request.form.get("action"))
    what = f"{item.name}: {words} {request.form.get('value', '').strip()}".strip() + f", {len(changes)} cells"
    with suppress(AlreadyDoneError):
        leave_notice(f"{what}.", scores.write_cells(database(), act(section_id), changes, what))
    return redirect(url_for("scores.show", section_id=section_id))


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
