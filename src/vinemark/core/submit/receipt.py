"""The registrar's receipt of a submission, and the one strict reader of it."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from vinemark.core.base.refused import (
    Keys,
    Refused,
    any_text,
    flag,
    iso_moment,
    one_line,
    refuse_repeat,
    rows,
    text,
    whole_number,
)


@dataclass(frozen=True)
class RowAnswer:
    """The registrar's answer to one row of a submission."""

    id: str
    code: str
    accepted: bool
    reason: str | None

    @property
    def words(self) -> str:
        """'accepted', or 'refused: not on the roster'."""
        return "accepted" if self.accepted else f"refused: {self.reason}"


@dataclass(frozen=True)
class Receipt:
    """What the registrar answers to a submission: how many rows it accepted and refused, and each row's answer.

    `history_seal` repeats what came with the submission; a registrar that does not keep it says nothing.
    """

    number: str
    received_at: str
    accepted: int
    refused: int
    digest: str
    rows: tuple[RowAnswer, ...]
    history_seal: str = ""

    @property
    def words(self) -> str:
        """'receipt R-2026-00001: 33 accepted, 1 refused'."""
        return f"receipt {self.number}: {self.accepted} accepted, {self.refused} refused"

    @property
    def accepted_ids(self) -> frozenset[str]:
        """Whose rows were accepted."""
        return frozenset(row.id for row in self.rows if row.accepted)


def read_receipt(value: object, field: str = "receipt") -> Receipt:
    """A receipt from parsed JSON. Keys that are not known here are left alone. Raises Refused at the field."""
    keys = Keys(value, field, None)
    receipt = Receipt(
        keys.needed("number", one_line),
        keys.needed("received_at", iso_moment),
        keys.needed("accepted", whole_number),
        keys.needed("refused", whole_number),
        keys.needed("digest", text),
        keys.needed("rows", rows(_read_row)),
        keys.given("history_seal", any_text, ""),
    )
    refuse_repeat([row.id for row in receipt.rows], lambda i: f"{field}.rows[{i}].id")
    if receipt.accepted != len(receipt.accepted_ids) or receipt.accepted + receipt.refused != len(receipt.rows):
        raise Refused(f"{field}.accepted", "does not agree with the rows")
    return receipt


def _read_row(value: object, field: str) -> RowAnswer:
    keys = Keys(value, field, None)
    # Receipts of the first versions did not repeat the code.
    return RowAnswer(
        keys.needed("id", text),
        keys.given("code", any_text, ""),
        keys.needed("accepted", flag),
        keys.maybe("reason", any_text),
    )


def receipt_values(receipt: Receipt) -> Mapping[str, Any]:
    """A receipt as JSON values."""
    return {**vars(receipt), "rows": [vars(row).copy() for row in receipt.rows]}
