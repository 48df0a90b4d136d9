"""Each planted ill is found, in a sentence that says where; a healthy database has none."""

import shutil
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path

import pytest

from tests.section.conftest import NOW, House
from tests.section.delivery.test_worker import ready
from vinemark.section import health
from vinemark.section.acts.submit import sign
from vinemark.section.health import ills_of_database, ills_of_files
from vinemark.store.database import Connection, connect

DAYS = timedelta(days=3)


def found(house: House) -> list[str]:
    return list(ills_of_database(house.connection, NOW))


def test_a_healthy_database_has_no_ill(house: House) -> None:
    assert found(house) == []


def damaged(statement: str) -> Callable[[Connection], None]:
    def act(connection: Connection) -> None:
        connection.execute("PRAGMA foreign_keys = OFF")
        connection.execute(statement)
        connection.execute("PRAGMA foreign_keys = ON")

    return act


A_SCORE = "(SELECT rowid FROM score WHERE section_id = 1 AND cell GLOB '[0-9]*' LIMIT 1)"


@pytest.mark.parametrize(
    ("statement", "said"),
    [
        (f"UPDATE score SET cell = '0.25' WHERE rowid = {A_SCORE}", "has another score"),  # noqa: S608
        ("UPDATE history SET what = 'nothing' WHERE id = 9", "entry 9: was altered"),
        ("DELETE FROM history WHERE id = (SELECT max(id) - 3 FROM history WHERE section_id = 1)", "or stands after"),
        ("UPDATE history SET seal = NULL WHERE id = (SELECT max(id) FROM history WHERE section_id = 1)", "has no seal"),
        ("UPDATE settled SET settled = json_set(settled, '$.grade', 'A') WHERE run = 'final'"
         " AND json_extract(settled, '$.grade') = 'C'", "is another than the history left"),
        ("UPDATE sending SET receipt = '{}' WHERE receipt IS NOT NULL", "cannot be read"),
        ("UPDATE sending SET receipt = NULL WHERE receipt IS NOT NULL", "is received, and has no receipt"),
        ("DELETE FROM student WHERE id = (SELECT student_id FROM score LIMIT 1)", "refers to one of student"),
        ("INSERT INTO migration VALUES ('9999_later.sql', '')", "of a newer version (9999_later.sql)"),
        ("DROP TABLE migration", "no database of Vine Mark"),
        ("UPDATE plan_version SET plan = '{' WHERE section_id = 1", "cannot be read"),
        ("UPDATE numbered SET number = 3", "is number 3, and databases.toml calls it 0"),
        ("UPDATE numbered SET next_section = 2", "would get the id of one that is there"),
    ],
)  # fmt: skip
def test_each_ill_inside_is_found(house: House, statement: str, said: str) -> None:
    damaged(statement)(house.connection)
    ills = found(house)
    assert any(said in ill for ill in ills), ills


def test_a_damaged_page_is_found(house: House) -> None:
    house.connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    house.connection.close()
    path = house.folder / "vinemark.sqlite"
    data = bytearray(path.read_bytes())
    middle = len(data) // 2 // 4096 * 4096
    data[middle : middle + 2000] = b"\xff" * 2000
    path.write_bytes(data)
    house.connection = connect(path)
    assert any("is damaged" in ill for ill in found(house))


def test_a_clock_behind_what_was_saved_is_found(house: House) -> None:
    ills = list(ills_of_database(house.connection, NOW - DAYS))
    assert len(ills) == 1
    assert "set the clock" in ills[0]


def test_grades_that_wait_for_days_are_found(house: House) -> None:
    section = ready(house)
    sign(section, house.act(section), reason="looked at")
    ills = list(ills_of_database(house.connection, NOW + DAYS))
    assert [ill for ill in ills if "have not reached the registrar" in ill]
    assert not any("have not reached" in ill for ill in found(house))


@pytest.fixture
def place(house: House) -> Path:
    path = house.folder / "vinemark.sqlite"
    path.chmod(0o600)
    secret = path.with_suffix(".secret")
    secret.write_text("s" * 64)
    secret.chmod(0o600)
    return path


def test_files_as_they_should_be_have_no_ill(place: Path) -> None:
    assert list(ills_of_files(place, "", place.with_suffix(".secret"))) == []
    assert list(ills_of_files(place, "t" * 40, place.with_suffix(".secret"))) == []


@pytest.mark.parametrize(
    ("spoil", "said"),
    [
        (lambda path: path.chmod(0o644), "vinemark.sqlite can be read by others"),
        (lambda path: path.with_suffix(".secret").unlink(), ".secret is not there"),
        (lambda path: path.with_suffix(".secret").write_text(""), "is empty or was cut"),
        (lambda path: path.with_suffix(".secret").chmod(0o640), ".secret can be read by others"),
        (lambda path: path.with_name("vinemark.sqlite.unfinished").touch(), "was left by a restore"),
    ],
)
def test_each_ill_of_the_files_is_found(place: Path, spoil: Callable[[Path], object], said: str) -> None:
    spoil(place)
    (ill,) = ills_of_files(place, "", place.with_suffix(".secret"))
    assert said in ill


def test_a_short_secret_a_full_disk_and_a_log_that_grew_are_found(place: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    assert "could be guessed" in next(ills_of_files(place, "short", place.with_suffix(".secret")))
    monkeypatch.setattr(shutil, "disk_usage", lambda _: shutil._ntuple_diskusage(10, 9, 1))
    assert "make room" in next(ills_of_files(place, "", place.with_suffix(".secret")))
    monkeypatch.undo()
    monkeypatch.setattr(health, "LARGEST_LOG", -1)
    place.with_name("vinemark.sqlite-wal").touch()
    assert "restart the server" in next(ills_of_files(place, "", place.with_suffix(".secret")))


def test_a_folder_that_cannot_be_written_is_found(place: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("os.access", lambda *_: False)
    assert "cannot be written" in next(ills_of_files(place, "", place.with_suffix(".secret")))
