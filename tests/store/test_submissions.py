"""Signed rows and receipts."""

import pytest

from tests.store.conftest import Kept
from vinemark.core.submit.grade_row import GradeRow, digest
from vinemark.core.submit.receipt import Receipt, RowAnswer
from vinemark.core.submit.submission import accepted_rows, refusals
from vinemark.store import (
    submissions,
)
from vinemark.store.history import ChangedSinceError
from vinemark.store.submissions import SignedCopy


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
