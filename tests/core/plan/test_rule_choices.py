"""What goes with what, held against the reader of course files and the edits, which refuse the rest."""

from dataclasses import replace
from fractions import Fraction

import pytest

from tests.builders import category, plan
from vinemark.core.base.refused import Refused
from vinemark.core.course.read_rules import read_requirement
from vinemark.core.plan.edit_rules import TypedRequirement, put_requirement
from vinemark.core.plan.rule_choices import addable_rules, can_be_for_each, conditions_of_item
from vinemark.core.plan.rules import CONDITION_KINDS, CONSEQUENCE_KINDS, ConditionKind, ConsequenceKind, RecordedItem

OF = replace(plan(category("10", "20")), recorded=(RecordedItem("x", "Absences"),))


@pytest.mark.parametrize("condition", CONDITION_KINDS)
@pytest.mark.parametrize("subject", ["category c-i", "item i0", "item x"])
def test_a_subject_takes_its_conditions_and_no_others(subject: str, condition: ConditionKind) -> None:
    named = subject.split()[1]
    fits = condition in (("percent_below", "missed_at_least") if named == "c-i" else conditions_of_item(OF, named))
    typed = TypedRequirement(condition, subject, "1", "percent_down", "1")
    if fits:
        assert put_requirement(OF, typed).requirements[0].condition.kind == condition
    else:
        with pytest.raises(Refused, match="subject"):
            put_requirement(OF, typed)


@pytest.mark.parametrize("condition", CONDITION_KINDS)
@pytest.mark.parametrize("consequence", CONSEQUENCE_KINDS)
def test_what_can_be_for_each_is_the_same_at_both_doors(condition: ConditionKind, consequence: ConsequenceKind) -> None:
    subject = "category" if condition == "missed_at_least" else "item"
    named, amount = "c-i" if subject == "category" else "i0", "F" if consequence == "letter_at_most" else "1"
    written = {"id": "r", "if": {subject: named, condition: "1"}, "then": {consequence: amount, "for_each": True}}
    typed = TypedRequirement(condition, f"{subject} {named}", "1", consequence, amount, for_each=True)
    if can_be_for_each(condition, consequence):
        assert put_requirement(OF, typed).requirements[0].consequence.for_each
        assert read_requirement(written, "r").consequence.for_each
    else:
        with pytest.raises(Refused, match="for_each"):
            read_requirement(written, "r")


def test_what_is_only_recorded_has_no_percent() -> None:
    assert conditions_of_item(OF, "x") == ("value_above",)
    assert conditions_of_item(OF, "i0") == ("percent_below", "value_above")


def test_which_rules_can_be_added() -> None:
    two = replace(OF, categories=(*OF.categories, category("10", prefix="j")))
    assert addable_rules(replace(OF, categories=())) == ["recorded"]
    assert "alternative" not in addable_rules(OF)
    assert "alternative" in addable_rules(two)
    assert "alternative" not in addable_rules(replace(two, basis="points"))
    assert "added" in addable_rules(OF)
    assert "added" not in addable_rules(replace(OF, added=Fraction(1)))
