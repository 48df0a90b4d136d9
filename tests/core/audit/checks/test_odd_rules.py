"""Caps, due dates and scales that are hardly meant."""

from dataclasses import replace
from datetime import date, timedelta
from fractions import Fraction

import pytest

from tests.builders import TERM, category, course, plan
from tests.core.audit.looked_at import of_code
from vinemark.core.course.course import Course
from vinemark.core.plan.plan import ScaleRow

CELLS: dict[str, list[str | None]] = {"ada": ["9"]}


def capped(cap: int, syllabus: str | None = None) -> Course:
    return replace(course(plan(category("10", cap=Fraction(cap))), CELLS), syllabus=syllabus)


@pytest.mark.parametrize(("cap", "odd"), [(49, True), (50, False), (200, False), (201, True)])
def test_a_cap_far_from_a_hundred(cap: int, odd: bool) -> None:
    assert [f.category for f in of_code(capped(cap), "cap-odd")] == (["c-i"] if odd else [])
    whole = course(plan(category("10"), cap=Fraction(cap)), CELLS)
    assert [f.category for f in of_code(whole, "cap-odd")] == ([None] if odd else [])


@pytest.mark.parametrize(
    ("sentence", "odd"),
    [
        ("Participation is capped at 40%.", False),
        ("You can earn at most 40 percent here.", False),
        ("Participation counts 40%.", True),
        ("Participation is capped at 45%. Quizzes are 40%.", True),
    ],
)
def test_what_the_syllabus_says_is_meant(sentence: str, odd: bool) -> None:
    assert bool(of_code(capped(40, f"Grading\n\n{sentence}\n"), "cap-odd")) == odd


@pytest.mark.parametrize("kind", [{}, {"extra": True}, {"counts": False}])
@pytest.mark.parametrize(
    ("day", "outside"),
    [(TERM.starts, False), (TERM.ends, False), (TERM.starts - timedelta(1), True), (TERM.ends + timedelta(1), True)],
)
def test_a_day_outside_the_term(kind: dict[str, bool], day: date, outside: bool) -> None:
    of = category("10", "10")
    first, second = of.items
    dated = plan(replace(of, items=(replace(first, due=day, **kind), second)))  # type: ignore[arg-type]
    found = of_code(course(dated, {"ada": ["9", "8"]}), "due-outside")
    assert [f.item for f in found] == (["i0"] if outside else [])


def scaled(**cutoffs: int) -> Course:
    scale = tuple(ScaleRow(letter.replace("p", "+").replace("m", "-"), Fraction(n)) for letter, n in cutoffs.items())
    return course(plan(category("10"), scale=scale), CELLS)


def test_points_read_as_percent_and_letters_out_of_rank() -> None:
    (finding,) = of_code(scaled(A=225, B=200, C=175, F=0), "scale-odd")
    assert finding.message == "The cutoff of A, B, C is above 100: points read as percent?"
    (finding,) = of_code(scaled(A=90, C=80, B=70, F=0), "scale-odd")
    assert finding.message == "B has a lower cutoff than C, which is the lower letter."
    assert len(of_code(scaled(A=110, C=80, B=70, F=0), "scale-odd")) == 1


def test_signs_are_ranked_and_other_letters_passed_over() -> None:
    assert of_code(scaled(Ap=97, A=93, Am=90, Bp=87, B=80, F=0), "scale-odd") == []
    assert of_code(scaled(Am=97, A=93, F=0), "scale-odd")
    assert of_code(scaled(HD=85, D=75, CR=65, P=50, F=0), "scale-odd") == []
    assert of_code(scaled(A=100, F=0), "scale-odd") == []
