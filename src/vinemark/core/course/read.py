"""A course file: parsed JSON values to a Course.

Everything refused raises Refused with the place, counted from 0: 'plan.categories[2].items[0].points'.
"""

from vinemark.core.base.refused import Keys, Refused, any_text, iso_day, refuse_repeat, rows, text
from vinemark.core.course import course as c
from vinemark.core.course.read_cells import read_adjustments, read_extensions, read_scores
from vinemark.core.course.read_plan import read_plan
from vinemark.core.course.read_records import read_all_settled, read_records

COURSE_FORMAT = "vine-mark-course/1"


_COURSE_KEYS = (
    "format", "term", "section", "plan", "students", "scores", "syllabus", "records", "settled", "midterm",
    "adjustments", "extensions",
)  # fmt: skip


def read_course(value: object) -> c.Course:
    """A whole course file, as parsed JSON values."""
    keys = Keys(value, "", _COURSE_KEYS)
    if keys.needed("format", any_text) != COURSE_FORMAT:
        raise Refused("format", f"must be {COURSE_FORMAT}")
    plan = keys.needed("plan", read_plan)
    nobody: tuple[c.Student, ...] = ()
    students = keys.given("students", rows(_read_student), nobody)
    refuse_repeat([s.id for s in students], lambda i: f"students[{i}].id")
    known = {s.id for s in students}
    return c.Course(
        term=keys.needed("term", _read_term),
        section=keys.needed("section", _read_section),
        plan=plan,
        students=students,
        scores=read_scores(keys, known, plan),
        syllabus=keys.maybe("syllabus", any_text),
        records=keys.maybe("records", read_records),
        settled=read_all_settled(keys, "settled", known),
        midterm=read_all_settled(keys, "midterm", known),
        adjustments=read_adjustments(keys, known),
        extensions=read_extensions(keys, known, plan),
    )


def _read_term(value: object, field: str) -> c.Term:
    keys = Keys(value, field, ("name", "starts", "ends"))
    return c.Term(keys.needed("name", text), keys.needed("starts", iso_day), keys.needed("ends", iso_day))


def _read_section(value: object, field: str) -> c.SectionName:
    keys = Keys(value, field, ("course", "title", "number"))
    return c.SectionName(keys.needed("course", text), keys.needed("title", any_text), keys.needed("number", any_text))


def _read_student(value: object, field: str) -> c.Student:
    keys = Keys(value, field, ("id", "family_name", "given_name", "email", "set_aside"))
    return c.Student(
        keys.needed("id", text),
        keys.needed("family_name", text),
        keys.needed("given_name", any_text),
        keys.maybe("email", text),
        keys.maybe("set_aside", text),
    )
