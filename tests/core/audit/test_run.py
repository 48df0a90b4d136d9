"""Running every check."""

from tests.builders import AFTER, category, course, plan, roster
from tests.core.audit.looked_at import FULL, GOOD, found
from vinemark.core.audit import audit
from vinemark.core.course.course import Settled


def test_a_clean_course_is_silent() -> None:
    settled = {"ada": Settled("B"), "bo": Settled("C")}
    assert found(course(GOOD, FULL, roster("ada", "bo"), settled)) == []
    assert found(course(GOOD, FULL)) == []


def test_findings_come_with_stop_first() -> None:
    levels = [f.level for f in audit(course(plan(category("10", weight="90")), {"ada": ["11"]}), AFTER)]
    assert levels == ["stop", "look", "note"]
