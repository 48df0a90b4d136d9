"""Syllabus and plan side by side: drafted, held against each other, followed, corrected, noted."""

from tests.core.syllabus.one_syllabus import PLAN, READING, TEXT
from vinemark.core.syllabus import read_syllabus
from vinemark.core.syllabus.compare.match import compare_rules
from vinemark.core.syllabus.compare.shown import reading_changes, stretches


def test_the_text_in_stretches_and_versions_in_words() -> None:
    shown = stretches(TEXT, READING, compare_rules(PLAN, READING))
    assert "".join(s.text for s in shown) == TEXT
    notebooks = next(s for s in shown if "Field notebooks" in s.text)
    assert "weight" in notebooks.kinds
    assert "weight:c1" in notebooks.rules
    newer = read_syllabus(TEXT.replace("| 20% |", "| 25% |"))
    lines = [(line.side, line.text) for line in reading_changes(READING, newer) if line.side != "both"]
    assert lines == [
        ("first", "Field notebooks: 20%, 6 items, lowest 1 dropped"),
        ("second", "Field notebooks: 25%, 6 items, lowest 1 dropped"),
    ]
