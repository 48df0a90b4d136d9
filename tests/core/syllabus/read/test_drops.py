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
    "you may drop one class without penalty",
    "i will drop one letter grade for each missed week",
    "we drop 5% for each day late",
    "you may drop one point per day",
    "i drop one third of a grade per day late",
    "you may skip one question on the midterm",
    "you have one drop box",
    "six exercises, three count 10% and three 5%",
    "we skip two chapters",
    "to drop one section, see the registrar",
    "one low tide field trip is planned",
    "plus and minus are for the top and bottom three points of each range",
)


@pytest.mark.parametrize("text", NO_DROPS)
def test_what_is_no_drop(text: str) -> None:
    assert find_drops(text) == []


@pytest.mark.parametrize(
    ("text", "lowest", "best"),
    [
        ("i drop one quiz grade", 1, None),
        ("there will be six sketches. i drop one.", 1, None),
        ("you are allowed to drop two of them", 2, None),
        ("one low map exercise is forgiven", 1, None),
        ("the lowest sketch will not be included in your average", 1, None),
        ("each student gets one free exercise drop", 1, None),
        ("drops: two sketches", 2, None),
        ("you may skip four checks (your ten best are counted)", 0, 10),
        ("exercises, six of them, minus the lowest", 1, None),
        ("six sketches, drop lowest", 1, None),
    ],
)
def test_a_drop_said_in_other_words(text: str, lowest: int, best: int | None) -> None:
    assert [(one.lowest, one.best) for one in find_drops(text)] == [(lowest, best)]
