"""The registrar's receipt: one strict reader."""

from typing import Any

import pytest

from vinemark.core.base.refused import Refused
from vinemark.core.submit.receipt import read_receipt, receipt_values

ANSWER: dict[str, Any] = {
    "number": "R-2026-00001", "received_at": "2026-12-19T10:20", "accepted": 1, "refused": 1, "digest": "ab",
    "rows": [{"id": "L1", "code": "A", "accepted": True}, {"id": "L2", "code": "X", "accepted": False, "reason": "no"}],
}  # fmt: skip


def test_a_receipt_is_read_said_and_written() -> None:
    receipt = read_receipt({**ANSWER, "later": "left alone"})
    assert receipt.words == "receipt R-2026-00001: 1 accepted, 1 refused"
    assert receipt.accepted_ids == {"L1"}
    assert [row.reason for row in receipt.rows] == [None, "no"]
    assert read_receipt(receipt_values(receipt)) == receipt


def test_receipts_of_the_first_versions_had_no_codes() -> None:
    assert (
        read_receipt({**ANSWER, "accepted": 1, "refused": 0, "rows": [{"id": "L1", "accepted": True}]}).rows[0].code
        == ""
    )


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"accepted": 2}, "receipt.accepted"),
        ({"refused": 0}, "receipt.accepted"),
        ({"accepted": True}, "receipt.accepted"),
        ({"number": ""}, "receipt.number"),
        ({"digest": None}, "receipt.digest"),
        ({"rows": "none"}, "receipt.rows"),
        ({"rows": [ANSWER["rows"][0], ANSWER["rows"][0]]}, "receipt.rows[1].id"),
        ({"rows": [{"id": "L1", "accepted": 1}, ANSWER["rows"][1]]}, "receipt.rows[0].accepted"),
        ({"rows": [{"id": "L1", "accepted": True, "reason": 5}, ANSWER["rows"][1]]}, "receipt.rows[0].reason"),
    ],
)
def test_what_is_no_receipt_is_refused_at_its_field(change: dict[str, Any], field: str) -> None:
    with pytest.raises(Refused) as caught:
        read_receipt({**ANSWER, **change})
    assert caught.value.field == field
