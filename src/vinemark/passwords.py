"""Password hashing with Argon2id."""

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError


def hasher(cheap: bool = False) -> PasswordHasher:
    """Argon2id with the library's defaults; `cheap` only for tests."""
    return PasswordHasher(time_cost=1, memory_cost=8, parallelism=1) if cheap else PasswordHasher()


def verified(password_hash: str, password: str, cheap: bool = False) -> bool:
    """Whether a password fits its hash."""
    try:
        return hasher(cheap).verify(password_hash, password)
    except (VerificationError, InvalidHashError):
        return False
