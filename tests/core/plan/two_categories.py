"""A plan of two categories."""

from tests.builders import category, plan
from vinemark.core.plan.plan import Plan


def two() -> Plan:
    return plan(category("10", "20", weight="40"), category("5", weight="60", prefix="j"))


def names(of: Plan) -> list[str]:
    return [c.name for c in of.categories]
