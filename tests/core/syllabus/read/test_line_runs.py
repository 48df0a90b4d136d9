"""What lines are by those beside them."""

from vinemark.core.syllabus.read.layout import Page
from vinemark.core.syllabus.read.line_runs import lines_of


def test_lines_that_begin_with_names_and_give_percentages_are_a_list() -> None:
    text = "It consists of:\n   Quizzes - 15%\n   Reports - 60% (ten; the lowest\n   is dropped)\n   Final - 25%\n"
    items = [block for block in Page(text).blocks if block.kind == "item"]
    assert [block.sentences[0].text.split(" -")[0].strip() for block in items] == ["quizzes", "reports", "final"]
    assert "is dropped" in items[1].sentences[-1].text


def test_paragraphs_that_end_with_their_share_are_a_list() -> None:
    lines = ["Field notebook, checked three times (20%)", "Two reports (40% altogether)", "Test on plants (40%)"]
    blocks = Page("Assignments:\n\n" + "\n\n".join(lines) + "\n\nEach missed day costs 5%.\n").blocks
    assert [block.kind for block in blocks] == ["sentence", "item", "item", "item", "sentence"]


def test_a_number_that_ends_a_wrapped_sentence_begins_no_list() -> None:
    text = "All in all the weekly commentaries count as much as\n25. The midterm counts twice that.\n"
    assert [line.kind for line in lines_of(text)] == ["text", "text", "blank"]


def test_short_lines_end_alike_in_a_list_and_alone_one_is_a_heading() -> None:
    listed = "Quizzes (50 points)\nMidterm exam (100 points)\nQuiz 1 (20 points)\nParticipation (30 points)\n"
    assert {line.kind for line in Page(listed).lines if line.kind != "blank"} == {"text"}
    assert Page("GRADING (700 points)\nLabs make 300 of them.\n").lines[0].kind == "heading"
