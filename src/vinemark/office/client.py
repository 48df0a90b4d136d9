"""Speaks to the office over HTTP. Every call says plainly whether the office was reached."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, time
from typing import Any
from urllib.parse import quote

import httpx

from vinemark.core.base.refused import Refused
from vinemark.core.course.course import RUNS, Records, Run, SectionName, Student, Term
from vinemark.core.course.read_records import read_records
from vinemark.core.submit.file_layout import FileLayout
from vinemark.core.submit.grade_row import HeldRow, held_row, row_values
from vinemark.core.submit.hours import OfficeHours, Transfer, Window

TIMEOUT_SECONDS = 12.0


class OfficeDownError(Exception):
    """The office was not reached or gave no answer: whether it took anything is not known."""


class OfficeRefusedError(Exception):
    """The office answered and did not take it; the message is its reason."""


class OfficeBusyError(Exception):
    """The office takes nothing just now (a transfer, or the run is not open yet); `until` says when it does."""

    def __init__(self, reason: str, until: datetime) -> None:
        super().__init__(reason)
        self.until = until


OFFICE_TROUBLE = (OfficeDownError, OfficeBusyError, OfficeRefusedError)


@dataclass(frozen=True)
class OfficeSection:
    """A section as the office lists it."""

    ref: str
    term: Term
    name: SectionName
    windows: Mapping[Run, Window]
    people: int


@dataclass(frozen=True)
class OfficeRoster:
    """A section with its roster, as students and as records, and the office's rules, hours and file layout."""

    section: OfficeSection
    students: Sequence[Student]
    records: Records
    hours: OfficeHours
    layout: FileLayout | None


@dataclass(frozen=True)
class ChangeAnswer:
    """Where a change of grade stands at the office: pending, granted or refused, with a word."""

    key: str
    number: str
    state: str
    word: str | None
    received_at: str
    answered_at: str | None


@dataclass(frozen=True)
class Held:
    """What the office holds for a section and run.

    `fell_back` are the incompletes whose fallback grade the office applied, as they were before.
    """

    rows: Sequence[HeldRow]
    posted_at: str | None
    fell_back: Sequence[tuple[HeldRow, str]] = ()
    changes: Sequence[ChangeAnswer] = ()


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
        value = self._get(_path(ref))
        people = value["roster"]
        students = [Student(p["id"], p["family_name"], p["given_name"], p["email"]) for p in people]
        entries = [{key: p[key] for key in p if key != "email"} for p in people]
        section, arrangements = _section(value), value["arrangements"]
        transfers = tuple(Transfer(*(time.fromisoformat(at) for at in pair)) for pair in arrangements["transfers"])
        return OfficeRoster(
            section,
            students,
            _records({**value["rules"], "roster": entries}),
            OfficeHours(section.windows, transfers),
            _layout(arrangements["file"]),
        )

    def held(self, ref: str, run: Run) -> Held:
        """Read back what the office holds."""
        value = self._get(f"{_path(ref)}/runs/{run}/grades")
        fell_back = [(held_row(row["was"]), str(row["at"])) for row in value["fell_back"]]
        return Held(
            [held_row(row) for row in value["grades"]],
            value["posted_at"],
            fell_back,
            [_change(answer) for answer in value["changes"]],
        )

    def send(
        self, ref: str, run: Run, key: str, signed_by: str, digest: str, rows: Sequence[HeldRow]
    ) -> Mapping[str, Any]:
        """Hand in grades under a key; the receipt. The same key gives the same receipt."""
        body = {"key": key, "signed_by": signed_by, "digest": digest, "rows": [row_values(row) for row in rows]}
        return self._answer(lambda: self._http.post(f"{_path(ref)}/runs/{run}/sendings", json=body))

    def ask_change(self, ref: str, key: str, signed_by: str, request: Mapping[str, Any]) -> ChangeAnswer:
        """Ask for a change of grade under a key; the same key gives the same answer."""
        body = {**request, "key": key, "signed_by": signed_by}
        return _change(self._answer(lambda: self._http.post(f"{_path(ref)}/changes", json=body)))

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
        if response.status_code == 423 and "until" in value:
            raise OfficeBusyError(str(value.get("error")), datetime.fromisoformat(value["until"]))
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
        {run: _window(value["runs"][run]) for run in RUNS if run in value["runs"]},
        value["people"],
    )


def _window(value: Mapping[str, str]) -> Window:
    return Window(datetime.fromisoformat(value["opens"]), datetime.fromisoformat(value["due"]))


def _layout(value: Mapping[str, Any] | None) -> FileLayout | None:
    if value is None:
        return None
    return FileLayout(tuple((heading, holds) for heading, holds in value["columns"]), value["dates"])


def _change(value: Mapping[str, Any]) -> ChangeAnswer:
    keys = ("key", "number", "state", "word", "received_at", "answered_at")
    return ChangeAnswer(*(value[key] for key in keys))


def _path(ref: str) -> str:
    return f"/api/sections/{quote(ref, safe='')}"
