"""Roles are given by address, also before there is an account, and taken up once there is one."""

from tests.store.conftest import AT, Kept
from vinemark.core.scores.part_limit import NO_LIMIT, PartLimit
from vinemark.store import people, sections
from vinemark.store.class_list import put_ids
from vinemark.store.erase import Traces, erase_student
from vinemark.store.history import Act
from vinemark.store.section_people import section_people, take_up_roles, write_part_limit, write_role

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
    waiting = (kept.section, "maren@larkmoor.example", "grader")
    kept.connection.execute("INSERT INTO waiting_role VALUES (?, ?, ?, NULL)", waiting)
    take_up_roles(kept.connection, kept.owner, "maren@larkmoor.example")
    assert roles(kept) == {"maren@larkmoor.example": (True, "instructor")}


def test_a_limit_is_kept_follows_another_id_and_forgets_who_is_deleted(kept: Kept) -> None:
    (me,) = section_people(kept.connection, kept.section)
    limit = PartLimit(frozenset({"i0"}), frozenset({"ada", "bo"}))
    write_part_limit(kept.connection, kept.act("l"), me, limit, "limited")
    put_ids(kept.connection, kept.section, {"ada": "L1"})
    (me,) = section_people(kept.connection, kept.section)
    assert me.limit == PartLimit(frozenset({"i0"}), frozenset({"L1", "bo"}))
    erase_student(kept.connection, kept.act("e"), Traces("bo", ["Bo, Mai"]))
    (me,) = section_people(kept.connection, kept.section)
    assert me.limit.students == {"L1"}
    found = sections.section_of(kept.connection, kept.owner, kept.section)
    assert found is not None
    assert found.limit == me.limit
    write_part_limit(kept.connection, kept.act("n"), me, NO_LIMIT, "no limit")
    assert section_people(kept.connection, kept.section)[0].limit == NO_LIMIT


def test_a_limit_waits_with_its_part(kept: Kept) -> None:
    write_role(kept.connection, kept.act("1"), "new@larkmoor.example", "grader", "grader")
    waiting = next(one for one in section_people(kept.connection, kept.section) if one.id is None)
    limit = PartLimit(students=frozenset({"ada"}))
    write_part_limit(kept.connection, kept.act("2"), waiting, limit, "limited")
    person = people.add_person(kept.connection, Act(None, AT), "new@larkmoor.example", "New", "hash")
    take_up_roles(kept.connection, person, "new@larkmoor.example")
    assert [one.limit for one in section_people(kept.connection, kept.section) if one.id == person] == [limit]
