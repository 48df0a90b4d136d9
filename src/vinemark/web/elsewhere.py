"""Figures from elsewhere: a file of totals or letters, compared with ours; nothing of it is kept."""

from flask import Blueprint, request
from flask.typing import ResponseReturnValue

from vinemark.core.course_format import Refused
from vinemark.core.elsewhere import Comparison, Figure, compare, read_figure
from vinemark.exchange.score_file import read_file
from vinemark.exchange.score_matching import PERSON, Matching, match_columns, match_rows
from vinemark.exchange.tables import Table, cell_at
from vinemark.web.context import Standing, page, require_sign_in, standing

blueprint = Blueprint("elsewhere", __name__, url_prefix="/s/<int:section_id>/elsewhere")
blueprint.before_request(require_sign_in)


@blueprint.get("")
def choose(section_id: int) -> ResponseReturnValue:
    """The form for a file."""
    return page("elsewhere", standing(section_id), error="", result=None)


@blueprint.post("")
def look(section_id: int) -> ResponseReturnValue:
    """Student by student, and the rules that would explain a difference."""
    found = standing(section_id)
    upload = request.files.get("file")
    if upload is None or not upload.filename:
        return page("elsewhere", found, 422, error="Choose a file.", result=None)
    data = upload.read()
    upload.close()
    try:
        column, unknown, result = _compared(found, read_file(data).table)
    except Refused as error:
        return page("elsewhere", found, 422, error=f"{upload.filename} {error.reason}.", result=None)
    return page("elsewhere", found, error="", result=result, column=column, unknown=unknown, name=upload.filename)


def _compared(found: Standing, table: Table) -> tuple[str, list[str], Comparison]:
    """The column compared, the rows of nobody known, and the comparison."""
    course = found.course
    columns = match_columns(table, course, Matching())
    if not any(column.target in PERSON for column in columns):
        raise Refused("file", "has no column for the student id, e-mail address or name")
    letters = [row.letter for row in course.plan.scale]
    rows = match_rows(table, columns, course, Matching())
    best: tuple[str, dict[str, Figure]] = ("", {})
    for column in columns:
        if column.target in PERSON:
            continue
        read = {m.student: read_figure(cell_at(m.row, column.place), letters) for m in rows if m.student}
        figures = {student: figure for student, figure in read.items() if figure is not None}
        total = any(word in column.heading.casefold() for word in ("total", "final", "percent", "grade", "letter"))
        if figures and (len(figures), total) > (len(best[1]), False) and (total or not column.target):
            best = (column.heading, figures)
    if not best[1]:
        raise Refused("file", "has no column of percents or letters beside the students")
    return best[0], [m.says for m in rows if m.student is None], compare(course, best[1], found.as_of)
