"""What is drawn beside a finding: heights in thousandths, in the order that people know, the right bar marked."""

import pytest

from tests.builders import AFTER, category, course, plan
from vinemark.core.audit.finding import Facts, Finding
from vinemark.core.audit.sketch import HIGHEST_BAR, Sketch, sketches

OF = course(
    plan(category("10", "20", "50")),
    {"ada": ["9", "20", None], "bo": ["0.5", "5", "70"], "cy": [None, "missing", "exempt"], "di": ["8", "10", "25"]},
)


def drawn(student: str | None = None, item: str | None = None) -> list[Sketch]:
    finding = Finding("found", student=student, item=item, code="x", level="look", step="scores")
    return sketches(Facts(OF, AFTER), finding)


def test_an_item_is_drawn_over_the_class_and_a_student_over_the_items() -> None:
    item, student = drawn("bo", "i0")
    assert item.title == "I 0, in the order of the class"
    assert student.title == f"{OF.students[1].plain_name}, item by item"
    assert [bar.height for bar in item.bars] == [900, 50, None, 800]
    assert [bar.height for bar in student.bars] == [50, 250, HIGHEST_BAR]
    assert [bar.marked for bar in item.bars] == [False, True, False, False]
    assert [bar.marked for bar in student.bars] == [True, False, False]
    assert (item.median, student.median) == (800, 250)


def test_what_is_no_number_is_said() -> None:
    (student,) = drawn("cy")
    assert [bar.words.split(": ")[1] for bar in student.bars] == ["blank", "missing", "exempt"]
    assert (student.median, student.words) == (None, "3 scores, 3 without a number")


def test_the_words_say_what_is_drawn() -> None:
    item, _ = drawn("bo", "i0")
    assert item.words == f"4 scores, 1 without a number, median 80%, here {OF.students[1].name}: 5%"


@pytest.mark.parametrize(("student", "item", "count"), [(None, None, 0), ("nobody", "none", 0), (None, "i2", 1)])
def test_a_finding_about_neither_draws_nothing(student: str | None, item: str | None, count: int) -> None:
    assert len(drawn(student, item)) == count
