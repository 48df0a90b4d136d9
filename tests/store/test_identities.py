"""Who people are at an identity provider, and the parts that it says they have."""

from tests.store.conftest import AT, Kept
from vinemark.core.college.college import NO_PART, Department
from vinemark.store import college, identities, people, sign_ins
from vinemark.store.history import Act

ACT = Act(None, AT)
EMAIL = "maren@larkmoor.example"


def test_a_person_is_known_by_issuer_and_subject(kept: Kept) -> None:
    assert not identities.has_identity(kept.connection, kept.owner)
    identities.write_identity(kept.connection, ACT, "https://sso", "l1", kept.owner)
    found = identities.person_of_identity(kept.connection, "https://sso", "l1")
    assert found is not None
    assert found["id"] == kept.owner
    assert identities.person_of_identity(kept.connection, "https://other", "l1") is None
    assert identities.has_identity(kept.connection, kept.owner)
    people.erase_account(kept.connection, ACT, kept.owner)
    assert identities.person_of_identity(kept.connection, "https://sso", "l1") is None


def test_what_the_provider_says_now_is_all_that_it_says(kept: Kept) -> None:
    college.write_department(kept.connection, ACT, "", Department("Water", frozenset({"hydr"})))
    identities.put_claimed_roles(kept.connection, kept.owner, [("administrator", ""), ("chair", "Water")])
    part = college.college_part(kept.connection, EMAIL)
    assert part.administrator
    assert [one.name for one in part.chairs] == ["Water"]
    identities.put_claimed_roles(kept.connection, kept.owner, [])
    assert college.college_part(kept.connection, EMAIL) == NO_PART


def test_sign_ins_of_the_provider_are_ended_by_its_session_or_all(kept: Kept) -> None:
    keys = [sign_ins.begin(kept.connection, kept.owner, 1000.0, "10.0.0.1", "a browser") for _ in range(3)]
    sign_ins.note_identity(kept.connection, keys[0], "token", "s1")
    sign_ins.note_identity(kept.connection, keys[1], "token", "s2")
    assert [sign_ins.id_token_of(kept.connection, key) for key in keys] == ["token", "token", ""]
    assert sign_ins.end_by_sid(kept.connection, "") == 0
    assert sign_ins.end_by_sid(kept.connection, "s1") == 1
    assert sign_ins.end_identities(kept.connection, kept.owner) == 1
    assert sign_ins.person_of(kept.connection, keys[2], 1001.0) is not None
