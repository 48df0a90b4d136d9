"""Bringing a file in: what it holds, what each column and row becomes, its own totals, and all of it in one act."""

from dataclasses import replace

from flask import Blueprint, abort, redirect, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.audit.outside_totals import JOINS_RULES
from vinemark.core.base.refused import Refused
from vinemark.core.bring.bring import Bringing, Brought
from vinemark.core.bring.columns import ColumnChoice, points_text
from vinemark.core.bring.found import found_words
from vinemark.core.scores.sheet import sheet_bands
from vinemark.section.acts import bring as acts
from vinemark.section.acts.bring import OpenFile
from vinemark.section.outcome import Conflict
from vinemark.section.state import SectionState
from vinemark.web.request import (
    fields_led_by,
    instructors_section,
    new_act,
    numbered_fields,
    page,
    require_sign_in,
    tell,
)

BRING_FOLDER = "bring"
CHANGES_SHOWN = 300
STUDENTS_CHOSEN = 300
"""In a larger class a row is found by name or ID, not chosen from a list for each row."""

blueprint = Blueprint("bring", __name__, url_prefix="/s/<int:section_id>/bring")
blueprint.before_request(require_sign_in)


@blueprint.get("/<int:file_id>")
def look(section_id: int, file_id: int) -> ResponseReturnValue:
    """What a file holds, as it was read."""
    return _page(instructors_section(section_id), file_id, Bringing())


@blueprint.post("/<int:file_id>/look")
def look_again(section_id: int, file_id: int) -> ResponseReturnValue:
    """The same as a person says of its columns and rows."""
    return _page(instructors_section(section_id), file_id, _said())


@blueprint.post("/<int:file_id>/take")
def take(section_id: int, file_id: int) -> ResponseReturnValue:
    """Bring all of it in, in one act with one undo."""
    section, said = instructors_section(section_id), _said()
    outcome = acts.bring_in(section, new_act(section_id), file_id, said, request.form.get("seen", ""))
    if isinstance(outcome, Refused):
        return _page(section, file_id, said, outcome)
    tell(outcome)
    if isinstance(outcome, Conflict):
        return redirect(url_for("score_files.choose", section_id=section_id))
    return redirect(url_for("scores.show", section_id=section_id))


def _page(section: SectionState, file_id: int, said: Bringing, refused: Refused | None = None) -> ResponseReturnValue:
    sheet = request.form.get("sheet", "")
    try:
        opened = acts.open_file(section, file_id, said, sheet)
    except Refused as error:
        tell(error)
        return redirect(url_for("score_files.choose", section_id=section.id))
    if opened is None:
        abort(404)
    found, refused = _found(section, opened, said, refused)
    return page(
        "scores",
        section,
        422 if refused else 200,
        BRING_FOLDER,
        file=opened.file,
        reading=opened.reading,
        words=found_words(opened.reading, found.columns),
        found=found,
        counts=acts.brought_words(found),
        seen=acts.brought_fingerprint(found),
        said=said,
        refused=refused,
        form=request.form,
        points_text=points_text,
        bands=[(band.name, band.items) for band in sheet_bands(section.course.plan)],
        listed=found.cells[:CHANGES_SHOWN],
        item_names={item.id: item.name for item in found.course.plan.columns.values()},
        choices=section.course.students if len(section.course.students) <= STUDENTS_CHOSEN else (),
        names={student.id: student.name for student in found.course.students},
    )


def _found(
    section: SectionState, opened: OpenFile, said: Bringing, refused: Refused | None
) -> tuple[Brought, Refused | None]:
    """What it brings as said, without the one choice that cannot be; as it was read where nothing else is left."""
    for _ in range(len(said.columns) + len(said.weights) + 1):
        try:
            return acts.what_it_brings(section, opened, said), refused
        except Refused as error:
            refused = refused or error
            said = _without(said, error.field)
    return acts.what_it_brings(section, opened, Bringing()), refused


def _without(said: Bringing, field: str) -> Bringing:
    """What a person says, without the choice of a field such as 'points-4' or 'weight-Quizzes'."""
    kind, _, place = field.partition("-")
    if kind == "weight":
        return replace(said, weights={name: weight for name, weight in said.weights.items() if name != place})
    return replace(said, columns={column: one for column, one in said.columns.items() if str(column) != place})


def _said() -> Bringing:
    form = request.form
    columns = {
        column: ColumnChoice(
            target,
            form.get(f"name-{column}", ""),
            form.get(f"points-{column}", ""),
            form.get(f"category-{column}", ""),
        )
        for column, target in numbered_fields("target-").items()
    }
    weights = fields_led_by("weight-")
    return Bringing(
        columns,
        numbered_fields("row-"),
        weights,
        [rule for words in form.getlist("rule") for rule in words.split(JOINS_RULES)],
    )
