"""Groups of an item: who works together, and one score for all of a group."""

from flask import Blueprint, redirect, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.base.refused import Refused
from vinemark.core.plan.plan import Item
from vinemark.core.scores.groups import item_groups
from vinemark.section.acts import groups as acts
from vinemark.section.outcome import Outcome
from vinemark.section.state import SectionState
from vinemark.store import groups
from vinemark.web.request import fields_led_by, item_of, new_act, page, require_sign_in, tell, writable_section

blueprint = Blueprint("groups", __name__, url_prefix="/s/<int:section_id>/groups/<item_id>")
blueprint.before_request(require_sign_in)


@blueprint.get("")
def show(section_id: int, item_id: str) -> ResponseReturnValue:
    """The class with the group of each, and the groups with their scores."""
    section = writable_section(section_id)
    return _page(section, item_of(section, item_id))


def _page(section: SectionState, item: Item, refused: Refused | None = None) -> ResponseReturnValue:
    now = groups.groups_of(section.connection, section.id, item.id)
    others = [other for other in groups.grouped_items(section.connection, section.id) if other != item.id]
    return page(
        "scores",
        section,
        422 if refused else 200,
        "groups",
        item=item,
        members_now=now,
        wrong_member=bool(refused and refused.field.startswith("group-")),
        groups=item_groups(section.course, item, now),
        others=[found for other in others if (found := section.course.plan.columns.get(other))],
        students=[student for student in section.course.students if not student.set_aside],
        refused=refused,
        form=request.form,
    )


def _answer(section: SectionState, item: Item, outcome: Outcome) -> ResponseReturnValue:
    if isinstance(outcome, Refused):
        return _page(section, item, outcome)
    tell(outcome)
    return redirect(url_for("groups.show", section_id=section.id, item_id=item.id))


@blueprint.post("/members")
def members(section_id: int, item_id: str) -> ResponseReturnValue:
    """The groups as typed."""
    section = writable_section(section_id)
    item = item_of(section, item_id)
    return _answer(section, item, acts.put_in_groups(section, new_act(section_id), item, fields_led_by("group-")))


@blueprint.post("/even")
def even(section_id: int, item_id: str) -> ResponseReturnValue:
    """Groups of so many, in the order of the class."""
    section = writable_section(section_id)
    item = item_of(section, item_id)
    size = request.form.get("size", "")
    return _answer(section, item, acts.make_even_groups(section, new_act(section_id), item, size))


@blueprint.post("/same")
def same(section_id: int, item_id: str) -> ResponseReturnValue:
    """The groups of another item."""
    section = writable_section(section_id)
    item = item_of(section, item_id)
    other = request.form.get("other", "")
    return _answer(section, item, acts.groups_as_of(section, new_act(section_id), item, other))


@blueprint.post("/scores")
def scores(section_id: int, item_id: str) -> ResponseReturnValue:
    """One score for each group."""
    section = writable_section(section_id)
    item = item_of(section, item_id)
    return _answer(section, item, acts.score_groups(section, new_act(section_id), item, fields_led_by("score-")))
