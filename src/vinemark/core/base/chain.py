"""The chain of a history: each entry's seal follows from the seal before it, so that nothing can be altered, left out
or put in between without a trace.

A linear linking of SHA-256 digests (FIPS 180-4), as Haber and Stornetta describe it in "How to time-stamp a digital
document", Journal of Cryptology 3 (1991); the source is named from memory. Each digest is salted, so that what was
erased cannot be found again by trying.
"""

import hashlib
import json
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import NamedTuple

ERASING = "student-deleted"
REWRITTEN = "rewritten"
"""An entry of this kind holds under this key the new digests of what it rewrote, by seal."""


@dataclass(frozen=True)
class SealedEntry:
    """An entry of a history with its seal; `said` is all that it says, as texts.

    `undoes` is an entry's id. Salt and seals are in hexadecimal; `seal` is empty for an entry from before there were
    seals. `first_digest` is that of what it said before a deletion rewrote it.
    """

    id: int
    said: Sequence[str | None]
    undoes: int | None
    salt: str
    seal: str
    first_digest: str = ""
    rewrote: Mapping[str, str] | None = None


class ChainFault(NamedTuple):
    """An entry that does not fit into its chain, and why."""

    entry: int
    words: str


def entry_digest(salt: str, said: Sequence[str | None], undone_seal: str) -> str:
    """The digest of what an entry says; 64 hexadecimal digits."""
    return _sha256(json.dumps([salt, *said, undone_seal], ensure_ascii=False))


def next_seal(before: str, digest: str) -> str:
    """The seal of an entry with a digest, after one with the seal `before` (empty at the start)."""
    return _sha256(f"{before} {digest}")


def _sha256(text: str) -> str:
    return hashlib.sha256(text.encode()).hexdigest()


def chain_faults(entries: Iterable[SealedEntry]) -> Iterator[ChainFault]:
    """Every entry, oldest first, that was altered, or before which something is missing or was put in."""
    found = list(entries)
    rewritten: dict[str, str] = {}
    for entry in found:
        rewritten.update(entry.rewrote or {})
    seals: dict[int, str] = {}
    last = ""
    for entry in found:
        if not entry.seal:
            if last:
                yield ChainFault(entry.id, "has no seal, and those before it have")
            continue
        yield from _faults(entry, last, seals.get(entry.undoes or 0, ""), rewritten)
        seals[entry.id] = last = entry.seal


def _faults(entry: SealedEntry, last: str, undone: str, rewritten: Mapping[str, str]) -> Iterator[ChainFault]:
    now = entry_digest(entry.salt, entry.said, undone)
    if entry.first_digest and entry.seal not in rewritten:
        yield ChainFault(entry.id, "says that a deletion rewrote it, and none did")
    elif entry.first_digest and rewritten[entry.seal] != now:
        yield ChainFault(entry.id, "was altered after a deletion rewrote it")
    if next_seal(last, entry.first_digest or now) != entry.seal:
        yield ChainFault(entry.id, "was altered, or stands after another entry than it was written after")
