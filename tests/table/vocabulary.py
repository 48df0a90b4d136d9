"""Words of the tables that are made: what the reader was built on, and apart from it what it is judged on."""

from dataclasses import dataclass
from typing import Literal

Half = Literal["seen", "unseen"]


@dataclass(frozen=True)
class Vocabulary:
    """Words of one half; `work` gives groups with what their works are called."""

    ids: tuple[str, ...]
    names: tuple[str, ...]
    two_names: tuple[tuple[str, str], ...]
    statuses: tuple[str, ...]
    sections: tuple[str, ...]
    running: tuple[str, ...]
    remarks: tuple[str, ...]
    work: tuple[tuple[str, str], ...]
    single: tuple[str, ...]
    points_in_heading: tuple[str, ...]
    points_labels: tuple[str, ...]
    weight_labels: tuple[str, ...]
    date_labels: tuple[str, ...]
    parts: tuple[str, ...]
    sums: tuple[str, ...]
    percents: tuple[str, ...]
    letters: tuple[str, ...]
    figures: tuple[str, ...]
    titles: tuple[str, ...]
    notes: tuple[str, ...]
    extra: tuple[str, ...]
    missing: tuple[str, ...]
    exempt: tuple[str, ...]


SEEN = Vocabulary(
    ids=("ID", "Student ID", "SID"),
    names=("Name", "Student"),
    two_names=(("Last", "First"), ("Last Name", "First Name")),
    statuses=("Status",),
    sections=("Section", "Sec."),
    running=("#", "No."),
    remarks=("Comments", "Notes"),
    work=(("Quizzes", "Quiz"), ("Labs", "Lab"), ("Homework", "HW"), ("Exams", "Exam")),
    single=("Midterm", "Final Exam", "Research Paper"),
    points_in_heading=("{} (10 pts)", "{} /10", "{} [10]"),
    points_labels=("Points possible", "Out of", "Max"),
    weight_labels=("Weight", "Weights"),
    date_labels=("Due", "Due date"),
    parts=("{} total", "{} avg"),
    sums=("Total", "Total Points", "Course total"),
    percents=("Overall %", "Final %", "Course average"),
    letters=("Grade", "Letter", "Letter grade"),
    figures=("Average", "Mean", "Std Dev", "High"),
    titles=("Larkmoor College", "GEOL 101-02 Fall 2026", "Instructor: L. Quade"),
    notes=("EX = excused, M = missing", "Blank means not handed in"),
    extra=("Bonus", "Extra credit"),
    missing=("M", "missing"),
    exempt=("EX", "exempt"),
)
UNSEEN = Vocabulary(
    ids=("Student Number", "ID #", "College ID", "Id no."),
    names=("Full name", "Student name", "Learner"),
    two_names=(("Family name", "Given name"), ("Surname", "Forename"), ("family_name", "given_name")),
    statuses=("Enrollment", "Enrolled?", "Reg. status"),
    sections=("Sect", "Lab section", "Meeting"),
    running=("Nr", "Seq", "Row"),
    remarks=("Memo", "Remarks", "Instructor's notes"),
    work=(("Reading responses", "Response"), ("Field trips", "Trip"), ("Problem sets", "PS"), ("Critiques", "Crit"),
          ("Journals", "Journal entry"), ("Unit tests", "Unit test"), ("Studio work", "Piece")),
    single=("Oral exam", "Capstone", "Poster", "Portfolio review", "Site report"),
    points_in_heading=("{} (out of 10)", "{}: 10", "{} - 10 points", "{} (max 10)", "{}, 10 pts.", "{} out of 10"),
    points_labels=("Maximum", "Worth", "Full marks", "Points →", "possible", "Max pts", "Total possible"),
    weight_labels=("% of grade", "Weighting", "Share"),
    date_labels=("Date", "Due on", "When"),
    parts=("{} sum", "{} mean", "Sum of {}", "{} subtotal", "{} so far"),
    sums=("Sum", "Points earned", "Running total", "Everything", "Tally", "All points"),
    percents=("Pct", "Standing", "Course pct.", "Current average", "Percentage so far", "Result"),
    letters=("Ltr", "Mark", "Course grade", "Final letter", "Reported as"),
    figures=("Median", "Class mean", "Lowest", "Std. deviation", "Top score", "Students who passed"),
    titles=("Department of Forestry", "Spring 2027, section 3", "Prof. T. Oduya", "Soil Science gradebook", "Room B12"),
    notes=("ex: excused; m: nothing handed in", "Scores are entered on Fridays", "Printed 4/2/2027"),
    extra=("Museum visit (EC)", "Bonus round", "Extra-credit map"),
    missing=("miss", "Missing"),
    exempt=("exc", "Excused", "exc."),
)  # fmt: skip
HALVES: dict[Half, Vocabulary] = {"seen": SEEN, "unseen": UNSEEN}
