"""A plan beyond the limits is refused whichever way it was made; one that was there before can still be mended."""

import json
from dataclasses import replace
from datetime import date
from fractions import Fraction

import pytest

from tests.builders import category, items, plan
from vinemark.core.base.limits import CATEGORY_LIMIT, DROP_LIMIT, ITEM_LIMIT, SCALE_LIMIT
from vinemark.core.base.refused import NumberText, Refused
from vinemark.core.course.read_plan import read_plan
from vinemark.core.course.write import write_plan
from vinemark.core.plan.bounds import refuse_beyond_limits
from vinemark.core.plan.edit import set_rule
from vinemark.core.plan.items import TypedItem, add_items
from vinemark.core.plan.plan import Plan, ScaleRow
from vinemark.core.plan.sentences import category_phrases

HUGE = 99_999


def with_items(*numbers: int) -> Plan:
    made = [
        replace(category(), id=f"c{c}", name=f"C{c}", items=items(*["10"] * many, prefix=f"i{c}x"))
        for c, many in enumerate(numbers)
    ]
    return plan(*made)


def place(beyond: Plan) -> str:
    with pytest.raises(Refused) as refused:
        refuse_beyond_limits(beyond)
    return refused.value.field


def test_as_many_as_there_may_be() -> None:
    refuse_beyond_limits(with_items(ITEM_LIMIT.most // 2, ITEM_LIMIT.most // 2))
    refuse_beyond_limits(with_items(*[1] * CATEGORY_LIMIT.most))


def test_one_too_many() -> None:
    assert place(with_items(*[0] * (CATEGORY_LIMIT.most + 1))) == f"plan.categories[{CATEGORY_LIMIT.most}]"
    assert place(with_items(ITEM_LIMIT.most - 1, 2)) == "plan.categories[1].items[1]"
    scale = tuple(ScaleRow(f"A{n}", Fraction(n)) for n in range(SCALE_LIMIT.most + 1))
    assert place(replace(plan(), scale=scale)) == f"plan.scale[{SCALE_LIMIT.most}]"


@pytest.mark.parametrize("key", ["drop_lowest", "drop_highest", "keep_best"])
def test_a_rule_that_counts(key: str) -> None:
    refuse_beyond_limits(plan(category("10", **{key: DROP_LIMIT.most})))  # type: ignore[arg-type]
    assert place(plan(category("10", **{key: HUGE}))) == f"plan.categories[0].{key}"  # type: ignore[arg-type]


def test_a_date() -> None:
    assert place(plan(replace(category("10"), items=items("5", due=date(2300, 1, 1))))).endswith("items[0].due")


def test_what_was_there_before_may_stay_and_be_mended() -> None:
    before = plan(replace(category("10"), drop_lowest=HUGE))
    refuse_beyond_limits(replace(before, cap=None), before=before)
    with pytest.raises(Refused):
        refuse_beyond_limits(with_items(ITEM_LIMIT.most + 1), before=before)
    written = json.loads(json.dumps(write_plan(before)), parse_int=NumberText)
    assert read_plan(written) == before


def test_a_huge_drop_makes_no_huge_page() -> None:
    """Every page of such a plan took gigabytes: a choice was listed for each number up to it."""
    kept = plan(replace(category("10"), drop_lowest=HUGE))
    phrases = category_phrases(kept, kept.categories[0])
    assert sum(len(phrase.choices) for phrase in phrases) < 3 * DROP_LIMIT.most


def test_typed_beyond_the_limits() -> None:
    made = with_items(1)
    with pytest.raises(Refused, match="at most") as refused:
        set_rule(made, "c0", "drops", f"lowest {HUGE}")
    assert refused.value.field == "drops"
    with pytest.raises(Refused) as refused:
        add_items(made, "c0", TypedItem("Quiz 1–8", "10", "2026-09-01"), every="100000")
    assert refused.value.field == "every"
