"""Whether what a file brings keeps within the limits. What is kept already is read whatever the limits are now."""

from collections.abc import Iterator
from datetime import date

from vinemark.core.base.limits import (
    CODE_LIMIT,
    COUNT_LIMIT,
    FIRST_DAY,
    LAST_DAY,
    NAME_LIMIT,
    NOTE_LIMIT,
    OTHER_CENTURY,
    ROSTER_LIMIT,
    STUDENT_LIMIT,
    TEXT_LIMIT,
    Limit,
    more_than,
)
from vinemark.core.base.refused import Refused, short_note
from vinemark.core.course.course import Course, Settled
from vinemark.core.plan.bounds import refuse_beyond_limits


def refuse_oversized(course: Course) -> None:
    """Refuse the first thing of a course that is too many or too long, at its place in a course file."""
    refuse_beyond_limits(course.plan)
    for field, size, limit in (*_numbers(course), *_lengths(course)):
        if size > limit.most:
            raise Refused(field, more_than(limit))
    for field, day in _days(course):
        if day is not None and not FIRST_DAY <= day <= LAST_DAY:
            raise Refused(field, OTHER_CENTURY)


def refuse_oversized_grade(typed: Settled) -> None:
    """Refuse a settled grade with a text too long or a day of another century, at its field."""
    for field, text in (("reason", typed.reason), ("owed", typed.owed)):
        short_note(text or "", field)
    for field, day in (("last_attended", typed.last_attended), ("finish_by", typed.finish_by)):
        if day is not None and not FIRST_DAY <= day <= LAST_DAY:
            raise Refused(field, OTHER_CENTURY)


def _numbers(course: Course) -> Iterator[tuple[str, int, Limit]]:
    yield "students", len(course.students), STUDENT_LIMIT
    yield "syllabus", len(course.syllabus or ""), TEXT_LIMIT
    if course.records is not None:
        yield "records.roster", len(course.records.roster), ROSTER_LIMIT
        yield "records.codes", len(course.records.codes), CODE_LIMIT
        yield "records.incomplete_limit_days", course.records.incomplete_limit_days or 0, COUNT_LIMIT


def _lengths(course: Course) -> Iterator[tuple[str, int, Limit]]:
    names = {"term.name": course.term.name, "section.course": course.section.course,
             "section.title": course.section.title, "section.number": course.section.number}  # fmt: skip
    for i, category in enumerate(course.plan.categories):
        names |= {f"plan.categories[{i}].id": category.id, f"plan.categories[{i}].name": category.name}
        for j, item in enumerate(category.items):
            at = f"plan.categories[{i}].items[{j}]"
            names |= {f"{at}.id": item.id, f"{at}.name": item.name}
    for i, row in enumerate(course.plan.scale):
        names[f"plan.scale[{i}].letter"] = row.letter
    for i, student in enumerate(course.students):
        at = f"students[{i}]"
        names |= {f"{at}.id": student.id, f"{at}.family_name": student.family_name,
                  f"{at}.given_name": student.given_name, f"{at}.email": student.email or ""}  # fmt: skip
        yield f"{at}.set_aside", len(student.set_aside or ""), NOTE_LIMIT
    yield from ((field, len(name), NAME_LIMIT) for field, name in names.items())
    for field, grade in _settled(course):
        yield f"{field}.reason", len(grade.reason or ""), NOTE_LIMIT
        yield f"{field}.owed", len(grade.owed or ""), NOTE_LIMIT


def _days(course: Course) -> Iterator[tuple[str, date | None]]:
    yield from (("term.starts", course.term.starts), ("term.ends", course.term.ends))
    yield from ((f"extensions.{student}.{item}", due) for (student, item), due in course.extensions.items())
    for field, grade in _settled(course):
        yield from ((f"{field}.last_attended", grade.last_attended), (f"{field}.finish_by", grade.finish_by))


def _settled(course: Course) -> Iterator[tuple[str, Settled]]:
    for run, grades in (("settled", course.settled), ("midterm", course.midterm)):
        yield from ((f"{run}.{student}", grade) for student, grade in grades.items())
