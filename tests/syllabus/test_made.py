"""The reader on syllabuses made from seeds: what it was built on, and apart from it what it is judged on."""

from fractions import Fraction

import pytest

from tests.syllabus.documents import documents
from tests.syllabus.gold import Score, scored, summed
from tests.syllabus.made.course import Half, made
from tests.syllabus.made.wordings import SEEN, UNSEEN
from vinemark.core.syllabus import read_syllabus
from vinemark.exchange.syllabus_file import read_text

pytestmark = pytest.mark.many
DOCUMENTS = 60


def of_half(half: Half) -> list[Score]:
    return [scored(read_syllabus(read_text(m.name, m.data)), m.gold) for m in (made(n, half) for n in range(DOCUMENTS))]


def test_no_wording_is_in_both_halves() -> None:
    for kind, wordings in SEEN.items():
        assert not set(wordings) & set(UNSEEN[kind]), kind


@pytest.mark.parametrize(("half", "precision", "recall"), [("seen", "0.99", "0.98"), ("unseen", "0.97", "0.93")])
def test_a_half_reaches_its_aim(half: Half, precision: str, recall: str) -> None:
    total = summed(of_half(half))
    assert total.precision >= Fraction(precision), total.amiss
    assert total.recall >= Fraction(recall), total.amiss


def test_at_most_one_fact_in_a_hundred_is_invented() -> None:
    total = summed(of_half("unseen")).facts
    assert total["invented"] * 100 <= sum(total.values())


@pytest.mark.parametrize(
    ("folder", "least"), [("syllabus", "0.98"), ("syllabus_written", "0.99"), ("syllabus_by_hand", "0.97")]
)
def test_whole_documents(folder: str, least: str) -> None:
    """Source: the sample cases that come with the format, and hundreds of documents written before they were read."""
    total = summed([document.score() for document in documents(folder)])
    assert total.precision >= Fraction(least), total.amiss
    assert total.recall >= Fraction(least), total.amiss


def test_the_score_itself_sees_what_is_amiss() -> None:
    gold = {
        "basis": "weighted", "scale": [], "scale_unit": None, "rounding": None, "blanks": None,
        "categories": [{"name": "Labs", "weight": "40", "count": 8}, {"name": "Final", "weight": "60"}],
    }  # fmt: skip
    right = scored(read_syllabus("Grading\n\n- Labs (8): 40%\n- Final: 60%\n"), gold)
    assert not right.amiss
    amiss = scored(read_syllabus("Grading\n\n- Labs (9): 40%\n- Paper: 60%\n"), gold).amiss
    assert {"wrong Labs count", "missed Final: category", "invented Paper: category"} <= set(amiss)
