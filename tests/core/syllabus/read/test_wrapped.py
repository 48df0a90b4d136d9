"""Lines broken for their width made whole, and every place brought back to the text as it was given."""

import random

import pytest

from vinemark.core.syllabus import read_syllabus
from vinemark.core.syllabus.read.wrapped import Unwrapped

LIST = (
    "Grading\n\n"
    "- the ten problem sets together are 40% of the grade. I leave out the two\n"
    "  weakest ones.\n"
    "- the midterm (the Tuesday before the fall break, in this same room) is\n"
    "  25% and the final (in the week of examinations, three hours) is worth\n"
    "  35% of the grade.\n"
)


HANGING = (
    "Homework:  Collected Mondays. The two lowest are dropped.\n\n"
    "Grading:   Homework    10%\n           Tests       60%  (20% each)\n           Final       30%\n"
)


@pytest.mark.parametrize(
    ("text", "categories"),
    [
        (LIST, [("Problem sets", 40, 2), ("Midterm", 25, 0), ("Final", 35, 0)]),
        (HANGING, [("Homework", 10, 2), ("Tests", 60, 0), ("Final", 30, 0)]),
    ],
    ids=["an indent cuts no saying in two", "a label with a list beside it stands above the list"],
)
def test_places_are_those_of_the_text_as_it_was_given(text: str, categories: list[tuple[str, int, int]]) -> None:
    read = read_syllabus(text)
    assert [(c.name, c.weight, c.drop_lowest) for c in read.categories] == categories
    assert all(clause.text == " ".join(text[clause.start : clause.end].split()) for clause in read.clauses)


def test_a_saying_over_two_lines_is_one_clause() -> None:
    assert "two weakest" in next(clause.text for clause in read_syllabus(LIST).clauses if clause.kind == "drop")


def test_every_sign_but_a_blank_keeps_its_place() -> None:
    draw = random.Random(7)
    pieces = [
        "word ",
        "- item of a list that goes on for quite a while until here\n",
        "\n",
        "  ",
        "(9) ",
        "Then. ",
        "a\tb ",
    ]
    for _ in range(200):
        text = "".join(draw.choice(pieces) for _ in range(draw.randrange(40)))
        whole = Unwrapped(text)
        assert whole.text.split() == text.split()
        for place, sign in enumerate(whole.text):
            given = text[whole.place(place)]
            assert given == sign or (given.isspace() and sign == " ")


def test_only_a_list_below_the_first_of_it_hangs_beside_its_label() -> None:
    for other in (HANGING.replace("Grading", "Reading"), HANGING.replace("           Tests", "        Tests")):
        assert Unwrapped(other).text == other


def test_what_begins_anew_stays_apart() -> None:
    for text in (
        "- Homework, due on Fridays at five in the box by the door: 20%\n  The lowest is dropped.\n",
        "- Homework\n  due weekly\n",
        "Labs that are held in the greenhouse of the school   40%\n  and another row of words with its weight   60%\n",
        "A paragraph that is as long as lines of text can be\nand goes on without an indent.\n",
    ):
        assert Unwrapped(text).text == text
