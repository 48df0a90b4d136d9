"""Health: whether this process answers and can read its database. Open to anybody, and says nothing else."""

from flask import Blueprint, jsonify
from flask.typing import ResponseReturnValue

from vinemark.store.database import can_be_read
from vinemark.web.request import settings

blueprint = Blueprint("health", __name__)


@blueprint.get("/health")
def show() -> ResponseReturnValue:
    """200 where pages can be shown, 503 where the database cannot be read."""
    if can_be_read(settings().database):
        return jsonify(status="ok")
    return jsonify(status="the database cannot be read"), 503
