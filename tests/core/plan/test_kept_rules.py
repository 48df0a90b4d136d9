"""What further rules name stays in the plan, or the rules go first."""

from dataclasses import replace
from fractions import Fraction

import pytest

from tests.builders import category, plan
from vinemark.core.base.refused import Refused
from vinemark.core.plan.copy import copied
from vinemark.core.plan.edit import add_category, delete_category, set_basis, set_rule, with_scale
from vinemark.core.plan.items import delete_item, file_item
from vinemark.core.plan.kept_rules import kept_rules
from vinemark.core.plan.plan import Plan
from vinemark.core.plan.rules import (
    Alternative,
    Condition,
    Consequence,
    RecordedItem,
    Replacement,
    Requirement,
)

PLAIN = plan(
    category("10", "10", weight="40"), category("50", "20", weight="60", prefix="j"),
    category("5", weight="3", prefix="x", extra=True),
)  # fmt: skip
REPLACES = replace(PLAIN, replacements=(Replacement("j0", "c-i"),))
BELOW = Condition("percent_below", Fraction(60), item="j0")
REQUIRES = replace(
    PLAIN,
    recorded=(RecordedItem("abs", "Absences"),),
    requirements=(
        Requirement("r1", BELOW, Consequence("letter_at_most", letter="C")),
        Requirement("r2", Condition("value_above", Fraction(3), item="abs"), Consequence("letters_down", Fraction(1))),
    ),
)  # fmt: skip
ALTERNATIVE = replace(
    PLAIN, alternatives=(Alternative("a1", "More", {"c-i": Fraction(10), "c-j": Fraction(90)}),)
)  # fmt: skip


@pytest.mark.parametrize(
    ("before", "after"),
    [
        (REPLACES, delete_item(REPLACES, "j0")),
        (REPLACES, delete_category(REPLACES, "c-i")),
        (REPLACES, set_rule(REPLACES, "c-i", "extra", "yes")),
        (REPLACES, file_item(REPLACES, "j0", "c-x")),
        (REQUIRES, delete_item(REQUIRES, "j0")),
        (REQUIRES, with_scale(REQUIRES, (PLAIN.scale[0], PLAIN.scale[-1]))),
        (REQUIRES, replace(REQUIRES, recorded=())),
        (ALTERNATIVE, set_basis(ALTERNATIVE, "points")),
    ],
)
def test_what_a_rule_names_cannot_go(before: Plan, after: Plan) -> None:
    with pytest.raises(Refused, match="needs it; change or remove that rule first"):
        kept_rules(after, before)


def test_other_edits_go_through() -> None:
    for before in (REPLACES, REQUIRES):
        after = delete_item(before, "j1")
        assert kept_rules(after, before) == after
    broken = with_scale(REQUIRES, ())
    assert kept_rules(broken, REQUIRES) == broken


def test_alternative_weights_follow_the_categories() -> None:
    more = kept_rules(add_category(ALTERNATIVE, "Labs", "20"), ALTERNATIVE)
    made = more.categories[-1].id
    assert more.alternatives[0].weights == {"c-i": Fraction(10), "c-j": Fraction(90), made: Fraction(20)}
    fewer = kept_rules(delete_category(more, "c-j"), more)
    assert set(fewer.alternatives[0].weights) == {"c-i", made}
    extra = kept_rules(set_rule(more, "c-j", "extra", "yes"), more)
    assert "c-j" not in extra.alternatives[0].weights


def test_a_copied_plan_names_what_is_its_own() -> None:
    source = replace(REQUIRES, replacements=REPLACES.replacements, alternatives=ALTERNATIVE.alternatives)
    made = copied(source, plan(), 7, ["c1", "i9"])
    first, second = made.categories[0], made.categories[1]
    assert made.replacements[0] == Replacement(second.items[0].id, first.id)
    assert set(made.alternatives[0].weights) == {first.id, second.id}
    assert made.requirements[0].condition.item == second.items[0].id
    assert made.requirements[1].condition.item == made.recorded[0].id
    assert not {made.recorded[0].id, first.id} & {"c1", "i9", "abs", "c-i"}
    assert kept_rules(made, made) == made
