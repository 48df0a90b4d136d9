"""Results as a table in CSV (RFC 4180)."""

from datetime import date

from vinemark.core.course.course import Course
from vinemark.core.grade.results import results
from vinemark.exchange.csv_text import csv_text

HEADING = ("id", "family_name", "given_name", "percent", "rounded", "letter", "blanks_zero", "blanks_full")


def results_csv(course: Course, as_of: date) -> str:
    """One row a student, a percent column for each category headed by its id; lines end in CRLF."""
    rows = (
        [student.id, student.family_name, student.given_name, *(found[key] for key in HEADING[3:]),
         *(category["percent"] for category in found["categories"])]
        for student, found in zip(course.students, results(course, as_of)["students"], strict=True)
    )  # fmt: skip
    return csv_text([*HEADING, *(category.id for category in course.plan.categories)], rows)
