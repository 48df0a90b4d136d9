"""Files out of a section: tables, the workbook that works out the grades, open formats."""

import re
from collections.abc import Callable
from datetime import date

from flask import Blueprint, Response, abort
from flask.typing import ResponseReturnValue

from vinemark.core.course.course import Course
from vinemark.exchange import course_file, oneroster
from vinemark.exchange.results_csv import results_csv
from vinemark.exchange.sheet_file import sheet_csv, sheet_xlsx
from vinemark.exchange.workbook import live_workbook
from vinemark.web.context import page, require_sign_in, standing

XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"

Maker = Callable[[Course, date], str | bytes]
FILES: dict[str, tuple[str, str, str, str, Maker]] = {
    "scores-csv": ("Scores", "CSV", "scores.csv", "text/csv", sheet_csv),
    "scores-xlsx": ("Scores", "XLSX", "scores.xlsx", XLSX, sheet_xlsx),
    "workbook": ("Workbook with live formulas", "XLSX", "workbook.xlsx", XLSX, live_workbook),
    "results": ("Results: percents, letters, categories", "CSV", "results.csv", "text/csv", results_csv),
    "course": ("Course file: everything of the section", "JSON", "course.json", "application/json",
               lambda course, _: course_file.write(course)),
    "oneroster": ("OneRoster 1.2: class, students, items, results", "zip of CSV", "oneroster.zip", "application/zip",
                  oneroster.write),
}  # fmt: skip

blueprint = Blueprint("exports", __name__, url_prefix="/s/<int:section_id>/files")
blueprint.before_request(require_sign_in)


@blueprint.get("")
def choose(section_id: int) -> ResponseReturnValue:
    """What can be taken out of the section."""
    return page("exports", standing(section_id), files=FILES)


@blueprint.get("/<name>")
def take(section_id: int, name: str) -> ResponseReturnValue:
    """One file."""
    found = standing(section_id)
    if name not in FILES:
        abort(404)
    _, _, ending, kind, make = FILES[name]
    stem = re.sub(r"[^A-Za-z0-9]+", "-", found.section.name.short).strip("-") or "section"
    headers = {"Content-Disposition": f'attachment; filename="{stem}.{ending}"'}
    return Response(make(found.course, found.as_of), mimetype=kind, headers=headers)
