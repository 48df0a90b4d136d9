"""Between the store and the office: pulling, delivering what was signed or asked, reading back.

Whatever goes out is noted before it goes and goes under one key, so that every step may be cut and tried again.
"""

import logging
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Any

from vinemark.clock import Clock
from vinemark.core.after.grade_change import GradeChange, request_values
from vinemark.core.after.grade_change import evidence_values as evidence_of
from vinemark.core.course.course import Run
from vinemark.core.submit.hours import gate, said
from vinemark.office.client import (
    OFFICE_TROUBLE,
    ChangeAnswer,
    OfficeBusyError,
    OfficeClient,
    OfficeDownError,
    OfficeRefusedError,
    OfficeRoster,
)
from vinemark.store import grade_changes, registrar, sections
from vinemark.store import submissions as sendings
from vinemark.store.database import Connection, connect
from vinemark.store.history import Act
from vinemark.store.registrar import Pulled
from vinemark.store.sections import Section
from vinemark.store.submissions import Errand, ReadBack, Sending

log = logging.getLogger("vinemark.delivery")
NEWS_EVERY = timedelta(minutes=10)
STATES = {"pending": "sent", "granted": "granted", "refused": "refused"}


@dataclass(frozen=True)
class Outcome:
    """What came of it, in a sentence; `trouble` where something is still to be done."""

    text: str
    trouble: bool = False


@dataclass
class Courier:
    """One person's errands for one section over one connection; `ref` is the office's name of the section."""

    connection: Connection
    office: OfficeClient
    act: Act
    ref: str

    @property
    def section_id(self) -> int:
        """The section."""
        assert self.act.section_id is not None  # noqa: S101
        return self.act.section_id

    def pull(self) -> OfficeRoster:
        """Pull roster, rules and hours and keep them. Raises the client's errors."""
        found = self.office.roster(self.ref)
        keep_pulled(self.connection, self.act, found)
        return found

    def deliver(self, sending: Sending) -> Outcome:
        """One attempt. It is noted as under way first, so that a crash here is known to be unanswered."""
        shut = self._shut(sending)
        if shut is not None:
            return shut
        if not sendings.go_out(self.connection, self.act, sending.id):
            return Outcome("It was answered or taken back in another window meanwhile.")
        try:
            receipt = self.office.send(
                self.ref, sending.run, sending.key, sending.signer_email, sending.digest, sending.rows
            )
        except OfficeBusyError as error:
            return self._wait(sending, str(error), error.until)
        except OfficeDownError as error:
            sendings.note_waiting(self.connection, self.act, sending.id, str(error))
            return Outcome(
                f"The registrar’s office did not confirm: {error}. What you signed is kept; send it again, "
                "it will be taken only once.",
                True,
            )
        except OfficeRefusedError as error:
            sendings.keep_refusal(self.connection, self.act, sending.id, str(error))
            return Outcome(f"The registrar’s office did not take the sending: {error}.", True)
        return self.keep_receipt(sending, receipt)

    def _shut(self, sending: Sending) -> Outcome | None:
        """By the hours as last pulled, whether it waits. What was under way already is asked for all the same:
        the office may have it."""
        if sending.state != "signed":
            return None
        now = gate(registrar.hours_of(self.connection, self.section_id), sending.run, self.act.at)
        if now.state == "waits" and now.until is not None:
            return self._wait(sending, now.reason, now.until)
        return None

    def _wait(self, sending: Sending, reason: str, until: datetime) -> Outcome:
        sendings.note_waiting(self.connection, self.act, sending.id, reason, until)
        return Outcome(f"Nothing can go just now: {reason}. What you signed goes out by itself at {said(until)}.")

    def keep_receipt(self, sending: Sending, receipt: Any) -> Outcome:
        """Keep a receipt, by whichever way it came, and read back what the office holds."""
        if receipt["digest"] != sending.digest:
            sendings.note_waiting(self.connection, self.act, sending.id, "its receipt is for other rows")
            return Outcome("The office’s receipt does not fit what was sent. Ask the office.", True)
        what = f"receipt {receipt['number']}: {receipt['accepted']} accepted, {receipt['refused']} refused"
        sendings.keep_receipt(self.connection, self.act, sending.id, receipt, what)
        trouble = self.read_back(sending.run)
        said_too = f" {trouble.text}" if trouble else ""
        return Outcome(f"{what[:1].upper()}{what[1:]}.{said_too}", receipt["refused"] > 0 or trouble is not None)

    def read_back(self, run: Run) -> Outcome | None:
        """Read what the office holds and its answers to changes of grade; None where that went well."""
        try:
            held = self.office.held(self.ref, run)
        except OFFICE_TROUBLE as error:
            return Outcome(f"What the office holds could not be read back: {error}.", True)
        for answer in held.changes:
            self._keep_answer(answer)
        rows = {row.id: row for row in held.rows}
        found = ReadBack(rows, held.posted_at, self.act.at, {row.id: row for row, _ in held.fell_back})
        what = f"read back: the office holds {len(rows)} {run} grades{', posted' if held.posted_at else ''}"
        sendings.keep_read_back(self.connection, self.act, run, found, what)
        return None

    def ask(self, change: GradeChange) -> Outcome:
        """Ask for one change of grade; noted before it goes out, safe to repeat."""
        grade_changes.note_waiting(self.connection, self.act, change.id, None)
        kept = grade_changes.evidence_of(self.connection, self.section_id, change.id)
        evidence = evidence_of(change.evidence_note, kept.name if kept else None, kept.content if kept else None)
        values = request_values(change.student_id, change.old, change.new, change.reason, evidence)
        signed_by = grade_changes.asker_email(self.connection, self.section_id, change.id)
        try:
            answer = self.office.ask_change(self.ref, change.key, signed_by, values)
        except (OfficeDownError, OfficeBusyError) as error:
            grade_changes.note_waiting(self.connection, self.act, change.id, str(error))
            return Outcome(
                f"The registrar’s office did not confirm: {error}. The request is kept and goes again.", True
            )
        except OfficeRefusedError as error:
            refused = {"state": "not taken", "trouble": str(error)}
            grade_changes.keep_answer(self.connection, self.act, change, refused, f"change not taken: {error}")
            return Outcome(f"The registrar’s office did not take the request: {error}.", True)
        self._keep_answer(answer)
        return Outcome(f"Asked for as {answer.number}; the office’s answer is awaited.")

    def _keep_answer(self, answer: ChangeAnswer) -> None:
        found = grade_changes.changes_of(self.connection, self.section_id)
        change = next((one for one in found if one.key == answer.key), None)
        if change is None:
            return
        state = STATES[answer.state]
        values = {"state": state, "number": answer.number, "word": answer.word, "answered_at": answer.answered_at}
        word = f": {answer.word}" if answer.word else ""
        what = f"change of grade {answer.number} of {change.student_id} {state}{word}"
        grade_changes.keep_answer(self.connection, self.act, change, values, what)


def keep_pulled(connection: Connection, act: Act, found: OfficeRoster) -> None:
    """Keep what the office said about a section."""
    text = f"pulled from the office: {len(found.records.roster)} people on the roster"
    registrar.keep_records(connection, act, Pulled(found.section.ref, found.records, found.hours, found.layout), text)


@dataclass
class Postman:
    """Goes round by himself: what waits for the office is tried again, under its key, until it is answered; and
    where the office still has something to tell (posted, an answer, a fallback) it is asked now and then."""

    database: str
    office: OfficeClient
    clock: Clock
    seconds: int
    stopped: threading.Event = field(default_factory=threading.Event)
    asked: dict[tuple[int, Run], datetime] = field(default_factory=dict)

    def start(self) -> None:
        """Go round in a thread of the background."""
        if self.seconds > 0:
            threading.Thread(target=self._keep_going, name="postman", daemon=True).start()

    def _keep_going(self) -> None:
        while not self.stopped.wait(self.seconds):
            try:
                self.go_round()
            except Exception:
                log.exception("what waits for the office could not be looked at")

    def go_round(self) -> list[Outcome]:
        """Try everything that waits and was not tried just now."""
        with _opened(self.database) as connection:
            now = self.clock.now()
            before = now - timedelta(seconds=3 * self.seconds)
            found = [self._sending(connection, errand, now) for errand in
                     sendings.due_sendings(connection, now, before)]  # fmt: skip
            found += [self._change(connection, errand, now) for errand in
                      grade_changes.due_changes(connection, before)]  # fmt: skip
            self._ask_for_news(connection, now)
            return [outcome for outcome in found if outcome is not None]

    def _ask_for_news(self, connection: Connection, now: datetime) -> None:
        for section_id, run, person_id in sendings.awaited(connection, now - NEWS_EVERY):
            last = self.asked.get((section_id, run))
            if last is not None and now - last < NEWS_EVERY:
                continue
            self.asked[section_id, run] = now
            section = sections.find(connection, person_id, section_id)
            going = courier(connection, self.office, Act(person_id, now, section_id), section)
            if going is not None:
                going.read_back(run)

    def _courier(self, connection: Connection, errand: Errand, now: datetime) -> Courier | None:
        section = sections.find(connection, errand.person_id, errand.section_id)
        return courier(connection, self.office, Act(errand.person_id, now, errand.section_id), section)

    def _sending(self, connection: Connection, errand: Errand, now: datetime) -> Outcome | None:
        going = self._courier(connection, errand, now)
        sending = sendings.sending(connection, errand.section_id, errand.id)
        return going.deliver(sending) if going and sending else None

    def _change(self, connection: Connection, errand: Errand, now: datetime) -> Outcome | None:
        going = self._courier(connection, errand, now)
        change = grade_changes.change_of(connection, errand.section_id, errand.id)
        return going.ask(change) if going and change else None


def courier(connection: Connection, office: OfficeClient, act: Act, section: Section | None) -> Courier | None:
    """A courier for a person's section; None where the section is not theirs to send, or not linked."""
    if section is None or section.role != "instructor" or section.office_ref is None or section.archive:
        return None
    return Courier(connection, office, act, section.office_ref)


@contextmanager
def _opened(database: str) -> Iterator[Connection]:
    connection = connect(database)
    try:
        yield connection
    finally:
        connection.close()
