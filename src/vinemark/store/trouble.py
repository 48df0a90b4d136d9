"""What is wrong where the database cannot be read or written, from SQLite's own code for it
(https://www.sqlite.org/rescode.html)."""

import sqlite3
from pathlib import Path
from typing import Literal

DatabaseError = sqlite3.Error
DiskTrouble = Literal["full", "read-only", "busy", "damaged", "not there", "failing", "other"]
_OF_CODE: dict[int, DiskTrouble] = {
    sqlite3.SQLITE_FULL: "full",
    sqlite3.SQLITE_READONLY: "read-only",
    sqlite3.SQLITE_BUSY: "busy",
    sqlite3.SQLITE_LOCKED: "busy",
    sqlite3.SQLITE_CORRUPT: "damaged",
    sqlite3.SQLITE_NOTADB: "damaged",
    sqlite3.SQLITE_CANTOPEN: "not there",
    sqlite3.SQLITE_IOERR: "failing",
}


def trouble_of(error: sqlite3.Error) -> DiskTrouble:
    """What kind of trouble an error is; 'other' where it is none of the disk or the file."""
    code = getattr(error, "sqlite_errorcode", None)
    return "other" if code is None else _OF_CODE.get(code & 0xFF, "other")


def what_to_do(error: sqlite3.Error, path: Path | str) -> str | None:
    """A sentence for whoever runs the server; None where the error is none of the disk or the file."""
    folder = Path(path).resolve().parent
    if not folder.is_dir():
        return f"there is no folder {folder}: make it, or name another file by VINEMARK_DATABASE"
    return {
        "full": f"the disk of {folder} is full: make room; nothing that was saved is lost",
        "read-only": f"{path} cannot be written: give it and its folder to the account that runs the server,"
        " or mount the disk so that it can be written",
        "busy": f"{path} is held by another program: end it",
        "damaged": f"{path} is damaged or no database: restore the latest backup with vinemark restore",
        "not there": f"{path} cannot be opened: give it and its folder to the account that runs the server",
        "failing": f"the disk of {folder} fails or is full: look at the system's log, and back up to another disk",
        "other": None,
    }[trouble_of(error)]
