"""A row of the class list as typed."""

from datetime import date

import pytest

from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Student
from vinemark.core.course.detail import NO_DETAIL, StudentDetail, TypedStudent, typed_detail, typed_student

ODE = Student("L1", "Ode", "Marit", "ode@x.example", "sits in")


def test_a_student_is_corrected_and_an_empty_number_stays() -> None:
    typed = TypedStudent("", " van  Ode ", "Mar it", "new@x.example")
    assert typed_student(typed, ODE) == Student("L1", "van Ode", "Mar it", "new@x.example", "sits in")
    assert typed_student(TypedStudent("L9", "Ode"), ODE) == Student("L9", "Ode", "", None, "sits in")


@pytest.mark.parametrize(
    ("typed", "field"),
    [
        (TypedStudent("L1", "  "), "family_name"),
        (TypedStudent("L1", "Ode", "x" * 300), "given_name"),
        (TypedStudent("L1", "Ode", email="at home"), "email"),
        (TypedStudent("L\u200b1", "Ode"), "id"),
    ],
)
def test_what_cannot_be_is_refused_at_its_field(typed: TypedStudent, field: str) -> None:
    with pytest.raises(Refused) as refused:
        typed_student(typed, ODE)
    assert refused.value.field == field


def test_what_is_kept_beside() -> None:
    typed = TypedStudent(preferred=" Mia ", pronunciation="MEE-ah", remark=" a  b ", joined="2026-09-20")
    assert typed_detail(typed) == StudentDetail("Mia", "MEE-ah", "a b", date(2026, 9, 20))
    assert typed_detail(TypedStudent()) == NO_DETAIL
    for wrong in (TypedStudent(joined="soon"), TypedStudent(joined="1066-10-14"), TypedStudent(remark="x" * 2_001)):
        with pytest.raises(Refused):
            typed_detail(wrong)
