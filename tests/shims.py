"""What a test machine has no services for, played: systemctl reads the units and runs what they say, runuser and
adduser change nobody. Called by names in a folder that is first in PATH; FAKE_ROOT is the folder that stands for /."""

import os
import re
import shlex
import signal
import socket
import subprocess
import sys
import time
from pathlib import Path

ROOT = Path(os.environ.get("FAKE_ROOT", "/nonexistent"))
UNITS, STATE = ROOT / "etc/systemd/system", ROOT / "run"


def moved(text: str) -> str:
    """Absolute places of the documents, in the folder that stands for /."""
    return re.sub(
        r"(?<![\w.])/(opt/vinemark|srv/vinemark|srv/registrar|etc|var/backups|usr/local/sbin)(?=[/\s]|$)",
        rf"{ROOT}/\1",
        text,
    )


def of_unit(name: str) -> dict[str, list[str]]:
    """What a unit says, each key with all its values."""
    found: dict[str, list[str]] = {}
    for line in moved((UNITS / name).read_text(encoding="utf-8")).splitlines():
        key, is_said, value = line.partition("=")
        if is_said and not line.startswith("#"):
            found.setdefault(key, []).append(value)
    return found


def environment(unit: dict[str, list[str]]) -> dict[str, str]:
    settings = dict(os.environ)
    for file in unit.get("EnvironmentFile", []):
        for line in moved(Path(file).read_text(encoding="utf-8")).splitlines():
            key, is_said, value = line.partition("=")
            if is_said and not line.startswith("#"):
                settings[key] = value
    return settings


def start(name: str) -> None:
    unit = of_unit(name)
    for command in unit["ExecStart"]:
        # As systemd has it: %% is one percent sign, $$ one dollar.
        words = shlex.split(command.replace("%%", "%").replace("$$", "$"))
        if unit["Type"] == ["oneshot"]:
            subprocess.run(words, env=environment(unit), check=True)
            continue
        with (STATE / f"{name}.log").open("a", encoding="utf-8") as log:
            process = subprocess.Popen(words, env=environment(unit), stdout=log, stderr=log, start_new_session=True)
        (STATE / f"{name}.pid").write_text(str(process.pid), encoding="utf-8")
        wait_for(int(words[words.index("--port") + 1]))


def wait_for(port: int) -> None:
    """Until somebody listens."""
    for _ in range(300):
        with socket.socket() as probe:
            if probe.connect_ex(("127.0.0.1", port)) == 0:
                return
        time.sleep(0.1)
    raise SystemExit(f"nobody listens on {port}")


def stop(name: str) -> None:
    process = int((STATE / f"{name}.pid").read_text(encoding="utf-8"))
    os.kill(process, signal.SIGTERM)
    for _ in range(300):
        if not Path(f"/proc/{process}").exists() or " Z " in Path(f"/proc/{process}/stat").read_text(encoding="utf-8"):
            return
        time.sleep(0.1)
    raise SystemExit(f"{name} does not end")


def systemctl(arguments: list[str]) -> None:
    names = [name for name in arguments[1:] if not name.startswith("--")]
    for name in names:
        if arguments[0] in {"start", "enable"} and name.endswith(".service") and (UNITS / name).exists():
            start(name)
        elif arguments[0] == "enable":
            # A timer names the service of its own name.
            assert (UNITS / name).exists()
            start(name.replace(".timer", ".service"))
        elif arguments[0] in {"stop", "restart"}:
            stop(name)
            if arguments[0] == "restart":
                start(name)


def main() -> None:
    """One of the names."""
    name, arguments = Path(sys.argv[1]).name, sys.argv[2:]
    STATE.mkdir(parents=True, exist_ok=True)
    with (STATE / "played").open("a", encoding="utf-8") as log:
        log.write(f"{name} {' '.join(arguments)}\n")
    if name == "systemctl":
        systemctl(arguments)
    elif name == "journalctl":
        sys.stdout.write((STATE / f"{arguments[1]}.log").read_text(encoding="utf-8"))
    elif name == "runuser":
        command = arguments[arguments.index("--") + 1 :]
        os.execv(command[0], command)  # noqa: S606


if __name__ == "__main__":
    main()
