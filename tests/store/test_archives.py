"""Everything of a section gathered, and taken in again to be looked at."""

from collections.abc import Callable
from fractions import Fraction
from typing import Any

import pytest

from tests.store.conftest import Kept
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Settled
from vinemark.core.scores.typed_cells import CellWrite
from vinemark.core.submit.grade_row import GradeRow, digest
from vinemark.core.submit.receipt import Receipt, RowAnswer
from vinemark.store import archives, history, remarks, scores, sections, settled, submissions
from vinemark.store.submissions import SignedCopy
from vinemark.store.undo import undo_entry

Parts = dict[str, Any]


@pytest.fixture
def parts(kept: Kept) -> Parts:
    """A section with something of everything, gathered."""
    scores.write_cells(kept.connection, kept.act(), [CellWrite("ada", "i0", Fraction(9))], "nine")
    entry = scores.write_cells(kept.connection, kept.act(), [CellWrite("bo", "i0", Fraction(1))], "one")
    undo_entry(kept.connection, kept.act(), entry)
    remarks.write_remark(kept.connection, kept.act(), ("ada", "i0"), "late", "remark")
    settled.write_grades(kept.connection, kept.act(), {"ada": Settled("A")}, "settled")
    rows = [GradeRow("ada", "A")]
    made = submissions.write_signature(kept.connection, kept.act(), "k", SignedCopy("final", rows, "c", "f"), 0)
    receipt = Receipt("R-1", "2026-12-19T10:21:00", 1, 0, digest(rows), (RowAnswer("ada", "A", True, None),))
    submissions.write_receipt(kept.connection, kept.act(), made, receipt)
    return {
        "history": archives.history_values(kept.connection, kept.section),
        "sendings": archives.sending_values(kept.connection, kept.section),
        "changes": archives.change_values(kept.connection, kept.section),
        "beside": archives.beside_values(kept.connection, kept.section),
    }


def take(kept: Kept, parts: Parts) -> int:
    return archives.create_from_archive(kept.connection, kept.act(), kept.course(), "taken.zip", **parts)


def test_what_is_taken_in_is_what_was_gathered(kept: Kept, parts: Parts) -> None:
    made = take(kept, parts)
    record = sections.section_of(kept.connection, kept.owner, made)
    assert record is not None
    assert (record.role, record.archive) == ("reviewer", "taken.zip")
    assert sections.load_course(kept.connection, record).scores == kept.course().scores
    assert remarks.remarks_of(kept.connection, made) == {("ada", "i0"): "late"}
    (sending,) = submissions.submissions_of(kept.connection, made)
    assert (sending.key, sending.state, sending.receipt and sending.receipt.number) == ("k", "received", "R-1")
    again = archives.history_values(kept.connection, made)
    told = [(e["at"], e["person"], e["kind"], e["what"], e["before"], e["after"]) for e in again]
    assert told[-len(parts["history"]) :] == [
        (e["at"], e["person"], e["kind"], e["what"], e["before"], e["after"]) for e in parts["history"]
    ]
    undone = [e for e in history.entries_of(kept.connection, made) if e["undone_by"]]
    assert [e["what"] for e in undone] == ["one"]


def test_gathering_leaves_a_trace(kept: Kept) -> None:
    archives.note_made(kept.connection, kept.act(), "abc")
    assert history.entries_of(kept.connection, kept.section)[0]["what"] == "archive downloaded, SHA-256 abc"


@pytest.mark.parametrize(
    "spoil",
    [
        lambda p: p["sendings"][0].update(receipt={"number": "R-1"}),
        lambda p: p["sendings"][0].update(rows=[{"id": "ada"}]),
        lambda p: p["sendings"][0].update(rows="no list"),
        lambda p: p["sendings"][0].update(signed_at="yesterday"),
        lambda p: p["sendings"][0].pop("key"),
        lambda p: p["sendings"][0].update(state="lost"),
        lambda p: p["beside"]["scores"][0].update(cell="nine"),
        lambda p: p["beside"]["plans"][0].update(plan="{}"),
        lambda p: p["beside"].pop("remarks"),
        lambda p: p["history"][0].pop("what"),
        lambda p: p["beside"]["read_back"].append(
            {"run": "final", "rows": "[1]", "posted_at": None, "read_at": "2026-12-19", "fell_back": "[]"}
        ),
    ],
)
def test_parts_that_no_page_could_read_are_refused_at_the_door(
    kept: Kept, parts: Parts, spoil: Callable[[Parts], object]
) -> None:
    spoil(parts)
    before = len(sections.sections_of(kept.connection, kept.owner))
    with pytest.raises(Refused):
        take(kept, parts)
    assert len(sections.sections_of(kept.connection, kept.owner)) == before
