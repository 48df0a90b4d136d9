"""From the computed grade to the rows that go out, and back."""

import hashlib
from dataclasses import replace

import pytest

from tests.builders import TERM
from tests.core.small_class import small_class
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import NeverAttended, Settled
from vinemark.core.submit.grade_row import GradeRow, digest, grade_row, read_grade_row

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


def test_a_row_is_read_with_its_defaults_and_refused_at_its_field() -> None:
    assert read_grade_row({"id": "a", "code": "B", "later": 1}) == GradeRow("a", "B")
    full = {"id": "a", "code": "I", "last_attended": "2026-11-02", "never_attended": True, "fallback_grade": "D",
            "finish_by": "2027-02-01", "owed": "the report"}  # fmt: skip
    assert read_grade_row(full) == GradeRow("a", "I", "2026-11-02", True, "D", "2027-02-01", "the report")
    assert read_grade_row({**full, "owed": ""}).owed is None
    for change, field in (({"never_attended": 1}, "row.never_attended"), ({"finish_by": "soon"}, "row.finish_by"),
                          ({"code": ""}, "row.code"), ({"id": None}, "row.id")):  # fmt: skip
        with pytest.raises(Refused) as caught:
            read_grade_row({**full, **change})
        assert caught.value.field == field
