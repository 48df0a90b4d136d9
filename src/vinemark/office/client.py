"""Speaks to the office over HTTP. Every call says plainly whether the office was reached."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any
from urllib.parse import quote

import httpx

from vinemark.core.course import Records, SectionName, Student, Term
from vinemark.core.course_format import Refused, read_records
from vinemark.core.submission import HeldRow, held_row

TIMEOUT_SECONDS = 12.0


class OfficeDownError(Exception):
    """The office was not reached or gave no answer: whether it took anything is not known."""


class OfficeRefusedError(Exception):
    """The office answered and did not take it; the message is its reason."""


@dataclass(frozen=True)
class OfficeSection:
    """A section as the office lists it."""

    ref: str
    term: Term
    name: SectionName
    opens: datetime
    due: datetime
    posted_at: str | None
    people: int


@dataclass(frozen=True)
class OfficeRoster:
    """A section with its roster, as students and as records, and the office's rules."""

    section: OfficeSection
    students: Sequence[Student]
    records: Records


@dataclass(frozen=True)
class Held:
    """What the office holds for a section and run."""

    rows: Sequence[HeldRow]
    posted_at: str | None


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
        return [_section(value) for value in self._get("/api/sections", instructor=instructor)["sections"]]

    def roster(self, ref: str) -> OfficeRoster:
        """One section with its roster and the office's rules."""
        value = self._get(f"/api/sections/{quote(ref, safe='')}")
        people = value["roster"]
        students = [Student(p["id"], p["family_name"], p["given_name"], p["email"]) for p in people]
        entries = [{key: p[key] for key in p if key != "email"} for p in people]
        return OfficeRoster(_section(value), students, _records({**value["rules"], "roster": entries}))

    def held(self, ref: str, run: str) -> Held:
        """Read back what the office holds."""
        value = self._get(f"/api/sections/{quote(ref, safe='')}/runs/{run}/grades")
        return Held([held_row(row) for row in value["grades"]], value["posted_at"])

    def send(
        self, ref: str, run: str, key: str, signed_by: str, digest: str, rows: Sequence[HeldRow]
    ) -> Mapping[str, Any]:
        """Hand in grades under a key; the receipt. The same key gives the same receipt."""
        body = {"key": key, "signed_by": signed_by, "digest": digest, "rows": [vars(row) for row in rows]}
        return self._answer(
            lambda: self._http.post(f"/api/sections/{quote(ref, safe='')}/runs/{run}/sendings", json=body)
        )

    def _get(self, path: str, **params: str) -> dict[str, Any]:
        return self._answer(lambda: self._http.get(path, params=params))

    def _answer(self, call: Any) -> dict[str, Any]:
        try:
            response: httpx.Response = call()
        except httpx.HTTPError as error:
            raise OfficeDownError(_trouble(error)) from error
        if response.status_code >= 500:
            raise OfficeDownError(f"it answered with an error ({response.status_code})")
        try:
            value = response.json()
        except ValueError as error:
            raise OfficeDownError("its answer could not be read") from error
        if response.status_code >= 400:
            raise OfficeRefusedError(str(value.get("error", response.status_code)))
        return dict(value)


def _trouble(error: httpx.HTTPError) -> str:
    if isinstance(error, httpx.ConnectError):
        return "it could not be reached"
    if isinstance(error, httpx.TimeoutException):
        return f"it did not answer within {TIMEOUT_SECONDS:.0f} seconds"
    return "the connection broke before it answered"


def _records(value: Mapping[str, Any]) -> Records:
    try:
        return read_records(_as_texts(value))
    except Refused as error:
        raise OfficeDownError(f"its records could not be read ({error})") from error


def _as_texts(value: Any) -> Any:
    """Whole numbers as text: the core's readers take no machine numbers."""
    if isinstance(value, dict):
        return {key: _as_texts(found) for key, found in value.items()}
    if isinstance(value, list):
        return [_as_texts(found) for found in value]
    return str(value) if isinstance(value, int) and not isinstance(value, bool) else value


def _section(value: Mapping[str, Any]) -> OfficeSection:
    term = value["term"]
    return OfficeSection(
        value["ref"],
        Term(term["name"], date.fromisoformat(term["starts"]), date.fromisoformat(term["ends"])),
        SectionName(value["course"], value["title"], value["number"]),
        datetime.fromisoformat(value["opens"]),
        datetime.fromisoformat(value["due"]),
        value["posted_at"],
        value["people"],
    )
