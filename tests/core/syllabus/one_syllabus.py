"""One syllabus, what it says, and the plan that is drafted from it."""

from dataclasses import replace

from tests.syllabus.documents import DOCUMENTS
from vinemark.core.plan.plan import Plan
from vinemark.core.syllabus import Reading, read_syllabus
from vinemark.core.syllabus.compare.draft import drafted
from vinemark.core.syllabus.compare.match import compare_rules

TEXT = next(d.text for d in DOCUMENTS if d.name == "table with pipes and a letter line")


READING = read_syllabus(TEXT)


PLAN = drafted(READING)


def open_rules(plan: Plan, reading: Reading = READING) -> list[tuple[str, str]]:
    return [(rule.key, rule.state) for rule in compare_rules(plan, reading) if rule.state != "agrees"]


def changed(number: int, **fields: object) -> Plan:
    made = list(PLAN.categories)
    made[number] = replace(made[number], **fields)  # type: ignore[arg-type]
    return replace(PLAN, categories=tuple(made))
