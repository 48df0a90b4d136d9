"""The Desk: the sections of a term and where each stands; making a section."""

import time
from collections.abc import Mapping, Sequence
from pathlib import Path

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.base.refused import Refused
from vinemark.core.college.college import term_of_day
from vinemark.core.course.databases import HOME
from vinemark.core.course.terms import usual_term
from vinemark.office.answers import OfficeSection
from vinemark.section.acts import begin, create
from vinemark.section.acts.begin import BroughtFile, TypedSection
from vinemark.section.acts.practice import create_practice
from vinemark.section.desk import DeskEntry, desk_entry, is_current, not_added
from vinemark.section.outcome import Conflict, Outcome
from vinemark.section.replica_words import CopyWords, copy_words
from vinemark.section.state import state_of
from vinemark.store.college import college_terms
from vinemark.store.removed import removed_sections
from vinemark.store.students_see import studied_sections
from vinemark.web.databases import (
    all_databases,
    connection_of,
    database_for,
    database_of,
    databases_here,
    home,
    is_kept_here,
    my_sections,
)
from vinemark.web.request import (
    gateway,
    is_htmx,
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
    return render_template("desk/desk.html", elsewhere=all_databases().elsewhere, **_mine())


@blueprint.get("/at/<int:number>/desk")
def show_there(number: int) -> ResponseReturnValue:
    """For a Desk on another machine: the sections that this one has, as a part of the page, or as a page."""
    template = "desk/_sections.html" if is_htmx() else "desk/there.html"
    return render_template(template, number=number, there=all_databases().numbered(number), **_mine())


def _mine() -> Mapping[str, object]:
    """What the Desk shows of the sections that this machine has."""
    terms: dict[str, list[DeskEntry]] = {}
    now, mine = settings().clock.now(), my_sections()
    for record in (one for one in mine if not one.put_away):
        section = state_of(database_of(record.id), snapshots(), record, now, person_id())
        terms.setdefault(record.term.name, []).append(desk_entry(section))
    return {
        "terms": terms,
        "archived": [one for one in mine if one.put_away],
        "removed": [
            (one.number, found)
            for one in all_databases().here
            for found in removed_sections(connection_of(one), person_id())
        ],
        "studied": [one for connection in databases_here() for one in studied_sections(connection, my_email())],
        "now": now,
        "notice": take_notice(),
        "copies": _copies(),
    }


def _copies() -> Sequence[CopyWords]:
    """How old the copies of the databases are, for those who run them."""
    if my_email().casefold() not in settings().administrators:
        return ()
    here = all_databases().here
    found = [(one, copy_words(Path(one.file), time.time()) or NO_COPY) for one in here]
    return [copy._replace(text=f"{one.words}: {copy.text}") if one.words else copy for one, copy in found]


@blueprint.get("/sections/new")
def new() -> ResponseReturnValue:
    """The form for a section from a class list, and the registrar's sections."""
    return _new_page({}, {})


@blueprint.get("/sections/unadded")
@blueprint.get("/at/<int:number>/sections/unadded")
def unadded(number: int = HOME) -> ResponseReturnValue:
    """For the Desk, once it is shown: the registrar's sections that nobody added; nothing where it does not answer."""
    listed, _ = _registrars_sections()
    today = settings().clock.now().date()
    found = [one for one in _not_added(listed) if is_current(one, today)]
    return render_template("desk/_unadded.html", number=number, listed=found)


def _not_added(listed: list[OfficeSection]) -> list[OfficeSection]:
    """Those of them that are kept on this machine; another one names its own."""
    found = not_added(listed, my_sections())
    return [one for one in found if is_kept_here(all_databases().taking(one.term, one.name))]


def _new_page(errors: dict[str, str], typed: dict[str, str], status: int = 200) -> ResponseReturnValue:
    listed, trouble = _registrars_sections()
    return render_template(
        "desk/new.html",
        errors=errors,
        typed={**_term_guess(listed), **typed},
        listed=_not_added(listed),
        trouble=trouble,
        elsewhere=all_databases().elsewhere,
        terms=college_terms(home()),
        now=settings().clock.now(),
    ), status


def _registrars_sections() -> tuple[list[OfficeSection], str]:
    answer = gateway().for_instructor(my_email()).sections()
    return (answer, "") if isinstance(answer, list) else ([], answer.reason)


def _term_guess(listed: list[OfficeSection]) -> dict[str, str]:
    """The term of the registrar's sections, the college's of the day, that of the person's last section, or the usual
    one."""
    mine = my_sections()
    terms, today = [s.term for s in listed] or [s.term for s in mine], settings().clock.now().date()
    latest = max(terms, key=lambda t: t.starts) if terms else None
    term = (None if listed else term_of_day(college_terms(home()), today)) or latest or usual_term(today)
    return {"term": term.name, "starts": term.starts.isoformat(), "ends": term.ends.isoformat()}


@blueprint.post("/sections/new")
@blueprint.post("/at/<int:number>/sections/new")
def create_section(number: int = HOME) -> ResponseReturnValue:
    """A section of what is typed and of the file, whatever it is. Everything wrong is said at once."""
    typed = TypedSection(**{key: request.form.get(key, "").strip() for key in TYPED})
    begun = begin.begin_section(database_for, snapshots(), new_act(), typed, _file())
    if not isinstance(begun, begin.Begun):
        return _new_page(begun, vars(typed), 422)
    if begun.section_id is None:
        return redirect(url_for("desk.show"))
    if begun.outcome is not None:
        tell_without_undo(begun.outcome)
        return redirect(url_for("plan.show", section_id=begun.section_id))
    if begun.name and begun.term and settings().office_url:
        made, connection = new_act().on(begun.section_id), database_of(begun.section_id)
        linked = create.link_new(connection, made, gateway(), my_email(), begun.name, begun.term)
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
    return _to_new(create_practice(home(), new_act()), "plan.show")


@blueprint.post("/sections/registrar")
@blueprint.post("/at/<int:number>/sections/registrar")
def create_from_registrar(number: int = HOME) -> ResponseReturnValue:
    """A section with the roster of the registrar."""
    ref = request.form.get("ref", "")
    outcome = create.create_from_registrar(database_for, new_act(), gateway(), my_email(), ref)
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
