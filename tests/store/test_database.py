"""Connections, migrations and transactions."""

import sqlite3
from importlib.resources import files as files_of
from pathlib import Path

import pytest

from tests.store.conftest import AT, Kept
from vinemark.store import (
    people,
)
from vinemark.store.college import parts_in_words
from vinemark.store.database import connect, migrate, reading, transaction
from vinemark.store.history import Act


def test_migrations_run_once_and_pragmas_hold(tmp_path: Path) -> None:
    connection = connect(tmp_path / "a.sqlite")
    files = sorted(
        path.name for path in (files_of("vinemark.store") / "schema").iterdir() if path.name.endswith(".sql")
    )
    assert migrate(connection) == files
    assert files[0] == "0001_start.sql"
    assert migrate(connection) == []
    assert connection.execute("PRAGMA foreign_keys").fetchone()[0] == 1
    assert connection.execute("PRAGMA journal_mode").fetchone()[0] == "wal"
    with pytest.raises(sqlite3.IntegrityError):
        connection.execute("INSERT INTO score VALUES (1, 'nobody', 'i', '5')")
    connection.close()


def test_a_transaction_is_all_or_nothing_and_nests(kept: Kept) -> None:
    def names() -> list[str]:
        return [name for name, _, _ in parts_in_words(kept.connection)]

    def add(email: str) -> None:
        people.add_person(kept.connection, Act(None, AT), email, email, "hash")

    with pytest.raises(RuntimeError), transaction(kept.connection):
        add("x@y")
        raise RuntimeError
    assert names() == ["Maren"]
    with transaction(kept.connection):
        add("x@y")
        with pytest.raises(people.EmailTakenError):
            add("X@Y")
    assert names() == ["Maren", "x@y"]


def test_a_commit_that_fails_leaves_no_transaction_open(kept: Kept) -> None:
    """A deferred foreign key fails only at COMMIT; what is written next must not be lost with it."""
    kept.connection.execute("CREATE TABLE a (id INTEGER PRIMARY KEY)")
    kept.connection.execute("CREATE TABLE b (a INTEGER REFERENCES a (id) DEFERRABLE INITIALLY DEFERRED)")
    with pytest.raises(sqlite3.IntegrityError), transaction(kept.connection):
        kept.connection.execute("INSERT INTO b VALUES (7)")
    assert not kept.connection.in_transaction
    with transaction(kept.connection):
        kept.connection.execute("INSERT INTO a VALUES (1)")
    assert kept.connection.execute("SELECT count(*) FROM a").fetchone()[0] == 1


def test_several_queries_see_one_state(kept: Kept, tmp_path: Path) -> None:
    other = connect(tmp_path / "test.sqlite")
    with reading(kept.connection):
        before = kept.connection.execute("SELECT count(*) FROM history").fetchone()[0]
        with transaction(other):
            other.execute("DELETE FROM history")
        assert kept.connection.execute("SELECT count(*) FROM history").fetchone()[0] == before
        with reading(kept.connection):
            pass
    assert kept.connection.execute("SELECT count(*) FROM history").fetchone()[0] == 0
    other.close()
