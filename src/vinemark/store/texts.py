"""JSON kept in columns, read with every digit."""

import json
from dataclasses import replace

from vinemark.core.base.refused import NumberText
from vinemark.core.course.read_plan import read_plan
from vinemark.core.course.write import write_plan
from vinemark.core.plan.plan import Plan


def parsed(text: str) -> object:
    """JSON values with bare numbers kept as their text, as the core's readers take them."""
    return json.loads(text, parse_float=NumberText, parse_int=NumberText)


def plan_as_text(plan: Plan) -> str:
    """A plan as it is kept: the course file's plan."""
    return json.dumps(write_plan(plan), ensure_ascii=False)


def plan_from_text(text: str) -> Plan:
    """A plan as it was kept; older ones have the labels of their items beside it."""
    kept = parsed(text)
    assert isinstance(kept, dict)  # noqa: S101
    labels = kept.pop("labels", {})
    plan = read_plan(kept)
    if not labels:
        return plan
    made = tuple(
        replace(c, items=tuple(replace(i, label=labels.get(i.id, "")) for i in c.items)) for c in plan.categories
    )
    return replace(plan, categories=made)
