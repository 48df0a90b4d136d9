"""Finding a student or an item by a few letters."""

from dataclasses import replace

from tests.builders import category, course, plan
from vinemark.core.course.course import Student
from vinemark.core.scores.find import MOST_FOUND, find

PLAN = plan(category("10", "10", prefix="quiz"), category("10", prefix="lab"))
NAMES = (
    Student("L1", "Álvarez", "José", email="ja@larkmoor.example"),
    Student("L2", "Vargas", "Ann"),
    Student("L3", "Josefsson", "Alba"),
)
CLASS = replace(course(PLAN, {}), students=NAMES)


def ids(typed: str) -> list[str]:
    return [hit.id for hit in find(CLASS, typed)]


def test_case_and_accents_do_not_matter_and_every_word_must_fit() -> None:
    assert ids("jose") == ["L1", "L3"]
    assert ids("jose alv") == ["L1"]
    assert ids("jose quiz") == []
    assert (ids(""), ids("  "), ids("?")) == ([], [], [])


def test_the_start_of_a_word_comes_first() -> None:
    """'var' is in Álvarez and starts Vargas."""
    assert ids("var") == ["L2", "L1"]


def test_an_id_an_email_an_item_and_its_category_are_found() -> None:
    assert ids("l2") == ["L2"]
    assert ids("ja@") == ["L1"]
    assert ids("category lab") == ["lab0"]
    hit = find(CLASS, "lab 0")[0]
    assert (hit.kind, hit.name, hit.beside) == ("item", "LAB 0", "Category lab")
    person = find(CLASS, "ann")[0]
    assert (person.kind, person.name, person.beside) == ("student", "Vargas, Ann", "L2")


def test_a_list_stays_short() -> None:
    many = replace(CLASS, students=tuple(Student(f"L{n}", "Same", "Name") for n in range(40)))
    assert len(find(many, "same")) == MOST_FOUND
