"""The working after the categories, and of what further rules did within them."""

from collections.abc import Mapping
from dataclasses import replace
from fractions import Fraction

from tests.builders import AFTER, category, plan
from vinemark.core.course.cell import Cell, DetailedScore
from vinemark.core.grade.calculation import Grade, work_out
from vinemark.core.grade.final_steps import companion_letters, final_steps, is_lowered
from vinemark.core.grade.steps import steps_of
from vinemark.core.plan.plan import Plan
from vinemark.core.plan.rules import (
    Alternative,
    Condition,
    Consequence,
    LateRule,
    Replacement,
    Requirement,
    RoundTo,
    Symbol,
)

FIRST, SECOND = category("10", "10", weight="40"), category("50", weight="60", prefix="j")
TWO = plan(FIRST, SECOND, decimals=0)


def grade(of: Plan, cells: Mapping[str, Cell], adjustment: str = "0") -> Grade:
    return work_out(of, cells, AFTER, Fraction(adjustment))


FINAL_BELOW_95 = Condition("percent_below", Fraction(95), item="j0")


def numbers(*texts: str) -> dict[str, Cell]:
    return dict(zip(("i0", "i1", "j0"), map(Fraction, texts), strict=False))


def test_the_weights_that_counted_are_said_with_what_the_others_give() -> None:
    """80 and 90 percent: 40/60 gives 86, 10/90 gives 89."""
    of = replace(
        TWO, alternatives=(Alternative("a", "The final counts more", {"c-i": Fraction(10), "c-j": Fraction(90)}),)
    )
    assert final_steps(of, grade(of, numbers("8", "8", "45"))) == [
        ("By the plan’s own weights", "86"),
        ("By “The final counts more”, which counts", "89"),
        ("Total of the categories", "89"),
        ("Rounded, half up", "89"),
        ("B from 80", "B"),
    ]
    assert steps_of(of, grade(of, numbers("8", "8"))).counted_weight == "40"


def test_what_is_added_and_taken_comes_with_its_sum() -> None:
    of = replace(TWO, added=Fraction(2), cap=Fraction(88))
    found = grade(of, numbers("8", "8", "45"), "1.5")
    assert final_steps(of, found, "agreed")[1:4] == [
        ("Points for everyone (+2)", "88"),
        ("Adjustment: agreed (+1.5)", "89.5"),
        ("Limited by the cap of the course", "88"),
    ]
    assert final_steps(of, grade(of, numbers("0", "0", "1"), "-50"))[1:4] == [
        ("Points for everyone (+2)", "3.2"),
        ("Adjustment (−50)", "-46.8"),
        ("Never below 0", "0"),
    ]


def test_requirements_say_what_they_did() -> None:
    down = Requirement("r1", Condition("percent_below", Fraction(95), "c-j"), Consequence("percent_down", Fraction(2)))
    most = Requirement("r2", FINAL_BELOW_95, Consequence("percent_at_most", Fraction(83)), "The final must be good.")
    letter = Requirement("r3", FINAL_BELOW_95, Consequence("letter_at_most", letter="C"))
    of = replace(TWO, requirements=(down, most, letter))
    found = grade(of, numbers("8", "8", "45"))
    assert final_steps(of, found) == [
        ("Total of the categories", "86"),
        ("Not met: If Category j is below 95%, the percent goes down by 2 (−2)", "84"),
        ("Not met: The final must be good", "83"),
        ("Rounded, half up", "83"),
        ("B from 80", "B"),
        ("Not met: If J 0 is below 95%, the letter is at most C", "is at most C"),
        ("Letter after the requirements", "C"),
    ]
    assert is_lowered(found)
    shown = steps_of(of, found)
    assert (shown.letter, shown.distance) == ("C", None)


def test_times_are_said() -> None:
    rule = Requirement(
        "r",
        Condition("missed_at_least", Fraction(1), "c-i"),
        Consequence("letters_down", Fraction(1), "", True),
        "Be there",
    )
    of = replace(TWO, requirements=(rule,))
    found = grade(of, {"i0": "missing", "i1": "missing", "j0": Fraction(50)})
    assert ("Not met: Be there, 2 times", "goes down 1 step of the scale") in final_steps(of, found)
    assert (found.letter_by_percent, found.letter) == ("D", "F")


def test_companions_have_their_own_requirements() -> None:
    """Blanks as 0 leaves the final below 60 percent, which lets nobody pass; in full it does not."""
    rule = Requirement(
        "r", Condition("percent_below", Fraction(60), item="j0"), Consequence("letter_at_most", letter="F")
    )
    of = replace(TWO, requirements=(rule,))
    found = grade(of, numbers("10", "10"))
    assert (found.letter, companion_letters(of, found)) == ("A", ("F", "A"))
    assert companion_letters(TWO, grade(TWO, numbers("10", "10"))) == ("F", "A")
    assert companion_letters(TWO, grade(TWO, {})) == (None, None)


def test_late_work_symbols_and_replacements_are_said_within_their_category() -> None:
    late = replace(
        FIRST, late=LateRule(Fraction(10), free_days=1), symbols=(Symbol("ok", Fraction(80)),), rounding=RoundTo(0)
    )
    of = plan(late, SECOND)
    line = steps_of(
        of, grade(of, {"i0": DetailedScore(Fraction("8.5"), None, 3), "i1": DetailedScore(None, "ok")})
    ).lines[0]
    assert [(t.text, t.note) for t in line.terms] == [
        ("6.5", "of 10; 3 days late, 1 of them free: 8.5 becomes 6.5"),
        ("8", "of 10; “ok” is 8"),
    ]
    assert line.notes == [
        "Late work loses 10% of the item's points a day; 1 free day a student in the category",
        "its percent is rounded, half up, to a whole number: 72.5% before",
    ]
    replaced = replace(TWO, replacements=(Replacement("j0", "c-i"),))
    first = steps_of(replaced, grade(replaced, numbers("8", "4", "45"))).lines[0]
    assert (first.terms[1].text, first.terms[1].note) == ("9", "of 10, replaced by J 0, which is better than 4")
    assert first.notes == ["I 1 replaced by J 0: 90%"]
