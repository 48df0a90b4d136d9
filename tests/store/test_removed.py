"""A removed section leaves its receipts to those who taught it, and goes only as its archive has it."""

import pytest

from tests.store.conftest import AT, Kept
from vinemark.store import remarks, sections
from vinemark.store.history import Act, last_entry
from vinemark.store.removed import ChangedMeanwhileError, Removal, remove_section, removed_section, removed_sections

RECEIPT = {
    "run": "final", "signed_at": "2026-12-20T10:00:00", "signed_by": "Maren",
    "receipt": {"number": "R-1", "received_at": "2026-12-20T10:01:00", "accepted": 1, "refused": 0, "digest": "ab",
                "rows": [{"id": "ada", "code": "A", "accepted": True, "reason": None}], "history_seal": ""},
}  # fmt: skip


def removal(kept: Kept) -> Removal:
    record = sections.section_of(kept.connection, kept.owner, kept.section)
    assert record is not None
    return Removal(record, last_entry(kept.connection, kept.section), "1-Fall.zip", "abcd", [RECEIPT])


def test_what_is_left_is_what_was_received(kept: Kept) -> None:
    remove_section(kept.connection, Act(None, AT), removal(kept))
    assert sections.section_of(kept.connection, kept.owner, kept.section) is None
    assert kept.connection.execute("SELECT count(*) FROM student").fetchone()[0] == 0
    (found,) = removed_sections(kept.connection, kept.owner)
    assert (found.name.short, found.archive_digest, found.removed_at) == ("HYDR 230-01", "abcd", AT)
    assert found.receipts[0].receipt.rows[0].code == "A"
    assert removed_section(kept.connection, kept.owner, found.id) == found
    assert removed_section(kept.connection, kept.owner + 1, found.id) is None


def test_what_was_changed_after_its_archive_stays(kept: Kept) -> None:
    made = removal(kept)
    remarks.write_remark(kept.connection, kept.act("r"), ("ada", "i0"), "late", "remark")
    with pytest.raises(ChangedMeanwhileError):
        remove_section(kept.connection, Act(None, AT), made)
    assert sections.section_of(kept.connection, kept.owner, kept.section) is not None
    assert removed_sections(kept.connection, kept.owner) == []
