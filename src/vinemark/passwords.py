"""Password hashing with Argon2id, a few at a time: many who sign in at once take the time of nobody else."""

import threading
from collections.abc import Iterator
from contextlib import contextmanager

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError

HASHED_AT_ONCE = 2
WAITING_FOR_HASHES = 2

_turns = threading.Semaphore(HASHED_AT_ONCE)
_queue = threading.Semaphore(HASHED_AT_ONCE + WAITING_FOR_HASHES)


class TooManyAtOnceError(Exception):
    """So many passwords are being hashed that one more would make others wait."""


@contextmanager
def _in_turn() -> Iterator[None]:
    if not _queue.acquire(blocking=False):
        raise TooManyAtOnceError
    try:
        with _turns:
            yield
    finally:
        _queue.release()


def hasher(cheap: bool = False) -> PasswordHasher:
    """Argon2id with the library's defaults; `cheap` only for tests."""
    return PasswordHasher(time_cost=1, memory_cost=8, parallelism=1) if cheap else PasswordHasher()


def hashed(password: str, cheap: bool = False) -> str:
    """The hash of a password. Raises TooManyAtOnceError."""
    with _in_turn():
        return hasher(cheap).hash(password)


def verified(password_hash: str, password: str, cheap: bool = False) -> bool:
    """Whether a password fits its hash. Raises TooManyAtOnceError."""
    try:
        with _in_turn():
            return hasher(cheap).verify(password_hash, password)
    except (VerificationError, InvalidHashError):
        return False
