"""Syllabus and plan side by side: drafted, held against each other, followed, corrected, noted."""

from dataclasses import replace
from fractions import Fraction

from tests.syllabus.documents import DOCUMENTS
from vinemark.core.plan.plan import Plan
from vinemark.core.syllabus import read_syllabus
from vinemark.core.syllabus.compare.draft import drafted
from vinemark.core.syllabus.compare.match import compare_rules
from vinemark.core.syllabus.compare.notes import difference, match_plan, said_of

TEXT = next(d.text for d in DOCUMENTS if d.name == "table with pipes and a letter line")


READING = read_syllabus(TEXT)


PLAN = drafted(READING)


def changed(number: int, **fields: object) -> Plan:
    made = list(PLAN.categories)
    made[number] = replace(made[number], **fields)  # type: ignore[arg-type]
    return replace(PLAN, categories=tuple(made))


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
