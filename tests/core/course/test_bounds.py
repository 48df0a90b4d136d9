"""What a file brings is bounded at the door; what is kept already is read whatever the limits are now."""

from dataclasses import replace
from datetime import date

import pytest

from tests.builders import category, course, plan
from vinemark.core.base.limits import DROP_LIMIT, NAME_LIMIT, NOTE_LIMIT, STUDENT_LIMIT, TEXT_LIMIT
from vinemark.core.base.refused import Refused
from vinemark.core.course.bounds import refuse_oversized
from vinemark.core.course.course import Course, Settled, Student
from vinemark.exchange.course_file import course_of_text, course_text, read_bytes

WHOLE = course(plan(category("10")), {"s1": ["5"]})
LONG = "x" * (NAME_LIMIT.most + 1)
TOO_MUCH = {
    "students": replace(
        WHOLE, scores={}, students=tuple(Student(f"L{n}", "Ode", "M") for n in range(STUDENT_LIMIT.most + 1))
    ),
    "students[0].family_name": replace(WHOLE, students=(replace(WHOLE.students[0], family_name=LONG),)),
    "term.name": replace(WHOLE, term=replace(WHOLE.term, name=LONG)),
    "term.ends": replace(WHOLE, term=replace(WHOLE.term, ends=date(9999, 12, 31))),
    "plan.categories[0].name": replace(WHOLE, plan=plan(replace(category("10"), name=LONG))),
    "plan.categories[0].drop_lowest": replace(WHOLE, plan=plan(category("10", drop_lowest=DROP_LIMIT.most + 1))),
    "syllabus": replace(WHOLE, syllabus="x" * (TEXT_LIMIT.most + 1)),
    "settled.s1.reason": replace(WHOLE, settled={"s1": Settled("A", "x" * (NOTE_LIMIT.most + 1))}),
    "settled.s1.last_attended": replace(WHOLE, settled={"s1": Settled("F", last_attended=date(1, 1, 1))}),
}


@pytest.mark.parametrize(("field", "beyond"), TOO_MUCH.items(), ids=TOO_MUCH)
def test_refused_at_the_door_and_read_where_it_is_kept(field: str, beyond: Course) -> None:
    text = course_text(beyond)
    with pytest.raises(Refused) as refused:
        read_bytes(text.encode())
    assert refused.value.field == field
    assert course_of_text(text) == course_of_text(course_text(course_of_text(text)))


def test_within_the_limits() -> None:
    refuse_oversized(WHOLE)
    refuse_oversized(replace(WHOLE, syllabus="x" * TEXT_LIMIT.most))
