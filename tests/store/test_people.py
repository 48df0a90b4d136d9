"""People and their tries to sign in."""

from tests.store.conftest import Kept
from vinemark.store import (
    people,
)


def test_tries_are_slowed_down_after_five_failures(kept: Kept) -> None:
    for n in range(5):
        assert people.seconds_to_wait(kept.connection, "a@b", "here", 100.0 + n) == 0
        people.note_failure(kept.connection, "A@b", "here", 100.0 + n)
    assert people.seconds_to_wait(kept.connection, "a@b", "elsewhere", 105.0) > 0
    assert people.seconds_to_wait(kept.connection, "other@b", "here", 105.0) == 0
    assert people.seconds_to_wait(kept.connection, "a@b", "here", 105.0 + people.WINDOW_SECONDS) == 0
    people.clear_failures(kept.connection, "a@b")
    assert people.seconds_to_wait(kept.connection, "a@b", "here", 105.0) == 0
