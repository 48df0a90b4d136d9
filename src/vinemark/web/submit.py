"""Submit: check, sign, send, receipt, read back."""

from contextlib import suppress
from dataclasses import dataclass
from functools import cached_property
from typing import Any
from uuid import uuid4

from flask import Blueprint, abort, redirect, render_template, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.audit import Finding
from vinemark.core.class_calculation import grades_of
from vinemark.core.submission import HeldRow, Line, Row, compare, left, plan_stops, sendable, submission_rows
from vinemark.exchange import course_file
from vinemark.office.client import OfficeDownError, OfficeRefusedError
from vinemark.store import registrar
from vinemark.store.history import AlreadyDoneError
from vinemark.store.registrar import Sending
from vinemark.web.context import (
    Standing,
    act,
    database,
    instructor_standing,
    keyless,
    leave_notice,
    office,
    page,
    require_sign_in,
    settings,
    standing,
)
from vinemark.web.desk import my_email, pull

blueprint = Blueprint("submit", __name__, url_prefix="/s/<int:section_id>/submit")
blueprint.before_request(require_sign_in)
RUN = "final"


@dataclass
class Counter:
    """What the submit page shows: rows, what holds the section back, what is under way."""

    at: Standing

    @cached_property
    def findings(self) -> list[Finding]:
        """The audit, with every open grade counted."""
        return self.at.audited(submitting=True)

    @cached_property
    def accepted(self) -> dict[str, HeldRow]:
        """What the receipts say the office took."""
        return registrar.accepted(self.at.sendings)

    @cached_property
    def rows(self) -> list[Row]:
        """Every student with where the row stands."""
        refused = registrar.refusals(self.at.sendings)
        return submission_rows(self.at.course, self.findings, self.accepted, refused)

    @cached_property
    def plan_stops(self) -> list[Finding]:
        """What stops the whole section."""
        return plan_stops(self.findings)

    @cached_property
    def sendable(self) -> list[HeldRow]:
        """The rows that can go now."""
        return [] if self.plan_stops or self.at.posted_at else sendable(self.rows)

    @property
    def left(self) -> int:
        """How many students still have to reach the office."""
        return left(self.rows)

    @cached_property
    def under_way(self) -> Sending | None:
        """A sending that is signed and not answered yet."""
        return next((s for s in self.at.sendings if s.state in {"signed", "waiting"}), None)

    @cached_property
    def comparison(self) -> list[Line]:
        """What was sent against what the office holds, line by line."""
        return compare(self.accepted, self.at.read_back.rows) if self.at.read_back else []


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """The page."""
    found = standing(section_id)
    if found.section.office_ref is None:
        return page("submit", found, counter=None)
    return page("submit", found, counter=Counter(found), names={s.id: s.name for s in found.course.students})


def _back(section_id: int) -> ResponseReturnValue:
    return redirect(url_for("submit.show", section_id=section_id))


@blueprint.post("/pull")
def pull_records(section_id: int) -> ResponseReturnValue:
    """Pull roster and rules again, linking the section by its name and term where it is not linked yet."""
    found = instructor_standing(section_id)
    try:
        ref = found.section.office_ref or _matching_ref(found)
        if ref is None:
            leave_notice("The office lists no section of this name, number and term for you.", trouble=True)
        else:
            leave_notice(pull(section_id, ref))
    except OfficeDownError as error:
        leave_notice(f"The registrar’s office did not answer: {error}. Nothing was changed; try again.", trouble=True)
    except OfficeRefusedError as error:
        leave_notice(f"The registrar’s office says: {error}.", trouble=True)
    return _back(section_id)


def _matching_ref(found: Standing) -> str | None:
    name, term = found.section.name, found.section.term
    for listed in office().sections(my_email()):
        if (listed.name.course, listed.name.number, listed.term) == (name.course, name.number, term):
            return listed.ref
    return None


@blueprint.post("/sign")
def sign(section_id: int) -> ResponseReturnValue:
    """Sign the rows that are ready: freezes the course and gives the sending its one key."""
    counter = Counter(instructor_standing(section_id))
    if counter.under_way or not counter.sendable:
        leave_notice("There is nothing to sign just now.", trouble=True)
        return _back(section_id)
    text = course_file.write(counter.at.course)
    with suppress(AlreadyDoneError):
        registrar.sign(database(), act(section_id), str(uuid4()), counter.sendable, text)
    return _back(section_id)


@blueprint.post("/take-back/<int:sending_id>")
def take_back(section_id: int, sending_id: int) -> ResponseReturnValue:
    """Take a signature back while nothing has gone out."""
    instructor_standing(section_id)
    with suppress(AlreadyDoneError):
        registrar.withdraw_signature(database(), act(section_id), sending_id)
    return _back(section_id)


@blueprint.post("/send/<int:sending_id>")
def send(section_id: int, sending_id: int) -> ResponseReturnValue:
    """Send what was signed, under its key: safe to repeat until there is a receipt."""
    found = instructor_standing(section_id)
    sending = registrar.sending(database(), section_id, sending_id)
    if sending is None or found.section.office_ref is None:
        abort(404)
    if sending.receipt is None:
        _deliver(found, sending)
    return _back(section_id)


def _deliver(found: Standing, sending: Sending) -> None:
    """One attempt. It is noted as under way first, so that a crash here is known to be unanswered."""
    attempt = keyless(act(found.id))
    registrar.note_waiting(database(), attempt, sending.id, None)
    try:
        receipt = office().send(
            found.section.office_ref or "", RUN, sending.key, sending.signer_email, sending.digest, sending.rows
        )
    except OfficeDownError as error:
        registrar.note_waiting(database(), attempt, sending.id, str(error))
        leave_notice(
            f"The registrar’s office did not confirm: {error}. What you signed is kept; send it again, "
            "it will be taken only once.",
            trouble=True,
        )
        return
    except OfficeRefusedError as error:
        registrar.keep_refusal(database(), attempt, sending.id, str(error))
        leave_notice(f"The registrar’s office did not take the sending: {error}.", trouble=True)
        return
    _keep_receipt(found, sending, receipt)


def _keep_receipt(found: Standing, sending: Sending, receipt: Any) -> None:
    attempt = keyless(act(found.id))
    if receipt["digest"] != sending.digest:
        registrar.note_waiting(database(), attempt, sending.id, "its receipt is for other rows")
        leave_notice("The office’s receipt does not fit what was sent. Ask the office.", trouble=True)
        return
    what = f"receipt {receipt['number']}: {receipt['accepted']} accepted, {receipt['refused']} refused"
    registrar.keep_receipt(database(), attempt, sending.id, receipt, what)
    leave_notice(f"{what[:1].upper()}{what[1:]}.", trouble=receipt["refused"] > 0)
    _read_back(found)


def _read_back(found: Standing) -> None:
    try:
        held = office().held(found.section.office_ref or "", RUN)
    except (OfficeDownError, OfficeRefusedError) as error:
        leave_notice(f"What the office holds could not be read back: {error}.", trouble=True)
        return
    what = f"read back: the office holds {len(held.rows)} grades{', posted' if held.posted_at else ''}"
    registrar.keep_read_back(database(), keyless(act(found.id)), held.rows, held.posted_at, what)


@blueprint.post("/read-back")
def read_back(section_id: int) -> ResponseReturnValue:
    """Read what the office holds now."""
    found = instructor_standing(section_id)
    if found.section.office_ref is None:
        abort(404)
    _read_back(found)
    return _back(section_id)


@blueprint.get("/proof")
def proof(section_id: int) -> ResponseReturnValue:
    """The proof sheet in the roster's order, made for paper."""
    found = standing(section_id)
    counter = Counter(found)
    grades = grades_of(found.course, settings().clock.today())
    return render_template("submit/proof.html", at=found, counter=counter, grades=grades, today=settings().clock.now())


@blueprint.get("/receipt/<int:sending_id>")
def receipt(section_id: int, sending_id: int) -> ResponseReturnValue:
    """A receipt, kept for good."""
    found = standing(section_id)
    sending = registrar.sending(database(), section_id, sending_id)
    if sending is None or sending.receipt is None:
        abort(404)
    return render_template(
        "submit/receipt.html",
        at=found,
        sending=sending,
        pairs=list(zip(sending.rows, sending.receipt["rows"], strict=True)),
        names={s.id: s.name for s in found.course.students},
    )
