"""From the computed grade to the rows that go out, and back."""

from vinemark.core.submit.compare import compared_rows
from vinemark.core.submit.grade_row import GradeRow


def test_reading_back_finds_every_difference() -> None:
    sent = {"a": GradeRow("a", "B"), "b": GradeRow("b", "C"), "c": GradeRow("c", "D")}
    held = {"a": GradeRow("a", "B"), "b": GradeRow("b", "D"), "d": GradeRow("d", "A")}
    assert [(line.student_id, line.agrees) for line in compared_rows(sent, held)] == [
        ("a", True), ("b", False), ("c", False), ("d", False),
    ]  # fmt: skip
