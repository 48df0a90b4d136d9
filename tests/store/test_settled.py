"""Settled grades."""

from tests.store.conftest import Kept
from vinemark.core.course.course import Settled
from vinemark.store import (
    settled,
)
from vinemark.store.undo import undo_entry


def test_settling_and_its_undo(kept: Kept) -> None:
    one = {"ada": Settled("A", "raised"), "bo": Settled("F", never_attended=True)}
    entry = settled.write_grades(kept.connection, kept.act(), one, "two settled")
    assert kept.course().settled == one
    undo_entry(kept.connection, kept.act(), entry)
    assert kept.course().settled == {}
    aside = settled.write_set_aside(kept.connection, kept.act(), "bo", "sits in", "aside")
    assert kept.course().students[1].set_aside == "sits in"
    undo_entry(kept.connection, kept.act(), aside)
    assert kept.course().students[1].set_aside is None
