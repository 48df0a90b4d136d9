"""The proof sheet and the column of codes, to compare by eye."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from datetime import date

from vinemark.core.base.dates import day_words
from vinemark.core.base.number import fixed, with_sign
from vinemark.core.course.course import Course, Settled
from vinemark.core.grade.calculation import Grade
from vinemark.core.submit.grade_row import GradeRow, attendance_of
from vinemark.core.submit.rows import ASIDE, SubmitRow


@dataclass(frozen=True)
class ProofLine:
    """One line of the proof sheet, as text."""

    student_id: str
    name: str
    percent: str
    letter: str
    settled: str
    beside: str
    state: str
    adjusted: str = ""


def proof_lines(
    course: Course, rows: Iterable[SubmitRow], grades: Mapping[str, Grade], say: Callable[[date], str] = day_words
) -> list[ProofLine]:
    """The proof sheet in the rows' order, which is the roster's; `say` writes its dates."""
    return [_proof_line(course, row, grades.get(row.student_id), say) for row in rows]


def _proof_line(course: Course, row: SubmitRow, grade: Grade | None, say: Callable[[date], str]) -> ProofLine:
    percent = "" if grade is None or grade.percent is None else fixed(grade.percent, 2)
    letter = (grade.letter or "") if grade else ""
    settled = row.settled.grade if row.settled else ""
    beside = beside_words(course, row.settled, say) if row.settled else ""
    adjusted = with_sign(grade.adjustment) if percent and grade and grade.adjustment else ""
    return ProofLine(row.student_id, row.name, percent, letter, settled, beside, row.state, adjusted)


def beside_words(course: Course, settled: Settled, say: Callable[[date], str]) -> str:
    """What stands beside a settled grade, in words: 'last attended Nov 2, 2026', 'falls back to F, by Dec 1, 2027'."""
    if course.run == "midterm":
        return ""
    parts, attendance = [], attendance_of(course, settled)
    if settled.never_attended:
        parts.append("never attended" + (", zero hours" if attendance.day is None else f", {say(attendance.day)}"))
    elif attendance.day:
        parts.append(f"last attended {say(attendance.day)}")
    if settled.fallback_grade:
        parts.append(f"falls back to {settled.fallback_grade}")
    if settled.finish_by:
        parts.append(f"by {say(settled.finish_by)}")
    if settled.owed:
        parts.append(f"owes {settled.owed}")
    return ", ".join(parts)


def in_roster_order(course: Course, rows: Iterable[GradeRow]) -> list[GradeRow]:
    """Rows in the order of the registrar's roster; who is not on it comes last."""
    roster = course.records.roster if course.records else ()
    places = {entry.id: place for place, entry in enumerate(roster)}
    return sorted(rows, key=lambda row: places.get(row.id, len(places)))


def row_words(row: GradeRow, say: Callable[[date], str]) -> str:
    """The same of a row as it was sent."""
    days = {"last attended": row.last_attended, "by": row.finish_by}
    said = {words: say(date.fromisoformat(text)) for words, text in days.items() if text}
    parts = [
        "never attended, zero hours" if row.never_attended else "",
        f"last attended {said['last attended']}" if row.last_attended else "",
        f"falls back to {row.fallback_grade}" if row.fallback_grade else "",
        f"by {said['by']}" if row.finish_by else "",
        f"owes {row.owed}" if row.owed else "",
    ]
    return ", ".join(part for part in parts if part)


def code_column(course: Course, rows: Iterable[SubmitRow]) -> str:
    """The settled codes alone, one line for each row of the registrar's roster and in its order; to be copied.

    A line is empty where no code is due or none is settled; who is not on the roster has no line.
    """
    listed = [row for row in rows if course.records is None or course.records.entry(row.student_id)]
    return "\n".join(row.settled.grade if row.settled and row.state not in ASIDE else "" for row in listed)
