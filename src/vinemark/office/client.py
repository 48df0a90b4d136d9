"""Speaks to the registrar over HTTP. Every call says plainly whether the registrar was reached.

Only what the registrar itself says of a key is its verdict on what went out under it: any other answer, whatever its
status, may come from something between and leaves it open whether anything arrived.
"""

import copy
import json
import time
from collections.abc import Callable, Mapping
from datetime import datetime
from typing import Any, Protocol, TypeVar
from urllib.parse import quote

import httpx

from vinemark.core.base.moments import moment_of
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Run
from vinemark.core.submit.grade_row import row_values
from vinemark.core.submit.receipt import Receipt, read_receipt
from vinemark.core.submit.submission import Submission
from vinemark.office.access import access_token
from vinemark.office.answers import (
    ChangeAnswer,
    HeldGrades,
    OfficeRoster,
    OfficeSection,
    read_change,
    read_held,
    read_roster,
    read_sections,
)

DEADLINE_SECONDS = 12.0
LARGEST_ANSWER = 8_000_000
LONGEST_REASON = 300
# What these say is of the way or of the program, never of a key.
NO_VERDICT = frozenset({401, 403, 404, 405, 407, 408, 413, 421, 423, 425, 426, 429, 431, 451})
_T = TypeVar("_T")


class OfficeDownError(Exception):
    """The registrar gave no answer that counts: whether it took anything is not known, unless it was not reached."""

    def __init__(self, reason: str, reached: bool = True) -> None:
        super().__init__(reason)
        self.reached = reached


class AnswerAwaitedError(OfficeDownError):
    """It was handed over, and the answer comes in its own time."""


class OfficeRefusedError(Exception):
    """The registrar answered and did not take it; the message is its reason."""


class OfficeBusyError(Exception):
    """The registrar takes nothing just now (a transfer, or the run is not open yet); `until` says when it does."""

    def __init__(self, reason: str, until: datetime) -> None:
        super().__init__(reason)
        self.until = until


class Office(Protocol):
    """Whoever answers for a registrar: over HTTP, or by files."""

    def for_instructor(self, email: str) -> "Office":
        """The same, asked for one instructor."""

    def sections(self) -> list[OfficeSection]:
        """The sections of the instructor."""

    def roster(self, ref: str) -> OfficeRoster:
        """One section with its roster and the registrar's rules."""

    def held(self, ref: str, run: Run) -> HeldGrades:
        """What the registrar has."""

    def submit(self, ref: str, submission: Submission) -> Receipt:
        """Hand in grades under their key."""

    def ask_change(self, ref: str, key: str, signed_by: str, request: Mapping[str, Any]) -> ChangeAnswer:
        """Ask for a change of grade under a key."""


class OfficeClient:
    """The registrar at an address, spoken to for one instructor with a token of the shared secret; `transport` is
    for tests and the demo's making."""

    def __init__(self, address: str, secret: str, transport: httpx.BaseTransport | None = None) -> None:
        self._secret, self._instructor = secret, ""
        self._http = httpx.Client(
            base_url=address,
            headers={"Accept-Encoding": "identity"},
            timeout=httpx.Timeout(DEADLINE_SECONDS / 2, connect=DEADLINE_SECONDS / 3),
            transport=transport,
            trust_env=False,
        )

    def for_instructor(self, email: str) -> "OfficeClient":
        """The same office, spoken to for an instructor: it answers of their sections alone."""
        bound = copy.copy(self)
        bound._instructor = email
        return bound

    def sections(self) -> list[OfficeSection]:
        """The sections of the instructor."""
        return self._get("/api/sections", read_sections)

    def roster(self, ref: str) -> OfficeRoster:
        """One section with its roster and the registrar's rules."""
        return self._get(section_path(ref), read_roster)

    def held(self, ref: str, run: Run) -> HeldGrades:
        """What the registrar has."""
        return self._get(f"{section_path(ref)}/runs/{run}/grades", read_held)

    def submit(self, ref: str, submission: Submission) -> Receipt:
        """Hand in grades under their key; the receipt. The same key gives the same receipt."""
        body = {
            "key": submission.key,
            "signed_by": submission.signer_email,
            "digest": submission.digest,
            "rows": [row_values(row) for row in submission.rows],
            "history_seal": submission.history_seal,
        }
        return self._post(f"{section_path(ref)}/runs/{submission.run}/sendings", body, read_receipt)

    def ask_change(self, ref: str, key: str, signed_by: str, request: Mapping[str, Any]) -> ChangeAnswer:
        """Ask for a change of grade under a key; the same key gives the same answer."""
        return self._post(f"{section_path(ref)}/changes", {**request, "key": key, "signed_by": signed_by}, read_change)

    def _get(self, path: str, read: Callable[[object], _T]) -> _T:
        return self._answer("GET", path, read)

    def _post(self, path: str, body: Mapping[str, Any], read: Callable[[object], _T]) -> _T:
        return self._answer("POST", path, read, str(body["key"]), json=body)

    def _answer(self, method: str, path: str, read: Callable[[object], _T], key: str = "", **options: Any) -> _T:
        status, data = self._fetch(method, path, **options)
        if status >= 400:
            raise _refusal(status, _parsed(data), key)
        try:
            return read(_parsed(data, strict=True))
        except Refused as error:
            raise OfficeDownError(f"its answer could not be read ({_one_line(str(error))})") from error

    def _fetch(self, method: str, path: str, **options: Any) -> tuple[int, bytes]:
        """Status and body, within one deadline for all of it and up to a size."""
        until, parts, size = time.monotonic() + DEADLINE_SECONDS, [], 0
        headers = {"Authorization": f"Bearer {access_token(self._secret, self._instructor)}"}
        try:
            with self._http.stream(method, path, headers=headers, **options) as response:
                if response.headers.get("Content-Encoding", "identity") != "identity":
                    raise OfficeDownError("its answer is packed and could not be read")
                for part in response.iter_bytes():
                    size += len(part)
                    if size > LARGEST_ANSWER:
                        raise OfficeDownError("its answer is too large to be read")
                    if time.monotonic() > until:
                        raise OfficeDownError(f"it did not answer within {DEADLINE_SECONDS:.0f} seconds")
                    parts.append(part)
                return response.status_code, b"".join(parts)
        except httpx.HTTPError as error:
            raise _trouble(error) from error


def _parsed(data: bytes, strict: bool = False) -> object:
    try:
        return json.loads(data.decode())
    except (ValueError, RecursionError) as error:
        if strict:
            raise OfficeDownError("its answer could not be read") from error
        return None


def _refusal(status: int, value: object, key: str) -> Exception:
    """What a refusing answer means: busy with a time until when, a verdict on what has this key, or no answer."""
    found = value if isinstance(value, Mapping) else {}
    reason = _one_line(found["error"]) if isinstance(found.get("error"), str) else ""
    if status == 423 and reason:
        try:
            return OfficeBusyError(reason, moment_of(str(found["until"])))
        except (KeyError, ValueError):
            return OfficeDownError("its answer could not be read (until)")
    if key and reason and status < 500 and status not in NO_VERDICT and found.get("key") == key:
        return OfficeRefusedError(reason)
    return OfficeDownError(f"it answered {status}{f': {reason}' if reason else ''}")


def _one_line(said: str) -> str:
    """Words from outside, short and without signs that steer a screen."""
    plain = "".join(sign if sign.isprintable() else " " for sign in said[: 4 * LONGEST_REASON])
    return " ".join(plain.split())[:LONGEST_REASON].removesuffix(".")


def _trouble(error: httpx.HTTPError) -> OfficeDownError:
    if isinstance(error, httpx.ConnectError | httpx.ConnectTimeout | httpx.PoolTimeout):
        return OfficeDownError("it could not be reached", reached=False)
    if isinstance(error, httpx.TimeoutException):
        return OfficeDownError(f"it did not answer within {DEADLINE_SECONDS:.0f} seconds")
    return OfficeDownError("the connection broke before it answered")


def section_path(ref: str) -> str:
    """The address of a section, whatever signs its name has."""
    return f"/api/sections/{quote(ref, safe='')}"
