"""What a fix would do to letters."""

from fractions import Fraction

from tests.builders import AFTER, category, course, plan
from vinemark.core.audit.effect import fix_effect
from vinemark.core.audit.fix import Fix
from vinemark.core.course.cell import Cell
from vinemark.core.grade.calculation import Calculators
from vinemark.core.grade.class_columns import grades_of

OF = course(plan(category("10", "10")), {"ada": ["9", "9"], "bo": ["7", "7"], "cy": ["7", "7"], "di": ["7", "7"]})


def effect(cells: dict[tuple[str, str], Cell]) -> str:
    return fix_effect(OF, Fix("", cells=cells), grades_of(OF, AFTER), Calculators(OF.plan, AFTER))


def test_the_letter_now_and_after_it() -> None:
    assert effect({("ada", "i0"): Fraction(6)}) == "A now, C after it"
    assert effect({("ada", "i0"): Fraction(10)}) == "A stays"
    assert effect({("ada", "i0"): "exempt", ("ada", "i1"): "exempt"}) == "A now, no letter after it"


def test_two_students_are_named_and_many_or_none_say_nothing() -> None:
    both: dict[tuple[str, str], Cell] = {("ada", "i0"): Fraction(6), ("bo", "i0"): Fraction(10)}
    assert effect(both) == "Mai Ada: A now, C after it; Mai Bo: C now, B after it"
    assert effect({(s.id, "i0"): Fraction(1) for s in OF.students}) == ""
    assert effect({}) == ""
