"""Students move to another section of the same instructor: looked at first, then done in one act."""

from collections.abc import Sequence

from flask import Blueprint, redirect, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.base.refused import Refused
from vinemark.section.acts.move import everybody, looked_at_move, move_students, teach_as_one
from vinemark.section.outcome import Conflict
from vinemark.section.state import SectionState, open_section
from vinemark.store.sections import SectionRecord, sections_of
from vinemark.web.request import (
    gateway,
    instructors_section,
    my_email,
    new_act,
    notice_of,
    page,
    person_id,
    require_sign_in,
    settings,
    snapshots,
    tell,
    tell_without_undo,
)

blueprint = Blueprint("moving", __name__, url_prefix="/s/<int:section_id>/move")
blueprint.before_request(require_sign_in)


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """Who is to move where, and what would come along."""
    return _page(instructors_section(section_id))


def _page(
    section: SectionState, refused: Refused | None = None, conflict: Conflict | None = None
) -> ResponseReturnValue:
    targets = _targets(section)
    chosen, to = request.values.getlist("student"), request.values.get("to", "")
    target = _opened(section, to, targets)
    found = None
    if target is not None and chosen:
        try:
            found = looked_at_move(section, target, chosen)
        except Refused as error:
            refused = refused or error
    return page(
        "scores",
        section,
        422 if refused else 409 if conflict else 200,
        "moving",
        targets=targets,
        target=target,
        chosen=chosen,
        found=found,
        whole=bool(found and section.linked and target and target.linked and set(everybody(section)) <= set(chosen)),
        refused=refused,
        **({"notice": notice_of(conflict)} if conflict else {}),
    )


def _targets(section: SectionState) -> Sequence[SectionRecord]:
    """The other sections of the person, in the same database, of the same term first."""
    mine = [one for one in sections_of(section.connection, person_id()) if one.role == "instructor"]
    others = [one for one in mine if one.id != section.id and not one.archive and not one.practice]
    return sorted(others, key=lambda one: one.term.name != section.term.name)


def _opened(section: SectionState, to: str, targets: Sequence[SectionRecord]) -> SectionState | None:
    record = next((one for one in targets if str(one.id) == to), None)
    if record is None:
        return None
    return open_section(section.connection, snapshots(), person_id(), record.id, settings().clock.now())


@blueprint.post("")
def move(section_id: int) -> ResponseReturnValue:
    """Move them."""
    section, form = instructors_section(section_id), request.form
    target = _opened(section, form.get("to", ""), _targets(section))
    if target is None:
        return _page(section, Refused("to", "must be another section of yours"))
    act, seen, whole = new_act(section_id), form.get("seen", ""), form.get("whole") == "1"
    outcome = (
        teach_as_one(section, act, target, gateway(), my_email(), seen) if whole
        else move_students(section, act, target, form.getlist("student"), seen)
    )  # fmt: skip
    if isinstance(outcome, Refused):
        return _page(section, outcome)
    if isinstance(outcome, Conflict):
        return _page(section.fresh(), conflict=outcome)
    tell_without_undo(outcome) if whole else tell(outcome)
    return redirect(url_for("class_list.show", section_id=section_id))
