"""What is left of a section that was archived and removed: its receipts, and the digest of its archive."""

import json

from flask import Blueprint, abort, render_template, request
from flask.typing import ResponseReturnValue

from vinemark.core.submit.receipt import receipt_values
from vinemark.store.removed import removed_section
from vinemark.web.databases import database
from vinemark.web.request import download, file_name, person_id, require_sign_in, settings

blueprint = Blueprint("removed", __name__, url_prefix="/at/<int:number>/removed")
blueprint.before_request(require_sign_in)


@blueprint.get("/<int:removed_id>")
def show(number: int, removed_id: int) -> ResponseReturnValue:
    """The receipts; with ?json as the registrar gave them."""
    found = removed_section(database(), person_id(), removed_id)
    if found is None:
        abort(404)
    if "json" in request.args:
        text = json.dumps([receipt_values(one.receipt) for one in found.receipts], ensure_ascii=False, indent=1) + "\n"
        return download(text, file_name(found.name.short, found.term, "receipts", ending=".json"), "application/json")
    return render_template("removed/page.html", found=found, number=number, now=settings().clock.now())
