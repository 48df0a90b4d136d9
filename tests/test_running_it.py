"""docs/running-it.md, by a newcomer on a clean folder: every command of it is run, in its order. What only a whole
machine has (its packages, accounts and services) is played by tests/shims.py; the proxy is run for real."""

import json
import os
import re
import shutil
import signal
import ssl
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from contextlib import closing, suppress
from pathlib import Path

import httpx
import pytest

from tests.faults.cutting import TOKEN, office_on_a_port
from tests.office.test_conformance import office
from tests.served import free_port
from vinemark.clock import Clock
from vinemark.settings import SETTINGS
from vinemark.store.copying import open_to_read

pytestmark = pytest.mark.many

REPOSITORY = Path(__file__).parent.parent
GUIDE = REPOSITORY / "docs" / "running-it.md"
PASSWORD_TWICE = "mosses on granite\nmosses on granite\n"
PLAYED = ("apt-get", "adduser", "systemctl", "journalctl", "runuser", "nginx")
PLACES = re.compile(r"(?<![\w.])/(opt/vinemark|srv/vinemark|srv/registrar|etc|var/backups|usr/local/sbin)(?=[/\s]|$)")


def blocks() -> list[list[str]]:
    """The commands of the guide, block by block."""
    found = re.findall(r"```sh\n(.*?)```", GUIDE.read_text(encoding="utf-8"), re.DOTALL)
    return [[line for line in block.splitlines() if line.strip()] for block in found]


class Machine:
    """A folder that stands for a machine's /."""

    def __init__(self, root: Path, source: Path, port: int, office_url: str) -> None:
        self.root, self.source, self.port, self.office_url = root, source, port, office_url
        shims = root / "shims"
        for folder in ("opt", "etc/systemd/system", "etc/nginx/sites-enabled", "usr/local/sbin", "var/backups", "srv"):
            (root / folder).mkdir(parents=True)
        shims.mkdir()
        for name in PLAYED:
            (shims / name).write_text(f'#!/bin/sh\nexec {sys.executable} {REPOSITORY}/tests/shims.py {name} "$@"\n')
            (shims / name).chmod(0o755)
        # Nobody is changed to another account, so nothing is given to one.
        (shims / "install").write_text('#!/bin/sh\nexec /usr/bin/install $(echo "$@" | sed "s/-[og] vinemark//g")\n')
        (shims / "install").chmod(0o755)
        self.environment = {
            **{key: value for key, value in os.environ.items() if not key.startswith("VINEMARK_")},
            "PATH": f"{shims}:{root}/usr/local/sbin:{os.environ['PATH']}", "FAKE_ROOT": str(root),
            "SOURCE": str(source), "GIT_CONFIG_GLOBAL": os.devnull, "GIT_CONFIG_NOSYSTEM": "1",
        }  # fmt: skip

    def run(self, line: str) -> str:
        """One command of the guide, in the folder that stands for /."""
        here = PLACES.sub(rf"{self.root}/\1", line)
        here = here.replace("https://registrar.example/", self.office_url)
        done = subprocess.run(
            ["bash", "-euc", here],
            env=self.environment,
            capture_output=True,
            text=True,
            check=False,
            input=PASSWORD_TWICE,
        )
        assert done.returncode == 0, f"{line}\n{done.stdout}\n{done.stderr}"
        return done.stdout + done.stderr

    def fill_in(self) -> None:
        """What somebody fills in: the settings of this college, and the ports of this machine."""
        file = self.root / "etc/vinemark.env"
        values = {
            "VINEMARK_OFFICE_URL": self.office_url,
            "VINEMARK_OFFICE_TOKEN": TOKEN,
            "VINEMARK_COLLEGE": "Larkmoor",
        }
        lines = [self._filled(line, values) for line in file.read_text(encoding="utf-8").splitlines()]
        file.write_text(PLACES.sub(rf"{self.root}/\1", "\n".join(lines)) + "\n", encoding="utf-8")
        admin = self.root / "usr/local/sbin/vinemark-admin"
        admin.write_text(PLACES.sub(rf"{self.root}/\1", admin.read_text(encoding="utf-8")), encoding="utf-8")
        for unit in (self.root / "etc/systemd/system").iterdir():
            unit.write_text(unit.read_text(encoding="utf-8").replace("8600", str(self.port)), encoding="utf-8")

    def _filled(self, line: str, values: dict[str, str]) -> str:
        key = line.partition("=")[0]
        return f"{key}={values[key]}" if key in values else line

    def health(self) -> object:
        with urllib.request.urlopen(f"http://127.0.0.1:{self.port}/health", timeout=10) as answer:
            return json.load(answer)

    def end(self) -> None:
        """Whatever became of the test, no service is left running."""
        for file in (self.root / "run").glob("*.pid"):
            with suppress(ProcessLookupError):
                os.killpg(int(file.read_text(encoding="utf-8")), signal.SIGKILL)

    def played(self) -> str:
        return (self.root / "run/played").read_text(encoding="utf-8")


@pytest.fixture(scope="module")
def source(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The repository as somebody has it, with one version before this one: the same, but for its name."""
    folder = tmp_path_factory.mktemp("source") / "vinemark"
    ignored = shutil.ignore_patterns(".venv", ".git", "demo-data", "__pycache__", ".hypothesis", ".*_cache", "tests")
    shutil.copytree(REPOSITORY, folder, ignore=ignored)
    git(folder, "init", "--quiet", "--initial-branch=main")
    commit(folder, "former")
    return folder


def git(folder: Path, *arguments: str) -> None:
    name = ["-c", "user.name=T", "-c", "user.email=t@example.invalid"]
    subprocess.run(["git", "-C", str(folder), *name, *arguments], check=True)


def commit(folder: Path, message: str) -> None:
    git(folder, "add", "--all")
    git(folder, "commit", "--quiet", "--message", message)


def newer(folder: Path) -> None:
    """The next version: one more step of the schema."""
    later = folder / "src/vinemark/store/schema/9999_later.sql"
    later.write_text("CREATE TABLE later (x INTEGER) STRICT;\n", encoding="utf-8")
    commit(folder, "newer")


def test_a_newcomer_installs_upgrades_and_goes_back_by_the_guide_alone(
    source: Path, tmp_path: Path, request: pytest.FixtureRequest
) -> None:
    install, begin, proxy, upgrade, back, by_files, several, second = blocks()
    office(tmp_path)
    with office_on_a_port(tmp_path / "office.sqlite", Clock()) as office_port:
        machine = Machine(tmp_path / "root", source, free_port(), f"http://127.0.0.1:{office_port}")
        request.addfinalizer(machine.end)
        for line in install:
            machine.run(line)
        machine.fill_in()
        said = [machine.run(line.replace("--instructor maren@larkmoor.example", "--instructor t@x")) for line in begin]
        assert machine.health() == {"status": "ok"}
        assert "The code for making the first one: " in "".join(said)
        assert "All is kept that was tried" in "".join(said)
        assert len(list((machine.root / "var/backups/vinemark").glob("*.sqlite"))) == 2
        for line in [*proxy, *by_files, *second]:
            machine.run(line)
        assert "All is well" in "".join(machine.run(line) for line in several)
        assert {"fall-2027.sqlite", "sciences.sqlite"} <= {
            path.name for path in (machine.root / "srv/vinemark").iterdir()
        }
        newer(source)
        assert "All is well" in "".join(machine.run(line) for line in upgrade)
        assert machine.health() == {"status": "ok"}
        assert tables(machine) == {"later"}
        for line in back:
            machine.run(line)
        assert machine.health() == {"status": "ok"}
        assert tables(machine) == set()
        machine.run("systemctl stop vinemark.service")
    for name in PLAYED:
        assert name in machine.played()


def tables(machine: Machine) -> set[str]:
    with closing(open_to_read(machine.root / "srv/vinemark/vinemark.sqlite")) as connection:
        return {"later"} & {row["name"] for row in connection.execute("SELECT name FROM sqlite_master")}


def test_the_settings_of_the_service_are_settings() -> None:
    named = re.findall(r"^(\w+)=", (REPOSITORY / "deploy/vinemark.env").read_text(encoding="utf-8"), re.MULTILINE)
    assert set(named) <= {setting.name for setting in SETTINGS}


@pytest.mark.skipif(shutil.which("systemd-analyze") is None, reason="systemd is not on this machine")
def test_systemd_finds_nothing_wrong_in_the_units(tmp_path: Path) -> None:
    program = tmp_path / "vinemark"
    program.touch(mode=0o755)
    for unit in (REPOSITORY / "deploy").glob("vinemark*.service"):
        there = tmp_path / unit.name
        text = unit.read_text(encoding="utf-8")
        there.write_text(text.replace("/opt/vinemark/.venv/bin/vinemark", str(program)), encoding="utf-8")
    for unit in (REPOSITORY / "deploy").glob("*.timer"):
        shutil.copy(unit, tmp_path / unit.name)
    units = [str(path) for path in tmp_path.iterdir() if path.suffix in {".service", ".timer"}]
    assert len(units) == 5
    done = subprocess.run(
        ["systemd-analyze", "verify", *units],
        capture_output=True,
        text=True,
        check=False,
    )
    mine = [line for line in done.stderr.splitlines() if "vinemark" in line]
    assert mine == []


@pytest.fixture
def proxied(tmp_path: Path) -> Iterator[tuple[httpx.Client, Path]]:
    """Vine Mark behind nginx as the guide has it, on ports of its own, with a certificate made here."""
    port, plain, secure = free_port(), free_port(), free_port()
    subprocess.run(
        ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "1", "-subj", "/CN=vinemark.example",
         "-keyout", str(tmp_path / "key.pem"), "-out", str(tmp_path / "chain.pem")],
        check=True, capture_output=True,
    )  # fmt: skip
    site = (REPOSITORY / "deploy/nginx.conf").read_text(encoding="utf-8")
    for before, after in (
        ("listen 80;", f"listen 127.0.0.1:{plain};"), ("listen 443 ssl", f"listen 127.0.0.1:{secure} ssl"),
        ("/etc/ssl/vinemark", str(tmp_path)), ("/etc/nginx/vinemark", str(tmp_path / "none")),
        ("127.0.0.1:8600", f"127.0.0.1:{port}"),
    ):  # fmt: skip
        assert before in site
        site = site.replace(before, after)
    kept = "".join(
        f"{name}_temp_path {tmp_path}/{name};\n" for name in ("client_body", "proxy", "fastcgi", "uwsgi", "scgi")
    )
    (tmp_path / "nginx.conf").write_text(
        f"daemon off; pid {tmp_path}/pid; error_log {tmp_path}/error.log; events {{}}\n"
        f"http {{ access_log off;\n{kept}{site}}}\n",
        encoding="utf-8",
    )
    database = tmp_path / "v.sqlite"
    settings = {
        "VINEMARK_DATABASE": str(database), "VINEMARK_TRUSTED_PROXY": "127.0.0.1", "VINEMARK_FIRST_CODE": "moss-fern",
    }  # fmt: skip
    command = [sys.executable, "-m", "vinemark.cli", "serve", "--port", str(port), "--workers", "1"]
    server = subprocess.Popen(command, env={**os.environ, **settings})
    nginx = subprocess.Popen(["nginx", "-p", str(tmp_path), "-c", str(tmp_path / "nginx.conf")])
    trusting = ssl.create_default_context(cafile=str(tmp_path / "chain.pem"))
    trusting.check_hostname = False
    try:
        with httpx.Client(base_url=f"https://127.0.0.1:{secure}", verify=trusting, timeout=20) as client:
            for _ in range(200):
                try:
                    if client.get("/health").status_code == 200:
                        break
                except httpx.TransportError:
                    pass
                time.sleep(0.1)
            client.headers["Host"] = "vinemark.example"
            yield client, database
    finally:
        nginx.terminate()
        server.terminate()
        nginx.wait(20)
        server.wait(20)


@pytest.mark.skipif(shutil.which("nginx") is None, reason="nginx is not on this machine")
def test_behind_the_proxy_of_the_guide(proxied: tuple[httpx.Client, Path]) -> None:
    client, database = proxied
    page = client.get("/first-account")
    token = re.search(r'name="csrf_token" value="([^"]+)"', page.text)
    assert token is not None
    form = {
        "csrf_token": token[1], "code": "moss-fern", "name": "Maren", "email": "m@larkmoor.example",
        "password": "mosses on granite", "again": "mosses on granite",
    }  # fmt: skip
    forged = {"Referer": "https://vinemark.example/first-account", "X-Forwarded-For": "10.9.8.7"}
    made = client.post("/first-account", data=form, headers=forged)
    assert made.status_code == 302, made.text
    cookies = made.headers.get_list("set-cookie")
    assert cookies
    assert all("Secure" in cookie and "HttpOnly" in cookie for cookie in cookies)
    environment = {**os.environ, "VINEMARK_DATABASE": str(database)}
    log = subprocess.run(
        [sys.executable, "-m", "vinemark.cli", "security-log"],
        env=environment,
        capture_output=True,
        text=True,
        check=True,
    ).stdout
    # What a browser says of itself is not believed; what the proxy saw is.
    assert "10.9.8.7" not in log
    assert "127.0.0.1" in log
    plain = client.get("/", headers={"X-Forwarded-Proto": "http"})
    assert plain.status_code in {200, 302}
