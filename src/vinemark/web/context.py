"""What a view stands on: the connection, the person, the section, and how a page is put together."""

import json
import secrets
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from functools import cached_property
from typing import Any

from flask import abort, current_app, g, make_response, redirect, render_template, request, session, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from vinemark.core.after.drift import Drift, alarm, drifted, official
from vinemark.core.after.grade_change import GradeChange
from vinemark.core.audit import Finding, audit, findings_json
from vinemark.core.audit.accept import ReviewedFinding, review
from vinemark.core.course.course import RUNS, Cell, Course, Run, Student
from vinemark.core.course.write import write_cell
from vinemark.core.grade.calculation import Grade
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.submit.grade_row import HeldRow
from vinemark.core.submit.hours import Gate, OfficeHours, gate
from vinemark.core.submit.progress import Node, Sent, stem
from vinemark.core.submit.roster_changes import RosterChange, roster_changes
from vinemark.core.submit.rows import midterm_findings
from vinemark.core.syllabus.compare import notes as matching
from vinemark.delivery import Courier
from vinemark.exchange import course_file
from vinemark.office.client import OfficeClient
from vinemark.settings import Settings
from vinemark.store import acceptances as findings
from vinemark.store import grade_changes, history, opened, registrar, sections, syllabuses
from vinemark.store.database import Connection, connect
from vinemark.store.history import Act
from vinemark.store.sections import Section
from vinemark.store.submissions import ReadBack, Sending, accepted, signed_course
from vinemark.store.submissions import read_back as read_back_of_run
from vinemark.store.submissions import sendings as sent_of_run


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
    """A section of the signed-in person with everything a page about it needs, worked out when asked for.

    Settled grades, sendings and what the office holds are those of `run`.
    """

    section: Section
    run: Run = "final"
    beside: "Standing | None" = None
    """The standing of the final run, where this is another's and that one is at hand."""

    @property
    def run_arg(self) -> Run | None:
        """The run as addresses carry it: none for the final one."""
        return None if self.run == "final" else self.run

    @cached_property
    def final(self) -> "Standing":
        """The same section at its final run."""
        return self if self.run == "final" else self.beside or Standing(self.section)

    @property
    def id(self) -> int:
        """The section's id."""
        return self.section.id

    @cached_property
    def course(self) -> Course:
        """Everything the core takes."""
        return sections.load(database(), self.section) if self.run == "final" else self.final.course

    @cached_property
    def run_course(self) -> Course:
        """The course with the settled grades of this run."""
        return self.course.for_run(self.run)

    @cached_property
    def as_of(self) -> date:
        """The day that blanks rules go by: the day the run was first signed, until then today."""
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
    def reviewed(self) -> Sequence[ReviewedFinding]:
        """The findings, with what was let stand."""
        return review(self.findings, findings.stands_of(database(), self.id))

    @property
    def open_findings(self) -> list[Finding]:
        """What is found and not let stand."""
        return [one.finding for one in self.reviewed if one.stand is None]

    def audited(self, submitting: bool = False) -> list[Finding]:
        """The audit, with the syllabus as corrected by hand and without the differences that are noted."""
        kept = syllabuses.latest(database(), self.id)
        if kept is None:
            return audit(self.course, self.as_of, submitting)
        held = matching.match_plan(self.course.plan, kept.reading, syllabuses.notes(database(), self.id))
        return audit(self.course, self.as_of, submitting, kept.reading, {n.rule.key for n in held.rules if n.note})

    @cached_property
    def run_grades(self) -> Mapping[str, Grade]:
        """Everyone's computed grade. A midterm that was handed in keeps those it was signed with: the term goes on."""
        now = grades_of(self.course, self.as_of)
        last = next((s for s in reversed(self.sendings) if s.receipt), None)
        text = signed_course(database(), self.id, last.id) if last and self.run == "midterm" else None
        return {**now, **grades_of(course_file.read(text), self.as_of)} if text else now

    @cached_property
    def run_findings(self) -> Sequence[Finding]:
        """What counts for this run's settled grades."""
        return self.findings if self.run == "final" else midterm_findings(self.run_course, self.as_of)

    @cached_property
    def sendings(self) -> list[Sending]:
        """All sendings of the run."""
        return sent_of_run(database(), self.id, self.run)

    @cached_property
    def read_back(self) -> ReadBack | None:
        """What the office held when last read."""
        return read_back_of_run(database(), self.id, self.run)

    @property
    def posted_at(self) -> str | None:
        """When the office posted, as last read."""
        return self.read_back.posted_at if self.read_back else None

    @cached_property
    def changes(self) -> list[GradeChange]:
        """Changes of grade; there are none at midterm."""
        return grade_changes.changes_of(database(), self.id) if self.run == "final" else []

    @property
    def fell_back(self) -> Mapping[str, HeldRow]:
        """Incompletes that the office let fall back, as they were."""
        return self.read_back.fell_back if self.read_back else {}

    @cached_property
    def held(self) -> dict[str, HeldRow]:
        """What the office should hold by its own answers."""
        read = self.read_back.rows if self.read_back else {}
        return official(accepted(self.sendings), self.changes, self.fell_back, read)

    @cached_property
    def drifts(self) -> list[Drift]:
        """Settled grades that are no longer what the office took; none while a change of grade asks for them."""
        asked = {change.student_id: change.new for change in self.changes if change.open}
        found = drifted(self.run_course, self.held, self.fell_back)
        return [drift for drift in found if drift.now is None or asked.get(drift.student_id) != drift.now]

    @property
    def alarm(self) -> str:
        """The alarm about settled grades that drifted from what was sent; empty where none did."""
        signed = [sending.signed_at.date() for sending in self.sendings if sending.receipt]
        return alarm(self.drifts, signed[-1]) if signed else ""

    @cached_property
    def roster_changes(self) -> list[RosterChange]:
        """What changed on the office's roster since the section last followed it."""
        taken, now = registrar.roster_taken(database(), self.id), self.course.records
        return roster_changes(taken.roster, now.roster) if taken and now else []

    @property
    def runs(self) -> list[Run]:
        """The runs the office has, the final one always."""
        return [run for run in RUNS if run in self.hours.windows or run == "final"]

    @cached_property
    def hours(self) -> OfficeHours:
        """The office's windows and transfers, as last pulled."""
        return registrar.hours_of(database(), self.id)

    @property
    def window_due(self) -> datetime | None:
        """When the run is due."""
        window = self.hours.windows.get(self.run)
        return window.due if window else None

    @property
    def gate(self) -> Gate:
        """Whether the office takes the run's grades now."""
        return gate(self.hours, self.run, settings().clock.now())

    @cached_property
    def opened_at(self) -> str | None:
        """Since when students see the run's settled grades."""
        return opened.opened_at(database(), self.id, self.run)

    @property
    def sent(self) -> Sent:
        """What the office has of the run."""
        return Sent(self.held, self.posted_at is not None, len(self.drifts), self.fell_back)

    @cached_property
    def nodes(self) -> list[Node]:
        """The five nodes of the stem; they speak of the final run."""
        return stem(self.course, self.final.open_findings, self.final.sent)

    @cached_property
    def last_kept(self) -> str:
        """When something was last written, for the bar."""
        at = history.last_kept(database(), self.id)
        if at is None:
            return ""
        return f"{at:%H:%M}" if at.date() == settings().clock.today() else f"{at.day} {at:%b, %H:%M}"


def standing(section_id: int) -> Standing:
    """The section at the run the address names, or 404 where it is not this person's."""
    section = sections.find(database(), person_id(), section_id)
    if section is None:
        abort(404)
    named = request.args.get("run", "final")
    run = next((run for run in RUNS if run == named), None)
    if run is None:
        abort(404)
    return Standing(section, run)


def courier(found: Standing) -> Courier:
    """Who goes to the office for the signed-in instructor; 404 where the section is not linked."""
    ref = found.section.office_ref
    if ref is None:
        abort(404)
    return Courier(database(), office(), keyless(act(found.id)), ref)


def findings_text(found: Standing) -> str:
    """The findings that stand at signing, with the reasons of those let stand, as JSON text to be frozen."""
    stands = {one.finding.key: one.stand.reason for one in found.reviewed if one.stand}
    return json.dumps({**findings_json(found.findings), "let_stand": stands}, ensure_ascii=False, indent=1) + "\n"


def was_text(cell: Cell) -> str:
    """A cell as its writer saw it, '' for blank."""
    return write_cell(cell) or ""


def writable(section_id: int) -> Standing:
    """The section, for a person who may enter scores."""
    found = standing(section_id)
    if found.section.role == "reviewer":
        abort(403)
    return found


def whole_standing(section_id: int) -> Standing:
    """The section, for one who may read all of it: its instructor or a reviewer."""
    found = standing(section_id)
    if found.section.role == "grader":
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
