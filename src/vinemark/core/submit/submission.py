"""Submissions on their way to the registrar, and what is known of a run there."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Literal

from vinemark.core.course.course import Run
from vinemark.core.submit.grade_row import GradeRow
from vinemark.core.submit.receipt import Receipt

SubmissionState = Literal["signed", "waiting", "received", "refused"]
"""`signed`: nothing went out yet. `waiting`: it went out or will, without an answer. `received`: there is a receipt.
`refused`: refused as a whole."""


@dataclass(frozen=True)
class Submission:
    """One signed set of rows on its way to the registrar, and the receipt once there is one.

    `send_after` is when it goes out by itself; `by_file` says that it was taken out as a file.
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

    @property
    def under_way(self) -> bool:
        """Signed and without an answer."""
        return self.state in {"signed", "waiting"}


@dataclass(frozen=True)
class RegistrarCopy:
    """What the registrar had when last asked; `fell_back` are incompletes as they were before their fallback."""

    rows: Mapping[str, GradeRow]
    posted_at: str | None
    read_at: datetime
    fell_back: Mapping[str, GradeRow]

    def same_as(self, other: "RegistrarCopy | None") -> bool:
        """Whether the registrar has what it had before."""
        return other is not None and (self.rows, self.posted_at, self.fell_back) == (
            other.rows, other.posted_at, other.fell_back,
        )  # fmt: skip


@dataclass(frozen=True)
class AtRegistrar:
    """What is known of a run at the registrar: rows it has, its reason for each it refused last, rows that are signed
    and on their way, whether it has posted, how many settled grades moved since, whose incomplete it let fall back."""

    held: Mapping[str, GradeRow] = field(default_factory=dict)
    refused: Mapping[str, str] = field(default_factory=dict)
    on_the_way: Mapping[str, GradeRow] = field(default_factory=dict)
    posted: bool = False
    drifted: int = 0
    fell_back: Collection[str] = ()


def accepted_rows(submissions: Sequence[Submission]) -> dict[str, GradeRow]:
    """What the registrar's receipts say it accepted, the latest row for each student."""
    held: dict[str, GradeRow] = {}
    for one in submissions:
        if one.receipt is not None:
            taken = one.receipt.accepted_ids
            held.update({row.id: row for row in one.rows if row.id in taken})
    return held


def refusals(submissions: Sequence[Submission]) -> dict[str, str]:
    """The registrar's reason for each row whose latest submission it refused."""
    reasons: dict[str, str] = {}
    for one in submissions:
        for row in one.receipt.rows if one.receipt else ():
            if row.accepted:
                reasons.pop(row.id, None)
            else:
                reasons[row.id] = row.reason or ""
    return reasons


def under_way(submissions: Sequence[Submission]) -> Submission | None:
    """The submission that is signed and not answered yet."""
    return next((one for one in submissions if one.under_way), None)


def last_received(submissions: Sequence[Submission]) -> Submission | None:
    """The latest submission that the registrar received."""
    return next((one for one in reversed(submissions) if one.receipt), None)
