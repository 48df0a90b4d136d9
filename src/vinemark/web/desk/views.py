"""The Desk: the sections of a term and where each stands; making a section."""

import time
from pathlib import Path

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.base.refused import Refused
from vinemark.core.course.terms import usual_term
from vinemark.office.answers import OfficeSection
from vinemark.section.acts import begin, create
from vinemark.section.acts.begin import BroughtFile, TypedSection
from vinemark.section.acts.practice import create_practice
from vinemark.section.desk import DeskEntry, desk_entry, is_current, not_added
from vinemark.section.outcome import Conflict, Outcome
from vinemark.section.replica_words import CopyWords, copy_words
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

TYPED = ("course", "number", "title", "term", "starts", "ends", "people")

NO_COPY = CopyWords("No copy of the database is made all the time: vinemark serve --replica makes one.", True)

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
    return render_template(
        "desk/desk.html", terms=terms, archived=archived, now=now, notice=take_notice(), copied=_copied()
    )


def _copied() -> CopyWords | None:
    """How old the copy of the database is, for those who run it."""
    if my_email().casefold() not in settings().administrators:
        return None
    return copy_words(Path(settings().database), time.time()) or NO_COPY


@blueprint.get("/sections/new")
def new() -> ResponseReturnValue:
    """The form for a section from a class list, and the registrar's sections."""
    return _new_page({}, {})


@blueprint.get("/sections/unadded")
def unadded() -> ResponseReturnValue:
    """For the Desk, once it is shown: the registrar's sections that nobody added; nothing where it does not answer."""
    listed, _ = _registrars_sections()
    today = settings().clock.now().date()
    found = [one for one in _not_added(listed) if is_current(one, today)]
    return render_template("desk/_unadded.html", listed=found)


def _not_added(listed: list[OfficeSection]) -> list[OfficeSection]:
    return not_added(listed, sections.sections_of(database(), person_id()))


def _new_page(errors: dict[str, str], typed: dict[str, str], status: int = 200) -> ResponseReturnValue:
    listed, trouble = _registrars_sections()
    return render_template(
        "desk/new.html",
        errors=errors,
        typed={**_term_guess(listed), **typed},
        listed=_not_added(listed),
        trouble=trouble,
        now=settings().clock.now(),
    ), status


def _registrars_sections() -> tuple[list[OfficeSection], str]:
    answer = gateway().for_instructor(my_email()).sections()
    return (answer, "") if isinstance(answer, list) else ([], answer.reason)


def _term_guess(listed: list[OfficeSection]) -> dict[str, str]:
    """The term of the registrar's sections, or of the person's last section, or the usual one of the day."""
    mine = sections.sections_of(database(), person_id())
    terms = [s.term for s in listed] or [s.term for s in mine]
    term = max(terms, key=lambda t: t.starts) if terms else usual_term(settings().clock.now().date())
    return {"term": term.name, "starts": term.starts.isoformat(), "ends": term.ends.isoformat()}


@blueprint.post("/sections/new")
def create_section() -> ResponseReturnValue:
    """A section of what is typed and of the file, whatever it is. Everything wrong is said at once."""
    typed = TypedSection(**{key: request.form.get(key, "").strip() for key in TYPED})
    begun = begin.begin_section(database(), snapshots(), new_act(), typed, _file())
    if not isinstance(begun, begin.Begun):
        return _new_page(begun, vars(typed), 422)
    if begun.section_id is None:
        return redirect(url_for("desk.show"))
    if begun.outcome is not None:
        tell_without_undo(begun.outcome)
        return redirect(url_for("plan.show", section_id=begun.section_id))
    if begun.name and begun.term and settings().office_url:
        request_here = new_act().on(begun.section_id)
        linked = create.link_new(database(), request_here, gateway(), my_email(), begun.name, begun.term)
        if not linked.trouble:
            tell(linked)
    if begun.file_id is not None:
        return redirect(url_for("bring.look", section_id=begun.section_id, file_id=begun.file_id))
    return redirect(url_for("syllabus.show", section_id=begun.section_id))


def _file() -> BroughtFile | None:
    upload = request.files.get("course_file") or request.files.get("file")
    if upload is None or not upload.filename:
        return None
    data = upload.read()
    upload.close()
    return BroughtFile(upload.filename, data)


@blueprint.post("/sections/practice")
def practice() -> ResponseReturnValue:
    """A section with made-up students, to try everything on."""
    return _to_new(create_practice(database(), new_act()), "plan.show")


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
