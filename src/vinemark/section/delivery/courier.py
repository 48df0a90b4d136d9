"""One section's errands to the registrar: what was signed or asked goes out under its key, answers are kept.

Whatever goes out is noted before it goes, so that every step may be cut and tried again.
"""

import logging
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from functools import cached_property

from vinemark.core.after.grade_change import ChangeState, GradeChange, evidence_values, request_values
from vinemark.core.base.dates import time_words
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Run
from vinemark.core.submit.hours import gate
from vinemark.core.submit.receipt import Receipt
from vinemark.core.submit.rows import changed_since_signed
from vinemark.core.submit.submission import RegistrarCopy, Submission
from vinemark.office.answers import AnswerState, ChangeAnswer, HeldGrades, OfficeRoster
from vinemark.section.delivery.gateway import Busy, Gateway, NotTaken, Trouble, Unanswered
from vinemark.section.outcome import Conflict, Done, Outcome, as_sentence
from vinemark.store import grade_changes, people, registrar, sections, submissions
from vinemark.store.database import Connection
from vinemark.store.grade_changes import RegistrarWord
from vinemark.store.history import Act
from vinemark.store.registrar import Pulled
from vinemark.store.sections import SectionRecord

_delivery_log = logging.getLogger("vinemark.delivery")
STATES: Mapping[AnswerState, ChangeState] = {"pending": "sent", "granted": "granted", "refused": "refused"}


@dataclass(frozen=True)
class Courier:
    """Goes for one person and one section over one connection; `ref` is the registrar's name of the section, `record`
    the section here, which what is signed is delivered for."""

    connection: Connection
    gateway: Gateway
    act: Act
    ref: str
    record: SectionRecord | None = None

    @property
    def section_id(self) -> int:
        """The section."""
        assert self.act.section_id is not None  # noqa: S101
        return self.act.section_id

    @cached_property
    def office(self) -> Gateway:
        """The registrar, asked for the person."""
        person = people.by_id(self.connection, self.act.person_id) if self.act.person_id is not None else None
        return self.gateway.for_instructor(person["email"] if person else "")

    def update(self) -> OfficeRoster | Trouble:
        """Fetch roster, rules and hours and keep them."""
        answer = self.office.roster(self.ref)
        if isinstance(answer, OfficeRoster):
            save_roster(self.connection, self.act, answer)
        return answer

    def deliver(self, submission: Submission) -> Outcome:
        """One attempt. It is noted as under way first, so that a crash here is known to be unanswered."""
        stopped = self._stopped_by_changes(submission) or self._waits_for_hours(submission)
        if stopped is not None:
            return stopped
        earlier = submissions.mark_under_way(self.connection, self.act, submission.id)
        if earlier is None:
            return Conflict("It was answered or withdrawn in another window meanwhile.")
        submission = replace(submission, unconfirmed=earlier)
        answer = self.office.submit(self.ref, submission)
        if isinstance(answer, Receipt):
            return self.keep_receipt(submission, answer)
        return self._not_received(submission, answer)

    def _not_received(self, submission: Submission, answer: Trouble) -> Outcome:
        self._log(f"submission {submission.key}", answer)
        if isinstance(answer, NotTaken):
            submissions.write_refusal(self.connection, self.act, submission.id, answer.reason)
            return Done(f"The registrar did not accept the submission: {answer.reason}.", trouble=True)
        # What an earlier attempt left open stays open, whatever became of this one.
        if isinstance(answer, Busy):
            return self._wait(submission, answer.reason, answer.until)
        unconfirmed = submission.unconfirmed or answer.reached
        submissions.note_submission_waiting(self.connection, self.act, submission.id, answer.reason, None, unconfirmed)
        if answer.awaited:
            return Done(f"Handed over to the registrar: {answer.reason}. It is looked for by itself.")
        return Done(
            f"The registrar did not confirm: {answer.reason}. What you signed is kept; send it again, "
            "it will be taken only once.",
            trouble=True,
        )

    def _stopped_by_changes(self, submission: Submission) -> Outcome | None:
        """What is signed and known to be nowhere else does not go out once one of its grades is another."""
        if self.record is None or not submission.may_be_withdrawn:
            return None
        course = sections.load_course(self.connection, self.record).for_run(submission.run)
        changed = changed_since_signed(course, submission.rows)
        return Conflict(changed_words(changed)) if changed else None

    def _waits_for_hours(self, submission: Submission) -> Outcome | None:
        """By the hours as last updated, whether it waits. What was under way already is asked for all the same:
        the registrar may have it."""
        if submission.state != "signed":
            return None
        now = gate(registrar.hours_of(self.connection, self.section_id), submission.run, self.act.at)
        if now.state == "waits" and now.until is not None:
            return self._wait(submission, now.reason, now.until)
        return None

    def _wait(self, submission: Submission, reason: str, until: datetime) -> Outcome:
        submissions.note_submission_waiting(
            self.connection, self.act, submission.id, reason, until, submission.unconfirmed
        )
        return Done(f"Nothing can be submitted now: {reason}. It will be submitted automatically, {time_words(until)}.")

    def keep_receipt(self, submission: Submission, receipt: Receipt) -> Outcome:
        """Keep a receipt, by whichever way it came, and check what the registrar has."""
        submissions.write_receipt(self.connection, self.act, submission.id, receipt)
        checked = self.check_copy(submission.run)
        trouble = isinstance(checked, Done) and checked.trouble
        text = as_sentence(receipt.words) + (f" {checked.text}" if trouble and isinstance(checked, Done) else "")
        return Done(text, trouble=receipt.refused > 0 or trouble)

    def check_copy(self, run: Run) -> Outcome:
        """Ask what the registrar has and for its answers to changes of grade."""
        covers = submissions.latest_answered(self.connection, self.section_id, run)
        answer = self.office.held(self.ref, run)
        if not isinstance(answer, HeldGrades):
            return Done(f"What the registrar has could not be checked: {answer.reason}.", trouble=True)
        for change in answer.changes:
            self._keep_change_answer(change)
        rows = {row.id: row for row in answer.rows}
        fell_back = {row.id: row for row, _ in answer.fell_back}
        copy = RegistrarCopy(rows, answer.posted_at, self.act.at, fell_back, covers)
        what = f"checked: the registrar has {len(rows)} {run} grades{', posted' if answer.posted_at else ''}"
        submissions.write_registrar_copy(self.connection, self.act, run, copy, what)
        return Done()

    def ask(self, change: GradeChange) -> Outcome:
        """Ask for one change of grade; noted before it goes out, safe to repeat."""
        grade_changes.note_change_waiting(self.connection, self.act, change.id, None)
        kept = grade_changes.evidence_of(self.connection, self.section_id, change.id)
        evidence = evidence_values(change.evidence_note, kept.name if kept else None, kept.content if kept else None)
        values = request_values(change.student_id, change.old, change.new, change.reason, evidence)
        asker = grade_changes.asker_email(self.connection, self.section_id, change.id)
        answer = self.office.ask_change(self.ref, change.key, asker, values)
        if isinstance(answer, ChangeAnswer):
            self._keep_change_answer(answer)
            if answer.state != "pending":
                self.check_copy("final")
            return Done(f"Asked for as {answer.number}; the registrar’s answer is awaited.")
        return self._not_asked(change, answer)

    def _log(self, what: str, answer: Trouble) -> None:
        """What could not be delivered, for whoever runs the server: no student is named."""
        if isinstance(answer, Unanswered) and answer.awaited:
            return
        kind = {Unanswered: "not confirmed", Busy: "waits", NotTaken: "not accepted"}[type(answer)]
        _delivery_log.warning("section %s, %s: %s: %s", self.section_id, what, kind, answer.reason)

    def _not_asked(self, change: GradeChange, answer: Trouble) -> Outcome:
        self._log(f"change of grade {change.key}", answer)
        if isinstance(answer, Unanswered | Busy):
            grade_changes.note_change_waiting(self.connection, self.act, change.id, answer.reason)
            text = f"The registrar did not confirm: {answer.reason}. The request is saved and will be sent again."
            return Done(text, trouble=True)
        word = RegistrarWord("not taken", trouble=answer.reason)
        grade_changes.write_answer(self.connection, self.act, change, word, f"change not accepted: {answer.reason}")
        return Done(f"The registrar did not accept the request: {answer.reason}.", trouble=True)

    def _keep_change_answer(self, answer: ChangeAnswer) -> None:
        asked = grade_changes.changes_of(self.connection, self.section_id)
        change = next((one for one in asked if one.key == answer.key), None)
        if change is None:
            return
        state = STATES[answer.state]
        said = f": {answer.word}" if answer.word else ""
        what = f"change of grade {answer.number} of {change.student_id} {state}{said}"
        word = RegistrarWord(state, answer.number, answer.word, answer.answered_at)
        grade_changes.write_answer(self.connection, self.act, change, word, what)


def changed_words(names: Sequence[str]) -> str:
    """Why what is signed stays here: 'The grade of Ana Ruiz changed since it was signed …'."""
    who = f"The grade of {names[0]}" if len(names) == 1 else f"The grades of {len(names)} students"
    return f"{who} changed after signing, so nothing was sent. Withdraw the signature, then sign again."


def save_roster(connection: Connection, act: Act, found: OfficeRoster) -> None:
    """Keep what the registrar said about a section."""
    text = f"updated from the registrar: {len(found.records.roster)} people on the roster"
    pulled = Pulled(found.section.ref, found.records, found.hours, found.layout)
    registrar.save_registrar_answer(connection, act, pulled, text)


def courier_of(connection: Connection, gateway: Gateway, act: Act, record: SectionRecord | None) -> Courier | None:
    """A courier for a person's section; None where the section is not theirs to submit, or not linked."""
    if record is None or record.role != "instructor" or record.office_ref is None or record.archive:
        return None
    return Courier(connection, gateway, act.without_key(), record.office_ref, record)


def needed_courier(connection: Connection, gateway: Gateway, act: Act, record: SectionRecord) -> Courier:
    """The same. Raises Refused where there is none."""
    found = courier_of(connection, gateway, act, record)
    if found is None:
        raise Refused("section", "is not linked to the registrar")
    return found
