"""Figures from elsewhere: a file of totals, letters or codes, held against the grades here or those settled; kept."""

from dataclasses import replace
from typing import Any

from flask import Blueprint, abort, redirect, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.base.refused import Refused
from vinemark.exchange.apart import read_apart
from vinemark.exchange.score_file import read_file
from vinemark.exchange.totals_file import OutsideTable, read_totals
from vinemark.section.acts.compare import as_kept, forget_comparison, keep_comparison
from vinemark.section.comparing import AGAINST_WORDS, compared
from vinemark.section.state import SectionState
from vinemark.store.comparisons import AGAINST, KeptComparison, comparison_numbers, comparison_of, comparisons_of
from vinemark.web.papers.views import paper
from vinemark.web.request import instructors_section, new_act, page, require_sign_in, tell, whole_section

OUTSIDE_FOLDER = "audit/outside"
UNKNOWN_SHOWN = 5

blueprint = Blueprint("outside_totals", __name__, url_prefix="/s/<int:section_id>/elsewhere")
blueprint.before_request(require_sign_in)


@blueprint.get("")
def choose(section_id: int) -> ResponseReturnValue:
    """The form for a file, and what was compared before."""
    return _form(whole_section(section_id))


def _form(section: SectionState, refused: Refused | None = None) -> ResponseReturnValue:
    kept = comparisons_of(section.connection, section.id)
    return page(
        "audit",
        section,
        422 if refused else 200,
        OUTSIDE_FOLDER,
        refused=refused,
        against=request.form.get("against", "computed"),
        against_words=AGAINST_WORDS,
        kept=[(one, compared(section, one, explained=False)) for one in kept],
        result=None,
    )


@blueprint.post("")
def look(section_id: int) -> ResponseReturnValue:
    """Read a file and keep what it says; who may only read is shown it without its being kept."""
    section, upload = whole_section(section_id), request.files.get("file")
    if upload is None or not upload.filename:
        return _form(section, Refused("file", "choose a file"))
    data = upload.read()
    upload.close()
    try:
        table = _read(section, data)
        found = as_kept(section, table, upload.filename, request.form.get("against", "computed"))
    except Refused as error:
        named = f"{upload.filename} {error.reason}" if error.field == "file" else error.reason
        return _form(section, Refused(error.field, named))
    if section.role != "instructor":
        return _comparison(section, found)
    outcome = keep_comparison(section, new_act(section_id), found)
    if isinstance(outcome, Refused):
        return _form(section, outcome)
    tell(outcome)
    latest = comparison_numbers(section.connection, section_id)[0]
    return redirect(url_for("outside_totals.show", section_id=section_id, number=latest))


def _read(section: SectionState, data: bytes) -> OutsideTable:
    return read_totals(read_apart(read_file, data).table, section.course)


@blueprint.get("/<int:number>")
def show(section_id: int, number: int) -> ResponseReturnValue:
    """Student by student, as the grades are now, and the rules that would explain a difference."""
    section = whole_section(section_id)
    return _comparison(section, _chosen(_known(section, number)))


def _known(section: SectionState, number: int) -> KeptComparison:
    found = comparison_of(section.connection, section.id, number)
    if found is None:
        abort(404)
    return found


def _chosen(found: KeptComparison) -> KeptComparison:
    """The column and what it is held against as the address asks for them."""
    place = request.args.get("column", type=int, default=found.likely)
    against = next((one for one in AGAINST if one == request.args.get("against")), found.against)
    return replace(found, likely=place if 0 <= place < len(found.headings) else found.likely, against=against)


def _comparison(section: SectionState, found: KeptComparison) -> ResponseReturnValue:
    return page("audit", section, folder=OUTSIDE_FOLDER, linked=True, **_shown(section, found))


def _shown(section: SectionState, found: KeptComparison) -> dict[str, Any]:
    return {
        "result": compared(section, found),
        "comparison": found,
        "against": found.against,
        "against_words": AGAINST_WORDS,
        "unknown": found.unknown[:UNKNOWN_SHOWN],
        "more_unknown": max(0, len(found.unknown) - UNKNOWN_SHOWN),
    }


@blueprint.get("/<int:number>/paper")
def on_paper(section_id: int, number: int) -> ResponseReturnValue:
    """The same to be printed."""
    section = whole_section(section_id)
    found = _chosen(_known(section, number))
    return paper("papers/comparison.html", f"comparison {number}", section, f"comparison with {found.name}",
                 linked=False, **_shown(section, found))  # fmt: skip


@blueprint.post("/<int:number>/remove")
def remove(section_id: int, number: int) -> ResponseReturnValue:
    """Keep a comparison no longer."""
    tell(forget_comparison(instructors_section(section_id), new_act(section_id), number))
    return redirect(url_for("outside_totals.choose", section_id=section_id))
