"""The second step of signing in: a code of an authenticator (RFC 6238), or one of the recovery codes."""

import re
import secrets
from dataclasses import dataclass
from hashlib import sha256

import pyotp
import segno

from vinemark.section.acts.accounts import TooEarly, is_password
from vinemark.store import people, second_steps, sign_ins, tries
from vinemark.store.database import Connection, transaction
from vinemark.store.history import Act

STEP_SECONDS = 30
DRIFT = 1
"""So many steps of time a person's clock may be off, to either side (RFC 6238, 5.2 and 6)."""
RECOVERY_CODES = 8


@dataclass(frozen=True)
class NewSecondStep:
    """A secret to be put into an authenticator: as text in groups of four, and as a picture for its camera."""

    secret: str
    shown: str
    picture: str


def new_secret() -> str:
    """A secret of 160 bits, as RFC 4226 recommends, in base 32."""
    return pyotp.random_base32()


def second_step_of(secret: str, email: str) -> NewSecondStep:
    """How a secret is shown to its person."""
    address = pyotp.TOTP(secret).provisioning_uri(name=email, issuer_name="Vine Mark")
    picture = segno.make(address, micro=False).svg_data_uri(scale=5, border=3)
    return NewSecondStep(secret, " ".join(re.findall(".{1,4}", secret)), picture)


def _step_of(secret: str, typed: str, at: float) -> int | None:
    """The step of time that a typed code belongs to; None where it belongs to none near by."""
    code, now, totp = re.sub(r"\s", "", typed), int(at) // STEP_SECONDS, pyotp.TOTP(secret)
    if not re.fullmatch(r"[0-9]{6}", code):
        return None
    near = range(now - DRIFT, now + DRIFT + 1)
    return next((step for step in near if secrets.compare_digest(totp.at(step * STEP_SECONDS), code)), None)


def set_up(
    connection: Connection, request: Act, person_id: int, key: str, secret: str, typed: str, at: float
) -> list[str] | None:
    """Begin the second step with a code typed from the authenticator; the recovery codes, None where it is wrong.

    Everywhere else the person is signed out. `at` is seconds of the epoch.
    """
    step = _step_of(secret, typed, at)
    if step is None:
        return None
    codes = [f"{secrets.token_hex(4)}-{secrets.token_hex(4)}" for _ in range(RECOVERY_CODES)]
    with transaction(connection):
        second_steps.write_second_step(connection, request, person_id, secret, [_hash(code) for code in codes])
        second_steps.use_step(connection, person_id, step)
        sign_ins.end_others(connection, person_id, key)
    return codes


def end_second_step(connection: Connection, request: Act, person_id: int, password: str, cheap_hash: bool) -> bool:
    """End it with the person's password; False where that is wrong. Raises TooManyAtOnceError."""
    if not is_password(connection, person_id, password, cheap_hash):
        return False
    second_steps.write_second_step(connection, request, person_id, "", [])
    return True


def _hash(code: str) -> str:
    """Of 64 bits that were drawn: nothing to be guessed at, so that no slow hash is needed."""
    return sha256(re.sub(r"[\s-]", "", code).casefold().encode()).hexdigest()


def check_second_step(connection: Connection, person_id: int, typed: str, address: str, at: float) -> TooEarly | bool:
    """Whether a code, or a recovery code, is right and was not used before; slowed down as wrong passwords are."""
    row = people.by_id(connection, person_id)
    if row is None or not row["second_step"]:
        return False
    tried = f"second step of {row['email']}"
    wait = tries.note_try(connection, tried, address, "", at)
    if wait > 0:
        return TooEarly(wait)
    step = _step_of(row["second_step"], typed, at)
    right = (
        second_steps.use_step(connection, person_id, step)
        if step is not None
        else second_steps.use_recovery(connection, person_id, _hash(typed))
    )
    if right:
        tries.clear_tries(connection, tried, address, "")
    return right
