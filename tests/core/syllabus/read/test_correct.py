"""Syllabus and plan side by side: drafted, held against each other, followed, corrected, noted."""

from fractions import Fraction

import pytest

from tests.core.syllabus.one_syllabus import READING
from vinemark.core.base.refused import Refused
from vinemark.core.syllabus import SaidCategory, SaidRounding, SaidRow, read_syllabus
from vinemark.core.syllabus.read.correct import TypedFact, corrected, pointed


def test_facts_typed_over() -> None:
    rows = {
        0: TypedFact("Notebooks", "20", count="6", drop="best 5"),
        1: TypedFact("", "15"),
        2: TypedFact("Field day", "3", extra=True),
    }
    found = corrected(
        READING, rows, {"basis": "weighted", "scale": "A 90-100, B 80-89", "rounding": "none", "blanks": "zero"}
    )
    assert [(c.name, c.weight, c.count, c.keep_best, c.extra) for c in found.categories] == [
        ("Notebooks", 20, 6, 5, False), ("Field day", 3, None, None, True),
    ]  # fmt: skip
    assert (found.rounding, found.blanks, found.scale_unit) == (SaidRounding(None), "zero", "percent")
    assert "Notebooks" in {clause.category for clause in found.clauses}
    for rows_, others, place in (
        ({0: TypedFact("A", "x")}, {}, "weight-0"), ({3: TypedFact("A", drop="some")}, {}, "drop-3"),
        ({0: TypedFact("A", count="2.5")}, {}, "count-0"), ({}, {"scale": "good work"}, "scale"),
        ({0: TypedFact("x" * 130)}, {}, "name-0"),
    ):  # fmt: skip
        with pytest.raises(Refused) as caught:
            corrected(READING, rows_, others)
        assert caught.value.field == place


def test_a_sentence_pointed_at() -> None:
    text = "The notebook is a fifth. We forget the two weakest. Fine. A 90, B 80, C 70."
    found = read_syllabus("")
    for words, kind, named, value in (
        ("The notebook is a fifth.", "weight", "Notebook", "20"),
        ("We forget the two weakest.", "drop", "notebook", "lowest 2"),
        ("A 90, B 80, C 70.", "scale", "", ""), ("Fine.", "unread", "", ""),
    ):  # fmt: skip
        start = text.index(words)
        found = pointed(found, text, (start, start + len(words)), kind, named, value)  # type: ignore[arg-type]
    assert found.categories == [SaidCategory("Notebook", Fraction(20), drop_lowest=2)]
    assert found.scale == [SaidRow("A", Fraction(90)), SaidRow("B", Fraction(80)), SaidRow("C", Fraction(70))]
    assert [u.text for u in found.unread] == ["Fine."]
    gone = pointed(found, text, (0, 24), "nothing", "", "")
    assert "weight" not in {clause.kind for clause in gone.clauses}
    for kind, named, value, place in (
        ("weight", "", "20", "named"),
        ("count", "X", "many", "value"),
        ("scale", "", "good", "value"),
    ):
        with pytest.raises(Refused) as caught:
            pointed(found, text, (0, 24), kind, named, value)  # type: ignore[arg-type]
        assert caught.value.field == place
    assert pointed(found, text, (0, 5), "rounding", "", "1").rounding == SaidRounding(1)
    assert pointed(found, text, (0, 5), "blanks", "", "").blanks == "zero"
