"""People who sign in."""

import pytest

from tests.store.conftest import AT, Kept
from vinemark.store import people, sign_ins
from vinemark.store.college import parts_in_words
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


def test_a_closed_account_has_no_sign_ins_and_is_nobody_who_can_sign_in(kept: Kept) -> None:
    key = sign_ins.begin(kept.connection, kept.owner, 1000.0, "10.0.0.1", "a browser")
    assert people.end_account(kept.connection, Act(None, AT), kept.owner) == 1
    assert sign_ins.person_of(kept.connection, key, 1001.0) is None
    assert not people.anybody(kept.connection)
    assert list(parts_in_words(kept.connection)) == []
    assert kept.course().students


def test_of_a_deleted_account_the_name_alone_is_left(kept: Kept) -> None:
    sign_ins.begin(kept.connection, kept.owner, 1000.0, "10.0.0.1", "a browser")
    people.erase_account(kept.connection, Act(kept.owner, AT), kept.owner)
    dump = "\n".join(kept.connection.iterdump())
    assert "maren@larkmoor.example" not in dump
    assert "10.0.0.1" not in dump
    assert people.by_email(kept.connection, "maren@larkmoor.example") is None
    row = people.by_id(kept.connection, kept.owner)
    assert row is not None
    assert (row["name"], row["password_hash"]) == ("Maren", "")
