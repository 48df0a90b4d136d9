"""Reading a syllabus: every way of saying something by its example, whole documents, and places in the text."""

from vinemark.core.syllabus.read.layout import Page, section_kind


def test_sections_by_their_headings() -> None:
    kinds = [
        section_kind(h)
        for h in ("how bench projects are judged", "course calendar", "letter grades", "evaluation", "safety")
    ]
    assert kinds == ["rubric", "calendar", "scale", "grading", "other"]


def test_lines_that_begin_with_names_and_give_percentages_are_a_list() -> None:
    text = "It consists of:\n   Quizzes - 15%\n   Reports - 60% (ten; the lowest\n   is dropped)\n   Final - 25%\n"
    items = [block for block in Page(text).blocks if block.kind == "item"]
    assert [block.sentences[0].text.split(" -")[0].strip() for block in items] == ["quizzes", "reports", "final"]
    assert "is dropped" in items[1].sentences[-1].text
