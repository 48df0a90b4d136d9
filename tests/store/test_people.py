"""People who sign in."""

import pytest

from tests.store.conftest import AT, Kept
from vinemark.store import people
from vinemark.store.history import Act


def test_an_address_is_one_persons_in_any_case_of_letters(kept: Kept) -> None:
    act = Act(None, AT)
    made = people.add_person(kept.connection, act, " tove@x ", "Tove", "hash")
    found = people.by_email(kept.connection, "TOVE@x")
    assert found is not None
    assert found["id"] == made
    with pytest.raises(people.EmailTakenError):
        people.add_person(kept.connection, act, "Tove@X", "Tova", "hash")


def test_another_password_is_in_the_history_and_its_hash_is_not(kept: Kept) -> None:
    made = people.add_person(kept.connection, Act(None, AT), "tove@x", "Tove", "old hash")
    people.write_password(kept.connection, Act(made, AT), made, "new hash")
    row = people.by_id(kept.connection, made)
    assert row is not None
    assert row["password_hash"] == "new hash"
    entry = kept.connection.execute("SELECT * FROM history ORDER BY id DESC LIMIT 1").fetchone()
    assert entry["what"] == "password changed"
    assert "hash" not in str(tuple(entry))
