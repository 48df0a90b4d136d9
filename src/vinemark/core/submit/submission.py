"""Submissions on their way to the registrar, and what is known of a run there."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Literal, NamedTuple

from vinemark.core.course.course import Run
from vinemark.core.submit.grade_row import GradeRow
from vinemark.core.submit.receipt import Receipt

SubmissionState = Literal["signed", "waiting", "received", "refused"]
"""`signed`: nothing went out yet. `waiting`: it went out or will, without an answer. `received`: there is a receipt.
`refused`: refused as a whole."""


@dataclass(frozen=True)
class Submission:
    """One signed set of rows on its way to the registrar, and the receipt once there is one.

    `send_after` is when it goes out by itself; `by_file` says that it was taken out as a file; `unconfirmed` that an
    attempt may have arrived of which the registrar has said nothing; `unreadable` that its saved receipt is damaged.
    `history_seal` is the seal of the history up to the signature, empty for those signed before there were seals.
    """

    id: int
    section_id: int
    key: str
    run: Run
    rows: Sequence[GradeRow]
    digest: str
    state: SubmissionState
    trouble: str | None
    receipt: Receipt | None
    signed_at: datetime
    signed_by: str
    signer_email: str
    course_digest: str
    send_after: datetime | None
    by_file: bool
    unconfirmed: bool = False
    unreadable: bool = False
    history_seal: str = ""

    @property
    def may_be_withdrawn(self) -> bool:
        """Whether it is known that nothing of it arrived."""
        return self.under_way and not self.unconfirmed

    @property
    def under_way(self) -> bool:
        """Signed and without an answer."""
        return self.state in {"signed", "waiting"}


@dataclass(frozen=True)
class RegistrarCopy:
    """What the registrar had when last asked; `fell_back` are incompletes as they were before their fallback.

    `covers` is the id of the latest submission that it had answered when it was asked.
    """

    rows: Mapping[str, GradeRow]
    posted_at: str | None
    read_at: datetime
    fell_back: Mapping[str, GradeRow]
    covers: int

    def same_as(self, other: "RegistrarCopy | None") -> bool:
        """Whether the registrar has what it had before, and no more was answered since."""
        return other is not None and (self.rows, self.posted_at, self.fell_back, self.covers) == (
            other.rows, other.posted_at, other.fell_back, other.covers,
        )  # fmt: skip


class RefusedRow(NamedTuple):
    """A row that the registrar refused, and why."""

    row: GradeRow
    reason: str


@dataclass(frozen=True)
class AtRegistrar:
    """What is known of a run at the registrar.

    `held` is what it should have by its own answers, `seen` what it was seen to have when it was last asked; whose
    answer came after that stands in `unchecked`. Beside them the rows it refused last, those that are signed and on
    their way, whether it has posted, how many settled grades moved since, of how many students it was seen to have
    something else than it answered, and whose incomplete it let fall back.
    """

    held: Mapping[str, GradeRow] = field(default_factory=dict)
    seen: Mapping[str, GradeRow] = field(default_factory=dict)
    unchecked: Collection[str] = ()
    refused: Mapping[str, RefusedRow] = field(default_factory=dict)
    on_the_way: Mapping[str, GradeRow] = field(default_factory=dict)
    posted: bool = False
    drifted: int = 0
    differing: int = 0
    fell_back: Collection[str] = ()

    def has(self, row: GradeRow) -> bool:
        """Whether the registrar was seen to have exactly this."""
        return row.id not in self.unchecked and self.seen.get(row.id) == row

    def answered(self, row: GradeRow) -> bool:
        """Whether it answered that it took exactly this, and was not asked since what it has."""
        return row.id in self.unchecked and self.held.get(row.id) == row


def accepted_rows(submissions: Sequence[Submission]) -> dict[str, GradeRow]:
    """What the registrar's receipts say it accepted, the latest row for each student."""
    held: dict[str, GradeRow] = {}
    for one in submissions:
        if one.receipt is not None:
            taken = one.receipt.accepted_ids
            held.update({row.id: row for row in one.rows if row.id in taken})
    return held


def unchecked(submissions: Sequence[Submission], covers: int) -> frozenset[str]:
    """Whose latest accepted row was answered after the registrar was last asked what it has."""
    latest = {student: one.id for one in submissions if one.receipt for student in one.receipt.accepted_ids}
    return frozenset(student for student, submission in latest.items() if submission > covers)


def refusals(submissions: Sequence[Submission]) -> dict[str, RefusedRow]:
    """Each row whose latest submission the registrar refused, with its reason."""
    found: dict[str, RefusedRow] = {}
    for one in submissions:
        sent = {row.id: row for row in one.rows}
        for answer in one.receipt.rows if one.receipt else ():
            if answer.accepted:
                found.pop(answer.id, None)
            elif answer.id in sent:
                found[answer.id] = RefusedRow(sent[answer.id], answer.reason or "")
    return found


def under_way(submissions: Sequence[Submission]) -> Submission | None:
    """The submission that is signed and not answered yet."""
    return next((one for one in submissions if one.under_way), None)


def last_received(submissions: Sequence[Submission]) -> Submission | None:
    """The latest submission that the registrar received."""
    return next((one for one in reversed(submissions) if one.receipt), None)
