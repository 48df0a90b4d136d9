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
from vinemark.commands.ports import OFFICE_PORT, PORT, refuse_taken


@click.command()
@click.option("--data", default="demo-data", show_default=True, help="Folder of the demo databases.")
@click.option("--fresh", is_flag=True, help="Start the demo data over.")
@click.option("--port", default=PORT, show_default=True, help="Port of Vine Mark.")
@click.option("--office-port", default=OFFICE_PORT, show_default=True, help="Port of the registrar.")
def demo(data: str, fresh: bool, port: int, office_port: int) -> None:
    """Start Vine Mark and the registrar with the demo of Larkmoor College."""
    refuse_taken(port, "--port")
    refuse_taken(office_port, "--office-port")
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
