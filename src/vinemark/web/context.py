"""What a view stands on: the connection, the person, the section, and how a page is put together."""

import secrets
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from functools import cached_property
from typing import Any

from flask import abort, current_app, g, make_response, redirect, render_template, request, session, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from vinemark.core.audit import Finding, audit
from vinemark.core.audit.stand import Weighed, weigh
from vinemark.core.course import Cell, Course, Student
from vinemark.core.course_format import write_cell
from vinemark.core.standing import Node, Sent, stem
from vinemark.core.syllabus import standing as matching
from vinemark.office.client import OfficeClient
from vinemark.settings import Settings
from vinemark.store import findings, history, registrar, sections, syllabuses
from vinemark.store.database import Connection, connect
from vinemark.store.history import Act
from vinemark.store.sections import Section


def settings() -> Settings:
    """The application's settings."""
    found: Settings = current_app.extensions["vinemark"]
    return found


def office() -> OfficeClient:
    """The client that speaks to the office."""
    client: OfficeClient = current_app.extensions["vinemark.office"]
    return client


def database() -> Connection:
    """This request's connection."""
    if "database" not in g:
        g.database = connect(settings().database)
    connection: Connection = g.database
    return connection


def close_database(_: BaseException | None) -> None:
    """Close this request's connection."""
    connection = g.pop("database", None)
    if connection is not None:
        connection.close()


def person_id() -> int:
    """Who is signed in."""
    return int(current_user.get_id())


def require_sign_in() -> ResponseReturnValue | None:
    """Before each view of a blueprint: somebody must be signed in."""
    if current_user.is_authenticated:
        return None
    if is_htmx() or request.is_json:
        response = make_response("Sign in again.", 401)
        response.headers["HX-Redirect"] = url_for("people.sign_in")
        return response
    wanted = request.full_path.rstrip("?") if request.method == "GET" else None
    return redirect(url_for("people.sign_in", next=wanted))


def is_htmx() -> bool:
    """Whether the request asks for parts of a page."""
    return request.headers.get("HX-Request") == "true"


def act(section_id: int | None = None) -> Act:
    """This request as a write: who, when, where, and the key that makes a retry the same write."""
    key = request.form.get("key") or (request.get_json(silent=True) or {}).get("key")
    who = person_id()
    return Act(who, settings().clock.now(), section_id, f"{who}:{key}" if key else None)


def keyless(found: Act) -> Act:
    """The same act for a further write of one request."""
    return Act(found.person_id, found.at, found.section_id)


def new_key() -> str:
    """A key for a form."""
    return secrets.token_urlsafe(16)


@dataclass
class Standing:
    """A section of the signed-in person with everything a page about it needs, worked out when asked for."""

    section: Section

    @property
    def id(self) -> int:
        """The section's id."""
        return self.section.id

    @cached_property
    def course(self) -> Course:
        """Everything the core takes."""
        return sections.load(database(), self.section)

    @cached_property
    def as_of(self) -> date:
        """The day that blanks rules go by: the day the section was first signed, until then today."""
        return self.sendings[0].signed_at.date() if self.sendings else settings().clock.today()

    def student(self, student_id: str) -> Student:
        """A student of the section, or 404."""
        found = self.course.student(student_id)
        if found is None:
            abort(404)
        return found

    @cached_property
    def findings(self) -> Sequence[Finding]:
        """What the audit finds today."""
        return self.audited()

    @cached_property
    def weighed(self) -> Sequence[Weighed]:
        """The findings, with what was let stand."""
        return weigh(self.findings, findings.stands_of(database(), self.id))

    @property
    def open_findings(self) -> list[Finding]:
        """What is found and not let stand."""
        return [one.finding for one in self.weighed if one.stand is None]

    def audited(self, submitting: bool = False) -> list[Finding]:
        """The audit, with the syllabus as corrected by hand and without the differences that are noted."""
        kept = syllabuses.latest(database(), self.id)
        if kept is None:
            return audit(self.course, self.as_of, submitting)
        held = matching.match(self.course.plan, kept.reading, syllabuses.notes(database(), self.id))
        return audit(self.course, self.as_of, submitting, kept.reading, {n.rule.key for n in held.rules if n.note})

    @cached_property
    def sendings(self) -> list[registrar.Sending]:
        """All sendings of the final run."""
        return registrar.sendings(database(), self.id)

    @cached_property
    def read_back(self) -> registrar.ReadBack | None:
        """What the office held when last read."""
        return registrar.read_back(database(), self.id)

    @property
    def posted_at(self) -> str | None:
        """When the office posted, as last read."""
        return self.read_back.posted_at if self.read_back else None

    @cached_property
    def nodes(self) -> list[Node]:
        """The five nodes of the stem."""
        sent = Sent(registrar.accepted(self.sendings), self.posted_at is not None)
        return stem(self.course, self.open_findings, sent)

    @cached_property
    def last_kept(self) -> str:
        """When something was last written, for the bar."""
        at = history.last_kept(database(), self.id)
        if at is None:
            return ""
        return f"{at:%H:%M}" if at.date() == settings().clock.today() else f"{at.day} {at:%b, %H:%M}"


def standing(section_id: int) -> Standing:
    """The section, or 404 where it is not this person's."""
    section = sections.find(database(), person_id(), section_id)
    if section is None:
        abort(404)
    return Standing(section)


def was_text(cell: Cell) -> str:
    """A cell as its writer saw it, '' for blank."""
    return write_cell(cell) or ""


def writable(section_id: int) -> Standing:
    """The section, for a person who may enter scores."""
    found = standing(section_id)
    if found.section.role == "reviewer":
        abort(403)
    return found


def instructor_standing(section_id: int) -> Standing:
    """The section, for an act that only its instructor may do."""
    found = standing(section_id)
    if found.section.role != "instructor":
        abort(403)
    return found


@dataclass(frozen=True)
class Notice:
    """A sentence shown after an act, with the entry that would undo it."""

    text: str
    undo: int | None = None
    trouble: bool = False


def leave_notice(text: str, undo: int | None = None, trouble: bool = False) -> None:
    """Show a sentence on the next page."""
    session["notice"] = [text, undo, trouble]


def take_notice() -> Notice | None:
    """The sentence left for this page, once."""
    left = session.pop("notice", None)
    return Notice(*left) if left else None


def page(step: str, found: Standing, status: int = 200, **values: Any) -> ResponseReturnValue:
    """A step's page, or only its parts where htmx asks; `work` and `margin` templates stand in its folder."""
    notice = values.pop("notice", None) or take_notice()
    shown = {"step": step, "at": found, "today": settings().clock.now(), "notice": notice, **values}
    if is_htmx():
        return render_template("section/parts.html", **shown), status
    return render_template(f"{step}/page.html", **shown), status


def show_error(code: int, title: str, text: str, extra: Mapping[str, str] | None = None) -> ResponseReturnValue:
    """An error in the look of the application, or one line where htmx or a script asks."""
    if is_htmx() or request.is_json:
        return make_response(text, code)
    return render_template("error.html", code=code, title=title, text=text, **(extra or {})), code
