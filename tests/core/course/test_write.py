"""The course file: what it says is read, what it must not say is refused at its place."""

import pytest

from tests.conftest import CASES, SAMPLES
from vinemark.exchange import course_file


@pytest.mark.parametrize("name", SAMPLES)
def test_written_and_read_again_it_is_the_same_course(name: str) -> None:
    course = course_file.course_of_text((CASES / f"{name}.course.json").read_text(encoding="utf-8"))
    assert course_file.course_of_text(course_file.course_text(course)) == course
