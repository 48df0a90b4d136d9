"""Syllabus and plan side by side: drafted, held against each other, followed, corrected, noted."""

import pytest

from tests.core.syllabus.one_syllabus import PLAN
from tests.syllabus.documents import DOCUMENTS, Document
from vinemark.core.plan.plan import Rounding
from vinemark.core.syllabus import read_syllabus
from vinemark.core.syllabus.compare.draft import drafted
from vinemark.core.syllabus.compare.match import compare_rules

pytestmark = pytest.mark.many


def test_a_plan_is_drafted_with_what_is_said() -> None:
    assert [(c.name, c.weight, c.drop_lowest, len(c.items)) for c in PLAN.categories] == [
        ("Field notebooks", 20, 1, 6), ("Map quizzes", 15, 2, 8), ("Lab practicals", 25, 0, 2), ("Seminar", 10, 0, 1),
        ("Survey report", 30, 0, 1),
    ]  # fmt: skip
    assert PLAN.categories[1].items[0].name == "Map quiz 1"
    assert PLAN.rounding == Rounding(2)
    assert len(PLAN.scale) == 10


@pytest.mark.parametrize("document", DOCUMENTS, ids=lambda d: d.name)
def test_what_is_drafted_agrees_with_what_was_read(document: Document) -> None:
    """The draft says the same as the text; a scale in points needs items with points to stand on."""
    reading = read_syllabus(document.text)
    left = {
        rule.name for rule in compare_rules(drafted(reading), reading) if rule.state in {"differs", "not in the plan"}
    }
    assert left <= ({"scale"} if reading.scale_unit == "points" and not reading.categories else set())


def test_cutoffs_in_points_become_exact_percents() -> None:
    """Arithmetic: 450, 400, 350, 300 of 500 points are 90, 80, 70, 60 percent."""
    reading = read_syllabus(next(d.text for d in DOCUMENTS if d.name == "points table with a total"))
    assert [row.cutoff for row in drafted(reading).scale] == [90, 80, 70, 60, 0]
