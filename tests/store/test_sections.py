"""Sections and whose they are."""

from tests.store.conftest import AT, Kept
from vinemark.store import (
    history,
    people,
    sections,
)
from vinemark.store.history import Act


def test_another_persons_section_is_not_there(kept: Kept) -> None:
    other = people.add_person(kept.connection, Act(None, AT), "idris@larkmoor.example", "Idris", "hash")
    assert sections.section_of(kept.connection, other, kept.section) is None
    assert sections.sections_of(kept.connection, other) == []
    assert history.entry_of(kept.connection, kept.section + 1, 2) is None
