"""Findings accepted as they are."""

from tests.store.conftest import AT, Kept
from vinemark.core.audit.accept import Acceptance
from vinemark.core.base.moments import stamp
from vinemark.store import acceptances
from vinemark.store.undo import undo_entry

KEPT = Acceptance("facts", "make-up", "Maren", stamp(AT))


def test_one_is_kept_with_who_and_when_and_taken_away_and_back(kept: Kept) -> None:
    acceptances.write_acceptances(kept.connection, kept.act(), {"twin|bo||": "facts"}, "make-up", "stands")
    assert acceptances.acceptances_of(kept.connection, kept.section) == {"twin|bo||": KEPT}
    entry = acceptances.remove_acceptance(kept.connection, kept.act(), "twin|bo||", "no longer stands")
    assert acceptances.acceptances_of(kept.connection, kept.section) == {}
    undo_entry(kept.connection, kept.act(), entry)
    assert acceptances.acceptances_of(kept.connection, kept.section) == {"twin|bo||": KEPT}


def test_a_later_reason_takes_its_place(kept: Kept) -> None:
    for reason in ("one", "two"):
        acceptances.write_acceptances(kept.connection, kept.act(), {"twin|bo||": "facts"}, reason, "stands")
    assert [a.reason for a in acceptances.acceptances_of(kept.connection, kept.section).values()] == ["two"]
