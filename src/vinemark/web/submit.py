"""Submit: the office's roster, then check, sign, send, receipt, read back; for the midterm and the final run."""

from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass
from functools import cached_property
from uuid import uuid4

from flask import Blueprint, abort, redirect, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.audit import Finding
from vinemark.core.base.refused import Refused
from vinemark.core.submit.compare import ComparedRow, compared_rows
from vinemark.core.submit.grade_row import HeldRow
from vinemark.core.submit.hours import Dial, Gate, dial
from vinemark.core.submit.roster_changes import mending, rule_changes
from vinemark.core.submit.rows import AtTheOffice, SubmitRow, left, plan_stops, sendable, submission_rows
from vinemark.delivery import Courier, Outcome
from vinemark.exchange import course_file, office_file
from vinemark.office.client import OFFICE_TROUBLE
from vinemark.store import registrar
from vinemark.store import submissions as sendings
from vinemark.store.history import AlreadyDoneError, ChangedSinceError
from vinemark.store.submissions import Sending, Signed
from vinemark.web.context import (
    Standing,
    act,
    courier,
    database,
    findings_text,
    instructor_standing,
    keyless,
    leave_notice,
    office,
    page,
    require_sign_in,
    settings,
    standing,
)
from vinemark.web.desk import my_email

blueprint = Blueprint("submit", __name__, url_prefix="/s/<int:section_id>/submit")
blueprint.before_request(require_sign_in)
STALE_SECONDS = 120


@dataclass
class Counter:
    """What the submit page shows: rows, what holds the section back, what is under way, what the roster did."""

    at: Standing

    @cached_property
    def findings(self) -> Sequence[Finding]:
        """The audit, with every open grade counted."""
        return self.at.audited(submitting=True) if self.at.run == "final" else self.at.run_findings

    @cached_property
    def rows(self) -> list[SubmitRow]:
        """Every student with where the row stands."""
        on_the_way = {row.id: row for row in self.under_way.rows} if self.under_way else {}
        refused, posted = sendings.refusals(self.at.sendings), self.at.posted_at is not None
        there = AtTheOffice(self.at.held, refused, on_the_way, posted, self.at.fell_back)
        return submission_rows(self.at.run_course, self.findings, there)

    @cached_property
    def plan_stops(self) -> list[Finding]:
        """What stops the whole section."""
        return plan_stops(self.findings)

    @cached_property
    def sendable(self) -> list[HeldRow]:
        """The rows that can go now."""
        blocked = self.plan_stops or self.at.posted_at or self.gate.state == "closed"
        return [] if blocked else sendable(self.at.run_course, self.rows)

    @property
    def gate(self) -> Gate:
        """Whether the office takes them now."""
        return self.at.gate

    @property
    def dial(self) -> Dial:
        """The office's day."""
        return dial(self.at.hours, self.at.run, settings().clock.now())

    @property
    def left(self) -> int:
        """How many students still have to reach the office."""
        return left(self.rows)

    @cached_property
    def under_way(self) -> Sending | None:
        """A sending that is signed and not answered yet."""
        return next((s for s in self.at.sendings if s.under_way), None)

    @cached_property
    def comparison(self) -> list[ComparedRow]:
        """What was sent against what the office holds, line by line."""
        return compared_rows(self.at.held, self.at.read_back.rows) if self.at.read_back else []

    @cached_property
    def rule_changes(self) -> list[str]:
        """What changed in the office's rules since."""
        taken, now = registrar.roster_taken(database(), self.at.id), self.at.course.records
        return rule_changes(taken, now) if taken and now else []

    @property
    def takes_files(self) -> bool:
        """Whether this school takes files."""
        return registrar.layout_of(database(), self.at.id) is not None

    @property
    def stale(self) -> bool:
        """Whether the office is to be asked again now that the page is opened."""
        pulled = self.at.section.pulled_at
        mine = self.at.section.role == "instructor" and not self.at.section.archive
        return mine and (pulled is None or (settings().clock.now() - pulled).total_seconds() > STALE_SECONDS)


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """The page."""
    return _page(standing(section_id))


def _page(found: Standing, refused: Refused | None = None, ask: bool = True) -> ResponseReturnValue:
    status = 422 if refused else 200
    if found.section.office_ref is None:
        return page("submit", found, status, counter=None)
    names = {s.id: s.name for s in found.course.students}
    return page("submit", found, status, counter=Counter(found), names=names, refused=refused, ask=ask)


def back(found: Standing) -> ResponseReturnValue:
    """To the page, at the same run."""
    return redirect(url_for("submit.show", section_id=found.id, run=found.run_arg))


def tell(outcome: Outcome | None) -> None:
    """Show what came of an errand on the next page."""
    if outcome is not None:
        leave_notice(outcome.text, trouble=outcome.trouble)


@blueprint.post("/refresh")
def refresh(section_id: int) -> ResponseReturnValue:
    """When the page is opened: pull the roster and read back, without a word where nothing is new."""
    found = instructor_standing(section_id)
    try:
        courier(found).pull()
        if found.held:
            tell(courier(found).read_back(found.run))
    except OFFICE_TROUBLE as error:
        leave_notice(f"The registrar’s office could not be asked again: {error}.", trouble=True)
    return _page(standing(section_id), ask=False)


@blueprint.post("/pull")
def pull_records(section_id: int) -> ResponseReturnValue:
    """Pull roster and rules again, linking the section by its name and term where it is not linked yet."""
    found = instructor_standing(section_id)
    try:
        if found.section.office_ref is None:
            _link(found)
        else:
            _pull(found)
    except OFFICE_TROUBLE as error:
        leave_notice(f"The registrar’s office did not answer: {error}. Nothing was changed; try again.", trouble=True)
    return back(found)


def _pull(found: Standing) -> None:
    pulled = courier(found).pull()
    changed = len(standing(found.id).roster_changes)
    news = f"{changed} changes since are shown below" if changed > 1 else "1 change since is shown below"
    news = news if changed else "it is as it was"
    leave_notice(f"Pulled {len(pulled.records.roster)} people on the office’s roster; {news}.")


def _link(found: Standing) -> None:
    ref = _matching_ref(found)
    if ref is None:
        leave_notice("The office lists no section of this name, number and term for you.", trouble=True)
        return
    linked = _courier_to(found, ref)
    people = len(linked.pull().records.roster)
    leave_notice(f"Linked to the registrar’s section: {people} people on the office’s roster.")


def _courier_to(found: Standing, ref: str) -> Courier:
    """A courier for a section that is about to be linked."""
    return Courier(database(), office(), keyless(act(found.id)), ref)


def _matching_ref(found: Standing) -> str | None:
    name, term = found.section.name, found.section.term
    for listed in office().sections(my_email()):
        if (listed.name.course, listed.name.number, listed.term) == (name.course, name.number, term):
            return listed.ref
    return None


@blueprint.post("/follow")
def follow_roster(section_id: int) -> ResponseReturnValue:
    """Bring the section in line with every change of the roster, in one act with one undo."""
    found = instructor_standing(section_id)
    counter, records = Counter(found), found.course.records
    if records is None or not (found.roster_changes or counter.rule_changes):
        leave_notice("The section follows the roster already.")
        return back(found)
    made = mending(found.course, found.roster_changes, bool(counter.rule_changes))
    what = f"roster followed: {made.words}"
    with suppress(AlreadyDoneError):
        entry = registrar.follow_roster(database(), act(section_id), records, made, what)
        leave_notice(f"{what[:1].upper()}{what[1:]}.", entry)
    return back(found)


@blueprint.post("/sign")
def sign(section_id: int) -> ResponseReturnValue:
    """Sign the rows that are ready: freezes the course and gives the sending its one key."""
    found = instructor_standing(section_id)
    counter = Counter(found)
    if counter.under_way or not counter.sendable:
        leave_notice("There is nothing to sign just now.", trouble=True)
        return back(found)
    signed = Signed(found.run, counter.sendable, course_file.write(found.course), findings_text(found))
    seen = found.sendings[-1].id if found.sendings else 0
    try:
        sendings.sign(database(), act(section_id), str(uuid4()), signed, seen)
    except ChangedSinceError as error:
        leave_notice(str(error), trouble=True)
    except AlreadyDoneError:
        pass
    return back(found)


@blueprint.post("/take-back/<int:sending_id>")
def take_back(section_id: int, sending_id: int) -> ResponseReturnValue:
    """Take a signature back while nothing has gone out."""
    found = instructor_standing(section_id)
    try:
        sendings.withdraw_signature(database(), act(section_id), sending_id)
    except ChangedSinceError as error:
        leave_notice(str(error), trouble=True)
    except AlreadyDoneError:
        pass
    return back(found)


def sending_of(found: Standing, sending_id: int) -> Sending:
    """A sending of the section, or 404."""
    sending = sendings.sending(database(), found.id, sending_id)
    if sending is None or found.section.office_ref is None:
        abort(404)
    return sending


@blueprint.post("/send/<int:sending_id>")
def send(section_id: int, sending_id: int) -> ResponseReturnValue:
    """Send what was signed, under its key: safe to repeat until there is a receipt."""
    found = instructor_standing(section_id)
    sending = sending_of(found, sending_id)
    if sending.under_way:
        tell(courier(found).deliver(sending))
    return back(found)


@blueprint.post("/answer/<int:sending_id>")
def take_answer(section_id: int, sending_id: int) -> ResponseReturnValue:
    """The office's answer file back in, matched row by row."""
    found = instructor_standing(section_id)
    sending, upload = sending_of(found, sending_id), request.files.get("answer")
    if not sending.under_way:
        leave_notice("This sending has its receipt already.")
        return back(found)
    try:
        if upload is None or not upload.filename:
            raise Refused("answer", "choose the office’s answer file")
        receipt = office_file.read_answer(upload.read(), sending.key, sending.digest, sending.rows)
    except Refused as error:
        return _page(found, refused=error)
    tell(courier(found).keep_receipt(sending, receipt))
    return back(found)


@blueprint.post("/read-back")
def read_back(section_id: int) -> ResponseReturnValue:
    """Read what the office holds now."""
    found = instructor_standing(section_id)
    tell(courier(found).read_back(found.run) or Outcome("Read back from the office."))
    return back(found)
