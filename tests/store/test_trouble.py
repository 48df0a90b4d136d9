"""What is said of errors of the disk, each made by SQLite itself."""

import sqlite3
from pathlib import Path

import pytest

from vinemark.store.database import connect
from vinemark.store.trouble import trouble_of, what_to_do


def error_of(connection: sqlite3.Connection, statement: str) -> sqlite3.Error:
    with pytest.raises(sqlite3.Error) as found:
        connection.execute(statement)
    return found.value


def test_a_full_disk(tmp_path: Path) -> None:
    connection = connect(tmp_path / "one.sqlite")
    connection.execute("CREATE TABLE t (x)")
    connection.execute("PRAGMA max_page_count = 4")
    error = error_of(connection, "INSERT INTO t VALUES (randomblob(40000))")
    assert trouble_of(error) == "full"
    assert "make room" in str(what_to_do(error, tmp_path / "one.sqlite"))
    connection.close()


def test_one_that_cannot_be_written(tmp_path: Path) -> None:
    connect(tmp_path / "one.sqlite").close()
    connection = sqlite3.connect(f"file:{tmp_path}/one.sqlite?mode=ro", uri=True)
    error = error_of(connection, "CREATE TABLE t (x)")
    assert trouble_of(error) == "read-only"
    assert "the account that runs the server" in str(what_to_do(error, tmp_path / "one.sqlite"))
    connection.close()


def test_one_that_another_program_holds(tmp_path: Path) -> None:
    holder = connect(tmp_path / "one.sqlite")
    holder.execute("BEGIN IMMEDIATE")
    connection = sqlite3.connect(tmp_path / "one.sqlite", timeout=0)
    assert trouble_of(error_of(connection, "BEGIN IMMEDIATE")) == "busy"
    connection.close()
    holder.close()


def test_one_that_is_none_or_damaged(tmp_path: Path) -> None:
    (tmp_path / "one.sqlite").write_text("Tuesday " * 200)
    connection = sqlite3.connect(tmp_path / "one.sqlite")
    error = error_of(connection, "SELECT * FROM sqlite_master")
    assert trouble_of(error) == "damaged"
    assert "vinemark restore" in str(what_to_do(error, tmp_path / "one.sqlite"))
    connection.close()


def test_a_folder_that_is_not_there(tmp_path: Path) -> None:
    path = tmp_path / "nowhere" / "one.sqlite"
    with pytest.raises(sqlite3.Error) as found:
        connect(path)
    assert trouble_of(found.value) == "not there"
    assert f"there is no folder {tmp_path}/nowhere" in str(what_to_do(found.value, path))


def test_a_fault_of_the_program_is_no_trouble_of_the_disk(tmp_path: Path) -> None:
    connection = connect(tmp_path / "one.sqlite")
    error = error_of(connection, "SELECT * FROM nothing")
    assert trouble_of(error) == "other"
    assert what_to_do(error, tmp_path / "one.sqlite") is None
    assert trouble_of(sqlite3.ProgrammingError("misuse")) == "other"
    connection.close()
