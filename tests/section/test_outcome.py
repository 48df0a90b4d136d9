"""What came of an act: once, whole, and typed."""

import pytest

from tests.section.conftest import House
from vinemark.core.base.refused import Refused
from vinemark.section.outcome import Conflict, Done, act, as_sentence
from vinemark.section.state import SectionState
from vinemark.store import history
from vinemark.store.history import Act, AlreadyDoneError, ChangedSinceError, writing
from vinemark.store.undo import NothingToUndoError


@act
def write_and(section: SectionState, request: Act, then: Exception | None) -> Done:
    """Writes an entry, and raises what it is given."""
    with writing(section.connection, request, "test") as entry:
        entry.what = "written"
    if then is not None:
        raise then
    return Done("Written.", entry.id)


@pytest.mark.parametrize(
    ("raised", "outcome"),
    [
        (Refused("name", "is empty"), Refused),
        (ChangedSinceError("changed"), Conflict),
        (NothingToUndoError("undone"), Conflict),
        (AlreadyDoneError("k", 7), Done),
    ],
)
def test_whatever_an_act_raises_leaves_nothing_behind(house: House, raised: Exception, outcome: type) -> None:
    section = house.section("HYDR 230-01")
    before = history.last_entry(house.connection, section.id)
    found = write_and(section, house.act(section), raised)
    assert isinstance(found, outcome)
    assert history.last_entry(house.connection, section.id) == before
    assert not house.connection.in_transaction


def test_what_it_does_not_know_is_not_swallowed(house: House) -> None:
    section = house.section("HYDR 230-01")
    with pytest.raises(ZeroDivisionError):
        write_and(section, house.act(section), ZeroDivisionError())
    assert not house.connection.in_transaction


def test_a_repeated_request_is_done_once_and_says_nothing_twice(house: House) -> None:
    section = house.section("HYDR 230-01")
    first, again = (write_and(section, house.act(section, "key"), None) for _ in range(2))
    assert isinstance(first, Done)
    assert first.text == "Written."
    assert again == Done(entry=first.entry)
    told = [e["what"] for e in history.entries_of(house.connection, section.id)]
    assert told.count("written") == 1


def test_an_act_sees_the_section_as_it_is_when_it_begins(house: House) -> None:
    stale = house.section("HYDR 230-01")
    write_and(stale, house.act(stale), None)
    seen = []

    @act
    def look(section: SectionState, request: Act) -> Done:
        """Looks."""
        seen.append(section.snapshot)
        return Done()

    look(stale, house.act(stale))
    assert seen[0] is not stale.snapshot
    assert seen[0] is house.section("HYDR 230-01").snapshot


def test_a_sentence_begins_large_and_ends() -> None:
    assert as_sentence("map quizzes moved") == "Map quizzes moved."
