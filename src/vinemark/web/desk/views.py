"""The Desk: the sections of a term and where each stands; making a section."""

from datetime import date

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.base.refused import Refused
from vinemark.core.course.course import SectionName, Student, Term
from vinemark.exchange.apart import read_apart
from vinemark.exchange.class_list import read_class_list
from vinemark.office.answers import OfficeSection
from vinemark.section.acts import create
from vinemark.section.desk import DeskEntry, desk_entry
from vinemark.section.outcome import Conflict, Outcome
from vinemark.section.state import state_of
from vinemark.store import sections
from vinemark.web.request import (
    database,
    gateway,
    my_email,
    new_act,
    person_id,
    require_sign_in,
    settings,
    snapshots,
    take_notice,
    tell,
    tell_without_undo,
)

# Places of a course file by the fields of the form for a class list.
OF_COURSE_FILE = {
    "term.name": "term", "term.starts": "starts", "term.ends": "ends", "section.course": "course",
    "section.title": "title", "section.number": "number",
}  # fmt: skip

blueprint = Blueprint("desk", __name__)
blueprint.before_request(require_sign_in)


@blueprint.get("/")
def show() -> ResponseReturnValue:
    """All sections of the person, by term."""
    terms: dict[str, list[DeskEntry]] = {}
    now = settings().clock.now()
    mine = sections.sections_of(database(), person_id())
    for record in (one for one in mine if not one.put_away):
        section = state_of(database(), snapshots(), record, now, person_id())
        terms.setdefault(record.term.name, []).append(desk_entry(section))
    archived = [one for one in mine if one.put_away]
    return render_template("desk/desk.html", terms=terms, archived=archived, now=now, notice=take_notice())


@blueprint.get("/sections/new")
def new() -> ResponseReturnValue:
    """The form for a section from a class list, and the registrar's sections."""
    return _new_page({}, {})


def _new_page(errors: dict[str, str], typed: dict[str, str], status: int = 200) -> ResponseReturnValue:
    listed, trouble = _registrars_sections()
    mine = {s.office_ref for s in sections.sections_of(database(), person_id()) if not s.archive}
    return render_template(
        "desk/new.html",
        errors=errors,
        typed={**_term_guess(listed), **typed},
        listed=[s for s in listed if s.ref not in mine],
        trouble=trouble,
        now=settings().clock.now(),
    ), status


def _registrars_sections() -> tuple[list[OfficeSection], str]:
    answer = gateway().for_instructor(my_email()).sections()
    return (answer, "") if isinstance(answer, list) else ([], answer.reason)


def _term_guess(listed: list[OfficeSection]) -> dict[str, str]:
    """The term of the registrar's sections, or of the person's last section."""
    mine = sections.sections_of(database(), person_id())
    terms = [s.term for s in listed] or [s.term for s in mine]
    if not terms:
        return {}
    term = max(terms, key=lambda t: t.starts)
    return {"term": term.name, "starts": term.starts.isoformat(), "ends": term.ends.isoformat()}


@blueprint.post("/sections/new")
def create_from_list() -> ResponseReturnValue:
    """A section from a class list in CSV. Everything wrong is said at once and nothing is made."""
    typed = {key: request.form.get(key, "").strip() for key in ("course", "number", "title", "term", "starts", "ends")}
    errors = {key: "Type something here." for key in ("course", "title", "term") if not typed[key]}
    term = _term(typed, errors)
    students = _class_list(errors)
    if errors or term is None:
        return _new_page(errors, typed, 422)
    name = SectionName(typed["course"], typed["title"], typed["number"])
    outcome = create.create_from_list(database(), new_act(), term, name, students)
    if isinstance(outcome, Refused):
        place = OF_COURSE_FILE.get(outcome.field, "file")
        return _new_page({place: f"This {outcome}." if place == "file" else f"This {outcome.reason}."}, typed, 422)
    if isinstance(outcome, Conflict) or outcome.entry is None:
        return redirect(url_for("desk.show"))
    request_here = new_act().on(outcome.entry)
    tell(create.link_new(database(), request_here, gateway(), my_email(), name, term))
    return redirect(url_for("syllabus.show", section_id=outcome.entry))


def _term(typed: dict[str, str], errors: dict[str, str]) -> Term | None:
    days = {}
    for key in ("starts", "ends"):
        try:
            days[key] = date.fromisoformat(typed[key])
        except ValueError:
            errors[key] = "Type a date."
    if len(days) == 2 and days["ends"] <= days["starts"]:
        errors["ends"] = "The term must end after it starts."
    return None if errors.keys() & {"starts", "ends"} else Term(typed["term"], days["starts"], days["ends"])


def _class_list(errors: dict[str, str]) -> list[Student]:
    file = request.files.get("file")
    if file is None or not file.filename:
        errors["file"] = "Choose a class list."
        return []
    data = file.read()
    file.close()
    try:
        found = read_apart(read_class_list, data)
    except Refused as error:
        errors["file"] = f"This file {error.reason}."
        return []
    if found.errors:
        errors["file"] = "Nothing was imported. " + "; ".join(found.errors[:8]) + "."
    elif not found.students:
        errors["file"] = "There is no student in this file."
    return list(found.students)


@blueprint.post("/sections/import")
def create_from_file() -> ResponseReturnValue:
    """A section from a course file, with everything that stands in it, or an archive to look at."""
    upload = request.files.get("course_file")
    if upload is None or not upload.filename:
        return _new_page({"course_file": "Choose a file."}, {}, 422)
    data = upload.read()
    upload.close()
    outcome = create.create_from_file(database(), new_act(), upload.filename, data)
    if isinstance(outcome, Refused):
        return _new_page({"course_file": f"This file was not imported: {outcome}."}, {}, 422)
    return _to_new(outcome, "plan.show")


@blueprint.post("/sections/registrar")
def create_from_registrar() -> ResponseReturnValue:
    """A section with the roster of the registrar."""
    ref = request.form.get("ref", "")
    outcome = create.create_from_registrar(database(), new_act(), gateway(), my_email(), ref)
    if isinstance(outcome, Refused):
        return _new_page({"ref": outcome.reason}, {}, 422)
    if not isinstance(outcome, Conflict) and outcome.trouble:
        return _new_page({"ref": outcome.text}, {}, 503)
    return _to_new(outcome, "syllabus.show")


def _to_new(outcome: Outcome, endpoint: str) -> ResponseReturnValue:
    """To the section that was made; to the Desk where it was made before."""
    if isinstance(outcome, Refused | Conflict) or outcome.entry is None:
        return redirect(url_for("desk.show"))
    tell_without_undo(outcome)
    return redirect(url_for(endpoint, section_id=outcome.entry))
