"""What the machines of a college ask one another about people."""

from dataclasses import asdict

from flask import Blueprint, abort, jsonify, request
from flask.typing import ResponseReturnValue
from flask_login import current_user

from vinemark.section.acts.leave import leave_database, sections_left
from vinemark.store.history import Act
from vinemark.web.databases import database
from vinemark.web.machines import SIGNATURE, Asked, machines, part_values
from vinemark.web.request import settings

blueprint = Blueprint("machines", __name__)


@blueprint.get("/who")
def who() -> ResponseReturnValue:
    """Whoever is signed in by the cookie, to their own eyes; nothing for nobody."""
    if not current_user.is_authenticated:
        return jsonify({})
    user = current_user
    return jsonify({**asdict(user.known), "second_step": user.second_step, "part": part_values(user.part)})


@blueprint.post("/at/<int:number>/left")
def left(number: int) -> ResponseReturnValue:
    """How many sections a person would have to delete here before they leave."""
    return jsonify(sections=len(sections_left([database()], _person(number, "left"))))


@blueprint.post("/at/<int:number>/leave")
def leave(number: int) -> ResponseReturnValue:
    """Take a person's account out of this database; refused while they have sections."""
    person = _person(number, "leave")
    found = sections_left([database()], person)
    if not found:
        leave_database(database(), Act(person, settings().clock.now()), person)
    return jsonify(sections=len(found))


def _person(number: int, what: Asked) -> int:
    found = machines().signed_for(request.headers.get(SIGNATURE, ""), number, what)
    if found is None:
        abort(403)
    return found
