"""The registrar's rosters of a section: a further one is looked at, then added, where it is cross-listed."""

from flask import Blueprint, redirect, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.base.refused import Refused
from vinemark.core.submit.refs import refs_of
from vinemark.section.acts.registrar import RosterAdded, add_roster, added_roster, remove_roster
from vinemark.section.outcome import Outcome
from vinemark.section.state import SectionState
from vinemark.web.request import (
    gateway,
    instructors_section,
    my_email,
    new_act,
    page,
    require_sign_in,
    tell_without_undo,
)

blueprint = Blueprint("rosters", __name__, url_prefix="/s/<int:section_id>/rosters")
blueprint.before_request(require_sign_in)


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """The rosters that it has, and those that it could have."""
    return _page(instructors_section(section_id))


def _page(section: SectionState, refused: Refused | None = None) -> ResponseReturnValue:
    mine = refs_of(section.record.office_ref or "")
    answer = gateway().for_instructor(my_email()).sections()
    listed = answer if isinstance(answer, list) else []
    wanted, found, trouble = request.args.get("ref", ""), None, "" if isinstance(answer, list) else answer.reason
    if wanted and not refused:
        try:
            looked = added_roster(section, gateway(), my_email(), wanted)
            found = looked if isinstance(looked, RosterAdded) else None
            trouble = "" if isinstance(looked, RosterAdded) else looked.reason
        except Refused as error:
            refused = error
    return page(
        "submit",
        section,
        422 if refused else 200,
        "rosters",
        mine=mine,
        listed={one.ref: one for one in listed},
        others=[one for one in listed if one.ref not in mine],
        found=found,
        trouble=trouble,
        refused=refused,
    )


@blueprint.post("")
def add(section_id: int) -> ResponseReturnValue:
    """Add a roster."""
    section, ref = instructors_section(section_id), request.form.get("ref", "")
    return _answer(section, add_roster(section, new_act(section_id), gateway(), my_email(), ref))


@blueprint.post("/remove")
def remove(section_id: int) -> ResponseReturnValue:
    """Take a further roster away again."""
    section, ref = instructors_section(section_id), request.form.get("ref", "")
    return _answer(section, remove_roster(section, new_act(section_id), gateway(), my_email(), ref))


def _answer(section: SectionState, outcome: Outcome) -> ResponseReturnValue:
    if isinstance(outcome, Refused):
        return _page(section, outcome)
    tell_without_undo(outcome)
    return redirect(url_for("rosters.show", section_id=section.id))
