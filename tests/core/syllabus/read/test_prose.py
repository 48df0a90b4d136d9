"""Categories from sentences."""

from fractions import Fraction

import pytest

from vinemark.core.syllabus.read.choose import LEAST
from vinemark.core.syllabus.read.layout import Page
from vinemark.core.syllabus.read.prose import Said, as_categories, glossary_of, said_amounts, said_formula, said_strokes


def weights(text: str) -> list[tuple[str, Fraction | None, bool]]:
    found = said_amounts(Page(f"Grading\n\n{text}"))
    return [(s.name.lower(), s.whole, s.rest) for s in found if s.unit == "weight" and s.score >= LEAST]


@pytest.mark.parametrize(
    ("text", "name", "whole"),
    [
        ("Homework is worth 20% of the course grade.", "homework", 20),
        ("Each of the three midterms counts 15% of the grade.", "midterms", 45),
        ("A fifth of the grade comes from the field log.", "field log", 20),
        ("The final exam makes up 35 percent of your grade.", "final exam", 35),
    ],
)
def test_a_sentence(text: str, name: str, whole: int) -> None:
    found = weights(text)
    assert len(found) == 1
    assert name in found[0][0]
    assert found[0][1] == whole


def test_one_and_some_of_the_work_spoken_of() -> None:
    papers = "You write three papers. The first is short and counts for 15% of the grade; the second counts for 25%."
    assert weights(papers) == [("first paper", 15, False), ("second paper", 25, False)]
    stories = "Six stories over the term. The first two count 5% each of the grade, the other four 12% each."
    assert weights(stories) == [("first two stories", 10, False), ("other four stories", 48, False)]
    assert weights("Labs are 80% of the grade. The other 20% is for the final exam.")[-1][0] == "final exam"


def test_halves_and_quarters_of_it_and_a_rest_that_is_split() -> None:
    """Arithmetic: 50 + 25 + 15 + 10 is 100."""
    text = (
        "Here is how I figure your grade. Half of it comes from four essays. A quarter comes from the final exam. "
        "The rest is split between your garden journal (15%) and the discussions you lead (10%)."
    )
    found = [(name, whole) for name, whole, _ in weights(text) if whole is not None]
    assert found == [("essays", 50), ("final exam", 25), ("garden journal", 15), ("discussions", 10)]


def test_a_penalty_in_percent_is_no_weight() -> None:
    assert weights("A late report loses 10% per day.") == []


def test_a_formula_and_amounts_of_points() -> None:
    formula = said_formula(Page("Grading\n\nGrade = 0.4 x Labs + 0.6 x Exams\n"))
    assert [(s.name, s.amount) for s in formula] == [("Labs", 40), ("Exams", 60)]
    points = said_amounts(Page("Grading\n\nThe final exam is worth 150 points.\n"))
    assert [(s.unit, s.amount) for s in points] == [("points", 150)]


def test_each_ones_amount_becomes_the_whole_categorys() -> None:
    papers = Said("Papers", 0, 6, Fraction(15), True, 2, False, 50)
    labs = Said("Labs", 30, 34, Fraction(10), True, 8, False, 50, unit="points")
    found = as_categories([papers, labs])
    assert [(c.name, c.weight, c.points, c.points_each) for c in found] == [
        ("Papers", 30, None, None), ("Labs", None, 80, 10),
    ]  # fmt: skip


def test_a_share_of_one_piece_of_work_is_no_share_of_the_grade() -> None:
    assert weights("The proposal counts 20% of the paper, the draft 30% and the final text 50%.") == []
    assert weights("Each essay is judged on argument (50%), evidence (30%) and style (20%).") == []


def test_a_pronoun_stands_for_the_work_named_before() -> None:
    assert weights("There are eight map quizzes. Together they make up 20% of the grade.") == [
        ("map quizzes", 20, False)
    ]


def test_a_heading_names_work_whatever_its_words() -> None:
    page = Page("# Field day\n\nField day makes up 40% of the grade.\n")
    assert "field day" in glossary_of(page)
    assert [s.name for s in said_amounts(page)] == ["Field day"]


def test_what_describes_a_bold_label_is_no_name_and_a_date_is_none() -> None:
    label = "# Grades\n\n**Midterm** - short answers, 40% of the grade\n\n**Final** - essays, 60% of the grade\n"
    assert [s.name.lower() for s in said_amounts(Page(label))] == ["midterm", "final"]
    dated = "# Grades\n\n### Exam\n\nNovember 18. (20%)\n"
    assert [s.name.lower() for s in said_amounts(Page(dated))] == ["exam"]


def test_an_item_speaks_of_what_it_begins_with() -> None:
    text = "# Work for the course\n\n- A walking-tour map that you make. This is 20% of your grade.\n"
    assert [(s.name, s.whole) for s in said_amounts(Page(text))] == [("Walking-tour map", 20)]


def test_a_title_names_no_work_and_a_numbered_label_does() -> None:
    title = (
        "# PHIL 220 Logic and Argument\n\nThere are twelve problem sets. Together they count for 30% of the grade.\n"
    )
    assert [s.name for s in said_amounts(Page(title))] == ["Problem sets"]
    label = "# Requirements\n\n(1) Field notebook.  Bring it along.\n    30% of the course grade.\n"
    assert [s.name for s in said_amounts(Page(label))] == ["Field notebook"]


def test_numbers_between_strokes_that_make_a_whole() -> None:
    found = said_strokes(Page("Grade: quizzes 10 / lab 40 / final 50 (percent).\n"))
    assert [(s.name, s.amount) for s in found] == [("Quizzes", 10), ("Lab", 40), ("Final", 50)]
    assert said_strokes(Page("Ratio: salt 10 / sand 40 / clay 5.\n")) == []
