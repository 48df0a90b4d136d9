"""Figures from elsewhere: a file of totals or letters, compared with ours; nothing of it is kept."""

from flask import Blueprint, request
from flask.typing import ResponseReturnValue

from vinemark.core.audit.outside_totals import compare_totals
from vinemark.core.base.refused import Refused
from vinemark.exchange.score_file import read_file
from vinemark.exchange.totals_file import read_totals
from vinemark.web.context import page, require_sign_in, standing

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
        totals = read_totals(read_file(data).table, found.course)
    except Refused as error:
        return page("elsewhere", found, 422, error=f"{upload.filename} {error.reason}.", result=None)
    result = compare_totals(found.course, totals.figures, found.as_of)
    return page("elsewhere", found, error="", result=result, totals=totals, name=upload.filename)
