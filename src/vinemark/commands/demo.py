"""Start the demo."""

import os
import secrets
import signal
import socket
import subprocess
import sys
import time
from pathlib import Path

import click

from vinemark import demo as demo_data
from vinemark.commands.ports import IDENTITY_PORT, MAIL_PORT, OFFICE_PORT, PORT, SMTP_PORT, refuse_taken


@click.command()
@click.option("--data", default="demo-data", show_default=True, help="Folder of the demo databases.")
@click.option("--fresh", is_flag=True, help="Start the demo data over.")
@click.option("--port", default=PORT, show_default=True, help="Port of Vine Mark.")
@click.option("--office-port", default=OFFICE_PORT, show_default=True, help="Port of the registrar.")
@click.option("--mail-port", default=MAIL_PORT, show_default=True, help="Port of the page of the mail server.")
@click.option("--smtp-port", default=SMTP_PORT, show_default=True, help="Port on which it takes messages.")
@click.option("--identity-port", default=IDENTITY_PORT, show_default=True, help="Port of the identity provider.")
def demo(
    data: str, fresh: bool, port: int, office_port: int, mail_port: int, smtp_port: int, identity_port: int
) -> None:
    """Start Vine Mark, the registrar, a mail server and an identity provider with the demo of Larkmoor College."""
    taken = {"--port": port, "--office-port": office_port, "--mail-port": mail_port, "--smtp-port": smtp_port,
             "--identity-port": identity_port}  # fmt: skip
    for option, number in taken.items():
        refuse_taken(number, option)
    folder = Path(data)
    demo_data.prepare(folder, fresh)
    command, mail = [sys.executable, "-m", "vinemark.cli"], str(folder / "mail")
    _supervise(
        [
            [*command, "serve", "--port", str(port)],
            [*command, "office", "--port", str(office_port), "--database", str(folder / "office.sqlite")],
            [*command, "mail", "--port", str(mail_port), "--smtp-port", str(smtp_port), "--folder", mail],
            [*command, "identity", "--port", str(identity_port), "--people", str(folder / demo_data.KNOWN_THERE)],
        ],
        _environment(folder, *(f"127.0.0.1:{number}" for number in (port, office_port, smtp_port, identity_port))),
        list(taken.values()),
        f"Vine Mark              http://127.0.0.1:{port}\n"
        f"The registrar's office http://127.0.0.1:{office_port}\n"
        f"The mail that is sent  http://127.0.0.1:{mail_port}\n"
        f"The identity provider  http://127.0.0.1:{identity_port}\n"
        "Ctrl-C stops all.",
    )


def _environment(folder: Path, app: str, office: str, smtp: str, identity: str) -> dict[str, str]:
    """The settings of the demo; the rest are hosts with their ports."""
    own = {
        "VINEMARK_DATABASE": str(folder / "vinemark.sqlite"),
        "VINEMARK_OFFICE_URL": f"http://{office}",
        "VINEMARK_OFFICE_TOKEN": secrets.token_urlsafe(24),
        "VINEMARK_ADDRESS": f"http://{app}",
        "VINEMARK_MAIL": f"smtp://{smtp}",
        "VINEMARK_MAIL_FROM": "vine.mark@larkmoor.example",
        "VINEMARK_IDENTITY": f"http://{identity}",
        "VINEMARK_IDENTITY_SECRET": secrets.token_urlsafe(24),
        "VINEMARK_ROLES_CLAIM": "roles",
        "VINEMARK_DEMO": "1",
    }
    usual = {
        "VINEMARK_COLLEGE": demo_data.COLLEGE,
        "VINEMARK_DELIVER_SECONDS": "5",
        "VINEMARK_DAY": demo_data.DAY.isoformat(),
    }
    return {**usual, **os.environ, **own}


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
