"""The command line: serve, office, user, compute, audit, read-syllabus, verify, demo."""

import getpass
import json
import os
import secrets
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import Any

import click
from flask import Flask
from gunicorn.app.base import BaseApplication

from vinemark import demo as demo_data
from vinemark.core.audit import audit, findings_json
from vinemark.core.base.refused import Refused
from vinemark.core.base.refused import iso_day as read_day
from vinemark.core.course.read_plan import refuse_broken_scale
from vinemark.core.grade.results import results
from vinemark.core.syllabus import read_syllabus
from vinemark.core.syllabus.written import syllabus_json
from vinemark.exchange.archive import read_archive
from vinemark.exchange.course_file import read_bytes
from vinemark.exchange.results_csv import results_csv
from vinemark.exchange.syllabus_file import read_text
from vinemark.office.app import OfficeSettings, create_office
from vinemark.passwords import hasher
from vinemark.section.acts.accounts import account_errors
from vinemark.section.delivery.worker import Worker
from vinemark.settings import SETTINGS, from_environment
from vinemark.store import people
from vinemark.store.database import connect, migrate
from vinemark.store.history import Act
from vinemark.web import create_app

PORT = 8600
OFFICE_PORT = 8601


@click.group(epilog="Settings come from the environment: " + ", ".join(s.name for s in SETTINGS) + ".")
def main() -> None:
    """Vine Mark: from the grading part of a syllabus to the registrar's receipt."""


def _fail(text: str) -> None:
    click.echo(f"error: {text}", err=True)
    sys.exit(2)


def _refuse_taken(port: int, option: str) -> None:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            _fail(f"port {port} is taken; choose another with {option}")


def _run_server(app: Flask, host: str, port: int, on_start: Callable[[], None] = lambda: None) -> None:
    """Gunicorn with one process and threads: SQLite's writers wait for one another anyway.

    `on_start` runs in the process that serves.
    """

    class Server(BaseApplication):  # type: ignore[misc]
        def load_config(self) -> None:
            options: dict[str, Any] = {
                "bind": f"{host}:{port}",
                "worker_class": "gthread",
                "workers": 1,
                "threads": 8,
                "loglevel": "warning",
                "control_socket_disable": True,
            }
            for key, value in options.items():
                if key in self.cfg.settings:
                    self.cfg.set(key, value)

        def load(self) -> Flask:
            on_start()
            return app

    Server().run()


@main.command()
@click.option("--host", default="127.0.0.1", show_default=True, help="Address to listen on.")
@click.option("--port", default=PORT, show_default=True, help="Port to listen on.")
def serve(host: str, port: int) -> None:
    """Serve Vine Mark."""
    _refuse_taken(port, "--port")
    settings = from_environment()
    app = create_app(settings)
    gateway = app.extensions["vinemark.gateway"]
    worker = Worker(settings.database, gateway.of_worker(), settings.clock, settings.deliver_seconds)
    _run_server(app, host, port, worker.start)


@main.command()
@click.option("--host", default="127.0.0.1", show_default=True, help="Address to listen on.")
@click.option("--port", default=OFFICE_PORT, show_default=True, help="Port to listen on.")
@click.option("--database", default="office.sqlite", show_default=True, help="The office's own database file.")
@click.option("--answer-delay", default=0.0, help="Seconds between keeping a sending and answering it.")
def office(host: str, port: int, database: str, answer_delay: float) -> None:
    """Serve the simulated registrar's office."""
    _refuse_taken(port, "--port")
    settings = from_environment()
    if not settings.office_token:
        _fail("set VINEMARK_OFFICE_TOKEN, the same for the office and for vinemark serve")
    office_settings = OfficeSettings(database, settings.office_token, settings.clock, answer_delay)
    _run_server(create_office(office_settings), host, port)


@main.command()
@click.argument("email")
@click.argument("name")
@click.option("--password", help="The password; asked for when left out.")
def user(email: str, name: str, password: str | None) -> None:
    """Add a person who can sign in."""
    password = password or getpass.getpass("Password: ")
    for fault in account_errors(name, email, password).values():
        _fail(fault)
    settings = from_environment()
    connection = connect(settings.database)
    migrate(connection)
    try:
        people.add_person(connection, Act(None, settings.clock.now()), email, name, hasher().hash(password))
    except people.EmailTakenError:
        _fail(f"{email} has an account already")
    click.echo(f"{name} can sign in with {email}.")


@main.command()
@click.argument("course_file")
@click.option("--as-of", "as_of", metavar="DATE", help="The day that blanks rules use; today when left out.")
@click.option("--csv", "as_csv", is_flag=True, help="One row a student in CSV instead of JSON.")
def compute(course_file: str, as_of: str | None, as_csv: bool) -> None:
    """Work out every student's grade from a course file."""
    try:
        day = date.today() if as_of is None else read_day(as_of, "--as-of")
        course = read_bytes(Path(course_file).read_bytes())
        refuse_broken_scale(course.plan)
        text = results_csv(course, day) if as_csv else json.dumps(results(course, day), ensure_ascii=False) + "\n"
    except Refused as error:
        _fail(" ".join(str(error).split()))
    except OSError as error:
        _fail(f"{course_file}: {error.strerror}")
    else:
        sys.stdout.buffer.write(text.encode())


@main.command("audit")
@click.argument("course_file")
@click.option("--as-of", default=None, help="Day on which it is run, YYYY-MM-DD (default today).")
def audit_command(course_file: str, as_of: str | None) -> None:
    """Run every check of the audit on a course file and print what is found."""
    try:
        day = date.today() if as_of is None else read_day(as_of, "--as-of")
        found = findings_json(audit(read_bytes(Path(course_file).read_bytes()), day))
    except Refused as error:
        _fail(" ".join(str(error).split()))
    except OSError as error:
        _fail(f"{course_file}: {error.strerror}")
    else:
        sys.stdout.buffer.write((json.dumps(found, ensure_ascii=False) + "\n").encode())


@main.command()
@click.argument("file")
def verify(file: str) -> None:
    """Check a section archive: every file, signed copy, sending and receipt against its digest."""
    try:
        found = read_archive(Path(file).read_bytes())
    except Refused as error:
        _fail(" ".join(str(error).split()))
    except OSError as error:
        _fail(f"{file}: {error.strerror}")
    else:
        click.echo("\n".join([*found.lines, "The archive holds together."]))


@main.command()
@click.option("--data", default="demo-data", show_default=True, help="Folder of the demo databases.")
@click.option("--fresh", is_flag=True, help="Start the demo data over.")
@click.option("--port", default=PORT, show_default=True, help="Port of Vine Mark.")
@click.option("--office-port", default=OFFICE_PORT, show_default=True, help="Port of the office.")
def demo(data: str, fresh: bool, port: int, office_port: int) -> None:
    """Start Vine Mark and the office with the demo of Larkmoor College."""
    _refuse_taken(port, "--port")
    _refuse_taken(office_port, "--office-port")
    folder = Path(data)
    demo_data.prepare(folder, fresh)
    environment = {
        **os.environ,
        "VINEMARK_DATABASE": str(folder / "vinemark.sqlite"),
        "VINEMARK_OFFICE_URL": f"http://127.0.0.1:{office_port}",
        "VINEMARK_OFFICE_TOKEN": secrets.token_urlsafe(24),
        "VINEMARK_DAY": os.environ.get("VINEMARK_DAY", demo_data.DAY.isoformat()),
        "VINEMARK_DEMO": "1",
    }
    command = [sys.executable, "-m", "vinemark.cli"]
    office_command = [*command, "office", "--port", str(office_port), "--database", str(folder / "office.sqlite")]
    _supervise(
        [[*command, "serve", "--port", str(port)], office_command],
        environment,
        [port, office_port],
        f"Vine Mark              http://127.0.0.1:{port}\n"
        f"The registrar's office http://127.0.0.1:{office_port}\n"
        "Ctrl-C stops both.",
    )


def _supervise(commands: list[list[str]], environment: dict[str, str], ports: list[int], ready: str) -> None:
    """Start processes, say when all answer, and stop all when one ends or somebody presses Ctrl-C."""
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    processes = [subprocess.Popen(command, env=environment, start_new_session=True) for command in commands]  # noqa: S603
    try:
        if _answering(ports, processes):
            click.echo(ready)
        while all(process.poll() is None for process in processes):
            time.sleep(0.3)
    except KeyboardInterrupt:
        click.echo("")
    finally:
        for process in processes:
            process.terminate()
        for process in processes:
            process.wait(timeout=20)


def _answering(ports: list[int], processes: list[subprocess.Popen[bytes]]) -> bool:
    waiting = list(ports)
    deadline = time.monotonic() + 30
    while waiting and time.monotonic() < deadline and all(p.poll() is None for p in processes):
        with socket.socket() as probe:
            probe.settimeout(0.5)
            if probe.connect_ex(("127.0.0.1", waiting[0])) == 0:
                waiting.pop(0)
                continue
        time.sleep(0.1)
    return not waiting


@main.command("read-syllabus")
@click.argument("file", type=click.Path(path_type=Path))
def read_syllabus_file(file: Path) -> None:
    """Print what a syllabus (.txt, .md, .html, .docx, .pdf) says about grading."""
    try:
        text = read_text(file.name, file.read_bytes())
    except OSError as error:
        _fail(f"{file}: {error.strerror}")
    except Refused as error:
        _fail(f"{file.name}: {error.reason}")
    else:
        click.echo(json.dumps(syllabus_json(read_syllabus(text)), ensure_ascii=False, indent=2))


if __name__ == "__main__":
    main()
