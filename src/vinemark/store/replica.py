"""How old the copy is that is made all the time: noted beside the database by whoever copies, read by whoever asks."""

import json
from contextlib import suppress
from dataclasses import asdict, dataclass
from pathlib import Path


@dataclass(frozen=True)
class ReplicaState:
    """Where a copy is made to; seconds of the epoch when copying began, and up to when all is in the copy (None where
    nothing is yet); what stands in the way."""

    to: str
    began: float
    copied: float | None = None
    trouble: str = ""

    def age(self, now: float) -> float:
        """Seconds of work that only the database has, at most."""
        return max(0.0, now - (self.copied if self.copied is not None else self.began))


def note_replica(database: Path, state: ReplicaState) -> None:
    """Keep it, all at once; a full disk is no reason to stop copying."""
    path = _file_of(database)
    unnamed = path.with_name(f"{path.name}.unfinished")
    with suppress(OSError):
        unnamed.write_text(json.dumps(asdict(state)), encoding="utf-8")
        unnamed.replace(path)


def replica_of(database: Path) -> ReplicaState | None:
    """What was noted last; None where no copy is made all the time."""
    try:
        return ReplicaState(**json.loads(_file_of(database).read_text(encoding="utf-8")))
    except (OSError, ValueError, TypeError):
        return None


def _file_of(database: Path) -> Path:
    return database.with_name(f"{database.name}.copied")
