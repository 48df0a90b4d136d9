"""After sending: drift, a sheet that moved, changes of grade, and the diary of incompletes."""

from dataclasses import replace
from datetime import date

import pytest

from tests.core.after.three_settled import HELD, klass
from vinemark.core.after.grade_change import evidence_values, new_grade, request_values
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Settled
from vinemark.core.submit.grade_row import GradeRow, text_digest


@pytest.mark.parametrize(
    ("typed", "why", "place", "words"),
    [
        (Settled("B"), "marked wrongly", "grade", "the registrar has B already"),
        (Settled("Q"), "marked wrongly", "grade", "the registrar takes"),
        (Settled("A"), " ", "why", "type why the grade changes"),
        (Settled("A"), "x" * 2001, "why", "longer than 2000"),
        (Settled("F"), "stopped", "last_attended", "F needs the last date of attendance"),
        (Settled("I"), "ill", "fallback_grade", "I needs a fallback grade"),
        (Settled("I", fallback_grade="C"), "ill", "finish_by", "I needs a finish-by date"),
        (Settled("F", last_attended=date(2027, 1, 5)), "stopped", "last_attended", "must be in the term"),
    ],
)
def test_a_change_that_cannot_be_asked_is_refused_at_its_field(
    typed: Settled, why: str, place: str, words: str
) -> None:
    with pytest.raises(Refused) as refused:
        new_grade(klass(), "ada", HELD["ada"], typed, why)
    assert refused.value.field == place
    assert words in refused.value.reason


def test_a_change_may_contradict_the_computed_letter_and_keeps_its_reason() -> None:
    made = new_grade(klass(), "ada", HELD["ada"], Settled("c"), " agreed  with the chair ")
    assert made == Settled("C", "agreed with the chair")
    left = Settled("I", None, None, "C", date(2027, 5, 1), False, "the report")
    assert new_grade(klass(), "ada", HELD["ada"], left, "ill") == replace(left, reason="ill")


def test_the_request_carries_the_evidence_with_its_digest() -> None:
    evidence = evidence_values("both sheets", "sheets.pdf", b"%PDF")
    assert evidence == {
        "note": "both sheets",
        "file": "sheets.pdf",
        "sha256": text_digest(b"%PDF"),
        "content": "JVBERg==",
    }
    assert evidence_values(None, None, None) is None
    values = request_values("ada", None, GradeRow("ada", "A"), "why", None)
    assert (values["old"], values["new"]["code"]) == (None, "A")
