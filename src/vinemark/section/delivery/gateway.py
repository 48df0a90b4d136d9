"""The one way to the registrar: each call gives what was asked for, or says plainly what is in the way."""

import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from datetime import datetime
from threading import BoundedSemaphore
from typing import Any, TypeVar

from vinemark.core.course.course import Run
from vinemark.core.submit.receipt import Receipt
from vinemark.core.submit.submission import Submission
from vinemark.office.answers import ChangeAnswer, HeldGrades, OfficeRoster, OfficeSection
from vinemark.office.client import AnswerAwaitedError, Office, OfficeBusyError, OfficeDownError, OfficeRefusedError

_T = TypeVar("_T")
SEATS = 3
"""How many requests wait for the registrar at once: the threads beside them go on saving."""
SILENT_FOR = 30.0
"""Seconds for which a registrar that did not answer counts as silent."""


@dataclass(frozen=True)
class Unanswered:
    """No answer that counts: whether anything was taken is not known. `reached` is False where nothing went out."""

    reason: str
    reached: bool = True
    awaited: bool = False
    """Whether it was handed over and the answer comes in its own time."""


@dataclass(frozen=True)
class Busy:
    """Nothing is taken just now, but after a time."""

    reason: str
    until: datetime


@dataclass(frozen=True)
class NotTaken:
    """It was refused as a whole."""

    reason: str


Trouble = Unanswered | Busy | NotTaken


class Silence:
    """Whether the registrar answered when it was last asked; those who ask share it."""

    def __init__(self) -> None:
        self._since: float | None = None

    def note(self, silent: bool) -> None:
        """It was asked now, and did or did not answer."""
        self._since = time.monotonic() if silent else None

    @property
    def lasts(self) -> bool:
        """Whether it did not answer the last time, a short while ago."""
        return self._since is not None and time.monotonic() - self._since < SILENT_FOR


@dataclass(frozen=True)
class Gateway:
    """The registrar, spoken to by a client; so many wait for it at once, and nobody else's work waits with them."""

    client: Office
    silence: Silence = field(default_factory=Silence)
    seats: BoundedSemaphore = field(default_factory=lambda: BoundedSemaphore(SEATS))

    @property
    def silent(self) -> bool:
        """Whether it did not answer just now: pages say so, and do not ask by themselves."""
        return self.silence.lasts

    def of_worker(self) -> "Gateway":
        """The same registrar for the worker, which has a seat of its own."""
        return replace(self, seats=BoundedSemaphore(1))

    def _ask(self, call: Callable[[], _T]) -> _T | Trouble:
        if not self.seats.acquire(timeout=0.2):
            return Unanswered("others are waiting for its answers just now", reached=False)
        try:
            answer = _answer(call)
        finally:
            self.seats.release()
        self.silence.note(isinstance(answer, Unanswered) and not answer.awaited)
        return answer

    def for_instructor(self, email: str) -> "Gateway":
        """The same registrar, asked for one instructor: it answers of their sections alone."""
        return replace(self, client=self.client.for_instructor(email))

    def sections(self) -> list[OfficeSection] | Trouble:
        """The sections of the instructor."""
        return self._ask(self.client.sections)

    def roster(self, ref: str) -> OfficeRoster | Trouble:
        """Roster, rules, hours and file layout of a section."""
        return self._ask(lambda: self.client.roster(ref))

    def held(self, ref: str, run: Run) -> HeldGrades | Trouble:
        """What the registrar has of a run."""
        return self._ask(lambda: self.client.held(ref, run))

    def submit(self, ref: str, submission: Submission) -> Receipt | Trouble:
        """Hand in a submission under its key. A receipt for other rows than were signed is no answer to it."""
        answer = self._ask(lambda: self.client.submit(ref, submission))
        return _fitting(answer, submission) if isinstance(answer, Receipt) else answer

    def ask_change(self, ref: str, key: str, signed_by: str, request: Mapping[str, Any]) -> ChangeAnswer | Trouble:
        """Ask for a change of grade under its key."""
        return self._ask(lambda: self.client.ask_change(ref, key, signed_by, request))


def _fitting(receipt: Receipt, submission: Submission) -> Receipt | Unanswered:
    """The receipt, where it answers exactly the rows that were sent."""
    sent = {row.id: row.code for row in submission.rows}
    if receipt.digest != submission.digest or {row.id for row in receipt.rows} != set(sent):
        return Unanswered("its receipt is for other rows")
    if any(row.code and row.code != sent[row.id] for row in receipt.rows):
        return Unanswered("its receipt names other codes than were sent")
    if receipt.history_seal not in {"", submission.history_seal}:
        return Unanswered("its receipt is for another history than was signed")
    return receipt


def _answer(call: Callable[[], _T]) -> _T | Trouble:
    try:
        return call()
    except OfficeDownError as error:
        return Unanswered(str(error), error.reached, isinstance(error, AnswerAwaitedError))
    except OfficeBusyError as error:
        return Busy(str(error), error.until)
    except OfficeRefusedError as error:
        return NotTaken(str(error))
