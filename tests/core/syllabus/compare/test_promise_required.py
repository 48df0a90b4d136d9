"""Requirements and rules of attendance, in the ways that syllabuses say them."""

from dataclasses import replace

from tests.core.syllabus.compare.promised import PLAN, check
from vinemark.core.plan.rules import RecordedItem
from vinemark.core.syllabus.compare.keep_promise import kept_promise
from vinemark.core.syllabus.compare.promises import promise_of


def test_requirements() -> None:
    check(
        [
            ("You must pass the final exam to pass the course.", "If Final exam is below 60%, the letter is at most F"),
            ("You must earn at least 65% on the final exam in order to pass the course.",
             "If Final exam is below 65%, the letter is at most F"),
            ("Students must score at least 50 percent in the labs to pass.",
             "If Labs is below 50%, the letter is at most F"),
            ("You need a C or better in the labs to pass the course.", "If Labs is below 73%, the letter is at most F"),
            ("More than one missed field day: no more than a C.",
             "If 2 or more of Field days are missed, the letter is at most C"),
            ("Anyone who misses more than two labs cannot pass the course.",
             "If 3 or more of Labs are missed, the letter is at most F"),
            ("Students who miss three or more labs fail the course.",
             "If 3 or more of Labs are missed, the letter is at most F"),
            ("Missing two field days lowers your grade by one full letter.",
             "If 2 or more of Field days are missed, the letter goes down 3 steps of the scale"),
        ]
    )  # fmt: skip


def test_attendance_records_absences_first() -> None:
    each = "For each whole Absences above 3, the letter goes down 1 step of the scale"
    check(
        [
            ("Each absence beyond the third lowers the final grade by one third of a letter.", each),
            ("From the fourth absence on, I lower the course grade by one third of a letter for each.", each),
            ("Three absences are allowed; each further one lowers the final grade by one letter step.", each),
            ("More than four absences will lower your grade by a full letter grade.",
             "If Absences is above 4, the letter goes down 3 steps of the scale"),
            ("After the third absence I take 2 points off your final percent for each one more.",
             "For each whole Absences above 3, the percent goes down by 2"),
            ("Six or more absences result in a failing grade for the course.",
             "If Absences is above 5, the letter is at most F"),
            ("Students with more than 6 absences cannot get higher than a C in the course.",
             "If Absences is above 6, the letter is at most C"),
        ]
    )  # fmt: skip


def test_days_missed_of_no_category_are_counted() -> None:
    sentence = "Students who miss more than one lecture without notice cannot get more than a C."
    promise = promise_of(PLAN, sentence, "requirement")
    assert promise.records == "Days missed"
    assert kept_promise(PLAN, promise)[1] == "If Days missed is above 1, the letter is at most C"
    recorded = (RecordedItem("a", "Absences"), RecordedItem("f", "Lectures missed"))
    of = replace(PLAN, recorded=recorded)
    assert promise_of(of, sentence, "requirement").fields["subject"] == "item f"
