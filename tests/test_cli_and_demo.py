"""The command line, and the demo that is the same every time."""

import shutil
import socket
import sqlite3
import subprocess
import sys
from dataclasses import replace
from importlib.metadata import version
from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner

from tests.builders import category, course, plan
from vinemark.cli import main
from vinemark.core.base.refused import Refused
from vinemark.demo.build import build
from vinemark.exchange import archive, course_file
from vinemark.section.acts.accounts import SignedIn, TypedSignIn, sign_in
from vinemark.settings import SETTINGS, Settings
from vinemark.store import people, sign_ins
from vinemark.store.database import connect
from vinemark.web import create_app, secret_is_another

README = Path(__file__).parent.parent / "README.md"
RUNNING = Path(__file__).parent.parent / "docs" / "running-it.md"


def contents(path: Path) -> dict[str, list[tuple[object, ...]]]:
    connection = sqlite3.connect(path)
    tables = [r[0] for r in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY name")]
    found = {t: sorted(map(repr, connection.execute(f"SELECT * FROM {t}"))) for t in tables if t != "migration"}  # noqa: S608
    connection.close()
    return found  # type: ignore[return-value]


def test_the_demo_is_the_same_every_time(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("vinemark.passwords.PasswordHasher.hash", lambda *_: "hash")
    monkeypatch.setattr("vinemark.store.chain.new_salt", lambda: "00" * 16)
    for name in "ab":
        build(tmp_path / f"{name}.sqlite", tmp_path / f"{name}-office.sqlite")
    assert contents(tmp_path / "a.sqlite") == contents(tmp_path / "b.sqlite")
    assert contents(tmp_path / "a-office.sqlite") == contents(tmp_path / "b-office.sqlite")
    connection = sqlite3.connect(tmp_path / "a.sqlite")
    names = connection.execute("SELECT family_name, given_name FROM student").fetchall()
    connection.close()
    assert len(names) == len(set(names)) == 34 + 72 + 14 + 9 + 20
    assert ("Suharti", "") in names


def test_people_are_added_from_the_command_line(tmp_path: Path) -> None:
    environment = {"VINEMARK_DATABASE": str(tmp_path / "v.sqlite")}
    arguments = ["user", "tove@larkmoor.example", "Tove Arnesen", "--password", "moss on stone"]
    first, second = (CliRunner().invoke(main, arguments, env=environment) for _ in range(2))
    assert (first.exit_code, second.exit_code) == (0, 2)
    assert "has an account already" in second.stderr
    short = CliRunner().invoke(main, [*arguments[:3], "--password", "short"], env=environment)
    assert (short.exit_code, "10 characters" in short.stderr) == (2, True)
    connection = connect(tmp_path / "v.sqlite")
    assert people.by_email(connection, "TOVE@larkmoor.example") is not None
    connection.close()


def test_an_account_is_closed_and_opened_again_from_the_command_line(tmp_path: Path) -> None:
    environment = {"VINEMARK_DATABASE": str(tmp_path / "v.sqlite")}

    def run(*arguments: str) -> tuple[int, str]:
        found = CliRunner().invoke(main, arguments, env=environment)
        return found.exit_code, found.output

    run("user", "tove@larkmoor.example", "Tove Arnesen", "--password", "moss on stone")
    connection = connect(tmp_path / "v.sqlite")
    typed = TypedSignIn("tove@larkmoor.example", "moss on stone", "10.0.0.1", "a browser")
    signed_in = sign_in(connection, typed, 1000.0, False)
    assert isinstance(signed_in, SignedIn)
    closed = run("close-account", "Tove@larkmoor.example")
    assert closed == (0, "The account of Tove Arnesen is closed; signed out at 1 place.\n")
    assert sign_ins.person_of(connection, signed_in.key, 1001.0) is None
    assert isinstance(sign_in(connection, typed, 1002.0, False), Refused)
    assert isinstance(sign_in(connection, replace(typed, password=""), 1003.0, False), Refused)
    assert run("new-password", "tove@larkmoor.example", "--password", "tove")[0] == 2
    assert run("new-password", "tove@larkmoor.example", "--password", "lichen on a wall")[0] == 0
    assert isinstance(sign_in(connection, replace(typed, password="lichen on a wall"), 1004.0, False), SignedIn)
    assert run("close-account", "nobody@larkmoor.example")[0] == 2
    connection.close()


@pytest.mark.parametrize("command", ["serve", "demo"])
def test_a_taken_port_gives_a_clear_message(command: str, tmp_path: Path) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = str(taken.getsockname()[1])
        options = ["--data", str(tmp_path)] if command == "demo" else []
        found = CliRunner().invoke(main, [command, "--port", port, *options])
    assert found.exit_code == 2
    assert f"port {port} is taken; choose another with --port" in found.stderr
    assert list(tmp_path.iterdir()) == []


def said_by(command: str, folder: Path, *more: str, **settings: str) -> str:
    """What a command that cannot go on says, and that it ends with the status of a wrong use."""
    environment = {"PATH": "", "VINEMARK_DATABASE": str(folder / "vinemark.sqlite"), **settings}
    done = subprocess.run(
        [sys.executable, "-m", "vinemark.cli", command, *more],
        env=environment, capture_output=True, text=True, check=False, timeout=60,
    )  # fmt: skip
    assert done.returncode == 2, done.stderr
    return done.stderr


def test_a_missing_folder_is_named_with_what_to_do(tmp_path: Path) -> None:
    for command, more in (("serve", ("--port", "0")), ("new-password", ("a@larkmoor.example",)), ("security-log", ())):
        said = said_by(command, tmp_path / "nowhere", *more)
        assert f"{tmp_path}/nowhere" in said
        assert "VINEMARK_DATABASE" in said


def test_what_is_no_database_is_said_to_be_none(tmp_path: Path) -> None:
    (tmp_path / "vinemark.sqlite").write_text("Tuesday " * 1000)
    assert "restore the latest backup" in said_by("serve", tmp_path, "--port", "0")


def test_a_secret_that_was_cut_stops_the_start_and_a_changed_one_is_told(demo_folder: Path, tmp_path: Path) -> None:
    shutil.copy(demo_folder / "vinemark.sqlite", tmp_path / "vinemark.sqlite")
    secret = tmp_path / "vinemark.secret"
    settings = Settings(database=str(tmp_path / "vinemark.sqlite"), cheap_hashes=True)
    assert not secret_is_another(create_app(settings))
    kept = secret.read_text()
    secret.write_text(kept[:10])
    assert "everybody signs in again" in said_by("serve", tmp_path, "--port", "0")
    secret.write_text(kept[::-1])
    assert "put the former one back" in said_by(
        "check", tmp_path, "--offline", VINEMARK_DAY="2026-12-19", VINEMARK_TIME="10:20"
    )
    assert secret_is_another(create_app(settings))
    assert not secret_is_another(create_app(settings))


def test_the_office_wants_a_token(tmp_path: Path) -> None:
    found = CliRunner().invoke(
        main, ["office", "--port", "0", "--database", str(tmp_path / "o.sqlite")], env={"VINEMARK_OFFICE_TOKEN": ""}
    )
    assert (found.exit_code, "VINEMARK_OFFICE_TOKEN" in found.stderr) == (2, True)


def test_an_archive_is_verified_on_its_own_from_the_command_line(tmp_path: Path) -> None:
    of = course(plan(category("100")), {"ada": ["85"]})
    names = ("office", "read_back", "remarks", "access", "opened", "stands", "plans", "scores")
    beside: dict[str, Any] = {name: [] for name in names}
    beside["scores"] = [{"student_id": "ada", "item_id": "i0", "cell": "85"}]
    made = archive.Archive(course=course_file.course_text(of), made_at="2026-12-20T09:00:00", beside=beside)
    data = archive.write_archive(made)
    whole, spoilt, mended = (tmp_path / f"{name}.zip" for name in ("whole", "spoilt", "mended"))
    whole.write_bytes(data)
    spoilt.write_bytes(data[:-40])
    mended.write_bytes(archive.write_archive(replace(made, syllabus="Exams 100%")))
    found = CliRunner().invoke(main, ["verify", str(whole)])
    assert (found.exit_code, found.stderr) == (0, "")
    assert "files agree with the checksums of the manifest" in found.stdout
    assert found.stdout.endswith("The archive holds together, and no part contradicts another.\n")
    for bad in (spoilt, tmp_path / "none.zip"):
        refused = CliRunner().invoke(main, ["verify", str(bad)])
        assert (refused.exit_code, refused.stdout, refused.stderr.count("\n")) == (2, "", 1)
        assert refused.stderr.startswith("error: ")
    listed = tmp_path / "receipts.csv"
    listed.write_text("Receipt,Run,Received,Signed By,Taken,Refused,Digest,History Seal\n")
    held = CliRunner().invoke(main, ["verify", str(whole), "--receipts", str(listed)])
    numbers = [one["receipt"]["number"] for one in made.submissions if one["receipt"]]
    assert held.exit_code == (2 if numbers else 0)
    assert all(f"receipt {number}: the archive has it, and the registrar" in held.stderr for number in numbers)
    contradicted = CliRunner().invoke(main, ["verify", str(mended)])
    assert contradicted.exit_code == 2
    assert "syllabus.txt: is another text than the syllabus of the course file" in contradicted.stderr
    assert "contradicts itself (once)" in contradicted.stderr


def test_a_database_is_backed_up_lost_and_restored_from_the_command_line(demo_folder: Path, tmp_path: Path) -> None:
    place = tmp_path / "v.sqlite"
    shutil.copy(demo_folder / "vinemark.sqlite", place)
    place.chmod(0o600)
    environment = {"VINEMARK_DATABASE": str(place), "VINEMARK_SECRET": "s" * 40, "VINEMARK_DAY": "2026-12-19",
                   "VINEMARK_TIME": "10:20"}  # fmt: skip

    def run(*arguments: object) -> tuple[int, str]:
        found = CliRunner().invoke(main, [str(one) for one in arguments], env=environment)
        return found.exit_code, found.output

    copy = tmp_path / "copy.sqlite"
    assert run("backup", copy)[0] == 0
    assert run("backup", copy) == (2, f"error: {copy} is there already; choose another name, or add --replace\n")
    assert run("backup", "--replace", copy)[0] == 0
    assert run("backup", place, "--replace") == (2, "error: the copy needs another name than the database\n")
    assert run("restore", place) == (2, "error: this is the database itself\n")
    assert run("backup", tmp_path / "none" / "copy.sqlite")[0] == 2
    place.write_bytes(b"spilled")
    assert run("check", "--offline")[0] == 2
    assert run("restore", tmp_path / "none.sqlite")[0] == 2
    assert place.read_bytes() == b"spilled"
    status, said = run("restore", copy)
    assert (status, "What was there before is v.sqlite.before-20261219" in said) == (0, True)
    assert run("check", "--offline") == (0, "All is well: 5 sections, each with a history that holds together.\n")
    assert "VINEMARK_OFFICE_TOKEN is shorter" in run("check")[1]
    environment["VINEMARK_OFFICE_TOKEN"] = "a secret that both sides know, long enough"
    status, said = run("check")
    assert (status, "the registrar at http://127.0.0.1:8601 does not answer" in said) == (2, True)


def test_every_section_is_exported_and_each_archive_verified(demo_folder: Path, tmp_path: Path) -> None:
    environment = {"VINEMARK_DATABASE": str(demo_folder / "vinemark.sqlite"), "VINEMARK_DAY": "2026-12-19"}
    folder = tmp_path / "all"
    found = CliRunner().invoke(main, ["export-all", str(folder)], env=environment)
    assert (found.exit_code, found.output) == (0, f"5 sections in {folder}.\n")
    files = sorted(folder.iterdir())
    assert files[0].name == "00001-Fall-2026-HYDR-230-01.zip"
    for path in files:
        assert CliRunner().invoke(main, ["verify", str(path)]).exit_code == 0, path
    again = CliRunner().invoke(main, ["export-all", str(folder)], env=environment)
    assert (again.exit_code, again.output) == (2, f"error: {folder} is not empty\n")
    none = CliRunner().invoke(main, ["export-all", str(folder)], env={"VINEMARK_DATABASE": str(tmp_path / "none")})
    assert none.exit_code == 2


def test_a_newer_database_is_refused_by_every_command_that_opens_it(demo_folder: Path, tmp_path: Path) -> None:
    place = tmp_path / "v.sqlite"
    shutil.copy(demo_folder / "vinemark.sqlite", place)
    with sqlite3.connect(place) as connection:
        connection.execute("INSERT INTO migration VALUES ('9999_later.sql', '2027-01-01')")
    connection.close()
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = str(free.getsockname()[1])
    for arguments in (
        ["serve", "--port", port], ["user", "a@x.example", "A", "--password", "moss on stone"], ["security-log"],
        ["backup", str(tmp_path / "copy.sqlite")], ["export-all", str(tmp_path / "all")], ["check", "--offline"],
    ):  # fmt: skip
        found = CliRunner().invoke(main, arguments, env={"VINEMARK_DATABASE": str(place)})
        assert found.exit_code == 2, arguments
        assert "of a newer version (9999_later.sql)" in found.output, arguments


def test_the_version_is_that_of_the_package() -> None:
    assert CliRunner().invoke(main, ["--version"]).output == f"Vine Mark {version('vinemark')}\n"


def test_every_setting_and_command_stands_in_the_documents() -> None:
    text = RUNNING.read_text(encoding="utf-8")
    assert [s.name for s in SETTINGS if s.name not in text] == []
    assert [name for name in main.commands if f"vinemark {name}" not in text] == []


def test_every_picture_of_the_readme_is_there() -> None:
    linked = {
        line.split("(")[1].split(")")[0] for line in README.read_text("utf-8").splitlines() if line.startswith("![")
    }
    there = {f"docs/screenshots/{p.name}" for p in (README.parent / "docs" / "screenshots").glob("*.png")}
    assert linked == there
    assert len(there) < 20


@pytest.mark.parametrize(
    ("command", "spared"),
    [
        ("compute", {"flask", "openpyxl", "docx", "pdfplumber", "weasyprint", "waitress"}),
        ("audit", {"flask", "openpyxl", "docx", "pdfplumber", "weasyprint", "waitress"}),
        ("office", {"openpyxl", "docx", "pdfplumber", "weasyprint", "vinemark.web"}),
    ],
)
def test_a_command_loads_only_what_it_needs(command: str, spared: set[str]) -> None:
    code = f"import sys; from vinemark.cli import main; main(['{command}', '--help'], standalone_mode=False)"
    code += "; print('loaded:', *sys.modules)"
    told = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout
    loaded = set(told.split("loaded:")[1].split())
    assert "click" in loaded
    assert not spared & loaded
