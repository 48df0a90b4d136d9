"""What is kept of the second step."""

from tests.store.conftest import AT, Kept
from vinemark.store import people, second_steps
from vinemark.store.history import Act


def test_a_step_of_time_is_used_once_and_never_an_earlier_one(kept: Kept) -> None:
    assert [second_steps.use_step(kept.connection, kept.owner, step) for step in (7, 7, 6, 8)] == [
        True,
        False,
        False,
        True,
    ]


def test_a_recovery_code_is_used_once(kept: Kept) -> None:
    second_steps.write_second_step(kept.connection, Act(kept.owner, AT), kept.owner, "SECRET", ["a", "b"])
    assert [second_steps.use_recovery(kept.connection, kept.owner, code) for code in "acab"] == [
        True,
        False,
        False,
        True,
    ]


def test_an_empty_secret_ends_it_and_no_secret_is_in_the_history(kept: Kept) -> None:
    second_steps.write_second_step(kept.connection, Act(kept.owner, AT), kept.owner, "SECRET", ["a"])
    second_steps.write_second_step(kept.connection, Act(kept.owner, AT), kept.owner, "", [])
    row = people.by_id(kept.connection, kept.owner)
    assert row is not None
    assert (row["second_step"], row["recovery"]) == (None, "[]")
    assert not any("SECRET" in str(tuple(entry)) for entry in kept.connection.execute("SELECT * FROM history"))
