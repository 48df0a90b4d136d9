"""Who looked: at whose record, when, and what was exported or printed; of one student, or of all."""

from flask import Blueprint, request
from flask.typing import ResponseReturnValue

from vinemark.exchange.csv_text import csv_text
from vinemark.store.looked import looks_at
from vinemark.web.request import download, file_name, instructors_section, page, require_sign_in, student_of

blueprint = Blueprint("looked", __name__, url_prefix="/s/<int:section_id>/looked")
blueprint.before_request(require_sign_in)


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """The list."""
    section = instructors_section(section_id)
    wanted = request.args.get("student", "")
    student = student_of(section, wanted) if wanted else None
    return page(
        "scores",
        section,
        folder="looked",
        student=student,
        looks=looks_at(section.connection, section_id, wanted),
        students=section.course.students,
        names={one.id: one.plain_name for one in section.course.students},
    )


@blueprint.get("/list.csv")
def take(section_id: int) -> ResponseReturnValue:
    """The same as a file, for a records office."""
    section = instructors_section(section_id)
    wanted = request.args.get("student", "")
    student = student_of(section, wanted) if wanted else None
    rows = (
        (one.student_id or "all", one.who.name, one.who.email, one.who.role, one.what, one.first_at.isoformat(),
         one.last_at.isoformat(), one.times)
        for one in looks_at(section.connection, section_id, wanted)
    )  # fmt: skip
    heading = ("student", "name", "email", "part", "what", "first", "last", "times")
    name = file_name(section.name.short, student.plain_name if student else "", "who looked", ending=".csv")
    return download(csv_text(heading, rows), name, "text/csv")
