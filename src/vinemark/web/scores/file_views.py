"""Importing scores: put a file in, match it, look at every change, take all or some."""

from flask import Blueprint, abort, redirect, request, url_for
from flask.typing import ResponseReturnValue
from markupsafe import escape

from vinemark.core.base.refused import Refused
from vinemark.core.bring.bring import Bringing
from vinemark.core.bring.columns import first_columns
from vinemark.core.bring.found import found_words
from vinemark.core.scores.sheet import sheet_bands
from vinemark.exchange.score_file import shown
from vinemark.exchange.score_matching import NOBODY
from vinemark.section.acts import import_scores as acts
from vinemark.section.acts.bring import keep_table, open_file
from vinemark.section.acts.import_scores import LookedAtFile
from vinemark.section.outcome import Conflict
from vinemark.section.state import SectionState
from vinemark.web.request import new_act, numbered_fields, page, require_sign_in, tell, writable_section

FIELDS = {"id": "student id", "email": "email address", "family": "family name", "given": "given name",
          "name": "whole name"}  # fmt: skip
FILES_FOLDER = "scores/files"

blueprint = Blueprint("score_files", __name__, url_prefix="/s/<int:section_id>/scores/files")
blueprint.before_request(require_sign_in)


@blueprint.get("")
def choose(section_id: int) -> ResponseReturnValue:
    """The form for a file of scores."""
    return _choose(writable_section(section_id))


def _choose(section: SectionState, error: str = "") -> ResponseReturnValue:
    return page("scores", section, 422 if error else 200, FILES_FOLDER, error=error, file=None)


@blueprint.post("")
def put_in(section_id: int) -> ResponseReturnValue:
    """Keep a file for looking at; nothing of it is in the section yet."""
    section, upload = writable_section(section_id), request.files.get("file")
    if upload is None or not upload.filename:
        return _choose(section, "Choose a file.")
    data = upload.read()
    try:
        whole = _as_a_whole(section, upload.filename, data)
        if whole is not None:
            return redirect(url_for("bring.look", section_id=section_id, file_id=whole))
        made = acts.keep_file(section, new_act(section_id), upload.filename, data)
    except Refused as error:
        return _choose(section, f"{upload.filename} {error.reason}.")
    finally:
        upload.close()
    return _to_file(section_id, made)


def _as_a_whole(section: SectionState, name: str, data: bytes) -> int | None:
    """A file that begins a section: read for its students and items too, where it is such a table."""
    if section.role != "instructor" or (section.course.students and section.course.plan.columns):
        return None
    try:
        return keep_table(section, new_act(section.id), name, data)
    except Refused:
        return None


def _to_file(section_id: int, file_id: int) -> ResponseReturnValue:
    return redirect(url_for("score_files.look", section_id=section_id, file_id=file_id))


def _looked_at(section: SectionState, file_id: int) -> LookedAtFile:
    found = acts.look_at(section, file_id)
    if found is None:
        abort(404)
    return found


@blueprint.get("/<int:file_id>")
def look(section_id: int, file_id: int) -> ResponseReturnValue:
    """What taking the file would change, column by column, row by row, cell by cell."""
    section = writable_section(section_id)
    looked, course = _looked_at(section, file_id), section.course
    return page(
        "scores",
        section,
        folder=FILES_FOLDER,
        error="",
        file=looked.file,
        read=looked.table,
        known=looked.known,
        scores=looked.scores,
        fields=FIELDS,
        nobody=NOBODY,
        listed=looked.listed,
        totals=looked.scores.totals(course.plan),
        names={s.id: s.name for s in course.students},
        items=[(band.name, band.items) for band in sheet_bands(course.plan)],
        late_items=[item for _, item in course.plan.items()],
        item_names={item.id: item.name for item in course.plan.columns.values()},
        shown=shown,
    )


@blueprint.get("/<int:file_id>/found")
def found(section_id: int, file_id: int) -> ResponseReturnValue:
    """What the whole file holds, in a sentence; nothing where it cannot be read as a table of students."""
    section = writable_section(section_id)
    _looked_at(section, file_id)
    try:
        opened = open_file(section, file_id, Bringing())
    except Refused:
        opened = None
    if opened is None:
        return ""
    return f"It holds {escape(found_words(opened.reading, first_columns(opened.reading, section.course.plan)))}."


@blueprint.post("/<int:file_id>/match")
def match(section_id: int, file_id: int) -> ResponseReturnValue:
    """Keep which column is which item and which row which student, for this file and the next of its shape."""
    section = writable_section(section_id)
    looked = _looked_at(section, file_id)
    sheet = request.form.get("sheet", looked.file.sheet)
    if sheet != looked.file.sheet:
        acts.choose_sheet(section, looked, sheet)
    else:
        acts.match_file(section, looked, numbered_fields("column-"), numbered_fields("row-"))
    return _to_file(section_id, file_id)


@blueprint.post("/<int:file_id>/take")
def take(section_id: int, file_id: int) -> ResponseReturnValue:
    """Import the chosen changes of a file, in one act with one undo."""
    section, form = writable_section(section_id), request.form
    _looked_at(section, file_id)
    ticked = frozenset(form.getlist("take"))
    outcome = acts.import_scores(section, new_act(section_id), file_id, form.get("digest", ""), ticked)
    tell(outcome)
    if isinstance(outcome, Refused | Conflict):
        return _to_file(section_id, file_id)
    return redirect(url_for("scores.show", section_id=section_id))
