"""Backup while people save, restore over what is there: the drills."""

import sqlite3
import threading
from contextlib import closing
from datetime import datetime
from fractions import Fraction
from pathlib import Path

import pytest

from tests.store.conftest import AT, Kept
from vinemark.core.base.chain import chain_faults
from vinemark.core.base.refused import Refused
from vinemark.core.scores.typed_cells import CellWrite
from vinemark.store import scores
from vinemark.store.chain import sealed_entries
from vinemark.store.copying import put_in_place, refuse_faulty, served, take_copy
from vinemark.store.database import connect, migrate
from vinemark.store.history import Act

PEOPLE = 20


def database(kept: Kept) -> Path:
    rows = kept.connection.execute("PRAGMA database_list").fetchall()
    return Path(next(row["file"] for row in rows if row["name"] == "main"))


def entries(path: Path, section: int) -> list[int]:
    """The entries of a section, whose chain holds."""
    with closing(connect(path)) as connection:
        found = sealed_entries(connection, section)
        assert list(chain_faults(found)) == []
        return [entry.id for entry in found]


def test_copies_taken_while_twenty_people_save_are_whole(kept: Kept, tmp_path: Path) -> None:
    path, over, saved = database(kept), threading.Event(), [0] * PEOPLE

    def save(person: int) -> None:
        with closing(connect(path)) as connection:
            # As people do: each with a pause, so that the machine is there for others too.
            while not over.wait(0.2):
                act = Act(kept.owner, AT, kept.section)
                cell = CellWrite("ada", "i0", Fraction(saved[person] % 10))
                saved[person] = scores.write_cells(connection, act, [cell], f"by person {person}") or 0

    threads = [threading.Thread(target=save, args=(n,)) for n in range(PEOPLE)]
    for thread in threads:
        thread.start()
    try:
        while not all(saved):
            over.wait(0.05)
        for number in range(3):
            before = max(saved)
            copy = tmp_path / f"copy{number}.sqlite"
            take_copy(path, copy)
            there = entries(copy, kept.section)
            # Everything that was acknowledged before the copy began is in it.
            assert before <= there[-1]
    finally:
        over.set()
        for thread in threads:
            thread.join()
    assert max(saved) in entries(path, kept.section)


def test_a_copy_is_one_file_for_its_owner_alone(kept: Kept, tmp_path: Path) -> None:
    folder = tmp_path / "backups"
    folder.mkdir()
    take_copy(database(kept), folder / "copy.sqlite")
    assert [path.name for path in folder.iterdir()] == ["copy.sqlite"]
    assert (folder / "copy.sqlite").stat().st_mode & 0o777 == 0o600


def test_a_copy_that_cannot_be_whole_gets_no_name(kept: Kept, tmp_path: Path) -> None:
    copy = tmp_path / "copy.sqlite"
    with pytest.raises(Refused, match="there is none"):
        take_copy(tmp_path / "nothing.sqlite", copy)
    kept.connection.execute("PRAGMA foreign_keys = OFF")
    values = "(section_id, student_id, item_id, cell) VALUES (1, 'nobody', 'i0', '9')"
    kept.connection.execute(f"INSERT INTO score {values}")
    with pytest.raises(Refused, match="refers to one of student"):
        take_copy(database(kept), copy)
    assert list(tmp_path.glob("copy*")) == []


def restored(kept: Kept, tmp_path: Path) -> tuple[Path, list[int]]:
    """A copy from before a later save; the copy, and its entries."""
    copy = tmp_path / "copy.sqlite"
    take_copy(database(kept), copy)
    there = entries(copy, kept.section)
    scores.write_cells(kept.connection, kept.act(), [CellWrite("ada", "i0", Fraction(9))], "after the copy")
    return copy, there


@pytest.mark.parametrize("closed", [True, False])
def test_a_restore_brings_the_copy_back_and_puts_aside_what_was_there(kept: Kept, tmp_path: Path, closed: bool) -> None:
    copy, there = restored(kept, tmp_path)
    path = database(kept)
    log = path.with_name(f"{path.name}-wal")
    if closed:
        kept.connection.close()
    else:
        assert log.stat().st_size
    aside = put_in_place(copy, path, 0, datetime(2026, 12, 19, 10, 20))
    assert aside is not None
    assert entries(path, kept.section) == there
    assert len(entries(aside, kept.section)) == len(there) + 1
    refuse_faulty(path)
    again = put_in_place(copy, path, 0, datetime(2026, 12, 19, 10, 20))
    assert again != aside


def test_while_a_server_runs_nothing_is_restored(kept: Kept, tmp_path: Path) -> None:
    copy, there = restored(kept, tmp_path)
    with served(database(kept)), served(database(kept)), pytest.raises(Refused, match="stop it first"):
        put_in_place(copy, database(kept), 0, AT)
    assert len(entries(database(kept), kept.section)) == len(there) + 1
    put_in_place(copy, database(kept), 0, AT)


def test_on_an_empty_place_a_log_left_behind_is_not_taken_for_the_copys(kept: Kept, tmp_path: Path) -> None:
    copy, there = restored(kept, tmp_path)
    place = tmp_path / "elsewhere.sqlite"
    place.with_name("elsewhere.sqlite-wal").write_bytes(b"of another database" * 1000)
    assert put_in_place(copy, place, 0, AT) is None
    assert entries(place, kept.section) == there


def test_what_is_no_copy_changes_nothing(kept: Kept, tmp_path: Path) -> None:
    copy, _ = restored(kept, tmp_path)
    there = entries(database(kept), kept.section)
    other = tmp_path / "other.sqlite"
    with closing(sqlite3.connect(other)) as connection:
        connection.execute("CREATE TABLE something (id INTEGER)")
    data = copy.read_bytes()
    cut, text = tmp_path / "cut.sqlite", tmp_path / "text.sqlite"
    cut.write_bytes(data[: len(data) // 2])
    text.write_text("no database at all, whatever its name says")
    for bad in (other, cut, text, tmp_path / "none.sqlite"):
        with pytest.raises(Refused):
            put_in_place(bad, database(kept), 0, AT)
    assert entries(database(kept), kept.section) == there


def test_a_database_of_a_newer_version_is_refused(kept: Kept, tmp_path: Path) -> None:
    copy, _ = restored(kept, tmp_path)
    with closing(connect(copy)) as connection:
        connection.execute("INSERT INTO migration VALUES ('9999_later.sql', '2027-01-01')")
        with pytest.raises(Refused, match="newer version"):
            migrate(connection)
    with pytest.raises(Refused, match="newer version"):
        put_in_place(copy, database(kept), 0, AT)
