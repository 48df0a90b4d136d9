"""What only the records of a section tell: without them nothing is found, with them it is, at its place."""

from dataclasses import replace
from datetime import date

from tests.builders import AFTER, category, course, plan, roster
from vinemark.core.audit.finding import Facts, Finding
from vinemark.core.audit.recorded import Recorded, TwiceAdjusted
from vinemark.core.audit.run import audit_facts
from vinemark.core.course.course import Settled

COURSE = replace(
    course(plan(category("10", "10")), {"ada": ["9", "8"], "bo": ["7", "7"]}, roster("ada", "bo")),
    settled={"ada": Settled("B"), "bo": Settled("C")},
)
TWICE = TwiceAdjusted("add points to every score 2", date(2026, 12, 1), date(2026, 12, 3))


def found(records: Recorded | None) -> list[Finding]:
    return audit_facts(Facts(COURSE, AFTER, section_records=records), {"adjusted-twice", "drift-between"})


def test_a_course_alone_tells_nothing_of_them() -> None:
    assert found(None) == []


def test_each_is_found_at_its_place() -> None:
    item = COURSE.plan.categories[0].items[1]
    twice, drift = found(Recorded({item.id: TWICE, "gone": TWICE}, {"ada": "B", "bo": "D"}))
    assert (twice.item, drift.student) == (item.id, "bo")
    assert "on Dec 1 and again on Dec 3" in twice.message
    assert drift.message.endswith("is settled with C; signed and on its way is D.")
