"""Tries a registrar's system by requests that change nothing, and says in sentences what of docs/registrar-api.yaml it
does not keep. Answers are read by the reader that the application itself uses."""

import json
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from urllib.parse import quote
from uuid import uuid4

import httpx

from vinemark.core.base.refused import Refused
from vinemark.core.submit.grade_row import GradeRow, digest, row_values
from vinemark.core.submit.receipt import read_receipt
from vinemark.office.access import VALID_SECONDS, access_token
from vinemark.office.answers import read_held, read_roster, read_sections
from vinemark.office.client import DEADLINE_SECONDS, LARGEST_ANSWER, section_path

NOBODY = "nobody-4f1d0c"
"""An ID that no student has: a row for it is refused, and no grade changes."""
MOMENTS = frozenset({"opens", "due", "posted_at", "received_at", "answered_at", "until"})


@dataclass(frozen=True)
class Answer:
    """What came back: the status, 0 where nothing did; the JSON, None where it is none; what was asked, in words."""

    asked: str
    status: int
    value: Any
    trouble: str = ""

    @property
    def error(self) -> Mapping[str, Any]:
        """The answer as an object; empty where it is none."""
        return self.value if isinstance(self.value, Mapping) else {}


class Conformance:
    """A registrar's system at an address, tried for an instructor; `send_to` names a section to which one row is sent
    for a student whom nobody knows."""

    def __init__(
        self, address: str, secret: str, instructor: str, transport: httpx.BaseTransport | None = None
    ) -> None:
        self._secret, self._instructor = secret, instructor
        self._http = httpx.Client(
            base_url=address,
            timeout=DEADLINE_SECONDS,
            transport=transport,
            trust_env=False,
            headers={"Accept-Encoding": "identity"},
        )
        self.tried = 0

    def faults(self, send_to: str = "") -> Iterator[str]:
        """What is not kept, a sentence each; nothing where all is."""
        listed = self._get("/api/sections")
        yield from _read(listed, read_sections)
        if listed.status != 200 or not isinstance(listed.error.get("sections"), list):
            return
        yield from self._faults_of_tokens()
        refs = [str(one["ref"]) for one in listed.error["sections"] if isinstance(one, Mapping) and one.get("ref")]
        if not refs:
            yield f"{self._instructor} has no section there: name an instructor who has one, so that more can be tried"
        for ref in refs[:3]:
            yield from self._faults_of_section(ref)
        yield from self._faults_of_strangers(refs)
        if refs:
            yield from self._faults_of_requests(refs[0])
        if send_to:
            yield from self._faults_of_sending(send_to)

    # --- who is answered -----------------------------------------------------------------------

    def _faults_of_tokens(self) -> Iterator[str]:
        long_ago = datetime.now().timestamp() - 10 * VALID_SECONDS
        for words, token in (
            ("without a token", ""),
            ("with a token of another secret", access_token("x" * 40, self._instructor)),
            ("with a token that is over", access_token(self._secret, self._instructor, long_ago)),
        ):
            yield from _must_be(self._ask("GET", "/api/sections", token=token), (401,), words)
        other = self._ask("GET", "/api/sections", token=access_token(self._secret, f"{NOBODY}@example.invalid"))
        if other.status != 200 or other.error.get("sections") != []:
            yield f"{other.asked} for an instructor without sections must be answered 200 with an empty list"

    def _faults_of_strangers(self, refs: list[str]) -> Iterator[str]:
        for path in (section_path(NOBODY), f"{section_path(NOBODY)}/runs/final/grades"):
            yield from _must_be(self._get(path), (404,), "for a section that is not there")
        if refs:
            token = access_token(self._secret, f"{NOBODY}@example.invalid")
            for path in (section_path(refs[0]), f"{section_path(refs[0])}/runs/final/grades"):
                yield from _must_be(self._ask("GET", path, token=token), (404,), "for a section of somebody else")
            yield from _must_be(
                self._get(f"{section_path(refs[0])}/runs/summer/grades"), (404,), "for a run that is none"
            )

    # --- what is told --------------------------------------------------------------------------

    def _faults_of_section(self, ref: str) -> Iterator[str]:
        found = self._get(section_path(ref))
        yield from _read(found, read_roster)
        if found.error.get("ref") not in {None, ref}:
            yield f"{found.asked} must be answered with the section asked for, and not {found.error['ref']}"
        runs = found.error.get("runs")
        for run in runs if isinstance(runs, Mapping) else ():
            path = f"{section_path(ref)}/runs/{quote(str(run), safe='')}/grades"
            held = self._get(path)
            yield from _read(held, read_held)
            if self._get(path).value != held.value:
                yield f"{held.asked} must be answered alike as long as nothing happens"

    # --- what is refused, without anything being done ------------------------------------------

    def _faults_of_requests(self, ref: str) -> Iterator[str]:
        whole = self._sending([GradeRow(NOBODY, "A")])
        path = f"{section_path(ref)}/runs/final/sendings"
        for words, body in (
            ("without a key", {**whole, "key": ""}),
            ("with a key that is too short", {**whole, "key": "short"}),
            ("without who signs", {key: whole[key] for key in whole if key != "signed_by"}),
            ("without rows", {**whole, "rows": []}),
            ("with a row without a code", {**whole, "rows": [{"id": NOBODY}]}),
            ("whose digest does not fit the rows", {**whole, "digest": "0" * 64}),
            ("that is no JSON", "grades"),
        ):
            yield from _must_be(self._ask("POST", path, body), (400,), f"of a sending {words}")
        for words, body in (
            ("without a key", {**self._change(), "key": ""}),
            ("without a student", {**self._change(), "student": None}),
            ("without a new grade", {**self._change(), "new": None}),
            ("whose evidence is not that of its digest", {**self._change(), "evidence": WRONG_EVIDENCE}),
        ):
            yield from _must_be(self._ask("POST", f"{section_path(ref)}/changes", body), (400,), f"of a change {words}")
        change = self._change()
        answer = self._ask("POST", f"{section_path(ref)}/changes", change)
        yield from self._verdict(answer, str(change["key"]), "of a change for a student who is not there")
        stranger = {**whole, "signed_by": f"{NOBODY}@example.invalid"}
        yield from self._verdict(self._ask("POST", path, stranger), str(whole["key"]), "signed by somebody else")

    def _faults_of_sending(self, ref: str) -> Iterator[str]:
        """The same key twice, and for something else: one row, for a student whom nobody knows."""
        path = f"{section_path(ref)}/runs/final/sendings"
        body = {**self._sending([GradeRow(NOBODY, "A")]), "history_seal": "5" * 64}
        first = self._ask("POST", path, body)
        if first.status in {409, 423}:
            yield from self._verdict(first, str(body["key"]), "of a sending")
            yield f"{first.asked} takes nothing just now{_why(first)}, so that receipts could not be tried"
            return
        yield from _read(first, lambda value: read_receipt(value, ""))
        yield from _receipt_faults(first, body)
        if self._ask("POST", path, body).value != first.value:
            yield f"{first.asked}: the same key with the same rows must give the same receipt"
        other = {**self._sending([GradeRow(NOBODY, "B")]), "key": body["key"]}
        answer = self._ask("POST", path, other)
        yield from self._verdict(answer, str(body["key"]), "of other rows under a key that was used", busy=False)
        held = self._get(f"{section_path(ref)}/runs/final/grades")
        if any(one.get("id") == NOBODY for one in held.error.get("grades", []) if isinstance(one, Mapping)):
            yield f"{held.asked} must not have what was refused"

    def _verdict(self, answer: Answer, key: str, words: str, busy: bool = True) -> Iterator[str]:
        """A no of the registrar's own: 409 with the key, or 423 with until when."""
        yield from _must_be(answer, (409, 423) if busy else (409,), words)
        if answer.status == 409 and answer.error.get("key") != key:
            yield f"{answer.asked} {words} must repeat the key in its no: without it, it is sent again for ever"
        if answer.status == 423:
            yield from _moment_faults(answer, answer.error, "")
            if "until" not in answer.error:
                yield f"{answer.asked} must say until when nothing is taken"

    # --- asking --------------------------------------------------------------------------------

    def _sending(self, sent: list[GradeRow]) -> dict[str, Any]:
        return {
            "key": str(uuid4()),
            "signed_by": self._instructor,
            "digest": digest(sent),
            "rows": [row_values(row) for row in sent],
            "history_seal": "",
        }

    def _change(self) -> dict[str, Any]:
        new = row_values(GradeRow(NOBODY, "A"))
        return {
            "key": str(uuid4()), "signed_by": self._instructor, "student": NOBODY, "old": None, "new": new,
            "reason": "a trial that changes nothing", "evidence": None,
        }  # fmt: skip

    def _get(self, path: str) -> Answer:
        return self._ask("GET", path)

    def _ask(self, method: str, path: str, body: object = None, token: str | None = None) -> Answer:
        self.tried += 1
        asked = f"{method} {path}"
        shown = access_token(self._secret, self._instructor) if token is None else token
        headers = {"Authorization": f"Bearer {shown}"} if shown else {}
        try:
            answer = self._http.request(method, path, headers=headers, json=body)
        except httpx.TimeoutException:
            return Answer(asked, 0, None, f"does not answer within {DEADLINE_SECONDS:.0f} seconds")
        except httpx.HTTPError as error:
            return Answer(asked, 0, None, f"cannot be reached ({type(error).__name__})")
        if len(answer.content) > LARGEST_ANSWER:
            return Answer(asked, answer.status_code, None, "is answered with more than 8 MB")
        try:
            return Answer(asked, answer.status_code, json.loads(answer.content.decode()))
        except (ValueError, RecursionError):
            return Answer(asked, answer.status_code, None, "is not answered with JSON")


WRONG_EVIDENCE = {"file": "a.txt", "sha256": "0" * 64, "content": "YQ=="}


def _read(answer: Answer, read: Callable[[object], object]) -> Iterator[str]:
    """Faults of an answer that must be 200 and readable."""
    if answer.trouble or answer.status != 200:
        yield f"{answer.asked} {answer.trouble or f'must be answered 200 and is {answer.status}'}{_why(answer)}"
        return
    try:
        read(answer.value)
    except Refused as error:
        yield f"{answer.asked}: {error.field or 'the answer'} {error.reason}"
    yield from _moment_faults(answer, answer.value, "")


def _must_be(answer: Answer, statuses: tuple[int, ...], words: str) -> Iterator[str]:
    wanted = " or ".join(str(status) for status in statuses)
    if answer.status not in statuses:
        came = answer.trouble if answer.status == 0 else f"and is {answer.status}"
        yield f"{answer.asked} {words} must be answered {wanted} {came}"
    elif not isinstance(answer.error.get("error"), str) or not answer.error["error"].strip():
        yield f"{answer.asked} {words} must say why, as error, in JSON"


def _why(answer: Answer) -> str:
    said = answer.error.get("error")
    return f" ({said[:200]})" if isinstance(said, str) else ""


def _moment_faults(answer: Answer, value: object, place: str) -> Iterator[str]:
    """Moments without an offset: which hour of two is meant is not told."""
    if isinstance(value, Mapping):
        for key, inner in value.items():
            if key in MOMENTS and isinstance(inner, str) and not _has_offset(inner):
                yield f"{answer.asked}: {place}{key} must be a moment with an offset, like 2026-12-21T17:00:00-06:00"
                return
            yield from _moment_faults(answer, inner, f"{place}{key}.")
    elif isinstance(value, list):
        for number, inner in enumerate(value):
            yield from _moment_faults(answer, inner, f"{place.removesuffix('.')}[{number}].")


def _has_offset(text: str) -> bool:
    try:
        return datetime.fromisoformat(text).tzinfo is not None
    except ValueError:
        return False


def _receipt_faults(answer: Answer, body: Mapping[str, Any]) -> Iterator[str]:
    found = answer.error
    if answer.status != 200:
        return
    if found.get("digest") != body["digest"]:
        yield f"{answer.asked}: the receipt must repeat the digest that was sent"
    if found.get("history_seal") != body["history_seal"]:
        yield f"{answer.asked}: the receipt should repeat history_seal, so that an altered history can be told later"
    rows = found.get("rows")
    answers = rows if isinstance(rows, list) else []
    if [one.get("id") for one in answers if isinstance(one, Mapping)] != [NOBODY]:
        yield f"{answer.asked}: the receipt must have each row that was sent, once"
    elif answers[0].get("accepted") is not False or not answers[0].get("reason"):
        yield f"{answer.asked}: a row for a student whom nobody knows must be refused with a reason"
