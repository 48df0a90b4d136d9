"""The readable pages of an archive: what its data says, for somebody who has neither this program nor its database."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from typing import Any

from jinja2 import Environment, PackageLoader, StrictUndefined

from vinemark.core.base.dates import clock_words, day_words
from vinemark.core.base.moments import moment_of
from vinemark.core.base.number import fixed
from vinemark.core.course.cell_text import cell_text
from vinemark.core.course.course import Course, Settled, Student
from vinemark.core.grade.calculation import Grade
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.grade.steps import BECAME, steps_of
from vinemark.core.plan.sentences import plan_text
from vinemark.core.scores.adjusting import reason_of
from vinemark.core.submit.grade_row import GradeRow, read_grade_row
from vinemark.core.submit.proof import beside_words, row_words
from vinemark.core.submit.receipt import read_receipt
from vinemark.exchange import course_file
from vinemark.exchange.archive import Archive, write_archive

FOLDER = "pages"


@dataclass(frozen=True)
class StudentPage:
    """A student with the address of the page."""

    student: Student
    file: str
    grade: Grade
    settled: Settled | None
    beside: str


def readable_archive(archive: Archive) -> bytes:
    """The zip of an archive with its readable pages."""
    return write_archive(archive, archive_pages(archive, course_file.course_of_text(archive.course)))


def archive_pages(archive: Archive, course: Course) -> dict[str, bytes]:
    """Every page by its name in the archive."""
    grades = grades_of(course, _as_of(archive))
    students = [
        StudentPage(student, f"students/{number:04}.html", grades[student.id], course.settled.get(student.id),
                    _beside(course, course.settled.get(student.id)))
        for number, student in enumerate(course.students, 1)
    ]  # fmt: skip
    shared = {"course": course, "archive": archive, "students": students}
    names = {student.id: student.name for student in course.students}
    made = {
        "index.html": _page("index", shared, plan=_lines(plan_text(course.plan)), up=""),
        "history.html": _page("history", shared, up=""),
        "submissions.html": _page("submissions", shared, names=names, up=""),
    }
    remarks = {(one["student_id"], one["item_id"]): one["remark"] for one in archive.beside.get("remarks", ())}
    made.update({one.file: _page("student", shared, up="../", one=one, **_working(course, one, remarks, archive))
                 for one in students})  # fmt: skip
    return {f"{FOLDER}/{name}": text.encode() for name, text in made.items()}


def _as_of(archive: Archive) -> date:
    """The day that blanks go by: that of the first signature of the final grades, else that of the archive."""
    signed = [one["signed_at"] for one in archive.submissions if one["run"] == "final"]
    return moment_of(signed[0] if signed else archive.made_at).date()


def _working(
    course: Course, one: StudentPage, remarks: Mapping[tuple[str, str], str], archive: Archive
) -> dict[str, object]:
    work = [
        (result.category.name, item, cell_text(item.points), cell_text(cell), BECAME[state],
         course.due(one.student.id, item), remarks.get((one.student.id, item.id), ""))
        for result in one.grade.categories for item, cell, state in result.states()
    ]  # fmt: skip
    return {
        "work": work,
        "worked": steps_of(course.plan, one.grade, reason_of(course, one.student)),
        "sent": [(sent, answer) for sent in archive.submissions for answer in _answers(sent, one.student.id)],
        "changes": [change for change in archive.changes if change["student_id"] == one.student.id],
    }


def _answers(sent: Mapping[str, Any], student_id: str | None = None) -> list[tuple[GradeRow, str]]:
    """The rows of a submission with what the registrar answered to each, of one student or all."""
    receipt = read_receipt(sent["receipt"]) if sent["receipt"] else None
    answers = {row.id: row.words for row in receipt.rows} if receipt else {}
    rows = [read_grade_row(row) for row in sent["rows"]]
    return [(row, answers.get(row.id, "no answer")) for row in rows if student_id in {None, row.id}]


def _beside(course: Course, settled: Settled | None) -> str:
    return beside_words(course, settled, day_words) if settled else ""


def _lines(text: str) -> Sequence[str]:
    return [line for line in text.splitlines() if line.strip()]


def _dated(text: str | None) -> str:
    if not text:
        return ""
    at = moment_of(text)
    return f"{day_words(at.date())}, {clock_words(at)}"


def _day(day: date | None) -> str:
    return day_words(day) if day else ""


def _percent(value: Fraction | None) -> str:
    return "" if value is None else fixed(value, 2)


_templates = Environment(
    loader=PackageLoader("vinemark.exchange", "archive_templates"),
    autoescape=True,
    undefined=StrictUndefined,
    trim_blocks=True,
    lstrip_blocks=True,
)
_templates.filters.update(
    dated=_dated, day=_day, percent=_percent, sent_rows=_answers, beside=lambda row: row_words(row, day_words)
)


def _page(name: str, shared: Mapping[str, object], **values: object) -> str:
    return _templates.get_template(f"{name}.html").render(**shared, **values)
