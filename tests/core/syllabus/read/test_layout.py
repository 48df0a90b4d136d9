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


def test_paragraphs_that_end_with_their_share_are_a_list() -> None:
    lines = ["Field notebook, checked three times (20%)", "Two reports (40% altogether)", "Test on plants (40%)"]
    blocks = Page("Assignments:\n\n" + "\n\n".join(lines) + "\n\nEach missed day costs 5%.\n").blocks
    assert [block.kind for block in blocks] == ["sentence", "item", "item", "item", "sentence"]


def test_a_bold_number_of_a_section_is_no_number_and_a_note_begins_anew() -> None:
    page = Page("**2 Quizzes.** Five quizzes.\n\n¹ The lowest is dropped, unless you missed it.\n² No more.\n")
    assert [sentence.text.strip() for sentence in page.sentences][:1] == ["quizzes.   five quizzes."]
    assert len(page.blocks) == 3


def test_a_label_in_bold_is_a_heading_and_its_row_stands_with_those_below() -> None:
    text = "**Course goals.** You measure.\n\n**Grading.** Labs\t35%\n\tTests\t65%\n\n**Letter grades.** A 92.\n"
    page = Page(text)
    assert [section.kind for section in page.sections] == ["other", "other", "grading", "scale"]
    assert {line.indent for line in page.lines if line.kind == "row"} == {1}
