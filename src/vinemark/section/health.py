"""What is ill in a database and around it, in sentences that say what to do."""

import os
import shutil
import stat
from collections.abc import Iterator
from datetime import datetime, timedelta
from pathlib import Path

from vinemark.core.base.dates import time_words
from vinemark.core.base.moments import elapsed, later
from vinemark.core.base.refused import Refused
from vinemark.core.course.databases import HOME
from vinemark.exchange.contradictions import contradictions
from vinemark.section.gathering import gathered
from vinemark.store import submissions
from vinemark.store.copying import faults_found
from vinemark.store.database import Connection, left_to_run, refuse_newer
from vinemark.store.history import latest_time
from vinemark.store.known_secret import is_other_secret
from vinemark.store.numbered import ids_would_repeat, number_in
from vinemark.store.sections import SectionRecord, instructed_sections, load_course

LEAST_FREE = 100 * 1024 * 1024
LARGEST_LOG = 64 * 1024 * 1024
SHORTEST_KEPT_SECRET = 32
CLOCK_SLACK = timedelta(minutes=5)
WAITS_LONG = timedelta(days=1)
OTHER_PEOPLE = stat.S_IRWXG | stat.S_IRWXO


def ills_of_files(database: Path, secret: str, secret_file: Path) -> Iterator[str]:
    """Folder, modes, disk and secret; `secret` is the one of the settings, empty where it is kept in the file."""
    folder = database.resolve().parent
    if not os.access(folder, os.W_OK):
        yield f"{folder} cannot be written: nothing can be saved; give it to the account that runs the server"
    if stat.S_IMODE(database.stat().st_mode) & OTHER_PEOPLE:
        yield f"{database} can be read by others: chmod 600 {database}"
    free, size = shutil.disk_usage(folder).free, database.stat().st_size
    if free < max(LEAST_FREE, 2 * size):
        space = f"{free // 2**20:,} MB are free on its disk"
        yield f"{database} has {size // 2**20:,} MB, and {space}: make room"
    log = database.with_name(f"{database.name}-wal")
    if log.exists() and log.stat().st_size > LARGEST_LOG:
        yield f"{log} has {log.stat().st_size // 2**20:,} MB: something keeps the database open; restart the server"
    unfinished = database.with_name(f"{database.name}.unfinished")
    if unfinished.exists():
        yield f"{unfinished} was left by a restore that broke off; delete it and restore again if need be"
    yield from _ills_of_secret(secret_file, secret)


def ills_of_changed_secret(connection: Connection, path: Path, secret: str) -> Iterator[str]:
    """Whether the server would start with another secret than it used last; without one it is kept in a file."""
    if not secret and path.exists():
        secret = path.read_text(encoding="utf-8", errors="replace").strip()
    if len(secret) >= SHORTEST_KEPT_SECRET and is_other_secret(connection, secret):
        yield "the secret is another than the server used last: put the former one back, or everybody signs in again"


def _ills_of_secret(path: Path, secret: str) -> Iterator[str]:
    if secret:
        if len(secret) < SHORTEST_KEPT_SECRET:
            yield f"VINEMARK_SECRET is shorter than {SHORTEST_KEPT_SECRET} signs and could be guessed"
    elif not path.exists():
        yield f"{path} is not there: everybody signs in again, once the server makes another one"
    elif len(path.read_text(encoding="utf-8", errors="replace").strip()) < SHORTEST_KEPT_SECRET:
        yield f"{path} is empty or was cut: delete it, and the server makes another one; everybody signs in again"
    elif stat.S_IMODE(path.stat().st_mode) & OTHER_PEOPLE:
        yield f"{path} can be read by others: chmod 600 {path}, and change it if somebody may have read it"


def ills_of_database(connection: Connection, now: datetime, number: int = HOME) -> Iterator[str]:
    """What SQLite finds, versions, the clock, and each section against its own history."""
    faults = faults_found(connection)
    yield from faults
    if faults:
        return
    try:
        refuse_newer(connection)
    except Refused as error:
        yield f"the database {error.reason}"
        return
    if left_to_run(connection):
        yield "the database is of an earlier version: start the server once, which brings it to this one"
        return
    if number != number_in(connection):
        yield f"the database is number {number_in(connection)}, and databases.toml calls it {number}: look at its file"
        return
    if ids_would_repeat(connection):
        yield "the next section would get the id of one that is there: restore the latest backup"
    last = latest_time(connection)
    if last is not None and elapsed(now, last) > CLOCK_SLACK:
        yield (f"the clock says {time_words(now)}, and something was saved at {time_words(last)} already:"
               " set the clock of this machine")  # fmt: skip
    for record in instructed_sections(connection):
        for ill in _ills_of_section(connection, record, now):
            yield f"{record.name.short}, {record.term.name}: {ill}"


def _ills_of_section(connection: Connection, record: SectionRecord, now: datetime) -> Iterator[str]:
    try:
        submissions.refuse_unreadable(connection, record.id)
        yield from _contradictions(connection, record, now)
    except (Refused, ValueError, KeyError, TypeError) as error:
        yield f"something that is kept cannot be read: {error}"
    for one in submissions.waiting_since(connection, record.id, later(now, -WAITS_LONG)):
        yield f"grades signed {time_words(one)} have not reached the registrar; look at Submit"


def _contradictions(connection: Connection, record: SectionRecord, now: datetime) -> Iterator[str]:
    """The section as an archive of it would have it: its chain, and each part of it against all others."""
    course = load_course(connection, record)
    yield from contradictions(gathered(connection, record.id, course, now), course)
