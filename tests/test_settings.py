"""Settings as the environment has them: what is wrong is said at its name, by every command, in one line."""

import os
import subprocess
import sys
from datetime import date
from pathlib import Path

import pytest

from vinemark.core.base.moments import use_zone
from vinemark.core.base.refused import Refused
from vinemark.settings import SETTINGS, from_environment, unknown_settings

SEVERAL = """
[home]
address = "http://10.0.0.11:8600"

[[database]]
number = 1
file = "soil.sqlite"
departments = ["SOIL"]
"""


@pytest.fixture(autouse=True)
def clean(monkeypatch: pytest.MonkeyPatch) -> None:
    """No setting of whoever runs the tests; the zone is put back."""
    for name in [name for name in os.environ if name.startswith("VINEMARK_")]:
        monkeypatch.delenv(name)
    monkeypatch.setattr("vinemark.settings.use_zone", lambda _: None)
    use_zone(None)


@pytest.mark.parametrize(
    ("name", "value", "said"),
    [
        ("VINEMARK_DAY", "never", "must be a day, YYYY-MM-DD, not never"),
        ("VINEMARK_TIME", "noon", "must be a time, HH:MM, not noon"),
        ("VINEMARK_DELIVER_SECONDS", "soon", "must be a number of seconds, not soon"),
        ("VINEMARK_TWO_STEPS", "yes", "must be 0 or 1, not yes"),
        ("VINEMARK_DEMO", "true", "must be 0 or 1, not true"),
        ("VINEMARK_SECURE_COOKIES", "on", "must be 0 or 1, not on"),
        ("VINEMARK_PAPER", "A5", "must be one of letter, A4"),
        ("VINEMARK_ZONE", "Nowhere/At all", "must be a zone like"),
        ("VINEMARK_DATES", "year", "must be"),
        ("VINEMARK_DATABASES", "/no/such/file.toml", "No such file"),
        ("VINEMARK_SERVES", "first", "must be numbers of databases"),
        ("VINEMARK_SERVES", "2", "names 2, which databases.toml does not have"),
    ],
)
def test_what_is_wrong_is_said_at_its_name(monkeypatch: pytest.MonkeyPatch, name: str, value: str, said: str) -> None:
    monkeypatch.setenv(name, value)
    with pytest.raises(Refused, match=said) as caught:
        from_environment()
    assert caught.value.field == name


def test_each_wrong_setting_is_one_line_of_a_command(tmp_path: Path) -> None:
    environment = {**os.environ, "VINEMARK_DATABASE": str(tmp_path / "v.sqlite"), "VINEMARK_DAY": "never"}
    for command in ("serve", "check", "security-log"):
        done = subprocess.run(
            [sys.executable, "-m", "vinemark.cli", command],
            env=environment, capture_output=True, text=True, check=False,
        )  # fmt: skip
        assert (done.returncode, done.stderr) == (2, "error: VINEMARK_DAY: must be a day, YYYY-MM-DD, not never\n")


def test_a_misspelt_setting_is_named_with_the_one_that_was_meant(monkeypatch: pytest.MonkeyPatch) -> None:
    assert unknown_settings() == []
    monkeypatch.setenv("VINEMARK_OFICE_URL", "http://x")
    monkeypatch.setenv("VINEMARK_XYZZY", "1")
    monkeypatch.setenv("VINEMARK_TEST_SEED", "7")
    assert unknown_settings() == [
        "VINEMARK_OFICE_URL is no setting; VINEMARK_OFFICE_URL is one",
        "VINEMARK_XYZZY is no setting",
    ]


def test_switches_and_the_rest_are_read(monkeypatch: pytest.MonkeyPatch) -> None:
    plain = from_environment()
    assert (plain.secure_cookies, plain.two_steps, plain.deliver_seconds) == (None, False, 20)
    assert [one.file for one in plain.databases.here] == ["vinemark.sqlite"]
    for name, value in (("SECURE_COOKIES", "0"), ("TWO_STEPS", "1"), ("DELIVER_SECONDS", "5"), ("DAY", "2026-12-19")):
        monkeypatch.setenv(f"VINEMARK_{name}", value)
    found = from_environment()
    assert (found.secure_cookies, found.two_steps, found.deliver_seconds) == (False, True, 5)
    assert found.clock.now().date() == date(2026, 12, 19)


def test_several_databases_are_read_from_their_file(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    file = tmp_path / "databases.toml"
    file.write_text(SEVERAL, encoding="utf-8")
    monkeypatch.setenv("VINEMARK_DATABASES", str(file))
    found = from_environment().databases
    assert [(one.number, one.file) for one in found.here] == [
        (0, "vinemark.sqlite"),
        (1, str(tmp_path / "soil.sqlite")),
    ]
    monkeypatch.setenv("VINEMARK_SERVES", "0")
    with pytest.raises(Refused, match="the address of the machine that serves database 1"):
        from_environment()
    monkeypatch.setenv("VINEMARK_SERVES", " 1 ")
    assert [one.number for one in from_environment().databases.here] == [1]
    file.write_text("x = [", encoding="utf-8")
    with pytest.raises(Refused, match="no TOML"):
        from_environment()


def test_every_setting_says_what_it_is() -> None:
    assert all(setting.help for setting in SETTINGS)
