"""Signed rows and receipts."""

import hashlib
from datetime import datetime, timedelta

import pytest

from tests.store.conftest import AT, Kept
from vinemark.core.course.course import Run
from vinemark.core.submit.grade_row import GradeRow, digest
from vinemark.core.submit.receipt import Receipt, RowAnswer
from vinemark.core.submit.submission import RegistrarCopy, Submission, accepted_rows, refusals
from vinemark.store import (
    history,
    submissions,
)
from vinemark.store.history import ChangedSinceError
from vinemark.store.submissions import SignedCopy

MINUTE = timedelta(minutes=1)


def test_a_receipt_is_kept_for_good(kept: Kept) -> None:
    rows = [GradeRow("ada", "A"), GradeRow("bo", "B")]
    signed = SignedCopy("final", rows, "the course", "the findings")
    made = submissions.write_signature(kept.connection, kept.act(), "key-1", signed, 0)
    with pytest.raises(ChangedSinceError, match="signed in another window"):
        submissions.write_signature(kept.connection, kept.act(), "key-2", signed, 0)
    answers = (RowAnswer("ada", "A", True, None), RowAnswer("bo", "B", False, "no"))
    first, second = Receipt("R-1", "now", 1, 1, digest(rows), answers), Receipt("R-2", "later", 0, 0, digest(rows), ())
    assert submissions.write_receipt(kept.connection, kept.act(), made, first)
    assert not submissions.write_receipt(kept.connection, kept.act(), made, second)
    found = submissions.submissions_of(kept.connection, kept.section)
    assert [(s.state, s.receipt and s.receipt.number) for s in found] == [("received", "R-1")]
    assert accepted_rows(found) == {"ada": GradeRow("ada", "A")}
    assert refusals(found) == {"bo": "no"}
    with pytest.raises(ChangedSinceError, match="went out already"):
        submissions.write_withdrawal(kept.connection, kept.act(), made)
    assert len(submissions.submissions_of(kept.connection, kept.section)) == 1


def sign(kept: Kept, seen: int = 0, run: Run = "final", key: str = "k") -> int:
    signed = SignedCopy(run, [GradeRow("ada", "A")], "the course ", "the findings")
    return submissions.write_signature(kept.connection, kept.act(), key, signed, seen)


def one(kept: Kept, made: int) -> Submission:
    found = submissions.submission_of(kept.connection, kept.section, made)
    assert found is not None
    return found


def test_what_was_signed_is_frozen_and_each_run_is_signed_by_itself(kept: Kept) -> None:
    made = sign(kept)
    assert submissions.signed_course(kept.connection, kept.section, made) == "the course "
    assert submissions.signed_text(kept.connection, kept.section, made) == "the course the findings"
    assert one(kept, made).course_digest == hashlib.sha256(b"the course the findings").hexdigest()
    assert submissions.signed_text(kept.connection, kept.section + 1, made) is None
    sign(kept, run="midterm", key="k2")
    assert [s.key for s in submissions.submissions_of(kept.connection, kept.section)] == ["k"]
    assert [s.key for s in submissions.submissions_of(kept.connection, kept.section, "midterm")] == ["k2"]
    assert submissions.submission_of(kept.connection, kept.section + 1, made) is None


def test_a_signature_is_taken_back_while_the_office_has_nothing(kept: Kept) -> None:
    made = sign(kept)
    submissions.write_withdrawal(kept.connection, kept.act(), made)
    assert submissions.submissions_of(kept.connection, kept.section) == []
    with pytest.raises(ChangedSinceError):
        submissions.write_withdrawal(kept.connection, kept.act(), made)
    assert not submissions.mark_under_way(kept.connection, kept.act(), made)
    waits = sign(kept, key="k2")
    submissions.note_submission_waiting(kept.connection, kept.act(), waits, "a transfer", AT + MINUTE)
    submissions.write_withdrawal(kept.connection, kept.act(), waits)
    lost = sign(kept, key="k3")
    assert submissions.mark_under_way(kept.connection, kept.act(), lost)
    with pytest.raises(ChangedSinceError):
        submissions.write_withdrawal(kept.connection, kept.act(), lost)


def test_what_waits_is_due_at_its_time_and_not_just_after_a_try(kept: Kept) -> None:
    made = sign(kept)
    assert submissions.due_submissions(kept.connection, AT, AT) == []
    submissions.note_submission_waiting(kept.connection, kept.act(), made, "down", AT + MINUTE)
    assert submissions.due_submissions(kept.connection, AT, AT) == []
    later = AT + MINUTE
    assert submissions.due_submissions(kept.connection, later, AT - MINUTE) == []
    assert [(d.id, d.person_id) for d in submissions.due_submissions(kept.connection, later, AT)] == [
        (made, kept.owner)
    ]
    submissions.note_file_taken_out(kept.connection, kept.act(), made)
    assert one(kept, made).by_file
    assert submissions.due_submissions(kept.connection, later, AT) == []


def test_a_submission_refused_as_a_whole_is_recorded_and_never_sent_again(kept: Kept) -> None:
    made = sign(kept)
    assert submissions.mark_under_way(kept.connection, kept.act(), made)
    submissions.write_refusal(kept.connection, kept.act(), made, "the run is closed")
    found = one(kept, made)
    assert (found.state, found.trouble, found.under_way) == ("refused", "the run is closed", False)
    assert submissions.due_submissions(kept.connection, AT, AT) == []
    assert not submissions.mark_under_way(kept.connection, kept.act(), made)
    assert "the run is closed" in history.entries_of(kept.connection, kept.section)[0]["what"]


def copy(at: datetime, posted: str | None = None, **rows: GradeRow) -> RegistrarCopy:
    return RegistrarCopy(rows, posted, at, {})


def test_a_copy_that_brings_nothing_new_only_moves_the_time(kept: Kept) -> None:
    submissions.write_registrar_copy(kept.connection, kept.act(), "final", copy(AT, ada=GradeRow("ada", "A")), "read")
    count = len(history.entries_of(kept.connection, kept.section))
    again = copy(AT + MINUTE, ada=GradeRow("ada", "A"))
    submissions.write_registrar_copy(kept.connection, kept.act(), "final", again, "read")
    assert len(history.entries_of(kept.connection, kept.section)) == count
    assert submissions.registrar_asked_at(kept.connection, kept.section, "final") == AT + MINUTE
    assert submissions.registrar_copy_of(kept.connection, kept.section) == again
    assert submissions.registrar_copy_of(kept.connection, kept.section, "midterm") is None
    posted = copy(AT, "2026-12-21T08:00:00", ada=GradeRow("ada", "A"))
    submissions.write_registrar_copy(kept.connection, kept.act(), "final", posted, "posted")
    assert len(history.entries_of(kept.connection, kept.section)) == count + 1


def test_the_office_is_asked_until_it_has_posted_and_once_an_incompletes_date_is_past(kept: Kept) -> None:
    made = sign(kept)
    assert submissions.awaited(kept.connection, AT) == []
    receipt = Receipt("R-1", "now", 1, 0, "d", (RowAnswer("ada", "A", True, None),))
    submissions.write_receipt(kept.connection, kept.act(), made, receipt)
    assert [(a.section_id, a.run, a.person_id) for a in submissions.awaited(kept.connection, AT)] == [
        (kept.section, "final", kept.owner)
    ]
    incomplete = GradeRow("ada", "I", fallback_grade="D", finish_by="2027-02-01")
    submissions.write_registrar_copy(kept.connection, kept.act(), "final", copy(AT, "posted", ada=incomplete), "read")
    assert submissions.awaited(kept.connection, AT - MINUTE) == []
    assert submissions.awaited(kept.connection, AT + MINUTE) == []
    assert submissions.awaited(kept.connection, datetime(2027, 2, 1, 12)) == []
    assert len(submissions.awaited(kept.connection, datetime(2027, 2, 2))) == 1
