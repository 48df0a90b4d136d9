"""A chair's board: the sections of a department in a term, where each stands, and what is late. Nothing is changed."""

from collections.abc import Mapping

from flask import Blueprint, abort, render_template, request
from flask.typing import ResponseReturnValue
from flask_login import current_user

from vinemark.core.college.college import CollegePart, Department, term_of_day
from vinemark.core.course.course import Term
from vinemark.section.board import BoardLine, board_line, by_name
from vinemark.section.state import state_of
from vinemark.store.sections import sections_of_subjects, terms_of_sections
from vinemark.web.databases import all_databases, databases_here
from vinemark.web.request import is_htmx, person_id, require_sign_in, settings, snapshots

blueprint = Blueprint("board", __name__)
blueprint.before_request(require_sign_in)


@blueprint.get("/board")
def show() -> ResponseReturnValue:
    """The board of a department."""
    return render_template("board/page.html", elsewhere=all_databases().elsewhere, **_board())


@blueprint.get("/at/<int:number>/board")
def show_there(number: int) -> ResponseReturnValue:
    """For a board on another machine: what this one has of it."""
    template = "board/_lines.html" if is_htmx() else "board/page.html"
    return render_template(template, number=number, elsewhere=(), **_board())


def _board() -> Mapping[str, object]:
    part: CollegePart = current_user.part
    department = _department(part)
    now = settings().clock.now()
    terms = sorted({one for db in databases_here() for one in terms_of_sections(db)}, key=lambda one: one.starts)
    term = _term(terms) or term_of_day(terms, now.date())
    return {
        "department": department,
        "departments": part.chairs,
        "opens": part.opens,
        "terms": terms[::-1],
        "term": term,
        "lines": _lines(department, term) if term else [],
        "now": now,
    }


def _department(part: CollegePart) -> Department:
    wanted = request.args.get("department", "")
    found = next((one for one in part.chairs if wanted in ("", one.name)), None)
    if found is None:
        abort(403)
    return found


def _term(terms: list[Term]) -> Term | None:
    return next((one for one in terms if one.name == request.args.get("term", "")), None)


def _lines(department: Department, term: Term) -> list[BoardLine]:
    now = settings().clock.now()
    return by_name(
        board_line(state_of(connection, snapshots(), record, now, person_id()))
        for connection in databases_here()
        for record in sections_of_subjects(connection, department.subjects, term)
    )
