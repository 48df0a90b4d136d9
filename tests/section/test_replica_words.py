"""How old the copy is, said to those who run the server."""

from pathlib import Path

import pytest

from vinemark.section.replica_words import copy_words, ills_of_copy
from vinemark.store.replica import ReplicaState, note_replica

NOW = 1_000_000.0


def said(database: Path, age: float | None, trouble: str = "") -> tuple[str, bool]:
    copied = None if age is None else NOW - age
    note_replica(database, ReplicaState("file:///srv/copies", NOW - 400, copied, trouble))
    found = copy_words(database, NOW)
    assert found is not None
    return found


@pytest.mark.parametrize(
    ("age", "words", "trouble"),
    [
        (0.4, "up to 0 seconds ago", False), (1.2, "up to 1 second ago", False), (59, "up to 59 seconds ago", False),
        (61, "up to 61 seconds ago", True), (200, "up to 3 minutes ago", True), (9_000, "up to 2 hours ago", True),
        (400_000, "up to 4 days ago", True), (-3, "up to 0 seconds ago", False),
    ],
)  # fmt: skip
def test_an_old_copy_is_trouble(tmp_path: Path, age: float, words: str, trouble: bool) -> None:
    found = said(tmp_path / "v.sqlite", age)
    assert words in found[0]
    assert found[1] == trouble
    assert bool(list(ills_of_copy(tmp_path / "v.sqlite", NOW))) == trouble


def test_what_stands_in_the_way_is_said_once_the_copy_is_old(tmp_path: Path) -> None:
    assert "broken" not in said(tmp_path / "v.sqlite", 5, "broken pipe")[0]
    assert "(broken pipe)" in said(tmp_path / "v.sqlite", 500, "broken pipe")[0]
    assert said(tmp_path / "v.sqlite", None, "is beginning") == (
        "The copy at file:///srv/copies has nothing yet, for 6 minutes.", True
    )  # fmt: skip


def test_without_a_copy_there_is_nothing_to_say(tmp_path: Path) -> None:
    assert copy_words(tmp_path / "v.sqlite", NOW) is None
    assert list(ills_of_copy(tmp_path / "v.sqlite", NOW)) == []
