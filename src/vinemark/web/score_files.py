"""Importing scores: put a file in, match it, look at every change, take all or some."""

from collections.abc import Sequence
from hashlib import sha256

from flask import Blueprint, abort, redirect, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.base.refused import Refused
from vinemark.exchange.score_file import CellChange, FileTable, ScoreFile, decided, file_changes, read_file, shown
from vinemark.exchange.score_matching import NOBODY, Matching, shape_of
from vinemark.store import files
from vinemark.store.files import LookedAt
from vinemark.store.history import AlreadyDoneError, ChangedSinceError
from vinemark.store.scores import Change
from vinemark.web.context import (
    Standing,
    act,
    database,
    leave_notice,
    page,
    person_id,
    require_sign_in,
    was_text,
    writable,
)

LISTED = 2_000
FIELDS = {"id": "student id", "email": "e-mail address", "family": "family name", "given": "given name",
          "name": "whole name"}  # fmt: skip

blueprint = Blueprint("score_files", __name__, url_prefix="/s/<int:section_id>/scores/files")
blueprint.before_request(require_sign_in)


@blueprint.get("")
def choose(section_id: int) -> ResponseReturnValue:
    """The form for a file of scores."""
    return page("score_files", writable(section_id), error="", file=None)


@blueprint.post("")
def put_in(section_id: int) -> ResponseReturnValue:
    """Keep a file for looking at; nothing of it is in the section yet."""
    found = writable(section_id)
    upload = request.files.get("file")
    if upload is None or not upload.filename:
        return page("score_files", found, 422, error="Choose a file.", file=None)
    data = upload.read()
    upload.close()
    try:
        read_file(data)
    except Refused as error:
        return page("score_files", found, 422, error=f"{upload.filename} {error.reason}.", file=None)
    name = upload.filename.replace("\\", "/").rpartition("/")[2][:120]
    made = files.put_in(database(), act(section_id), name, sha256(data).hexdigest(), data)
    return redirect(url_for("score_files.look", section_id=section_id, file_id=made))


def _file(found: Standing, file_id: int) -> LookedAt:
    file = files.looked_at(database(), found.id, person_id(), file_id)
    if file is None:
        abort(404)
    return file


def _compared(found: Standing, file: LookedAt) -> tuple[FileTable, Matching, ScoreFile]:
    read = read_file(file.content, file.sheet)
    known = Matching.from_text(files.matching_of(database(), found.id, shape_of(read.table)))
    return read, known, file_changes(read.table, found.course, known)


@blueprint.get("/<int:file_id>")
def look(section_id: int, file_id: int) -> ResponseReturnValue:
    """What taking the file would change, column by column, row by row, cell by cell."""
    found = writable(section_id)
    file = _file(found, file_id)
    read, known, scores = _compared(found, file)
    course = found.course
    return page(
        "score_files",
        found,
        error="",
        file=file,
        read=read,
        known=known,
        scores=scores,
        fields=FIELDS,
        nobody=NOBODY,
        listed=scores.changes[:LISTED],
        names={s.id: s.name for s in course.students},
        items=[(c, list(c.items)) for c in course.plan.categories],
        item_names={item.id: item.name for _, item in course.plan.items()},
        shown=shown,
    )


@blueprint.post("/<int:file_id>/match")
def match(section_id: int, file_id: int) -> ResponseReturnValue:
    """Keep which column is which item and which row which student, for this file and the next of its shape."""
    found = writable(section_id)
    file = _file(found, file_id)
    if request.form.get("sheet", file.sheet) != file.sheet:
        files.choose_sheet(database(), file.id, request.form["sheet"])
        return redirect(url_for("score_files.look", section_id=section_id, file_id=file_id))
    read, known, scores = _compared(found, file)
    typed = {c.index: request.form.get(f"column-{c.index}", c.target) for c in scores.columns}
    # A column left out because nothing was like it is still open; one that somebody left out is decided.
    open_still = {c.index for c in scores.columns if not c.target and c.index not in known.columns}
    columns = {index: target for index, target in typed.items() if target or index not in open_still}
    people = {m.says: request.form.get(f"row-{m.row.line}", "") for m in scores.rows}
    chosen = decided(columns, {**known.people, **{s: p for s, p in people.items() if p}}, found.course)
    files.remember_matching(database(), found.id, shape_of(read.table), chosen.as_text())
    return redirect(url_for("score_files.look", section_id=section_id, file_id=file_id))


@blueprint.post("/<int:file_id>/take")
def take(section_id: int, file_id: int) -> ResponseReturnValue:
    """Keep the chosen changes of a file, in one act with one undo."""
    found = writable(section_id)
    file = _file(found, file_id)
    _, known, scores = _compared(found, file)
    back = redirect(url_for("score_files.look", section_id=section_id, file_id=file_id))
    if request.form.get("digest") != scores.digest:
        leave_notice("The sheet changed meanwhile: these are the changes now. Nothing was taken.", trouble=True)
        return back
    chosen = _chosen(scores)
    if not chosen:
        leave_notice("No change was chosen; nothing was taken.", trouble=True)
        return back
    changes = [Change(c.student_id, c.item_id, c.cell, was_text(c.before)) for c in chosen]
    people = len({c.student_id for c in chosen})
    what = (
        f"{len(chosen)} score{'s' * (len(chosen) > 1)} of {people} student{'s' * (people > 1)} taken from {file.name}"
    )
    try:
        leave_notice(f"{what}.", files.take(database(), act(section_id), file, changes, what, known.as_text()))
    except ChangedSinceError as error:
        leave_notice(str(error), trouble=True)
        return back
    except AlreadyDoneError:
        pass
    return redirect(url_for("scores.show", section_id=section_id))


def _chosen(scores: ScoreFile) -> Sequence[CellChange]:
    """The ticked ones of those that were listed, and all that were not."""
    ticked = set(request.form.getlist("take"))
    listed, rest = scores.changes[:LISTED], scores.changes[LISTED:]
    return [*(c for c in listed if c.key in ticked), *rest]
