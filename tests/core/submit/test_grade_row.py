"""From the computed grade to the rows that go out, and back."""

import hashlib
from dataclasses import replace

import pytest

from tests.builders import TERM
from tests.core.small_class import small_class
from vinemark.core.course.course import NeverAttended, Settled
from vinemark.core.submit.grade_row import GradeRow, digest, grade_row

SETTLED = {"ada": Settled("B"), "bo": Settled("P"), "cy": Settled("F")}


@pytest.mark.parametrize(("said", "row"), [
    ("first_day", GradeRow("cy", "F", TERM.starts.isoformat())),
    ("zero_hours", GradeRow("cy", "F", None, True)),
])  # fmt: skip
def test_never_attended_is_said_as_the_office_wants_it(said: NeverAttended, row: GradeRow) -> None:
    """Common practice, no source: the term's first day at one school, zero hours at another."""
    of = small_class(SETTLED)
    assert of.records is not None
    asks = replace(of, records=replace(of.records, never_attended=said))
    assert grade_row(asks, "cy", Settled("F", never_attended=True)) == row


def test_the_digest_is_sha_256_of_the_rows_in_any_order() -> None:
    """Source: SHA-256 of FIPS 180-4, by Python's hashlib, over the text that docs/formats.md spells out."""
    one, two = GradeRow("a", "B"), GradeRow("b", "F", "2026-11-02")
    text = (
        '[{"code":"B","fallback_grade":null,"finish_by":null,"id":"a","last_attended":null,"never_attended":false},'
        '{"code":"F","fallback_grade":null,"finish_by":null,"id":"b","last_attended":"2026-11-02",'
        '"never_attended":false}]'
    )
    assert digest([two, one]) == hashlib.sha256(text.encode()).hexdigest()
    assert digest([one]) != digest([two])
