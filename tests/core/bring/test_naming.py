"""Categories by the words of items' names."""

import pytest

from vinemark.core.bring.naming import category_names, plural, stem_of


@pytest.mark.parametrize(
    ("name", "stem"),
    [
        ("Quiz 1", "Quiz"), ("Quiz #12", "Quiz"), ("HW3", "HW"), ("Lab 4: Soil texture", "Lab"), ("Exam II", "Exam"),
        ("Essay B", "Essay"), ("Final exam", "Final exam"), ("Map quiz 10", "Map quiz"), ("3", "3"),
        ("Model", "Model"), ("Unit-2", "Unit"),
    ],
)  # fmt: skip
def test_what_items_of_one_kind_share(name: str, stem: str) -> None:
    assert stem_of(name) == stem


@pytest.mark.parametrize(
    ("one", "many"),
    [
        ("Quiz", "Quizzes"), ("Lab", "Labs"), ("Essay", "Essays"), ("Study", "Studies"), ("Sketch", "Sketches"),
        ("HW", "HW"), ("Homework", "Homework"), ("Field notes", "Field notes"), ("Box", "Boxes"), ("Thesis", "Theses"),
        ("Class", "Classes"), ("", ""),
    ],
)  # fmt: skip
def test_the_name_of_several(one: str, many: str) -> None:
    assert plural(one) == many


def test_a_group_goes_before_words_and_a_single_item_keeps_its_name() -> None:
    items = [("", "Quiz 1"), ("", "Quiz 2"), ("", "Final exam"), ("Studio", "Model 1"), ("", "quizzes 3")]
    assert category_names(items) == ["Quizzes", "Quizzes", "Final exam", "Studio", "quizzes"]
