"""Another secret than before is noticed, and none can be read from what is kept."""

from tests.store.conftest import Kept
from vinemark.store.known_secret import is_other_secret, note_secret

ONE, OTHER = "a" * 40, "b" * 40


def test_the_first_is_no_other_one(kept: Kept) -> None:
    assert not is_other_secret(kept.connection, ONE)
    note_secret(kept.connection, ONE)
    assert not is_other_secret(kept.connection, ONE)


def test_another_is_noticed_until_it_is_used(kept: Kept) -> None:
    for secret in (ONE, ONE):
        note_secret(kept.connection, secret)
    assert is_other_secret(kept.connection, OTHER)
    note_secret(kept.connection, OTHER)
    assert not is_other_secret(kept.connection, OTHER)
    assert is_other_secret(kept.connection, ONE)
    rows = [row["digest"] for row in kept.connection.execute("SELECT digest FROM known_secret")]
    assert len(rows) == 1
    assert OTHER not in rows[0]
