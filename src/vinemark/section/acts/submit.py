"""Acts of submitting: signed, withdrawn, sent, taken out as a file, answered."""

import json
from uuid import uuid4

from vinemark.core.audit import findings_json
from vinemark.core.base.refused import Refused, short_note
from vinemark.core.submit.compare import differ_words
from vinemark.core.submit.refs import refs_of
from vinemark.core.submit.submission import Submission
from vinemark.exchange import course_file, office_file
from vinemark.section.delivery.courier import courier_of, needed_courier
from vinemark.section.delivery.gateway import Gateway
from vinemark.section.outcome import Done, Outcome, act, settled_outcome
from vinemark.section.state import SectionState
from vinemark.section.submit_state import SubmitState
from vinemark.store import submissions
from vinemark.store.history import Act
from vinemark.store.submissions import SignedCopy


@act
def sign(section: SectionState, request: Act, refused_again: bool = False, reason: str = "") -> Done:
    """Sign the rows that are ready: freezes the course and the run's findings, and gives the submission its key.

    With `refused_again` those go along, unchanged, that the registrar refused. What is open to check needs one `reason`
    for all of it; it is frozen too. Raises Refused at 'sign' or 'reason'.
    """
    state = SubmitState(section)
    rows = state.refused_again if refused_again else state.submittable
    if state.under_way or not rows:
        raise Refused("sign", "There is nothing to sign now.")
    said = short_note(" ".join(reason.split()), "reason")
    if state.open_checks and not said:
        raise Refused("reason", "say why you sign with findings open, or accept each of them on the audit page")
    signed = SignedCopy(section.run, rows, course_file.course_text(section.course), frozen_findings(section, said))
    sent = section.of_run.submissions
    submissions.write_signature(section.connection, request, str(uuid4()), signed, sent[-1].id if sent else 0)
    return Done()


def frozen_findings(section: SectionState, reason: str = "") -> str:
    """The findings of the run that is signed, with the reasons of those that were accepted, and with the one reason for
    those to check that were not, as JSON text."""
    run, reviewed = section.of_run, section.snapshot.reviewed
    accepted = {one.finding.key: one.acceptance.reason for one in reviewed if one.acceptance}
    here = {finding.key for finding in run.findings}
    let_stand = {key: reason for key, reason in accepted.items() if key in here}
    values = {**findings_json(run.findings), "let_stand": let_stand}
    if open_keys := [finding.key for finding in SubmitState(section).open_checks]:
        values["signed_with_open"] = {"reason": reason, "findings": open_keys}
    return json.dumps(values, ensure_ascii=False, indent=1) + "\n"


@act
def withdraw_signature(section: SectionState, request: Act, submission_id: int) -> Done:
    """Withdraw a signature while nothing has gone out."""
    submissions.write_withdrawal(section.connection, request, submission_id)
    return Done()


def linked_submission(section: SectionState, submission_id: int) -> Submission | None:
    """A submission of a section that is linked, of either run."""
    if not section.linked:
        return None
    return submissions.submission_of(section.connection, section.id, submission_id)


def send(section: SectionState, request: Act, gateway: Gateway, submission: Submission) -> Outcome:
    """Send what was signed, under its key: safe to repeat until there is a receipt."""
    going = courier_of(section.connection, gateway, request, section.record)
    if going is None:
        return Refused("section", "is not linked to the registrar")
    return going.deliver(submission) if submission.under_way else Done()


def take_answer_file(
    section: SectionState, request: Act, gateway: Gateway, submission: Submission, data: bytes | None
) -> Outcome:
    """The registrar's answer file, matched row by row."""

    def taken() -> Done:
        going = needed_courier(section.connection, gateway, request, section.record)
        if data is None:
            raise Refused("answer", "choose the registrar’s answer file")
        receipt = office_file.read_answer(data, submission.key, submission.digest, submission.rows)
        kept = going.keep_receipt(submission, receipt)
        assert isinstance(kept, Done)  # noqa: S101
        return kept

    if not submission.under_way:
        return Done("This submission has its receipt already.")
    return settled_outcome(taken)


def take_out_file(section: SectionState, request: Act, submission: Submission) -> str | None:
    """A signed submission as a file in the registrar's layout; from then on it may have been handed in. None where
    this registrar takes no files."""
    layout = section.snapshot.loaded.layout
    if layout is None or len(refs_of(section.record.office_ref or "")) > 1:
        return None
    if submission.under_way:
        _note_file(section, request, submission.id)
    names = {student.id: student.name for student in section.course.students}
    return office_file.grade_file(layout, submission.key, section.record.office_ref or "", names, submission.rows)


@act
def _note_file(section: SectionState, request: Act, submission_id: int) -> Done:
    submissions.note_file_taken_out(section.connection, request, submission_id)
    return Done()


def check_copy(section: SectionState, request: Act, gateway: Gateway, quiet: bool = False) -> Outcome:
    """Ask what the registrar has now; quietly, without a word where that went well."""
    going = courier_of(section.connection, gateway, request, section.record)
    if going is None:
        return Refused("section", "is not linked to the registrar")
    if quiet and gateway.silent:
        return Done("The registrar does not answer now. This page shows what it said last time.", trouble=True)
    outcome = going.check_copy(section.run)
    told = isinstance(outcome, Done) and outcome.text
    if told or quiet:
        return outcome
    wrong = differ_words(section.fresh().of_run.differences)
    return (
        Done(f"Checked. {wrong}", trouble=True) if wrong else Done("Checked what the registrar has: all grades agree.")
    )
