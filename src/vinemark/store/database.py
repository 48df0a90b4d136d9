"""Connections, transactions and migrations."""

import os
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from importlib.resources import files
from pathlib import Path

from vinemark.core.base.refused import Refused

Connection = sqlite3.Connection
Row = sqlite3.Row


_checkpoints: list[bool] = [True]


def leave_checkpoints() -> None:
    """From now on no connection of this process brings the log into the database: the program that copies it does,
    which must see every page of it first."""
    _checkpoints[0] = False


def connect(path: Path | str) -> Connection:
    """A connection with write-ahead logging, foreign keys, and rows readable by name."""
    _keep_private(Path(path))
    connection = sqlite3.connect(path, isolation_level=None, timeout=15, check_same_thread=False)
    connection.row_factory = sqlite3.Row
    try:
        connection.execute("PRAGMA journal_mode = WAL")
        # FULL: what a browser was told is kept must survive a power cut, not only a crash of the process.
        connection.execute("PRAGMA synchronous = FULL")
        connection.execute("PRAGMA foreign_keys = ON")
        if not _checkpoints[0]:
            connection.execute("PRAGMA wal_autocheckpoint = 0")
    except BaseException:
        connection.close()
        raise
    return connection


def _keep_private(path: Path) -> None:
    """A database belongs to its owner alone; SQLite gives what it puts beside it the same mode."""
    if str(path) == ":memory:":
        return
    try:
        os.close(os.open(path, os.O_RDWR | os.O_CREAT | os.O_EXCL, 0o600))
    except OSError:
        return


def can_be_read(path: Path | str) -> bool:
    """Whether there is a database of ours at a path, and it answers."""
    if not Path(path).is_file():
        return False
    try:
        connection = connect(path)
        try:
            connection.execute("SELECT count(*) FROM migration").fetchone()
        finally:
            connection.close()
    except sqlite3.Error:
        return False
    return True


class Connections:
    """Connections to one database that are kept open between requests, the one used last first."""

    def __init__(self, path: Path | str, most: int = 16) -> None:
        self._path, self._most = path, most
        self._idle: list[Connection] = []

    def take(self) -> Connection:
        """A connection for one request."""
        try:
            return self._idle.pop()
        except IndexError:
            return connect(self._path)

    def give_back(self, connection: Connection) -> None:
        """Keep it for a later request; what it left open is undone."""
        if self._is_clean(connection) and len(self._idle) < self._most:
            self._idle.append(connection)
        else:
            connection.close()

    def _is_clean(self, connection: Connection) -> bool:
        """Whether nothing is left open on it; what cannot be undone ends with the connection."""
        try:
            if connection.in_transaction:
                connection.execute("ROLLBACK")
        except sqlite3.Error:
            return False
        return True


@contextmanager
def transaction(connection: Connection) -> Iterator[None]:
    """One transaction, all or nothing; inside another one it is a savepoint of it."""
    if connection.in_transaction:
        with _savepoint(connection):
            yield
        return
    connection.execute("BEGIN IMMEDIATE")
    try:
        yield
        connection.execute("COMMIT")
    except BaseException:
        # A COMMIT that failed leaves the transaction open: what is written next on this connection would be lost.
        if connection.in_transaction:
            connection.execute("ROLLBACK")
        raise


@contextmanager
def reading(connection: Connection) -> Iterator[None]:
    """Several queries that see one state of the database, whatever is written meanwhile."""
    if connection.in_transaction:
        yield
        return
    connection.execute("BEGIN")
    try:
        yield
    finally:
        # Where the disk failed SQLite has ended it already.
        if connection.in_transaction:
            connection.execute("ROLLBACK")


@contextmanager
def _savepoint(connection: Connection) -> Iterator[None]:
    connection.execute("SAVEPOINT nested")
    try:
        yield
    except BaseException:
        # Where the disk failed SQLite has ended all of it already.
        if connection.in_transaction:
            connection.execute("ROLLBACK TO nested")
            connection.execute("RELEASE nested")
        raise
    connection.execute("RELEASE nested")


def migrate(connection: Connection, package: str = "vinemark.store") -> list[str]:
    """Run the numbered SQL files that have not run yet, each in one transaction; their names are returned.

    Safe to repeat, and safe when two processes start at once. Raises Refused for a database of a newer version.
    """
    refuse_newer(connection, package)
    connection.execute("CREATE TABLE IF NOT EXISTS migration (name TEXT PRIMARY KEY, at TEXT NOT NULL) STRICT")
    done = []
    for name, script in _scripts(package):
        with transaction(connection):
            if connection.execute("SELECT 1 FROM migration WHERE name = ?", (name,)).fetchone():
                continue
            for statement in _statements(script):
                connection.execute(statement)
            connection.execute("INSERT INTO migration VALUES (?, datetime('now'))", (name,))
            done.append(name)
    return done


def refuse_newer(connection: Connection, package: str = "vinemark.store") -> None:
    """Raise Refused for a database that a newer version has changed: this one does not know what stands in it."""
    if connection.execute("SELECT 1 FROM sqlite_master WHERE name = 'migration'").fetchone() is None:
        return
    known = {name for name, _ in _scripts(package)}
    newer = sorted(row[0] for row in connection.execute("SELECT name FROM migration") if row[0] not in known)
    if newer:
        raise Refused(
            "database",
            f"is of a newer version ({newer[-1]}); start that version again, or restore a backup from before it",
        )


def left_to_run(connection: Connection, package: str = "vinemark.store") -> list[str]:
    """The numbered SQL files that have not run yet on a database of ours."""
    done = {row[0] for row in connection.execute("SELECT name FROM migration")}
    return [name for name, _ in _scripts(package) if name not in done]


def _scripts(package: str) -> list[tuple[str, str]]:
    folder = files(package) / "schema"
    found = [f for f in folder.iterdir() if f.name.endswith(".sql")]
    return [(f.name, f.read_text(encoding="utf-8")) for f in sorted(found, key=lambda f: f.name)]


def _statements(script: str) -> Iterator[str]:
    """Single statements: executescript would commit the transaction around it."""
    gathered = ""
    for line in script.splitlines(keepends=True):
        gathered += line
        if sqlite3.complete_statement(gathered):
            yield gathered
            gathered = ""
