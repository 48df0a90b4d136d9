"""Signed rows and receipts."""

import hashlib
import json
from dataclasses import replace
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

import pytest

from tests.store.conftest import AT, Kept
from vinemark.core.base.moments import later, use_zone
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Run
from vinemark.core.submit.grade_row import GradeRow, digest
from vinemark.core.submit.receipt import Receipt, RowAnswer
from vinemark.core.submit.submission import RefusedRow, RegistrarCopy, Submission, accepted_rows, refusals
from vinemark.store import (
    history,
    submissions,
)
from vinemark.store.history import ChangedSinceError
from vinemark.store.submissions import SignedCopy

MINUTE = timedelta(minutes=1)
NONE = timedelta()
NOW = "2026-12-19T10:21:00"


def test_a_receipt_is_kept_for_good(kept: Kept) -> None:
    rows = [GradeRow("ada", "A"), GradeRow("bo", "B")]
    signed = SignedCopy("final", rows, "the course", "the findings")
    made = submissions.write_signature(kept.connection, kept.act(), "key-1", signed, 0)
    with pytest.raises(ChangedSinceError, match="signed in another window"):
        submissions.write_signature(kept.connection, kept.act(), "key-2", signed, 0)
    answers = (RowAnswer("ada", "A", True, None), RowAnswer("bo", "B", False, "no"))
    first, second = Receipt("R-1", NOW, 1, 1, digest(rows), answers), Receipt("R-2", NOW, 0, 0, digest(rows), ())
    assert submissions.write_receipt(kept.connection, kept.act(), made, first)
    assert not submissions.write_receipt(kept.connection, kept.act(), made, second)
    found = submissions.submissions_of(kept.connection, kept.section)
    assert [(s.state, s.receipt and s.receipt.number) for s in found] == [("received", "R-1")]
    assert accepted_rows(found) == {"ada": GradeRow("ada", "A")}
    assert refusals(found) == {"bo": RefusedRow(rows[1], "no")}
    with pytest.raises(ChangedSinceError, match="was sent already"):
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
    assert submissions.mark_under_way(kept.connection, kept.act(), made) is None
    waits = sign(kept, key="k2")
    submissions.note_submission_waiting(kept.connection, kept.act(), waits, "a transfer", AT + MINUTE, False)
    submissions.write_withdrawal(kept.connection, kept.act(), waits)
    lost = sign(kept, key="k3")
    assert submissions.mark_under_way(kept.connection, kept.act(), lost) is False
    assert history.entries_of(kept.connection, kept.section)[0]["what"] == "submission sent"
    assert submissions.mark_under_way(kept.connection, kept.act(), lost) is True, "the first attempt may have arrived"
    with pytest.raises(ChangedSinceError):
        submissions.write_withdrawal(kept.connection, kept.act(), lost)
    submissions.note_submission_waiting(kept.connection, kept.act(), lost, "a transfer", AT + MINUTE, True)
    assert history.entries_of(kept.connection, kept.section)[0]["what"] == "submission not delivered: a transfer"
    with pytest.raises(ChangedSinceError):
        submissions.write_withdrawal(kept.connection, kept.act(), lost)


@pytest.mark.parametrize(
    "text", ["", "{", "[]", '{"number": 7}', "null", '{"number": "R-1", "rows": null}', "[" * 9999]
)
def test_a_damaged_receipt_is_shown_as_what_it_is_and_asked_for_again(kept: Kept, text: str) -> None:
    made = sign(kept)
    receipt = Receipt("R-1", NOW, 1, 0, one(kept, made).digest, (RowAnswer("ada", "A", True, None),))
    submissions.write_receipt(kept.connection, kept.act(), made, receipt)
    kept.connection.execute("UPDATE sending SET receipt = ?", (text or "x",))
    found = one(kept, made)
    assert (found.state, found.receipt, found.unreadable) == ("waiting", None, True)
    assert found.trouble == "the receipt that was saved cannot be read"
    assert not found.may_be_withdrawn
    assert submissions.mark_under_way(kept.connection, kept.act(), made) is True
    told = history.entry_of(kept.connection, kept.section, history.last_entry(kept.connection, kept.section))
    assert told is not None
    assert (told["what"], json.loads(told["before"])) == ("a receipt that could not be read was removed", text or "x")
    assert submissions.write_receipt(kept.connection, kept.act(), made, receipt)
    assert one(kept, made).receipt == receipt


@pytest.mark.parametrize("column", ["rows", "fell_back", "posted_at", "read_at"])
def test_a_damaged_copy_counts_as_never_asked_for(kept: Kept, column: str) -> None:
    submissions.write_registrar_copy(kept.connection, kept.act(), "final", copy(AT, ada=GradeRow("ada", "A")), "read")
    kept.connection.execute(f"UPDATE read_back SET {column} = 'x'")  # noqa: S608
    assert submissions.registrar_copy_of(kept.connection, kept.section) is None
    with pytest.raises((Refused, ValueError)):
        submissions.refuse_unreadable(kept.connection, kept.section)
    submissions.write_registrar_copy(kept.connection, kept.act(), "final", copy(AT, ada=GradeRow("ada", "A")), "read")
    assert submissions.registrar_copy_of(kept.connection, kept.section) is not None


def test_what_waits_is_due_at_its_time_and_not_just_after_a_try(kept: Kept) -> None:
    made = sign(kept)
    assert submissions.due_submissions(kept.connection, AT, NONE) == []
    submissions.note_submission_waiting(kept.connection, kept.act(), made, "down", AT + MINUTE, False)
    assert submissions.due_submissions(kept.connection, AT, NONE) == []
    after = AT + MINUTE
    assert submissions.due_submissions(kept.connection, after, 2 * MINUTE) == []
    assert [(d.id, d.person_id) for d in submissions.due_submissions(kept.connection, after, MINUTE)] == [
        (made, kept.owner)
    ]
    submissions.note_file_taken_out(kept.connection, kept.act(), made)
    assert one(kept, made).by_file
    assert submissions.due_submissions(kept.connection, after, MINUTE) == []


def test_what_was_tried_before_the_clock_was_set_back_is_due(kept: Kept) -> None:
    made = sign(kept)
    submissions.note_submission_waiting(kept.connection, kept.act(), made, "down", None, False)
    assert submissions.due_submissions(kept.connection, AT, MINUTE) == []
    assert submissions.due_submissions(kept.connection, AT - 60 * MINUTE, MINUTE) != []


def test_in_an_hour_that_comes_twice_no_try_is_left_out(kept: Kept) -> None:
    use_zone(ZoneInfo("America/Chicago"))
    try:
        made, at = sign(kept), datetime(2026, 11, 1, 1, 50)
        submissions.note_submission_waiting(kept.connection, replace(kept.act(), at=at), made, "down", None, False)
        for minutes, found in ((0, 0), (5, 0), (11, 1), (61, 1)):
            now = later(at, minutes * MINUTE)
            assert len(submissions.due_submissions(kept.connection, now, 10 * MINUTE)) == found, now
    finally:
        use_zone(None)


def test_a_submission_refused_as_a_whole_is_recorded_and_never_sent_again(kept: Kept) -> None:
    made = sign(kept)
    assert submissions.mark_under_way(kept.connection, kept.act(), made) is False
    submissions.write_refusal(kept.connection, kept.act(), made, "the run is closed")
    found = one(kept, made)
    assert (found.state, found.trouble, found.under_way) == ("refused", "the run is closed", False)
    assert submissions.due_submissions(kept.connection, AT, NONE) == []
    assert submissions.mark_under_way(kept.connection, kept.act(), made) is None
    assert "the run is closed" in history.entries_of(kept.connection, kept.section)[0]["what"]


def copy(at: datetime, posted: str | None = None, **rows: GradeRow) -> RegistrarCopy:
    return RegistrarCopy(rows, posted, at, {}, 0)


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
    assert submissions.awaited(kept.connection, AT, NONE) == []
    receipt = Receipt("R-1", "now", 1, 0, "d", (RowAnswer("ada", "A", True, None),))
    submissions.write_receipt(kept.connection, kept.act(), made, receipt)
    assert [(a.section_id, a.run, a.person_id) for a in submissions.awaited(kept.connection, AT, NONE)] == [
        (kept.section, "final", kept.owner)
    ]
    incomplete = GradeRow("ada", "I", fallback_grade="D", finish_by="2027-02-01")
    submissions.write_registrar_copy(kept.connection, kept.act(), "final", copy(AT, "posted", ada=incomplete), "read")
    assert submissions.awaited(kept.connection, AT, MINUTE) == []
    assert submissions.awaited(kept.connection, AT + MINUTE, NONE) == []
    assert submissions.awaited(kept.connection, datetime(2027, 2, 1, 12), NONE) == []
    assert len(submissions.awaited(kept.connection, datetime(2027, 2, 2), NONE)) == 1
