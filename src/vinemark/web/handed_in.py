"""Papers and files of submitting: the proof sheet, the column of codes, receipts, the comparison, the office's file."""

import json
import re
from contextlib import suppress

from flask import Blueprint, Response, abort, render_template, request
from flask.typing import ResponseReturnValue

from vinemark.core.submit.proof import ProofLine, code_column, proof_lines
from vinemark.exchange import office_file
from vinemark.exchange.proof_csv import comparison_csv, proof_csv
from vinemark.store import registrar
from vinemark.store import submissions as sendings
from vinemark.store.history import AlreadyDoneError
from vinemark.web.context import Standing, act, database, instructor_standing, require_sign_in, settings, standing
from vinemark.web.papers import paper
from vinemark.web.submit import Counter, sending_of

blueprint = Blueprint("handed_in", __name__, url_prefix="/s/<int:section_id>/submit")
blueprint.before_request(require_sign_in)


def _file(found: Standing, name: str, text: str, kind: str = "text/csv") -> ResponseReturnValue:
    stem = re.sub(r"[^A-Za-z0-9]+", "-", f"{found.section.name.short} {found.run}").strip("-")
    return Response(text, mimetype=kind, headers={"Content-Disposition": f'attachment; filename="{stem}-{name}"'})


def _proof(found: Standing, counter: Counter) -> list[ProofLine]:
    return proof_lines(found.run_course, counter.rows, found.run_grades)


@blueprint.get("/proof")
def proof(section_id: int) -> ResponseReturnValue:
    """The proof sheet in the roster's order, made for paper; with ?pdf as PDF."""
    found = standing(section_id)
    counter = Counter(found)
    return paper("submit/proof.html", f"{found.run} proof", found, counter=counter, lines=_proof(found, counter))


@blueprint.get("/proof.csv")
def proof_table(section_id: int) -> ResponseReturnValue:
    """The proof sheet as a table."""
    found = standing(section_id)
    return _file(found, "proof.csv", proof_csv(_proof(found, Counter(found))))


@blueprint.get("/codes")
def codes(section_id: int) -> ResponseReturnValue:
    """The settled codes alone, in the office's order, to be copied."""
    found = standing(section_id)
    column = code_column(found.run_course, Counter(found).rows)
    return render_template("submit/codes.html", at=found, column=column, count=column.count("\n") + 1)


@blueprint.get("/receipt/<int:sending_id>")
def receipt(section_id: int, sending_id: int) -> ResponseReturnValue:
    """A receipt, kept for good; with ?json as the office gave it."""
    found = standing(section_id)
    sending = sendings.sending(database(), section_id, sending_id)
    if sending is None or sending.receipt is None:
        abort(404)
    if "json" in request.args:
        text = json.dumps(dict(sending.receipt), ensure_ascii=False, indent=1) + "\n"
        return _file(found, f"receipt-{sending.receipt['number']}.json", text, "application/json")
    answers = {row["id"]: row for row in sending.receipt["rows"]}
    return paper(
        "submit/receipt.html",
        f"receipt {sending.receipt['number']}",
        found,
        sending=sending,
        pairs=[(row, answers[row.id]) for row in sending.rows],
        names={s.id: s.name for s in found.course.students},
    )


@blueprint.get("/signed/<int:sending_id>")
def signed(section_id: int, sending_id: int) -> ResponseReturnValue:
    """The frozen copy of what was signed, as the text that its digest is over: the course file, then the findings."""
    found = standing(section_id)
    text = sendings.signed_text(database(), section_id, sending_id)
    if text is None:
        abort(404)
    return _file(found, f"signed-{sending_id}.txt", text, "text/plain")


@blueprint.get("/comparison.csv")
def comparison(section_id: int) -> ResponseReturnValue:
    """What was sent and what the office holds, line by line, as a table."""
    found = standing(section_id)
    names = {s.id: s.name for s in found.course.students}
    return _file(found, "comparison.csv", comparison_csv(Counter(found).comparison, names))


@blueprint.post("/file/<int:sending_id>")
def take_out(section_id: int, sending_id: int) -> ResponseReturnValue:
    """A signed sending as a file in the office's layout; from then on it may have been handed in."""
    found = instructor_standing(section_id)
    sending, layout = sending_of(found, sending_id), registrar.layout_of(database(), section_id)
    if layout is None:
        abort(404)
    if sending.under_way:
        with suppress(AlreadyDoneError):
            sendings.note_file(database(), act(section_id), sending.id)
    names = {s.id: s.name for s in found.course.students}
    text = office_file.write(layout, sending.key, found.section.office_ref or "", names, sending.rows)
    return _file(found, f"grades-{settings().clock.today()}.csv", text)
