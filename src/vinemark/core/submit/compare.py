"""What was submitted against what the registrar has, line by line."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from vinemark.core.submit.grade_row import GradeRow


@dataclass(frozen=True)
class ComparedRow:
    """One line of the comparison of what was sent with what the registrar has."""

    student_id: str
    sent: GradeRow | None
    held: GradeRow | None

    @property
    def agrees(self) -> bool:
        """Whether both sides say the same."""
        return self.sent == self.held


def compared_rows(sent: Mapping[str, GradeRow], held: Mapping[str, GradeRow]) -> list[ComparedRow]:
    """What was sent and what the registrar has, line by line; a line that one side lacks counts as different."""
    ids = [*sent, *(student for student in held if student not in sent)]
    return [ComparedRow(student, sent.get(student), held.get(student)) for student in ids]


def differ_words(lines: Sequence[ComparedRow]) -> str:
    """'The registrar has something else than was sent for 3 students.'; empty where nothing differs."""
    if not lines:
        return ""
    whom = "1 student" if len(lines) == 1 else f"{len(lines)} students"
    return f"The registrar has a different grade than was submitted for {whom}."
