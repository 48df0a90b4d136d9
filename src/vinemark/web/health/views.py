"""Health: whether this process answers and can read its database. Open to anybody, and says nothing else."""

from flask import Blueprint, jsonify
from flask.typing import ResponseReturnValue

from vinemark.store.database import can_be_read
from vinemark.web.databases import all_databases

blueprint = Blueprint("health", __name__)


@blueprint.get("/health")
def show() -> ResponseReturnValue:
    """200 where pages can be shown, 503 where a database cannot be read."""
    if all(can_be_read(one.file) for one in all_databases().here):
        return jsonify(status="ok")
    return jsonify(status="the database cannot be read"), 503
