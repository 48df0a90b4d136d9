"""Reading a syllabus: every way of saying something by its example, whole documents, and places in the text."""

import pytest

from vinemark.core.syllabus import read_syllabus
from vinemark.core.syllabus.read.layout import Page, section_kind


def test_sections_by_their_headings() -> None:
    kinds = [
        section_kind(h)
        for h in ("how bench projects are judged", "course calendar", "letter grades", "evaluation", "safety")
    ]
    assert kinds == ["rubric", "calendar", "scale", "grading", "other"]


def test_a_bold_number_of_a_section_is_no_number_and_a_note_begins_anew() -> None:
    page = Page("**2 Quizzes.** Five quizzes.\n\n¹ The lowest is dropped, unless you missed it.\n² No more.\n")
    assert [sentence.text.strip() for sentence in page.sentences][:1] == ["quizzes.   five quizzes."]
    assert len(page.blocks) == 3


def test_a_label_in_bold_is_a_heading_and_its_row_stands_with_those_below() -> None:
    text = "**Course goals.** You measure.\n\n**Grading.** Labs\t35%\n\tTests\t65%\n\n**Letter grades.** A 92.\n"
    page = Page(text)
    assert [section.kind for section in page.sections] == ["other", "other", "grading", "scale"]
    assert {line.indent for line in page.lines if line.kind == "row"} == {1}


def test_how_one_work_is_judged_is_no_grading_and_how_the_course_is_graded_is() -> None:
    of_course = ("it", "work", "the work", "the course", "this class", "your final grade", "you", "we", "students")
    of_work = ("the essay", "each report", "an image", "bench projects", "the weekly sheets", "items")
    for whose in of_course:
        assert section_kind(f"how {whose} {'are' if whose in ('you', 'we', 'students') else 'is'} graded") == "grading"
    for whose in of_work:
        assert section_kind(f"how {whose} will be graded") == "rubric"


@pytest.mark.parametrize(
    "heading",
    ["outline of grading", "assessment schedule", "schedule of assessments", "topics, tasks, and weights",
     "meetings, work and grades", "course requirements and topics", "rubric for the course grade",
     "criteria for the final mark", "weekly work and its weight"],
)  # fmt: skip
def test_a_heading_that_names_grading_beside_something_else_is_about_grading(heading: str) -> None:
    assert section_kind(heading) == "grading"


@pytest.mark.parametrize(
    ("heading", "kind"),
    [("grading rubric", "rubric"), ("rubric for the essay", "rubric"), ("schedule of readings", "calendar"),
     ("course outline", "calendar"), ("weekly topics", "calendar"), ("weekly work", "other")],
)  # fmt: skip
def test_a_heading_of_something_else_is_not(heading: str, kind: str) -> None:
    assert section_kind(heading) == kind


@pytest.mark.parametrize("heading", ["Weekly work", "Assessment schedule", "How it is graded", "Grading outline"])
def test_what_counts_is_read_below_such_a_heading(heading: str) -> None:
    said = (
        "The notebook counts 25%, the six map exercises 30% and the final report 45%. The lowest exercise is dropped."
    )
    found = read_syllabus(f"# GEOG 110 Mapping\n\n## {heading}\n\n{said}\n\n## Contact\n\nWrite to me.\n")
    assert [str(one.weight) for one in found.categories] == ["25", "30", "45"]
    assert found.categories[1].drop_lowest == 1


def test_paragraphs_that_begin_with_labels_stand_apart_without_a_blank_line() -> None:
    text = "Quizzes. I keep the best ten.\nThey count.\nStories. You write two.\nFinal portfolio. One.\n"
    assert [len(block.sentences) for block in Page(text).blocks] == [2, 1, 1]
