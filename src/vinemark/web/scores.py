"""Scores: the sheet, its cells, its columns, and what is said about one student in the margin."""

import json
from collections.abc import Collection, Mapping, Sequence
from contextlib import suppress
from dataclasses import asdict

from flask import Blueprint, abort, get_template_attribute, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.base.refused import Refused, iso_day
from vinemark.core.course.course import Student
from vinemark.core.grade.calculation import grade_of
from vinemark.core.grade.contributions import bars
from vinemark.core.grade.distribution import strip
from vinemark.core.grade.steps import steps_of
from vinemark.core.plan.plan import Item
from vinemark.core.scores.column import ACTIONS, ColumnChange, column_change
from vinemark.core.scores.find import find
from vinemark.core.scores.late_join import LateJoin, late_join
from vinemark.core.scores.sheet import column, histogram, sheet_row, sheet_rows
from vinemark.core.scores.typed_cells import ReadCells, TypedCell, read_typed
from vinemark.core.scores.visibility import ACCESSES, VISIBILITY_WORDS, release
from vinemark.core.submit.progress import blanks
from vinemark.store import access, history, remarks, scores
from vinemark.store.history import AlreadyDoneError, ChangedSinceError
from vinemark.store.scores import Change, Written
from vinemark.store.undo import NothingToUndoError, undo
from vinemark.web.context import (
    Standing,
    act,
    database,
    instructor_standing,
    leave_notice,
    page,
    require_sign_in,
    settings,
    standing,
    writable,
)

MOST_CELLS = 40_000
LONGEST_REMARK = 500

blueprint = Blueprint("scores", __name__, url_prefix="/s/<int:section_id>/scores")
blueprint.before_request(require_sign_in)


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """The sheet."""
    found = standing(section_id)
    today, course = found.as_of, found.course
    chosen = access.access_of(database(), section_id)
    return page(
        "scores",
        found,
        plan=course.plan,
        rows=sheet_rows(course, today, remarks.remarks_of(database(), section_id)),
        columns={item.id: column(course, item) for _, item in course.plan.items()},
        releases={item.id: release(course, item, chosen.get(item.id)) for _, item in course.plan.items()},
        blanks=blanks(course),
        blanks_due=blanks(course, today),
        last=scores.last_entry(database(), section_id),
        names_hidden=request.cookies.get("vinemark-names") == "hidden",
        density=request.cookies.get("vinemark-density", ""),
    )


@blueprint.get("/find")
def find_place(section_id: int) -> ResponseReturnValue:
    """Students and items that fit what was typed."""
    found, typed = standing(section_id), request.args.get("typed", "")
    return render_template("scores/_found.html", at=found, typed=typed, places=find(found.course, typed))


@blueprint.post("/cells")
def cells(section_id: int) -> ResponseReturnValue:
    """Keep cells in one act with one undo; what is refused, or was changed meanwhile, is said for each and not kept.

    Or a remark, which travels in the same queue.
    """
    sent = request.get_json()
    if sent.get("remark"):
        return _keep_remark(standing(section_id), sent["remark"])
    found = writable(section_id)
    read = read_typed(found.course, _typed(sent.get("cells") or []))
    if not read.cells:
        return _answer(found, read, Written(None))
    what = str(sent.get("what") or "")[:80] or read.what
    changes = [Change(cell.student_id, cell.item_id, cell.cell, cell.was) for cell in read.cells]
    written = scores.write_seen_cells(database(), act(section_id), changes, what)
    return _answer(standing(section_id), read, written)


def _keep_remark(found: Standing, sent: Mapping[str, object]) -> ResponseReturnValue:
    """Keep a few words with a cell; a reviewer may, too."""
    student, item = found.student(str(sent.get("student"))), _item(found, str(sent.get("item")))
    text = " ".join(str(sent.get("text") or "").split())[:LONGEST_REMARK]
    what = f"{student.plain_name}, {item.name}: " + (f"remark “{text}”" if text else "remark taken away")
    entry = None
    with suppress(AlreadyDoneError):
        entry = remarks.write_remark(database(), act(found.id), (student.id, item.id), text, what)
    fresh = _fresh(standing(found.id), {(student.id, item.id)})
    return jsonify(**fresh, refused=[], conflicts=[], remark="", entry=entry)


def _typed(sent: Sequence[Mapping[str, object]]) -> list[TypedCell]:
    return [
        TypedCell(
            str(one.get("student")),
            str(one.get("item")),
            str(one.get("typed", "")),
            str(one["was"]) if one.get("was") is not None else None,
        )
        for one in sent[:MOST_CELLS]
    ]


def _answer(found: Standing, read: ReadCells, written: Written) -> ResponseReturnValue:
    conflicts = [{"student": c.student_id, "item": c.item_id, "now": c.now, "by": c.by} for c in written.conflicts]
    return jsonify(
        **_fresh(found, {(cell.student_id, cell.item_id) for cell in read.cells}),
        refused=[asdict(one) for one in read.refused],
        conflicts=conflicts,
        remark="; ".join(dict.fromkeys(read.remarks)),
        entry=written.entry,
    )


def _fresh(found: Standing, places: Collection[tuple[str, str]]) -> dict[str, object]:
    """Rows and column figures as they stand now, for the cells that changed."""
    course = found.course
    students = [s for s in course.students if s.id in {student for student, _ in places}]
    items = [i for _, i in course.plan.items() if i.id in {item for _, item in places}]
    chosen = access.access_of(database(), found.id)
    return {
        "rows": {student.id: _row(found, student) for student in students},
        "feet": {
            item.id: {**vars(column(course, item)), "release": release(course, item, chosen.get(item.id)).short}
            for item in items
        },
        "kept_at": found.last_kept,
        "last": scores.last_entry(database(), found.id),
    }


def _row(found: Standing, student: Student) -> str:
    kept = remarks.remarks_of(database(), found.id, student.id)
    row = sheet_row(found.course, student, found.as_of, kept)
    return str(get_template_attribute("scores/_row.html", "sheet_row")(row))


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
    if entry is None or entry["kind"] not in {"scores", "import", "remark"}:
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
    """The working of one student for the margin, under the cell that was chosen."""
    found = standing(section_id)
    return _margin(found, found.student(student_id))


def _margin(
    found: Standing, student: Student, refused: Refused | None = None, late: LateJoin | None = None
) -> ResponseReturnValue:
    course, today = found.course, found.as_of
    grade = grade_of(course, student.id, today)
    kept = remarks.remarks_of(database(), found.id, student.id)
    item = course.plan.item(request.values.get("item", ""))
    return render_template(
        "scores/_working.html",
        at=found,
        student=student,
        row=sheet_row(course, student, today, kept),
        item=item,
        remark=kept.get((student.id, item.id), "") if item else "",
        worked=steps_of(course.plan, grade),
        plan=course.plan,
        line=strip(course.plan, {student.id: grade}, frozenset()),
        bars=bars(grade),
        refused=refused,
        late=late,
        form=request.form,
    ), 422 if refused else 200


@blueprint.get("/history/<student_id>/<item_id>")
def cell_history(section_id: int, student_id: str, item_id: str) -> ResponseReturnValue:
    """What happened to one cell, newest first."""
    found = standing(section_id)
    student, item = found.student(student_id), _item(found, item_id)
    changes = scores.history_of_cell(database(), section_id, student.id, item.id)
    return render_template("scores/_cell_history.html", at=found, changes=changes)


@blueprint.post("/late/<student_id>/effect")
def late_effect(section_id: int, student_id: str) -> ResponseReturnValue:
    """What exempting a student from everything due before they joined would change; nothing is kept."""
    found = writable(section_id)
    student = found.student(student_id)
    try:
        return _margin(found, student, late=_late_join(found, student))
    except Refused as error:
        return _margin(found, student, refused=error)


def _late_join(found: Standing, student: Student) -> LateJoin:
    return late_join(found.course, student, iso_day(request.form.get("joined", ""), "joined"))


@blueprint.post("/late/<student_id>/do")
def late_do(section_id: int, student_id: str) -> ResponseReturnValue:
    """Exempt a student from everything due before they joined, in one act with one undo."""
    found = writable(section_id)
    student = found.student(student_id)
    try:
        late = _late_join(found, student)
    except Refused as error:
        return _margin(found, student, refused=error)
    changes = [Change(student.id, item.id, "exempt") for item in late.exempt]
    if changes:
        what = f"{student.plain_name} joined late: exempt from {len(changes)} items due before"
        with suppress(AlreadyDoneError):
            leave_notice(f"{what}.", scores.write_cells(database(), act(section_id), changes, what))
    return redirect(url_for("scores.show", section_id=section_id, _anchor=f"row-{student.id}"))


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
        release=release(found.course, item, access.access_of(database(), found.id).get(item.id)),
        accesses=[(name, VISIBILITY_WORDS[name]) for name in ACCESSES],
        histogram=histogram(found.course, item),
        actions=ACTIONS,
        refused=refused,
        effect=effect,
        form=request.form,
    ), 422 if refused else 200


def _column_change(found: Standing, item: Item) -> ColumnChange:
    action, value = request.form.get("action", ""), request.form.get("value", "")
    return column_change(found.course, item, action, value, found.as_of)


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


@blueprint.post("/access/<item_id>")
def choose_access(section_id: int, item_id: str) -> ResponseReturnValue:
    """Hold an item back, open it to students, or open it once every cell is filled."""
    found = instructor_standing(section_id)
    item = _item(found, item_id)
    wanted = next((a for a in ACCESSES if a == request.form.get("access")), None)
    if wanted is None:
        abort(422)
    items = found.course.plan.category_of(item.id).items if request.form.get("category") else (item,)
    name = found.course.plan.category_of(item.id).name if request.form.get("category") else item.name
    what = f"{name}: {VISIBILITY_WORDS[wanted]}"
    with suppress(AlreadyDoneError):
        entry = access.choose_access(database(), act(section_id), {one.id: wanted for one in items}, what)
        leave_notice(f"{what}.", entry)
    return redirect(url_for("scores.show", section_id=section_id))
