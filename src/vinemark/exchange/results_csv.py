"""Results as a table in CSV (RFC 4180)."""

import csv
import io
from datetime import date

from vinemark.core.course.course import Course
from vinemark.core.grade.results import results

HEADING = ("id", "family_name", "given_name", "percent", "rounded", "letter", "blanks_zero", "blanks_full")


def results_csv(course: Course, as_of: date) -> str:
    """One row a student, a percent column for each category headed by its id; lines end in CRLF."""
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow([*HEADING, *(category.id for category in course.plan.categories)])
    for student, found in zip(course.students, results(course, as_of)["students"], strict=True):
        names = [harmless(student.family_name), harmless(student.given_name)]
        figures = [found[key] for key in HEADING[3:]]
        writer.writerow([student.id, *names, *figures, *(c["percent"] for c in found["categories"])])
    return out.getvalue()


def harmless(text: str) -> str:
    """Text that no spreadsheet takes for a formula."""
    return f"'{text}" if text.startswith(("=", "+", "-", "@")) else text
