"""Reading a syllabus: every way of saying something by its example, whole documents, and places in the text."""

import pytest

from vinemark.core.syllabus.read.drops import DROPPED, KEPT, find_drops
from vinemark.core.syllabus.read.normal import Saying


@pytest.mark.parametrize("saying", [*KEPT, *DROPPED], ids=lambda s: s.example)
def test_each_way_of_saying_a_drop_reads_its_example(saying: Saying) -> None:
    assert saying.pattern.search(saying.example.lower())
    assert len(find_drops(saying.example.lower())) >= 1


NO_DROPS = (
    "the last day to drop is friday",
    "two absences are free",
    "no scores are dropped",
    "if you come, one quiz is dropped",
    "the final replaces the lowest midterm",
    "the lowest laboratory report is not dropped",
    "i will drop the lowest brief if you have come to every class",
    "the lowest quiz is dropped provided you hand in all others",
    "plus and minus are for the top and bottom three points of each range",
)


@pytest.mark.parametrize("text", NO_DROPS)
def test_what_is_no_drop(text: str) -> None:
    assert find_drops(text) == []
