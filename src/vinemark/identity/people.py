"""Who the simulated identity provider knows, and the one program that it signs them in to."""

import json
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from pathlib import Path


@dataclass(frozen=True)
class KnownHere:
    """Somebody of the college: `roles` is what its claim of that name says."""

    subject: str
    name: str
    email: str
    roles: Sequence[str] = ()
    email_verified: bool = True


@dataclass(frozen=True)
class Program:
    """The program that people are signed in to, by its id and secret; `address` is where people open it."""

    id: str
    secret: str
    address: str

    @property
    def callback(self) -> str:
        """Where it takes the answer to a sign-in."""
        return f"{self.address}/sso/callback"

    @property
    def after_sign_out(self) -> str:
        """Where a browser goes once its person is signed out."""
        return f"{self.address}/sign-in"

    @property
    def told_of_sign_out(self) -> str:
        """Where it is told that somebody signed out elsewhere."""
        return f"{self.address}/sso/signed-out"


def write_people(path: Path, people: Sequence[KnownHere]) -> None:
    """Keep people in a file."""
    path.write_text(json.dumps([asdict(one) for one in people], ensure_ascii=False, indent=1), encoding="utf-8")


def people_known_there(path: Path) -> Sequence[KnownHere]:
    """The people of a file."""
    return [KnownHere(**one) for one in json.loads(path.read_text(encoding="utf-8"))]
