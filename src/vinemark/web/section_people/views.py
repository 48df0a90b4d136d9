"""People of a section: who has a part in it, what each may do; given by email address, changed, taken."""

from flask import Blueprint, abort, redirect, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.base.refused import Refused
from vinemark.section.acts.people import ROLE_WORDS, change_role, give_role, invite_again, limit_grader
from vinemark.section.acts.tell import Teller
from vinemark.section.outcome import Outcome
from vinemark.section.state import SectionState
from vinemark.store.outbox import letter_fates
from vinemark.store.section_people import section_people
from vinemark.web.databases import know_by_email
from vinemark.web.mail import letter_words, teller_to
from vinemark.web.people.links import sends_mail
from vinemark.web.request import (
    any_section,
    instructors_section,
    new_act,
    page,
    person_id,
    require_sign_in,
    tell_without_undo,
)

blueprint = Blueprint("section_people", __name__, url_prefix="/s/<int:section_id>/people")
blueprint.before_request(require_sign_in)


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """Everybody with a part."""
    return _page(any_section(section_id))


def _page(section: SectionState, refused: Refused | None = None) -> ResponseReturnValue:
    found, who = section_people(section.connection, section.id), request.form.get("who", "")
    return page(
        "plan",
        section,
        422 if refused else 200,
        "section_people",
        people=found,
        gone=bool(refused and who and all(one.email != who for one in found)),
        roles=ROLE_WORDS,
        me=person_id(),
        mail=sends_mail(),
        letter_words=letter_words,
        letters={one.to.casefold(): one for one in letter_fates(section.connection, section.id)},
        refused=refused,
        typed=request.form,
    )


@blueprint.post("/add")
def add(section_id: int) -> ResponseReturnValue:
    """Give somebody a part."""
    section, email = instructors_section(section_id), request.form.get("email", "")
    know_by_email(email)
    act, role = new_act(section_id), request.form.get("role", "")
    return _answer(section, give_role(section, act, email, role, _teller(section_id)))


def _teller(section_id: int) -> Teller:
    """Who tells of a part, with links to the first page of it."""
    return teller_to(url_for("scores.show", section_id=section_id))


@blueprint.post("/limit")
def limit(section_id: int) -> ResponseReturnValue:
    """Limit a grader to some items, some students or both."""
    section, form = instructors_section(section_id), request.form
    items = form.getlist("items") if form.get("of_items") == "some" else None
    students = form.getlist("students") if form.get("of_students") == "some" else None
    return _answer(section, limit_grader(section, new_act(section_id), form.get("who", ""), items, students))


@blueprint.post("/invite")
def invite(section_id: int) -> ResponseReturnValue:
    """Send the letter once more to somebody who has no account yet."""
    section, teller = instructors_section(section_id), _teller(section_id)
    if teller.link is None:
        abort(404)
    return _answer(section, invite_again(section, new_act(section_id), request.form.get("who", ""), teller))


@blueprint.post("/change")
def change(section_id: int) -> ResponseReturnValue:
    """Another role for somebody, or none."""
    section, form = instructors_section(section_id), request.form
    return _answer(section, change_role(section, new_act(section_id), form.get("who", ""), form.get("role", "")))


def _answer(section: SectionState, outcome: Outcome) -> ResponseReturnValue:
    if isinstance(outcome, Refused):
        return _page(section, outcome)
    tell_without_undo(outcome)
    mine = any(one.id == person_id() for one in section_people(section.connection, section.id))
    return redirect(url_for("section_people.show", section_id=section.id) if mine else url_for("desk.show"))
