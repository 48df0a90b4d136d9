"""The Desk: the sections of a term and where each stands; making a section."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.base.refused import Refused
from vinemark.core.course.course import RUNS, SectionName, Student, Term
from vinemark.core.plan.edit import empty_plan
from vinemark.core.submit.grade_row import text_digest
from vinemark.core.submit.progress import Milestone, RunFacts, left_words, marks
from vinemark.core.syllabus import read_syllabus
from vinemark.delivery import Courier, keep_pulled
from vinemark.exchange import archive, course_file, oneroster
from vinemark.exchange.class_list import read_class_list
from vinemark.office.client import OFFICE_TROUBLE, OfficeSection
from vinemark.store import archives, people, sections, syllabuses
from vinemark.store.history import AlreadyDoneError
from vinemark.web.context import (
    Standing,
    act,
    database,
    keyless,
    leave_notice,
    office,
    person_id,
    require_sign_in,
    settings,
    take_notice,
)
from vinemark.web.matching import held_against

blueprint = Blueprint("desk", __name__)
blueprint.before_request(require_sign_in)


@dataclass(frozen=True)
class Lane:
    """One run of a section on the Desk: its marks, what is left, and by when."""

    at: Standing
    marks: Sequence[Milestone]
    left: str
    closed: bool


@dataclass(frozen=True)
class Entry:
    """One section on the Desk, its final run first."""

    at: Standing
    lanes: Sequence[Lane]


@blueprint.get("/")
def show() -> ResponseReturnValue:
    """All sections of the person, by term."""
    terms: dict[str, list[Entry]] = {}
    for section in sections.of_person(database(), person_id()):
        terms.setdefault(section.term.name, []).append(_entry(Standing(section)))
    return render_template("desk/desk.html", terms=terms, today=settings().clock.now(), notice=take_notice())


def _entry(at: Standing) -> Entry:
    runs = [run for run in reversed(RUNS) if run in at.runs or at.course.midterm]
    return Entry(at, [_lane(at if run == "final" else Standing(at.section, run, at)) for run in runs])


def _lane(at: Standing) -> Lane:
    facts = RunFacts(
        unmatched=_unmatched(at),
        findings=at.open_findings if at.run == "final" else at.run_findings,
        signed=len({row.id for sending in at.sendings if sending.state != "refused" for row in sending.rows}),
        sent=at.sent,
        opened=at.opened_at is not None,
    )
    closed = at.gate.state == "closed" and at.window_due is not None
    return Lane(at, marks(at.run_course, facts), left_words(at.run_course, at.sent, closed), closed)


def _unmatched(at: Standing) -> int | None:
    held = held_against(at, at.course.plan) if at.run == "final" else None
    return len(held.match.open) if held else None


@blueprint.get("/sections/new")
def new() -> ResponseReturnValue:
    """The form for a section from a class list, and the office's sections to pull."""
    return _new_page({}, {})


def _new_page(errors: dict[str, str], typed: dict[str, str], status: int = 200) -> ResponseReturnValue:
    listed, trouble = _office_sections()
    mine = {s.office_ref for s in sections.of_person(database(), person_id()) if not s.archive}
    return render_template(
        "desk/new.html",
        errors=errors,
        typed={**_term_guess(listed), **typed},
        listed=[s for s in listed if s.ref not in mine],
        trouble=trouble,
        today=settings().clock.now(),
    ), status


def _office_sections() -> tuple[list[OfficeSection], str]:
    try:
        return office().sections(my_email()), ""
    except OFFICE_TROUBLE as error:
        return [], str(error)


def my_email() -> str:
    """The e-mail address by which the office knows the signed-in person."""
    row = people.by_id(database(), person_id())
    return str(row["email"]) if row else ""


def _term_guess(listed: list[OfficeSection]) -> dict[str, str]:
    """The term of the office's sections, or of the person's last section."""
    mine = sections.of_person(database(), person_id())
    terms = [s.term for s in listed] or [s.term for s in mine]
    if not terms:
        return {}
    term = max(terms, key=lambda t: t.starts)
    return {"term": term.name, "starts": term.starts.isoformat(), "ends": term.ends.isoformat()}


@blueprint.post("/sections/new")
def make() -> ResponseReturnValue:
    """A section from a class list in CSV. Everything wrong is said at once and nothing is made."""
    typed = {key: request.form.get(key, "").strip() for key in ("course", "number", "title", "term", "starts", "ends")}
    errors = {key: "Fill this in." for key in ("course", "title", "term") if not typed[key]}
    term = _term(typed, errors)
    students = _class_list(errors)
    if errors or term is None:
        return _new_page(errors, typed, 422)
    name = SectionName(typed["course"], typed["title"], typed["number"])
    try:
        section_id = sections.make(database(), act(), term, name, students, empty_plan())
    except AlreadyDoneError:
        return redirect(url_for("desk.show"))
    _link(section_id, name, term)
    return redirect(url_for("syllabus.show", section_id=section_id))


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
    try:
        found = read_class_list(file.read())
    except Refused as error:
        errors["file"] = f"This file {error.reason}."
        return []
    if found.errors:
        errors["file"] = "Nothing was taken. " + "; ".join(found.errors[:8]) + "."
    elif not found.students:
        errors["file"] = "There is no student in this file."
    return list(found.students)


def _link(section_id: int, name: SectionName, term: Term) -> None:
    """Link a section to the office's section of the same name and term, where there is exactly one."""
    listed, trouble = _office_sections()
    fits = [s for s in listed if (s.name.course, s.name.number) == (name.course, name.number) and s.term == term]
    if len(fits) == 1:
        leave_notice(_pull(section_id, fits[0].ref))
    elif trouble:
        leave_notice(
            f"The registrar’s office did not answer: {trouble}. Pull its roster later, on Submit.", trouble=True
        )
    else:
        leave_notice("The registrar’s office has no section of this name and term for you; see Submit.", trouble=True)


def _pull(section_id: int, ref: str) -> str:
    """Pull a section's roster and the office's rules; what happened, in words. Raises the client's errors."""
    found = Courier(database(), office(), keyless(act(section_id)), ref).pull()
    return f"Linked to the registrar’s section: {len(found.records.roster)} people on the office’s roster."


@blueprint.post("/sections/import")
def make_from_file() -> ResponseReturnValue:
    """A section from a course file, with everything that stands in it, or an archive to look at."""
    upload = request.files.get("course_file")
    if upload is None or not upload.filename:
        return _new_page({"course_file": "Choose a file."}, {}, 422)
    try:
        data = upload.read()
        if archive.is_archive(data):
            return _look_at(upload.filename, data)
        course = oneroster.read(data) if data.startswith(b"PK") else course_file.read_bytes(data)
    except Refused as error:
        return _new_page({"course_file": f"This file was not taken: {error}."}, {}, 422)
    try:
        section_id = sections.make_from_course(database(), act(), course)
    except AlreadyDoneError:
        return redirect(url_for("desk.show"))
    if course.syllabus:
        said = read_syllabus(course.syllabus)
        syllabuses.put_in(database(), keyless(act(section_id)), course.syllabus, "the course file", said)
    leave_notice(f"{course.section.short} taken from {upload.filename}.")
    return redirect(url_for("plan.show", section_id=section_id))


def _look_at(name: str, data: bytes) -> ResponseReturnValue:
    """A section from an archive whose every digest fits; it is read and never changed."""
    found = archive.read(data)
    source, kept = f"{name}, {found.archive.made_at[:10]}, SHA-256 {text_digest(data)}", found.archive
    try:
        section_id = archives.take_in(
            database(), act(), found.course, source, kept.history, kept.sendings, kept.changes, kept.beside
        )
    except AlreadyDoneError:
        return redirect(url_for("desk.show"))
    if kept.syllabus:
        said = read_syllabus(kept.syllabus)
        syllabuses.put_in(database(), keyless(act(section_id)), kept.syllabus, "the archive", said)
    leave_notice(f"{found.course.section.short} taken from the archive {name} to look at: every digest fits.")
    return redirect(url_for("plan.show", section_id=section_id))


@blueprint.post("/sections/pull")
def make_from_office() -> ResponseReturnValue:
    """A section with the roster of the office."""
    try:
        found = next((s for s in office().sections(my_email()) if s.ref == request.form.get("ref")), None)
        if found is None:
            return _new_page({"ref": "The office has no such section for you."}, {}, 422)
        roster = office().roster(found.ref)
    except OFFICE_TROUBLE as error:
        return _new_page({"ref": f"The registrar’s office did not answer: {error}. Nothing was made."}, {}, 503)
    enrolled = {entry.id for entry in roster.records.roster if entry.status != "withdrawn"}
    students = [student for student in roster.students if student.id in enrolled]
    try:
        section_id = sections.make(database(), act(), found.term, found.name, students, empty_plan())
    except AlreadyDoneError:
        return redirect(url_for("desk.show"))
    keep_pulled(database(), keyless(act(section_id)), roster)
    return redirect(url_for("syllabus.show", section_id=section_id))
