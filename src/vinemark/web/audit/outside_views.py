"""Totals from elsewhere: a file of totals or letters, compared with ours; nothing of it is kept."""

from flask import Blueprint, request
from flask.typing import ResponseReturnValue

from vinemark.core.audit.outside_totals import compare_totals
from vinemark.core.base.refused import Refused
from vinemark.exchange.apart import read_apart
from vinemark.exchange.score_file import read_file
from vinemark.exchange.totals_file import read_totals
from vinemark.web.request import page, require_sign_in, whole_section

OUTSIDE_FOLDER = "audit/outside"
UNKNOWN_SHOWN = 5

blueprint = Blueprint("outside_totals", __name__, url_prefix="/s/<int:section_id>/elsewhere")
blueprint.before_request(require_sign_in)


@blueprint.get("")
def choose(section_id: int) -> ResponseReturnValue:
    """The form for a file."""
    return page("audit", whole_section(section_id), folder=OUTSIDE_FOLDER, error="", result=None)


@blueprint.post("")
def look(section_id: int) -> ResponseReturnValue:
    """Student by student, and the rules that would explain a difference."""
    section, upload = whole_section(section_id), request.files.get("file")
    if upload is None or not upload.filename:
        return page("audit", section, 422, OUTSIDE_FOLDER, error="Choose a file.", result=None)
    data = upload.read()
    upload.close()
    try:
        totals = read_totals(read_apart(read_file, data).table, section.course)
    except Refused as error:
        return page("audit", section, 422, OUTSIDE_FOLDER, error=f"{upload.filename} {error.reason}.", result=None)
    result = compare_totals(section.course, totals.figures, section.as_of)
    return page(
        "audit",
        section,
        folder=OUTSIDE_FOLDER,
        error="",
        result=result,
        totals=totals,
        unknown=totals.unknown[:UNKNOWN_SHOWN],
        name=upload.filename,
    )
