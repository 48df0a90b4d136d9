"""Roles are given by address, also before there is an account, and taken up once there is one."""

from tests.store.conftest import AT, Kept
from vinemark.store import people, sections
from vinemark.store.history import Act
from vinemark.store.section_people import section_people, take_up_roles, write_role

TOVE = "tove@larkmoor.example"


def roles(kept: Kept) -> dict[str, tuple[bool, str]]:
    return {one.email: (one.id is not None, one.role) for one in section_people(kept.connection, kept.section)}


def test_a_role_is_given_changed_and_taken(kept: Kept) -> None:
    tove = people.add_person(kept.connection, Act(None, AT), TOVE, "Tove", "hash")
    write_role(kept.connection, kept.act("1"), "Tove@Larkmoor.example", "grader", "given")
    assert roles(kept) == {"maren@larkmoor.example": (True, "instructor"), TOVE: (True, "grader")}
    assert sections.section_of(kept.connection, tove, kept.section) is not None
    write_role(kept.connection, kept.act("2"), TOVE, "reviewer", "changed")
    assert roles(kept)[TOVE] == (True, "reviewer")
    write_role(kept.connection, kept.act("3"), TOVE, None, "taken")
    assert TOVE not in roles(kept)
    assert sections.section_of(kept.connection, tove, kept.section) is None
    entry = kept.connection.execute("SELECT before, after FROM history ORDER BY id DESC").fetchone()
    assert tuple(entry) == ('{"tove@larkmoor.example": "reviewer"}', '{"tove@larkmoor.example": null}')


def test_without_an_account_it_waits_for_one(kept: Kept) -> None:
    write_role(kept.connection, kept.act("1"), TOVE, "grader", "given")
    assert roles(kept)[TOVE] == (False, "grader")
    tove = people.add_person(kept.connection, Act(None, AT), TOVE.upper(), "Tove", "hash")
    assert sections.section_of(kept.connection, tove, kept.section) is None
    assert not take_up_roles(kept.connection, tove, "other@larkmoor.example")
    assert take_up_roles(kept.connection, tove, TOVE.upper())
    record = sections.section_of(kept.connection, tove, kept.section)
    assert record is not None
    assert (record.role, record.instructors) == ("grader", 1)
    assert not take_up_roles(kept.connection, tove, TOVE)


def test_what_waits_can_be_taken_back_and_gives_nobody_less_than_they_have(kept: Kept) -> None:
    write_role(kept.connection, kept.act("1"), TOVE, "grader", "given")
    write_role(kept.connection, kept.act("2"), TOVE, None, "taken")
    assert TOVE not in roles(kept)
    kept.connection.execute("INSERT INTO waiting_role VALUES (?, 'maren@larkmoor.example', 'grader')", (kept.section,))
    take_up_roles(kept.connection, kept.owner, "maren@larkmoor.example")
    assert roles(kept) == {"maren@larkmoor.example": (True, "instructor")}
