"""Copies of a database: taken while it is used, checked, and put in its place."""

import fcntl
import os
import sqlite3
from collections.abc import Iterator
from contextlib import closing, suppress
from datetime import datetime
from pathlib import Path
from typing import TextIO

from vinemark.core.base.refused import Refused
from vinemark.store.database import Connection, connect, refuse_newer
from vinemark.store.numbered import number_in
from vinemark.store.trouble import trouble_of, what_to_do

BESIDE_DATABASE = ("-wal", "-shm")
"""What SQLite keeps beside a database in WAL mode: with another file in its place they would destroy it."""
MOST_FAULTS = 20


def served(database: Path) -> TextIO:
    """Note that a server runs on a database, for as long as the file that is returned stays open."""
    file = _lock_file(database)
    fcntl.flock(file, fcntl.LOCK_SH)
    return file


def _lock_file(database: Path) -> TextIO:
    path = database.with_name(f"{database.name}.served")
    return os.fdopen(os.open(path, os.O_RDWR | os.O_CREAT, 0o600), "r+")


def write_whole(path: Path, data: bytes) -> None:
    """All of a file or nothing, on the disk."""
    unnamed = path.with_name(f"{path.name}.unfinished")
    with unnamed.open("wb") as file:
        file.write(data)
        file.flush()
        os.fsync(file.fileno())
    unnamed.replace(path)


def take_copy(database: Path, copy: Path) -> None:
    """Copy a database as it is in this moment, whoever writes meanwhile, and check the copy before it gets its name.

    Raises Refused where there is no database, or the copy does not hold together.
    """
    refuse_none(database)
    if not copy.parent.is_dir():
        raise Refused("database", f"cannot be copied: there is no folder {copy.parent}")
    unnamed = copy.with_name(f"{copy.name}.unfinished")
    unnamed.unlink(missing_ok=True)
    try:
        with closing(sqlite3.connect(database, timeout=15)) as source:
            _copy_checked(source, unnamed)
        unnamed.replace(copy)
        _to_disk(copy.parent)
    except sqlite3.Error as error:
        raise Refused("database", f"cannot be copied: {error}") from error
    finally:
        unnamed.unlink(missing_ok=True)


def _copy_checked(source: Connection, target: Path) -> None:
    """All of a database in one file, checked and on the disk."""
    with closing(connect(target)) as copy:
        source.backup(copy)
        copy.execute("PRAGMA journal_mode = DELETE")
    refuse_faulty(target)
    _to_disk(target)


def checkpoint(database: Path) -> None:
    """Bring what stands in the log of a database into it, as far as nobody is in the way."""
    with suppress(sqlite3.Error), closing(connect(database)) as connection:
        connection.execute("PRAGMA wal_checkpoint(PASSIVE)")


def refuse_none(database: Path) -> None:
    """Raise Refused where there is no database at a path."""
    if not database.is_file():
        raise Refused("database", f"there is none at {database}; VINEMARK_DATABASE names its file")


def refuse_faulty(path: Path) -> None:
    """Raise Refused for a file that is no database of ours, is damaged, or is of a newer version."""
    refuse_none(path)
    try:
        with closing(open_to_read(path)) as connection:
            first = next(faults_of(connection), "")
            refuse_newer(connection)
    except sqlite3.Error as error:
        first = str(error)
    if first:
        raise Refused(str(path), f"is damaged: {first}")


def open_to_read(path: Path) -> Connection:
    """A connection that can change nothing."""
    connection = sqlite3.connect(f"file:{path}?mode=ro", uri=True)
    connection.row_factory = sqlite3.Row
    return connection


def faults_found(connection: Connection) -> list[str]:
    """Sentences on what `faults_of` finds, also in what is so damaged that it cannot be read; a disk that is full or
    fails is no damage."""
    try:
        return [f"the database is damaged: {fault}; restore the latest backup" for fault in faults_of(connection)]
    except sqlite3.Error as error:
        if trouble_of(error) in {"damaged", "other"}:
            return [f"the database is damaged: {error}; restore the latest backup"]
        return [str(what_to_do(error, connection.execute("PRAGMA database_list").fetchone()["file"]))]


def faults_of(connection: Connection) -> Iterator[str]:
    """What SQLite itself finds wrong: damaged pages, rows that refer to none, no tables of ours."""
    if connection.execute("SELECT 1 FROM sqlite_master WHERE name = 'migration'").fetchone() is None:
        yield "it is no database of Vine Mark"
        return
    for (words,) in connection.execute(f"PRAGMA integrity_check({MOST_FAULTS})"):
        if words != "ok":
            yield str(words)
    for row in connection.execute("PRAGMA foreign_key_check").fetchmany(MOST_FAULTS):
        yield f"a row of {row[0]} refers to one of {row[2]} that is not there"


def refuse_unfit(copy: Path, number: int) -> None:
    """Raise Refused for a copy that is faulty, or one of another database than that of a number."""
    refuse_faulty(copy)
    with closing(open_to_read(copy)) as source:
        if number_in(source) != number:
            raise Refused(str(copy), f"is a copy of database {number_in(source)}, not of {number}")


def put_in_place(copy: Path, database: Path, number: int, now: datetime) -> Path | None:
    """Put a copy in a database's place; what was there is put aside under another name, which is returned.

    Raises Refused for a faulty copy or one of another database than that of the number, and while a server runs.
    """
    refuse_unfit(copy, number)
    with _lock_file(database) as file:
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            raise Refused("database", f"a server runs on {database}; stop it first") from None
        unnamed = database.with_name(f"{database.name}.unfinished")
        unnamed.unlink(missing_ok=True)
        with closing(open_to_read(copy)) as source:
            _copy_checked(source, unnamed)
        aside = _put_aside(database, now)
        unnamed.replace(database)
        _to_disk(database.parent)
    return aside


def _put_aside(database: Path, now: datetime) -> Path | None:
    """Rename what is there, and what SQLite keeps beside it, together: the copy must not meet another one's log."""
    if not database.exists():
        for end in BESIDE_DATABASE:
            database.with_name(f"{database.name}{end}").unlink(missing_ok=True)
        return None
    stem = f"{database.name}.before-{now:%Y%m%d-%H%M%S}"
    aside = next(path for n in range(1000) if not (path := database.with_name(f"{stem}-{n}" if n else stem)).exists())
    for end in (*BESIDE_DATABASE, ""):
        part = database.with_name(f"{database.name}{end}")
        if part.exists():
            part.rename(aside.with_name(f"{aside.name}{end}"))
    return aside


def _to_disk(path: Path) -> None:
    """What stands in a file, or which names a folder has, survives a power cut from here on."""
    descriptor = os.open(path, os.O_RDONLY)
    try:
        os.fsync(descriptor)
    finally:
        os.close(descriptor)
