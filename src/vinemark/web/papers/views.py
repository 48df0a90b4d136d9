"""Papers: a student's working and the audit, as a page to print and as PDF."""

import hashlib
from collections.abc import Sequence
from urllib.parse import urlencode

from flask import Blueprint, render_template, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.audit import CODES, counts
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Student
from vinemark.core.grade.calculation import grade_of
from vinemark.core.grade.contributions import bars
from vinemark.core.grade.steps import steps_of
from vinemark.core.grade.try_score import movers, with_score
from vinemark.core.plan.sentences import plan_text
from vinemark.core.scores.adjusting import reason_of
from vinemark.core.scores.typed_score import read_plan_score
from vinemark.exchange import course_file
from vinemark.exchange.pdf import pdf_of
from vinemark.section.grade_record import grade_records, grading_rules
from vinemark.section.state import SectionState
from vinemark.store import class_list as class_lists
from vinemark.web.made.views import PDF, make_file
from vinemark.web.papers.style import paper_style
from vinemark.web.request import any_section, file_name, require_sign_in, settings, student_of, whole_section
from vinemark.web.ui.formats import sentence_start

TICKS = 10
"""Empty columns of a printed class list."""

blueprint = Blueprint("papers", __name__, url_prefix="/s/<int:section_id>/papers")
blueprint.before_request(require_sign_in)


def paper(template: str, name: str, section: SectionState, what: str = "", **values: object) -> ResponseReturnValue:
    """A printed page, or with ?pdf its PDF: a file of this name, which screens call `what` where it says more."""
    shown = {"section": section, "now": settings().clock.now(), "pdf": "pdf" in request.args, **values}
    pdf_address = f"{request.path}?{urlencode({**request.args, 'pdf': '1'})}"
    html = render_template(template, **shown, pdf_address=pdf_address)
    if not shown["pdf"]:
        return html
    file = file_name(section.name.short, name, ending=".pdf")
    style = paper_style(settings().paper)
    return make_file(section, f"{sentence_start(what or name)} as PDF", file, PDF, pdf_of, html, style)


@blueprint.get("/working/<student_id>")
def student_working(section_id: int, student_id: str) -> ResponseReturnValue:
    """A student's whole working: categories, items, drops, shares, the picture, what would move it."""
    section = any_section(section_id)
    student = student_of(section, student_id)
    grade = section.grades_now[student.id]
    return paper(
        "papers/working.html",
        f"grade of {student.id}",
        section,
        what=f"grade of {student.plain_name}",
        student=student,
        grade=grade,
        worked=steps_of(section.course.plan, grade, reason_of(section.course, student)),
        bars=bars(grade),
        movers=movers(section.course, student.id, section.as_of)[:8],
        items=[item for _, item in section.course.plan.items()],
        item=None,
    )


@blueprint.get("/record/<student_id>")
def student_record(section_id: int, student_id: str) -> ResponseReturnValue:
    """Everything that made a student's grade, on a page or two that say it without this program."""
    section = whole_section(section_id)
    student = student_of(section, student_id)
    return _records(section, [student], f"grade record of {student.plain_name}", url_for_row(section_id, student.id))


@blueprint.get("/records")
def all_records(section_id: int) -> ResponseReturnValue:
    """The records of all students, one after the other."""
    section = whole_section(section_id)
    students = [student for student in section.course.students if student.set_aside is None]
    return _records(section, students, "grade records", url_for("after.show", section_id=section_id))


def _records(section: SectionState, students: Sequence[Student], what: str, back: str) -> ResponseReturnValue:
    records = grade_records(section, students)
    name = f"grade record of {students[0].id}" if len(students) == 1 else "grade records"
    return paper(
        "papers/grade_record.html", name, section, what, records=records, rules=grading_rules(section), back=back
    )


def url_for_row(section_id: int, student_id: str) -> str:
    """The student's row of the score sheet."""
    return url_for("scores.show", section_id=section_id, _anchor=f"row-{student_id}")


@blueprint.get("/moves/<student_id>")
def moves(section_id: int, student_id: str) -> ResponseReturnValue:
    """For the margin: the single scores that would bring a better letter, and one to try."""
    section = any_section(section_id)
    student, course = student_of(section, student_id), section.course
    return render_template(
        "papers/_moves.html",
        section=section,
        student=student,
        item=course.plan.item(request.args.get("item", "")),
        items=[item for _, item in course.plan.items()],
        movers=movers(course, student.id, section.as_of)[:5],
    )


@blueprint.get("/try/<student_id>")
def try_score(section_id: int, student_id: str) -> ResponseReturnValue:
    """A score tried: what the grade would be; nothing is changed."""
    section = any_section(section_id)
    return _tried(section, student_of(section, student_id))


def _tried(section: SectionState, student: Student) -> ResponseReturnValue:
    course, typed = section.course, request.args.get("score", "")
    item = course.plan.item(request.args.get("item", ""))
    if item is None:
        return "Choose an item.", 422
    try:
        cell = read_plan_score(course.plan, item, typed).cell
    except Refused as error:
        return render_template("papers/_tried.html", refused=error, worked=None), 422
    grade = with_score(course, student.id, item.id, cell, section.as_of)
    before = grade_of(course, student.id, section.as_of)
    tried = steps_of(course.plan, grade, reason_of(course, student))
    return render_template(
        "papers/_tried.html", refused=None, worked=tried, before=before, grade=grade, item=item, typed=typed
    )


@blueprint.get("/class")
def class_list(section_id: int) -> ResponseReturnValue:
    """The class list with room to tick."""
    section = any_section(section_id)
    return paper(
        "papers/class_list.html",
        "class list",
        section,
        details=class_lists.details_of(section.connection, section.id),
        ticks=range(TICKS),
    )


@blueprint.get("/audit")
def audit_document(section_id: int) -> ResponseReturnValue:
    """The audit as a document: plan, checks run, findings and how each ended, who, when, and the data's digest."""
    section = whole_section(section_id)
    data = course_file.course_text(section.course)
    return paper(
        "papers/audit.html",
        "audit",
        section,
        plan_lines=[line for line in plan_text(section.course.plan).splitlines() if line.strip()],
        checks=list(CODES),
        reviewed=section.snapshot.reviewed,
        counts=counts(section.snapshot.open_findings),
        names={s.id: s.name for s in section.course.students},
        digest=hashlib.sha256(data.encode()).hexdigest(),
    )
