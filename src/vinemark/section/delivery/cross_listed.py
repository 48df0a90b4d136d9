"""A section with several rosters at the registrar, spoken of as one: rosters are put together, what is submitted is
parted by them, and the answers are one again.

Each part goes out under a key of its own that follows from the submission's, so that every part can be tried again
until it is answered, whatever became of the others.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any
from uuid import NAMESPACE_URL, uuid5

from vinemark.core.course.course import RosterEntry, Run
from vinemark.core.submit.grade_row import GradeRow, digest
from vinemark.core.submit.hours import Window
from vinemark.core.submit.receipt import Receipt, RowAnswer
from vinemark.core.submit.refs import refs_of
from vinemark.core.submit.submission import Submission
from vinemark.office.answers import ChangeAnswer, HeldGrades, OfficeRoster, OfficeSection
from vinemark.office.client import (
    AnswerAwaitedError,
    Office,
    OfficeBusyError,
    OfficeDownError,
    OfficeRefusedError,
)


@dataclass(frozen=True)
class CrossListed:
    """A registrar whose sections may be named several at once."""

    office: Office

    def for_instructor(self, email: str) -> "CrossListed":
        """The same registrar, asked for one instructor."""
        return CrossListed(self.office.for_instructor(email))

    def sections(self) -> list[OfficeSection]:
        """The sections of the instructor, one by one."""
        return self.office.sections()

    def roster(self, ref: str) -> OfficeRoster:
        """The rosters put together; rules, hours and layout are the first one's, hours as far as all agree."""
        found = [self.office.roster(one) for one in refs_of(ref)]
        if len(found) == 1:
            return found[0]
        first, entries = found[0], _entries(found)
        students = {one.id: one for roster in reversed(found) for one in roster.students}
        windows = _windows(found)
        return OfficeRoster(
            replace(first.section, ref=ref, windows=windows, people=len(entries)),
            [students[one.id] for one in entries if one.id in students],
            replace(first.records, roster=tuple(entries)),
            replace(first.hours, windows=windows),
            None,
        )

    def held(self, ref: str, run: Run) -> HeldGrades:
        """What it has of all of them; posted once all are of which it has a grade."""
        found = [self.office.held(one, run) for one in refs_of(ref)]
        if len(found) == 1:
            return found[0]
        filled = [one for one in found if one.rows] or found
        posted = [one.posted_at for one in filled if one.posted_at]
        return HeldGrades(
            [row for one in found for row in one.rows],
            max(posted) if len(posted) == len(filled) else None,
            [row for one in found for row in one.fell_back],
            [change for one in found for change in one.changes],
        )

    def submit(self, ref: str, submission: Submission) -> Receipt:
        """Every part to its section there; the receipts as one. Raises what the most of them leaves open."""
        refs = refs_of(ref)
        if len(refs) == 1:
            return self.office.submit(ref, submission)
        parts = self._parts(refs, submission.rows)
        answers = [self._tried(one, _part(submission, one, rows)) for one, rows in parts.items()]
        return _receipt(submission, list(parts.values()), answers)

    def _tried(self, ref: str, part: Submission) -> Receipt | Exception:
        """The receipt of a part, or what is in the way: the other parts are tried all the same."""
        try:
            answer = self.office.submit(ref, part)
        except (OfficeDownError, OfficeBusyError, OfficeRefusedError) as error:
            return error
        if answer.digest != part.digest or {row.id for row in answer.rows} != {row.id for row in part.rows}:
            return OfficeDownError("its receipt is for other rows")
        return answer

    def _parts(self, refs: Sequence[str], rows: Sequence[GradeRow]) -> Mapping[str, Sequence[GradeRow]]:
        """The rows by the section whose roster has them; who is on none goes with the first, which will say so."""
        whose: dict[str, str] = {}
        for one in reversed(refs):
            for entry in self.office.roster(one).records.roster:
                if entry.status == "enrolled" or entry.id not in whose:
                    whose[entry.id] = one
        found: dict[str, list[GradeRow]] = {}
        for row in rows:
            found.setdefault(whose.get(row.id, refs[0]), []).append(row)
        return found

    def ask_change(self, ref: str, key: str, signed_by: str, request: Mapping[str, Any]) -> ChangeAnswer:
        """Ask where the student's roster is."""
        refs = refs_of(ref)
        student = str(request["student"])
        for one in refs[1:]:
            if any(entry.id == student for entry in self.office.roster(one).records.roster):
                return self.office.ask_change(one, key, signed_by, request)
        return self.office.ask_change(refs[0], key, signed_by, request)


def _entries(found: Sequence[OfficeRoster]) -> list[RosterEntry]:
    """Everybody once: where somebody is on several rosters, enrolled before anything else."""
    entries: dict[str, RosterEntry] = {}
    for roster in found:
        for entry in roster.records.roster:
            there = entries.get(entry.id)
            if there is None or (there.status != "enrolled" and entry.status == "enrolled"):
                entries[entry.id] = entry
    return list(entries.values())


def _windows(found: Sequence[OfficeRoster]) -> dict[Run, Window]:
    """The runs that all take, from the last opening to the first end."""
    runs = [run for run in found[0].hours.windows if all(run in one.hours.windows for one in found)]
    of_run = {run: [one.hours.windows[run] for one in found] for run in runs}
    return {run: Window(max(w.opens for w in all_), min(w.due for w in all_)) for run, all_ in of_run.items()}


def _part(submission: Submission, ref: str, rows: Sequence[GradeRow]) -> Submission:
    key = str(uuid5(NAMESPACE_URL, f"{submission.key} {ref}"))
    return replace(submission, key=key, rows=rows, digest=digest(rows))


def _receipt(
    submission: Submission, parts: Sequence[Sequence[GradeRow]], answers: Sequence[Receipt | Exception]
) -> Receipt:
    """The receipts as one. Raises where a part is not answered, or all of them were refused as a whole."""
    receipts = [one for one in answers if isinstance(one, Receipt)]
    _raise_open(answers, bool(receipts))
    if not receipts:
        raise next(one for one in answers if isinstance(one, Exception))
    rows = [row for rows, answer in zip(parts, answers, strict=True) for row in _answers(rows, answer)]
    return Receipt(
        " + ".join(one.number for one in receipts),
        max(one.received_at for one in receipts),
        sum(row.accepted for row in rows),
        sum(not row.accepted for row in rows),
        submission.digest,
        tuple(rows),
        submission.history_seal if all(one.history_seal == submission.history_seal for one in receipts) else "",
    )


def _raise_open(answers: Sequence[Receipt | Exception], some_received: bool) -> None:
    """Raise where a part is not answered: what is known to be nowhere only where that holds of every part."""
    down = [one for one in answers if isinstance(one, OfficeDownError)]
    busy = [one for one in answers if isinstance(one, OfficeBusyError)]
    if some_received and (down or busy):
        raise OfficeDownError(f"a part of it was received, and the rest is tried again: {[*down, *busy][0]}")
    if down:
        raise max(down, key=lambda one: (one.reached, not isinstance(one, AnswerAwaitedError)))
    if busy:
        raise max(busy, key=lambda one: one.until)


def _answers(rows: Sequence[GradeRow], answer: Receipt | Exception) -> Sequence[RowAnswer]:
    """The answers to a part; where it was refused as a whole, each of its rows was."""
    if isinstance(answer, Receipt):
        return answer.rows
    return [RowAnswer(row.id, row.code, False, str(answer)) for row in rows]
