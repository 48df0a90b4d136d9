"""Syllabus and plan side by side: drafted, held against each other, followed, corrected, noted."""

from fractions import Fraction

from tests.core.syllabus.one_syllabus import READING, changed
from vinemark.core.syllabus.compare.match import compare_rules
from vinemark.core.syllabus.compare.notes import difference, match_plan, said_of


def test_a_note_stands_while_both_sides_say_the_same() -> None:
    plan = changed(0, weight=Fraction(25))
    rule = next(r for r in compare_rules(plan, READING) if r.state == "differs")
    assert difference(rule) == "Field notebooks, weight: the syllabus says 20%, the plan has 25%"
    notes = {rule.key: (said_of(rule), "agreed in week 3")}
    held = match_plan(plan, READING, notes)
    assert held.open == []
    assert held.agreeing == len(held.rules) - 1
    again = match_plan(changed(0, weight=Fraction(30)), READING, notes)
    assert again.open_words == ["Field notebooks, weight: the syllabus says 20%, the plan has 30%"]
