"""Scores: the sheet, its cells, its columns, and what is said about one student in the margin."""

import time
from collections.abc import Collection, Mapping
from dataclasses import asdict
from datetime import date

from flask import (
    Blueprint,
    abort,
    get_template_attribute,
    jsonify,
    make_response,
    redirect,
    render_template,
    request,
    url_for,
)
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from vinemark.core.after.drift import Moved
from vinemark.core.base.refused import Refused, iso_day
from vinemark.core.course.course import Student
from vinemark.core.grade.contributions import bars
from vinemark.core.grade.distribution import strip
from vinemark.core.grade.steps import steps_of
from vinemark.core.plan.plan import Item
from vinemark.core.scores.adjusting import reason_of
from vinemark.core.scores.class_figures import percents_of_class
from vinemark.core.scores.column import ColumnChange, actions_on, column_change
from vinemark.core.scores.find import find
from vinemark.core.scores.late_join import LateJoin, late_join
from vinemark.core.scores.paste import PasteTarget, read_paste
from vinemark.core.scores.sheet import histogram, sheet_bands, sheet_cell, sheet_row
from vinemark.core.scores.typed_cells import TypedCell
from vinemark.core.scores.visibility import VISIBILITY_RULES, VISIBILITY_WORDS, ItemVisibility, item_visibility
from vinemark.core.submit.progress import blanks
from vinemark.section.acts import scores as acts
from vinemark.section.acts.undo import undo_cells
from vinemark.section.outcome import Conflict, Done
from vinemark.section.state import SectionState
from vinemark.store import history, scores
from vinemark.web.databases import database
from vinemark.web.incoming import sent_object
from vinemark.web.request import (
    SAME_PLACE,
    any_section,
    instructors_section,
    item_of,
    new_act,
    page,
    require_sign_in,
    student_of,
    tell,
    writable_section,
)
from vinemark.web.ui.formats import counted, saved_words

MOST_CELLS = 40_000
MOST_PASTED = 6_000
NO_RAIL: Mapping[str, object] = {"rail": "", "audit_due": False}
blueprint = Blueprint("scores", __name__, url_prefix="/s/<int:section_id>/scores")
blueprint.before_request(require_sign_in)


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """The sheet."""
    section = any_section(section_id)
    course = section.course
    items = course.plan.columns.values()
    return page(
        "scores",
        section,
        plan=course.plan,
        bands=sheet_bands(course.plan),
        rows=[_row(section, student) for student in course.students],
        columns={item.id: section.snapshot.column(item) for item in items},
        visibility={item.id: _visibility(section, item) for item in items},
        figures=percents_of_class(course, section.grades_now),
        blanks_said=_blanks_words(section),
        last=section.snapshot.version,
        since=url_for("scores.since", section_id=section_id, after=0).removesuffix("0") + "AFTER",
        names_hidden=request.cookies.get("vinemark-names") == "hidden",
        density=request.cookies.get("vinemark-density", ""),
    )


def _blanks_words(section: SectionState) -> str:
    """'12 blanks, 3 past due'."""
    count = blanks(section.course)
    return counted(count, "blank") + (f", {blanks(section.course, section.as_of)} past due" if count else "")


def _visibility(section: SectionState, item: Item) -> ItemVisibility:
    return item_visibility(section.course, item, section.snapshot.loaded.visibility.get(item.id))


@blueprint.get("/find")
def find_hits(section_id: int) -> ResponseReturnValue:
    """Students and items that fit what was typed."""
    section, typed = any_section(section_id), request.args.get("typed", "")
    return render_template("scores/_found.html", section=section, typed=typed.strip(), hits=find(section.course, typed))


@blueprint.post("/cells")
def cells(section_id: int) -> ResponseReturnValue:
    """Save cells in one act with one undo; what is refused, or was changed meanwhile, is said for each.

    Or a remark, which travels in the same queue.
    """
    sent = sent_object()
    if remark := sent.get("remark"):
        return _save_remark(any_section(section_id), _mapping(remark))
    section = writable_section(section_id)
    typed = _typed(sent.get("cells"))
    entered = acts.enter_scores(section, new_act(section_id), typed, str(sent.get("what") or ""))
    conflicts = [
        {"student": c.student_id, "item": c.item_id, "now": c.now, "by": c.by} for c in entered.written.conflicts
    ]
    touched = {(cell.student_id, cell.item_id) for cell in entered.read.cells}
    seen, fresh = sent.get("seen"), section.fresh()
    # What others changed meanwhile comes with it: a page that saves need not ask.
    others = scores.since(database(), section_id, seen, new_act().page) if type(seen) is int else scores.NOTHING_SINCE
    return jsonify(
        **_fresh(fresh, touched | others.places),
        seen=others.last,
        plan_changed=others.plan_changed,
        refused=[asdict(one) for one in entered.read.refused],
        conflicts=conflicts,
        remark="; ".join(dict.fromkeys(entered.read.remarks)),
        entry=entered.written.entry,
        **(_rail(fresh) if sent.get("rail", True) else NO_RAIL),
        registrar=_still_there(fresh, {student for student, _ in touched}),
    )


def _still_there(section: SectionState, students: Collection[str]) -> str:
    """Once grades are posted: whose computed grade what was typed moved from the signed one; the registrar has that."""
    found = section.snapshot.run("final").moved_after_posting(students)
    more = f" And {len(found) - 1} more." if len(found) > 1 else ""
    return f"The registrar still has the signed grade. {found[0].words}{more}" if found else ""


@blueprint.post("/paste")
def paste(section_id: int) -> ResponseReturnValue:
    """Where a pasted block would go, and what is to be said before; nothing is written."""
    section, sent = writable_section(section_id), sent_object()
    rows = [[str(cell) for cell in row] for row in _listed(sent.get("rows")) if isinstance(row, list)][:MOST_PASTED]
    row, column, hidden = (_whole(sent.get(name)) for name in ("row", "column", "hidden"))
    students, items = ([str(one) for one in _listed(sent.get(name))] for name in ("students", "items"))
    if not rows or row >= len(students) or column >= len(items):
        abort(400)
    read = read_paste(section.course, rows, PasteTarget(students, items, row, column, hidden))
    return jsonify(cells=[asdict(one) for one in read.cells[:MOST_CELLS]], said=read.said)


def _listed(sent: object) -> list[object]:
    return sent if isinstance(sent, list) else []


def _whole(sent: object) -> int:
    if not isinstance(sent, int) or isinstance(sent, bool) or sent < 0:
        abort(400)
    return sent


def _save_remark(section: SectionState, sent: Mapping[str, object]) -> ResponseReturnValue:
    """Keep a few words with a cell; a reviewer may, too, but not in a copy of an archive."""
    if section.record.archive:
        abort(403)
    student, item = student_of(section, str(sent.get("student"))), item_of(section, str(sent.get("item")))
    was = str(sent["was"]) if sent.get("was") is not None else None
    outcome = acts.save_remark(section, new_act(section.id), student, item, str(sent.get("text") or ""), was)
    entry = outcome.entry if isinstance(outcome, Done) else None
    other = {"student": student.id, "item": item.id, "by": "Somebody", "now": ""}
    if isinstance(outcome, Conflict):
        other |= {"now": outcome.text, "by": scores.last_remarker(database(), section.id, student.id, item.id)}
    fresh = _fresh(section.fresh(), {(student.id, item.id)})
    conflicts = [other] if isinstance(outcome, Conflict) else []
    return jsonify(**fresh, refused=[], conflicts=conflicts, remark="", entry=entry, **NO_RAIL)


def _mapping(sent: object) -> Mapping[str, object]:
    if not isinstance(sent, dict):
        abort(400)
    return sent


def _typed(sent: object) -> list[TypedCell]:
    cells = [_mapping(one) for one in sent] if isinstance(sent, list) else []
    return [
        TypedCell(
            str(one.get("student")),
            str(one.get("item")),
            str(one.get("typed", "")),
            str(one["was"]) if one.get("was") is not None else None,
        )
        for one in cells[:MOST_CELLS]
    ]


def _fresh(section: SectionState, touched: Collection[tuple[str, str]]) -> dict[str, object]:
    """Rows and column figures as they stand now, for the cells that changed."""
    course = section.course
    students = [s for name in dict.fromkeys(student for student, _ in touched) if (s := course.student(name))]
    items = [i for name in dict.fromkeys(item for _, item in touched) if (i := course.plan.columns.get(name))]
    figures = {item.id: vars(section.snapshot.column(item)) for item in items}
    return {
        "rows": {student.id: _row(section, student) for student in students},
        "feet": {item.id: {**figures[item.id], "release": _visibility(section, item).short} for item in items},
        "figures": {key: vars(one) for key, one in percents_of_class(course, section.grades_now).items()},
        "blanks": _blanks_words(section),
        "kept_at": saved_words(section),
        "last": section.snapshot.version,
    }


def _row(section: SectionState, student: Student) -> Markup:
    """A row of the sheet, made once for all pages that show it."""
    snapshot, same_day = section.snapshot, section.as_of == section.snapshot.as_of
    text = snapshot.row_texts.get(student.id) if same_day else None
    if text is None:
        row = sheet_row(section.course, student, section.grades_now[student.id], snapshot.loaded.remarks)
        text = str(get_template_attribute("scores/_row.html", "sheet_row")(row))
        if same_day:
            snapshot.row_texts[student.id] = text
    return Markup(text)  # noqa: S704  # of a template that escaped what is in it


@blueprint.get("/since/<int:after>")
def since(section_id: int, after: int) -> ResponseReturnValue:
    """What others changed after an entry of the history."""
    section = any_section(section_id)
    changed = scores.since(database(), section_id, after, new_act().page)
    news = _fresh(section, changed.places) if changed.places else {"rows": {}, "feet": {}, "figures": {}}
    paused = "paused" in request.args
    rail = _rail(section, paused) if paused or changed.last != after else NO_RAIL
    return jsonify(**{**news, "last": changed.last}, plan_changed=changed.plan_changed, **rail)


@blueprint.post("/undo")
def undo(section_id: int) -> ResponseReturnValue:
    """Undo an entry of cells (or an undoing: that is redo); the entry of the undoing."""
    section, wanted = writable_section(section_id), sent_object().get("entry")
    outcome = undo_cells(
        section, new_act(section_id), wanted if isinstance(wanted, int) and not isinstance(wanted, bool) else 0
    )
    if isinstance(outcome, Refused):
        return jsonify(reason=outcome.reason), 422
    if isinstance(outcome, Conflict):
        return jsonify(reason=outcome.text), 422
    if outcome.entry is None:
        return jsonify(reason="This has been undone already."), 422
    entry = history.entry_of(database(), section_id, outcome.entry)
    touched = scores.places_of(entry)
    what = outcome.text or (str(entry["what"]) if entry else "")
    fresh = section.fresh()
    return jsonify(**_fresh(fresh, touched), entry=outcome.entry, what=what, **_rail(fresh))


def _rail(section: SectionState, paused: bool = False) -> dict[str, object]:
    """The stem as it stands after scores were entered, made once for all who look at the section; and whether what the
    audit found is still to be asked for, once nothing more is typed."""
    snapshot = section.snapshot
    stem = snapshot.stem if paused else snapshot.stem_while_typing(time.monotonic())
    texts, key = snapshot.stem_texts, (section.record, section.now.date(), stem.audited)
    if key not in texts:
        texts[key] = render_template("ui/_rail.html", step="scores", section=section, now=section.now, stem=stem)
    return {"rail": texts[key], "audit_due": stem.audited != snapshot.version}


@blueprint.get("/working/<student_id>")
def margin(section_id: int, student_id: str) -> ResponseReturnValue:
    """How one student's grade was worked out, for the margin, under the cell that was chosen."""
    section = any_section(section_id)
    return _margin(section, student_of(section, student_id))


def _margin(
    section: SectionState,
    student: Student,
    refused: Refused | None = None,
    late: LateJoin | None = None,
    refused_adjustment: Refused | None = None,
    refused_extension: Refused | None = None,
) -> ResponseReturnValue:
    course, kept = section.course, section.snapshot.loaded.remarks
    grade, adjustment = section.grades_now[student.id], course.adjustments.get(student.id)
    item = course.plan.columns.get(request.values.get("item", ""))
    return render_template(
        "scores/_working.html",
        section=section,
        student=student,
        cell=sheet_cell(course, student, grade, item) if item else None,
        item=item,
        remark=kept.get((student.id, item.id), "") if item else "",
        worked=steps_of(course.plan, grade, reason_of(course, student)),
        adjustment=adjustment,
        adjustment_seen=acts.adjustment_fingerprint(adjustment),
        plan=course.plan,
        line=strip(course.plan, {student.id: grade}, frozenset()),
        bars=bars(grade),
        refused=refused,
        refused_adjustment=refused_adjustment,
        refused_extension=refused_extension,
        extension=course.extensions.get((student.id, item.id)) if item else None,
        late=late,
        moved=_moved(section, student),
        form=request.form,
    ), 422 if refused or refused_adjustment or refused_extension else 200


@blueprint.post("/adjustment/<student_id>")
def adjust(section_id: int, student_id: str) -> ResponseReturnValue:
    """Give a student percentage points, or take some, with a reason."""
    section, form = instructors_section(section_id), request.form
    student = student_of(section, student_id)
    typed = (form.get("percent", ""), form.get("reason", ""), form.get("was", ""))
    outcome = acts.adjust(section, new_act(section_id), student, *typed)
    if isinstance(outcome, Refused):
        return _margin(section, student, refused_adjustment=outcome)
    tell(outcome)
    return _shown_again(section_id, outcome, f"row-{student.id}")


@blueprint.post("/extension/<student_id>/<item_id>")
def extend(section_id: int, student_id: str, item_id: str) -> ResponseReturnValue:
    """Give a student another due date for an item."""
    section, form = instructors_section(section_id), request.form
    student, item = student_of(section, student_id), item_of(section, item_id)
    outcome = acts.extend(section, new_act(section_id), student, item, form.get("due", ""), form.get("was", ""))
    if isinstance(outcome, Refused):
        return _margin(section, student, refused_extension=outcome)
    tell(outcome)
    return _shown_again(section_id, outcome, f"cell-{student.id}-{item.id}")


def _shown_again(section_id: int, outcome: Done | Conflict, anchor: str) -> ResponseReturnValue:
    """The whole sheet again, at a place: its address has the entry in it, so that it is loaded."""
    shown = make_response("")
    entry = outcome.entry if isinstance(outcome, Done) else None
    shown.headers["HX-Redirect"] = url_for("scores.show", section_id=section_id, at=entry, _anchor=anchor)
    return shown


def _moved(section: SectionState, student: Student) -> Moved | None:
    return next(iter(section.snapshot.run("final").moved_after_posting([student.id])), None)


@blueprint.get("/history/<student_id>/<item_id>")
def cell_history(section_id: int, student_id: str, item_id: str) -> ResponseReturnValue:
    """What happened to one cell, newest first."""
    section = any_section(section_id)
    student, item = student_of(section, student_id), item_of(section, item_id)
    changes = scores.history_of_cell(database(), section_id, student.id, item.id)
    asked = [one for one in section.snapshot.loaded.questions if (one.student_id, one.item_id) == (student.id, item.id)]
    return render_template("scores/_cell_history.html", section=section, changes=changes, questions=asked)


@blueprint.post("/late/<student_id>/effect")
def late_effect(section_id: int, student_id: str) -> ResponseReturnValue:
    """What exempting a student from everything due before they joined would change; nothing is kept."""
    section = writable_section(section_id)
    student = student_of(section, student_id)
    try:
        return _margin(section, student, late=late_join(section.course, student, _joined()))
    except Refused as error:
        return _margin(section, student, refused=error)


def _joined() -> date:
    return iso_day(request.form.get("joined", ""), "joined")


@blueprint.post("/late/<student_id>/do")
def late_do(section_id: int, student_id: str) -> ResponseReturnValue:
    """Exempt a student from everything due before they joined, in one act with one undo."""
    section = writable_section(section_id)
    student = student_of(section, student_id)
    try:
        joined = _joined()
    except Refused as error:
        return _margin(section, student, refused=error)
    tell(acts.exempt_before(section, new_act(section_id), student, joined))
    return redirect(url_for("scores.show", section_id=section_id, _anchor=f"row-{student.id}"))


@blueprint.get("/column/<item_id>")
def column_margin(section_id: int, item_id: str) -> ResponseReturnValue:
    """An item's figures, and what can be done to its whole column."""
    section = any_section(section_id)
    return _column(section, item_of(section, item_id))


def _column(
    section: SectionState, item: Item, refused: Refused | None = None, effect: ColumnChange | None = None
) -> ResponseReturnValue:
    placed = section.course.plan.placed.get(item.id)
    return render_template(
        "scores/_column.html",
        section=section,
        item=item,
        figures=section.snapshot.column(item),
        visibility=_visibility(section, item),
        visibility_rules=[(rule, VISIBILITY_WORDS[rule]) for rule in VISIBILITY_RULES],
        category=placed[0] if placed else None,
        histogram=histogram(section.course, item),
        actions=actions_on(section.course.plan, item),
        refused=refused,
        effect=effect,
        looked_at=acts.column_fingerprint(section, item, effect) if effect else "",
        form=request.form,
    ), 422 if refused else 200


@blueprint.post("/column/<item_id>/effect")
def column_effect(section_id: int, item_id: str) -> ResponseReturnValue:
    """How many cells of how many students an action would change, and which letters; nothing is kept."""
    section = writable_section(section_id)
    item = item_of(section, item_id)
    try:
        effect = column_change(section.course, item, *_typed_action(), section.as_of)
    except Refused as error:
        return _column(section, item, refused=error)
    return _column(section, item, effect=effect)


def _typed_action() -> tuple[str, str]:
    return request.form.get("action", ""), request.form.get("value", "")


@blueprint.post("/column/<item_id>/do")
def column_do(section_id: int, item_id: str) -> ResponseReturnValue:
    """Change the whole column, in one act with one undo."""
    section = writable_section(section_id)
    looked_at = request.form.get("looked_at", "")
    outcome = acts.change_column(
        section, new_act(section_id), item_of(section, item_id), *_typed_action(), looked_at=looked_at
    )
    tell(Refused(outcome.field, f"{outcome.reason}.") if isinstance(outcome, Refused) else outcome, "Not changed: ")
    return redirect(url_for("scores.show", section_id=section_id, _anchor=SAME_PLACE))


@blueprint.post("/visibility/<item_id>")
def choose_visibility(section_id: int, item_id: str) -> ResponseReturnValue:
    """Hide an item from students, make it visible, or visible once every cell is filled."""
    section, form = instructors_section(section_id), request.form
    item, whole = item_of(section, item_id), bool(form.get("category"))
    outcome = acts.choose_visibility(section, new_act(section_id), item, form.get("access", ""), whole)
    if isinstance(outcome, Refused):
        abort(422)
    tell(outcome)
    return redirect(url_for("scores.show", section_id=section_id, _anchor=SAME_PLACE))
