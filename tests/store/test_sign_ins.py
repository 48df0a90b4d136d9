"""Where people are signed in."""

import pytest

from tests.store.conftest import AT, Kept
from vinemark.store import people, sign_ins
from vinemark.store.history import Act


@pytest.fixture
def tove(kept: Kept) -> int:
    return people.add_person(kept.connection, Act(None, AT), "tove@x", "Tove", "hash")


def begun(kept: Kept, person: int, at: float = 1_000, browser: str = "Firefox/1") -> str:
    return sign_ins.begin(kept.connection, person, at, "10.0.0.1", browser)


def known(kept: Kept, key: str, at: float = 1_001) -> str:
    row = sign_ins.person_of(kept.connection, key, at)
    return row["name"] if row else ""


def test_a_key_is_a_person_until_it_is_ended(kept: Kept, tove: int) -> None:
    key, other = begun(kept, tove), begun(kept, tove)
    assert (known(kept, key), known(kept, "guess"), known(kept, "")) == ("Tove", "", "")
    sign_ins.end(kept.connection, key)
    assert (known(kept, key), known(kept, other)) == ("", "Tove")


def test_a_key_is_nowhere_in_the_database(kept: Kept, tove: int) -> None:
    key = begun(kept, tove)
    assert key not in "\n".join(kept.connection.iterdump())


def test_it_ends_when_nobody_is_seen_and_at_the_latest_after_half_a_day(kept: Kept, tove: int) -> None:
    key = begun(kept, tove, at=0)
    step = sign_ins.IDLE_SECONDS - 1
    assert all(known(kept, key, at) for at in range(step, sign_ins.LONGEST_SECONDS, step))
    assert not known(kept, key, sign_ins.LONGEST_SECONDS)
    idle = begun(kept, tove, at=0)
    assert not known(kept, idle, sign_ins.IDLE_SECONDS)


def test_being_seen_is_not_written_at_every_step(kept: Kept, tove: int) -> None:
    key = begun(kept, tove, at=0)
    before = kept.connection.total_changes
    known(kept, key, sign_ins.NOTED_SECONDS)
    assert kept.connection.total_changes == before
    known(kept, key, sign_ins.NOTED_SECONDS + 1)
    assert kept.connection.total_changes == before + 1


def test_places_are_listed_and_ended_by_their_person_alone(kept: Kept, tove: int) -> None:
    key = begun(kept, tove, at=1_000, browser="x" * 900)
    other = begun(kept, tove, at=2_000)
    found = sign_ins.sign_ins_of(kept.connection, tove, key, 2_001)
    assert [place.here for place in found] == [False, True]
    assert len(found[1].browser) == sign_ins.LONGEST_BROWSER
    assert not sign_ins.end_one(kept.connection, tove + 1, found[0].id)
    assert sign_ins.end_one(kept.connection, tove, found[0].id)
    assert (known(kept, other, 2_001), known(kept, key, 2_001)) == ("", "Tove")
    third = begun(kept, tove, at=2_000)
    assert sign_ins.end_others(kept.connection, tove, key) == 1
    assert (known(kept, third, 2_001), known(kept, key, 2_001)) == ("", "Tove")


def test_what_is_over_is_forgotten(kept: Kept, tove: int) -> None:
    begun(kept, tove, at=0)
    begun(kept, tove, at=sign_ins.IDLE_SECONDS + 1)
    assert kept.connection.execute("SELECT count(*) FROM signed_in").fetchone()[0] == 1


def test_a_notice_is_taken_once(kept: Kept, tove: int) -> None:
    key, other = begun(kept, tove), begun(kept, tove)
    sign_ins.leave_notice(kept.connection, key, ["Done.", 7, False, 1], 5.0)
    assert sign_ins.noticed(kept.connection, other) is None
    assert sign_ins.noticed(kept.connection, key) == ["Done.", 7, False, 1]
    assert sign_ins.noticed(kept.connection, key) is None
