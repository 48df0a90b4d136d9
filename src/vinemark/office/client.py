"""Speaks to the office over HTTP. Every call says plainly whether the office was reached."""

from collections.abc import Callable, Mapping, Sequence
from datetime import datetime
from typing import Any, TypeVar
from urllib.parse import quote

import httpx

from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Run
from vinemark.core.submit.grade_row import GradeRow, row_values
from vinemark.core.submit.receipt import Receipt, read_receipt
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

TIMEOUT_SECONDS = 12.0
_T = TypeVar("_T")


class OfficeDownError(Exception):
    """The office was not reached or gave no answer: whether it took anything is not known."""


class OfficeRefusedError(Exception):
    """The office answered and did not take it; the message is its reason."""


class OfficeBusyError(Exception):
    """The office takes nothing just now (a transfer, or the run is not open yet); `until` says when it does."""

    def __init__(self, reason: str, until: datetime) -> None:
        super().__init__(reason)
        self.until = until


class OfficeClient:
    """The office at an address, spoken to with a token; `transport` is for tests and the demo's making."""

    def __init__(self, address: str, token: str, transport: httpx.BaseTransport | None = None) -> None:
        self._http = httpx.Client(
            base_url=address,
            headers={"Authorization": f"Bearer {token}"},
            timeout=TIMEOUT_SECONDS,
            transport=transport,
            trust_env=False,
        )

    def sections(self, instructor: str) -> list[OfficeSection]:
        """The sections of an instructor, by e-mail."""
        return self._get("/api/sections", read_sections, instructor=instructor)

    def roster(self, ref: str) -> OfficeRoster:
        """One section with its roster and the office's rules."""
        return self._get(_path(ref), read_roster)

    def held(self, ref: str, run: Run) -> HeldGrades:
        """What the office holds."""
        return self._get(f"{_path(ref)}/runs/{run}/grades", read_held)

    def submit(self, ref: str, run: Run, key: str, signed_by: str, digest: str, rows: Sequence[GradeRow]) -> Receipt:
        """Hand in grades under a key; the receipt. The same key gives the same receipt."""
        body = {"key": key, "signed_by": signed_by, "digest": digest, "rows": [row_values(row) for row in rows]}
        return self._post(f"{_path(ref)}/runs/{run}/sendings", body, read_receipt)

    def ask_change(self, ref: str, key: str, signed_by: str, request: Mapping[str, Any]) -> ChangeAnswer:
        """Ask for a change of grade under a key; the same key gives the same answer."""
        return self._post(f"{_path(ref)}/changes", {**request, "key": key, "signed_by": signed_by}, read_change)

    def _get(self, path: str, read: Callable[[object], _T], **params: str) -> _T:
        return self._answer(lambda: self._http.get(path, params=params), read)

    def _post(self, path: str, body: Mapping[str, Any], read: Callable[[object], _T]) -> _T:
        return self._answer(lambda: self._http.post(path, json=body), read)

    def _answer(self, call: Callable[[], httpx.Response], read: Callable[[object], _T]) -> _T:
        try:
            response = call()
        except httpx.HTTPError as error:
            raise OfficeDownError(_trouble(error)) from error
        if response.status_code >= 500:
            raise OfficeDownError(f"it answered with an error ({response.status_code})")
        try:
            value = response.json()
        except ValueError as error:
            raise OfficeDownError("its answer could not be read") from error
        if response.status_code >= 400:
            raise _refusal(response.status_code, value)
        try:
            return read(value)
        except Refused as error:
            raise OfficeDownError(f"its answer could not be read ({error})") from error


def _refusal(status: int, value: object) -> Exception:
    """What a refusing answer means: busy with a time until when, or refused for good."""
    found = value if isinstance(value, Mapping) else {}
    reason = str(found.get("error", status))
    if status == 423:
        try:
            return OfficeBusyError(reason, datetime.fromisoformat(str(found["until"])))
        except (KeyError, ValueError):
            return OfficeDownError("its answer could not be read (until)")
    return OfficeRefusedError(reason)


def _trouble(error: httpx.HTTPError) -> str:
    if isinstance(error, httpx.ConnectError):
        return "it could not be reached"
    if isinstance(error, httpx.TimeoutException):
        return f"it did not answer within {TIMEOUT_SECONDS:.0f} seconds"
    return "the connection broke before it answered"


def _path(ref: str) -> str:
    return f"/api/sections/{quote(ref, safe='')}"
