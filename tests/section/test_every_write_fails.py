"""Each write, cut and sync of a save and of a submission fails once, or from there on, and memory runs out at seeded
places: what is there afterwards is all of it or nothing, and what is done again is done once."""

import gc
import random
import shutil
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from dataclasses import replace
from hashlib import sha256
from pathlib import Path

import httpx
import pytest

from tests.faults.disk import FULL, IO_SYNC, IO_WRITE, Disk, below_sqlite, memory_left
from tests.section.conftest import House
from tests.section.delivery.test_worker import ready
from tests.seeds import seed
from tests.web.conftest import CLOCK, Weather
from vinemark.core.base.refused import Refused
from vinemark.core.scores.typed_cells import TypedCell
from vinemark.office.app import OfficeSettings, create_office
from vinemark.office.client import OfficeClient
from vinemark.section.acts.scores import enter_scores
from vinemark.section.acts.submit import send, sign
from vinemark.section.delivery.gateway import Gateway
from vinemark.section.snapshot import Snapshots
from vinemark.section.state import SectionState
from vinemark.store.copying import faults_of
from vinemark.store.database import Connection, connect
from vinemark.store.trouble import DatabaseError

pytestmark = pytest.mark.many

SHORT = "HYDR 230-01"
NEVER = 10**9
MEMORY_TRIES = 30
LARGEST_NEED = 4_000_000
BROKEN = (DatabaseError, MemoryError, httpx.HTTPError)


def digest_of(connection: Connection) -> str:
    """What stands in a database, but for salts and what follows from them, whatever its pages look like."""
    found = sha256()
    tables = connection.execute("SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY name").fetchall()
    for (table,) in tables:
        columns = [row["name"] for row in connection.execute(f"PRAGMA table_info({table})")]
        kept = ", ".join(f'"{name}"' for name in columns if name not in {"salt", "seal"})
        for row in connection.execute(f"SELECT {kept} FROM {table} ORDER BY {kept}"):  # noqa: S608
            found.update(repr((table, *row)).encode())
    return found.hexdigest()


@contextmanager
def fresh(house: House, name: str) -> Iterator[House]:
    """The house in a folder of its own, with connections opened now."""
    folder = house.folder / name
    folder.mkdir()
    for file in ("vinemark.sqlite", "office.sqlite"):
        shutil.copy(house.folder / file, folder / file)
    weather = Weather(create_office(OfficeSettings(str(folder / "office.sqlite"), "token", CLOCK)))
    connection = connect(folder / "vinemark.sqlite")
    gateway = Gateway(OfficeClient("http://office", "token", weather))
    try:
        yield replace(
            house, folder=folder, connection=connection, weather=weather, gateway=gateway, snapshots=Snapshots()
        )
    finally:
        connection.close()
        # SQLite knows a file by its number: none may be open any more when that is given to another file.
        gc.collect()
        shutil.rmtree(folder)


def after(house: House) -> Connection:
    """The database as somebody finds it who comes later, whole."""
    connection = connect(house.folder / "vinemark.sqlite")
    assert list(faults_of(connection)) == []
    return connection


def save(house: House) -> None:
    """Some cells of two students, in one act under one key."""
    section = house.section(SHORT)
    people, items = section.course.enrolled()[:2], list(section.course.plan.columns)[:6]
    typed = [TypedCell(student.id, item, "1.5") for student in people for item in items]
    enter_scores(section, house.act(section, key="the save"), typed)


def submission(house: House) -> SectionState:
    """Signed and sent; each part is repeated where it was not done."""
    section = ready_or_signed(house)
    if not any(one.under_way for one in section.of_run.submissions):
        signed = sign(section, house.act(section, key="signed"), reason="looked at")
        assert not isinstance(signed, Refused), signed
    section = section.fresh()
    for made in section.of_run.submissions:
        if made.under_way:
            send(section, house.act(section), house.gateway, made)
    return section


def ready_or_signed(house: House) -> SectionState:
    """The section that had something to sign at first, whether it is signed by now or not."""
    return house.section(_signing[0]) if _signing else ready(house)


_signing: list[str] = []


def trials(house: House, disk: Disk, act: Callable[[House], object], name: str) -> Iterator[tuple[str, House]]:
    """The act on houses of their own, each failing at another write."""
    with fresh(house, f"{name}-counted") as one:
        disk.plan(NEVER)
        act(one)
        count = disk.calls
    assert count > 10
    draw = random.Random(seed(23))
    for at in range(1, count + 1):
        stays, code = draw.choice((False, True)), draw.choice((FULL, IO_WRITE, IO_SYNC))
        part = draw.choice((0.0, 0.3, 0.9))
        with fresh(house, f"{name}-{at}") as one:
            disk.plan(at, code, stays, part)
            yield f"{name}: call {at} of {count}, code {code}, stays {stays}, part {part}", one
    for at in range(MEMORY_TRIES):
        left = int(LARGEST_NEED * draw.random() ** 3)
        with fresh(house, f"{name}-memory-{at}") as one:
            disk.plan(None)
            with memory_left(left):
                yield f"{name}: {left} bytes of memory left", one


def test_a_save_is_there_or_not(house: House) -> None:
    with below_sqlite(Disk()) as disk:
        house.connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        before = digest_of(house.connection)
        with fresh(house, "whole") as one:
            save(one)
            whole = digest_of(one.connection)
        assert whole != before
        outcomes = {"none": 0, "all": 0}
        for said, one in trials(house, disk, save, "save"):
            failed = None
            try:
                save(one)
            except BROKEN as error:
                failed = error
            with memory_left(NEVER):
                disk.plan(None)
                connection = after(one)
                found = digest_of(connection)
                connection.close()
                assert found in {before, whole}, said
                # What was told to be saved is saved; of what failed, either may be.
                assert failed is not None or found == whole, said
                outcomes["all" if found == whole else "none"] += 1
                if one.connection.in_transaction:
                    one.connection.execute("ROLLBACK")
                save(replace(one, snapshots=Snapshots()))
                assert digest_of(one.connection) == whole, said
        print(f"a save: {sum(outcomes.values())} failures, {outcomes}")
        assert outcomes["none"] >= 10


def test_a_submission_is_there_once_or_not_at_all(house: House) -> None:
    with below_sqlite(Disk()) as disk:
        house.connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        _signing[:] = [ready(house).record.name.short]
        states: dict[str, int] = {}
        for said, one in trials(house, disk, submission, "submission"):
            with suppress(*BROKEN):
                submission(one)
            with memory_left(NEVER):
                disk.plan(None)
                after(one).close()
                if one.connection.in_transaction:
                    one.connection.execute("ROLLBACK")
                section = replace(one, snapshots=Snapshots()).section(_signing[0])
                sent = [made.state for made in section.of_run.submissions]
                states[sent[-1] if sent else "none"] = states.get(sent[-1] if sent else "none", 0) + 1
                submission(replace(one, snapshots=Snapshots()))
                found = replace(one, snapshots=Snapshots()).section(_signing[0]).of_run
                assert [made.state for made in found.submissions][-1] == "received", said
                assert len({made.key for made in found.submissions}) == len(found.submissions), said
                assert _at_registrar(one, found.submissions[-1].key) == 1, said
                assert found.submissions[-1].receipt is not None, said
        print(f"a submission: {sum(states.values())} failures, {states}")
        assert len(states) >= 3


def _at_registrar(house: House, key: str) -> int:
    connection = connect(Path(house.folder) / "office.sqlite")
    try:
        row = connection.execute("SELECT count(*) FROM sending WHERE key = ?", (key,)).fetchone()
        return int(row[0])
    finally:
        connection.close()
