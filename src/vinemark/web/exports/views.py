"""Files out of a section: tables, the workbook that works out the grades, open formats."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import date

from flask import Blueprint, abort, redirect, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Course
from vinemark.exchange import course_file, oneroster
from vinemark.exchange.results_csv import results_csv
from vinemark.exchange.sheet_file import sheet_csv, sheet_xlsx
from vinemark.exchange.workbook import live_workbook
from vinemark.section.acts import rename as acts
from vinemark.section.state import SectionState
from vinemark.web.made.views import files_in_the_making, make_file
from vinemark.web.request import (
    any_section,
    download,
    file_name,
    instructors_section,
    new_act,
    page,
    require_sign_in,
    tell_without_undo,
)

XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


@dataclass(frozen=True)
class Export:
    """A file to download: what it is, its format in words, its ending, its type, and how it is made, here or apart."""

    what: str
    format: str
    ending: str
    kind: str
    make: Callable[[Course, date], str | bytes]
    apart: Callable[[Course, date], bytes] | None = None


EXPORTS = {
    "scores-csv": Export("Scores", "CSV", "scores.csv", "text/csv", sheet_csv),
    "scores-xlsx": Export("Scores", "XLSX", "scores.xlsx", XLSX, sheet_xlsx, sheet_xlsx),
    "workbook": Export("Workbook with live formulas", "XLSX", "workbook.xlsx", XLSX, live_workbook, live_workbook),
    "results": Export("Results: percents, letters, categories", "CSV", "results.csv", "text/csv", results_csv),
    "course": Export("Course file: everything of the section", "JSON", "course.json", "application/json",
                     lambda course, _: course_file.course_text(course)),
    "oneroster": Export("OneRoster 1.2: class, students, items, results", "zip of CSV", "oneroster.zip",
                        "application/zip", oneroster.write_zip),
}  # fmt: skip

blueprint = Blueprint("exports", __name__, url_prefix="/s/<int:section_id>/files")
blueprint.before_request(require_sign_in)


OF_SCORES = {"scores-csv", "scores-xlsx"}


def _may_take(section: SectionState, name: str) -> bool:
    """Settled grades and reasons are in every other file."""
    return name in OF_SCORES or section.may_open("settle")


@blueprint.get("")
def choose(section_id: int) -> ResponseReturnValue:
    """What can be taken out of the section."""
    return _page(any_section(section_id))


def _page(
    section: SectionState, refused: Refused | None = None, typed: Mapping[str, str] | None = None
) -> ResponseReturnValue:
    name = section.name
    shown = typed or {"course": name.course, "title": name.title, "number": name.number}
    exports = {key: one for key, one in EXPORTS.items() if _may_take(section, key)}
    return page(
        "exports",
        section,
        422 if refused else 200,
        exports=exports,
        files=files_in_the_making(section),
        refused=refused,
        typed=shown,
    )


@blueprint.post("/rename")
def rename(section_id: int) -> ResponseReturnValue:
    """Another name for the section."""
    section, form = instructors_section(section_id), request.form
    typed = {field: form.get(field, "") for field in ("course", "title", "number")}
    outcome = acts.rename(section, new_act(section_id), **typed)
    if isinstance(outcome, Refused):
        return _page(section, outcome, typed)
    tell_without_undo(outcome)
    return redirect(url_for("exports.choose", section_id=section_id))


@blueprint.post("/put-away")
def put_away(section_id: int) -> ResponseReturnValue:
    """Archive the section, or bring it back to the Desk."""
    section = instructors_section(section_id)
    tell_without_undo(acts.put_away(section, new_act(section_id), bool(request.form.get("away"))))
    return redirect(url_for("desk.show"))


@blueprint.get("/<name>")
def take(section_id: int, name: str) -> ResponseReturnValue:
    """One file."""
    section, export = any_section(section_id), EXPORTS.get(name)
    if export is None:
        abort(404)
    if not _may_take(section, name):
        abort(403)
    file = file_name(section.name.short, ending=f".{export.ending}")
    if export.apart is not None:
        what = f"{export.what} ({export.format})"
        return make_file(section, what, file, export.kind, export.apart, section.course, section.as_of)
    return download(export.make(section.course, section.as_of), file, export.kind)
