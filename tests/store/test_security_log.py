"""The log of security events."""

from datetime import timedelta

from tests.store.conftest import AT, Kept
from vinemark.store.security_log import KEPT_DAYS, LONGEST, SecurityEvent, events_since, note_event


def noted(kept: Kept, days_ago: int = 0, what: str = "") -> SecurityEvent:
    event = SecurityEvent(AT - timedelta(days=days_ago), "signed in", "tove@x", "10.0.0.1", what)
    note_event(kept.connection, event)
    return event


def test_events_come_back_oldest_first_from_a_time_on(kept: Kept) -> None:
    old, new, last = noted(kept, 3), noted(kept, 1), noted(kept)
    assert list(events_since(kept.connection, AT - timedelta(days=9))) == [old, new, last]
    assert list(events_since(kept.connection, AT - timedelta(days=1))) == [new, last]


def test_texts_are_cut_and_what_is_older_than_a_year_is_forgotten(kept: Kept) -> None:
    noted(kept, KEPT_DAYS + 1)
    noted(kept, what="x" * 900)
    found = events_since(kept.connection, AT - timedelta(days=9_000))
    assert [len(event.what) for event in found] == [LONGEST]
