"""Papers and files of submitting: the proof sheet, the column of codes, receipts, the comparison, the grade file."""

import json

from flask import Blueprint, abort, render_template, request
from flask.typing import ResponseReturnValue

from vinemark.core.submit.proof import in_roster_order
from vinemark.core.submit.receipt import receipt_values
from vinemark.exchange.proof_csv import comparison_csv, proof_csv
from vinemark.section.acts import submit
from vinemark.section.state import SectionState
from vinemark.section.submit_state import SubmitState
from vinemark.store import submissions
from vinemark.web.databases import database
from vinemark.web.papers.views import paper
from vinemark.web.request import (
    download,
    file_name,
    instructors_section,
    new_act,
    require_sign_in,
    whole_section,
)
from vinemark.web.submit.views import submission_or_404

blueprint = Blueprint("submit_papers", __name__, url_prefix="/s/<int:section_id>/submit")
blueprint.before_request(require_sign_in)


def _file(section: SectionState, name: str, text: str, kind: str = "text/csv") -> ResponseReturnValue:
    return download(text, file_name(section.name.short, section.run, ending=f"-{name}"), kind)


@blueprint.get("/proof")
def proof(section_id: int) -> ResponseReturnValue:
    """The proof sheet in the roster's order, made for paper; with ?pdf as PDF."""
    section = whole_section(section_id)
    state = SubmitState(section)
    return paper("submit/proof.html", f"{section.run} proof", section, state=state, lines=state.proof)


@blueprint.get("/proof.csv")
def proof_table(section_id: int) -> ResponseReturnValue:
    """The proof sheet as a table."""
    section = whole_section(section_id)
    return _file(section, "proof.csv", proof_csv(SubmitState(section).proof_for_file))


@blueprint.get("/codes")
def codes(section_id: int) -> ResponseReturnValue:
    """The settled codes alone, in the registrar's order, to be copied."""
    section = whole_section(section_id)
    column = SubmitState(section).code_column
    return render_template("submit/codes.html", section=section, column=column, count=column.count("\n") + 1)


@blueprint.get("/receipt/<int:submission_id>")
def receipt(section_id: int, submission_id: int) -> ResponseReturnValue:
    """A receipt, kept for good; with ?json as the registrar gave it."""
    section = whole_section(section_id)
    submission = submissions.submission_of(database(), section_id, submission_id)
    if submission is None or submission.receipt is None:
        abort(404)
    found = submission.receipt
    if "json" in request.args:
        text = json.dumps(receipt_values(found), ensure_ascii=False, indent=1) + "\n"
        return _file(section, f"receipt-{found.number}.json", text, "application/json")
    answers = {row.id: row for row in found.rows}
    return paper(
        "submit/receipt.html",
        f"receipt {found.number}",
        section,
        submission=submission,
        pairs=[(row, answers[row.id]) for row in in_roster_order(section.course, submission.rows) if row.id in answers],
        names={s.id: s.name for s in section.course.students},
    )


@blueprint.get("/signed/<int:submission_id>")
def signed(section_id: int, submission_id: int) -> ResponseReturnValue:
    """The frozen copy of what was signed, as the text that its digest is over: the course file, then the findings."""
    section = whole_section(section_id)
    text = submissions.signed_text(database(), section_id, submission_id)
    if text is None:
        abort(404)
    return _file(section, f"signed-{submission_id}.txt", text, "text/plain")


@blueprint.get("/comparison.csv")
def comparison(section_id: int) -> ResponseReturnValue:
    """What was submitted and what the registrar has, line by line, as a table."""
    section = whole_section(section_id)
    names = {s.id: s.name for s in section.course.students}
    return _file(section, "comparison.csv", comparison_csv(SubmitState(section).comparison, names))


@blueprint.post("/file/<int:submission_id>")
def grade_file(section_id: int, submission_id: int) -> ResponseReturnValue:
    """A signed submission as a file in the registrar's layout; from then on it may have been handed in."""
    section = instructors_section(section_id)
    submission = submission_or_404(section, submission_id)
    text = submit.take_out_file(section, new_act(section_id), submission)
    if text is None:
        abort(404)
    return _file(section, f"grades-{section.now.date()}.csv", text)
