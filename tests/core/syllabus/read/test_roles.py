"""What the columns of a table hold, told by their cells."""

import pytest

from vinemark.core.syllabus import read_syllabus
from vinemark.core.syllabus.read.layout import Page
from vinemark.core.syllabus.read.roles import figure, laid_out, roles_of
from vinemark.core.syllabus.read.tables import tables_of


def roles(text: str) -> dict[int, str] | None:
    page = Page(text)
    found = roles_of(page, tables_of(page)[0])
    return dict(found.of) if found else None


@pytest.mark.parametrize(
    ("table", "of"),
    [
        (
            "| Requirement | Pts | Total |\n| Labs (8) | 25 | 200 |\n| Essays (2) | 50 | 100 |\n| Sum | | 300 |",
            {1: "each", 2: "points"},
        ),
        ("| Slice | What |\n| 40% | Labs |\n| 60% | Final |", {0: "weight"}),
        ("| What | Pieces | Portion |\n| Labs | 8 | 40 |\n| Final | 1 | 60 |", {1: "count", 2: "weight"}),
        (
            "| Test | How many | Each | Together |\n| Quiz | 10 | 2% | 20% |\n| Exam | 2 | 40% | 80% |",
            {1: "count", 2: "weight_each", 3: "weight"},
        ),
    ],
)
def test_roles_follow_from_what_adds_up(table: str, of: dict[int, str]) -> None:
    assert roles(table) == of


def test_a_column_of_dates_before_the_names() -> None:
    table = (
        "| Date | What is due | Worth |\n| Sept 18 | Video | 5% |\n| Oct. 2 | Report | 60% |\n| 12/11 | Exam | 35% |"
    )
    page = Page(table)
    found = roles_of(page, tables_of(page)[0])
    assert found is not None
    assert (found.name, dict(found.of)) == (1, {2: "weight"})


BARE = "| Exams, three | 450 |\n| Final exam | 330 |\n| Homework | 125 |\n| Quizzes | 95 |"


def test_bare_numbers_are_points_where_the_text_says_their_total_or_is_about_grades() -> None:
    """Arithmetic: 450 + 330 + 125 + 95 = 1000."""
    said = "Your grade is computed from a total of 1000 points:"
    assert roles(f"# The course\n\n{said}\n\n{BARE}") == {1: "points"}
    assert roles(f"# Grades\n\nLook below.\n\n{BARE}") == {1: "points"}
    assert roles(f"# The course\n\nLook below.\n\n{BARE}") is None
    assert roles(f"# The course\n\n{said.replace('1000', '900')}\n\n{BARE}") is None


@pytest.mark.parametrize(
    "table",
    [
        "| Week | Subject |\n| 1 | Rocks |\n| 2 | Water: 3% salt |",
        "| Letter | Percent |\n| A | 90 |\n| B | 80 |",
        "| Room | Phone |\n| Hall | 5520 |\n| Lab | 5521 |",
    ],
)
def test_what_is_no_plan_of_grades(table: str) -> None:
    assert roles(table) is None


def test_a_table_with_the_work_across_is_turned() -> None:
    page = Page("| | Labs | Essay | Final |\n| How many | 8 | 1 | 1 |\n| Worth | 40% | 20% | 40% |")
    table = tables_of(page)[0]
    laid = laid_out(page, table)
    assert laid is not None
    assert laid[0].width == 3
    assert laid[1].of == {1: "count", 2: "weight"}


def test_a_cell_holds_a_number_a_product_or_words() -> None:
    assert figure("up to 2%").value == 2
    assert figure("10 @ 15 pts").product
    assert figure("see below").value is None
    assert figure("25 each").each


NAMED = ["Field notebook", "Exercises", "Midterm test", "Closing report"]
BESIDE = [
    ("Due", ["Dec 4", "Fridays", "Oct 14", "Dec 11"]), ("Week due", ["15", "2, 4, 6, 8", "8", "16"]),
    ("Outcomes", ["1, 2", "2, 3", "1-4", "5"]), ("Learning outcomes", ["LO1", "LO2, LO3", "LO1", "LO4"]),
    ("Length", ["40 pages", "2 pages", "75 min", "10 pages"]), ("Format", ["paper", "PDF", "in class", "PDF"]),
    ("#", ["1", "2", "3", "4"]), ("No.", ["1", "2", "3", "4"]), ("Min. to pass", ["60%", "60%", "50%", "65%"]),
    ("Description", ["An entry for each outing", "Maps drawn in class", "20 questions", "8 to 10 pages"]),
    ("Dates", ["Sept 1 - Dec 4", "Fridays at 5", "Oct 14, 9:00-10:15", "Dec 11, 5 p.m."]),
    ("Notes", ["checked 4 times", "", "75 minutes", "draft in week 10"]), ("Hours", ["12", "18", "2", "20"]),
]  # fmt: skip


@pytest.mark.parametrize("place", [0, 1, 2])
@pytest.mark.parametrize("heading", ["Weight", "Value", "% of grade"])
@pytest.mark.parametrize(("beside", "cells"), BESIDE)
def test_a_column_of_something_else_is_no_name_count_or_weight(
    beside: str, cells: list[str], heading: str, place: int
) -> None:
    shares = ["25", "30", "20", "25"] if heading == "% of grade" else ["25%", "30%", "20%", "25%"]
    columns = [["Work", *NAMED], [heading, *shares]]
    columns.insert(place, [beside, *cells])
    table = "\n".join(f"| {' | '.join(row)} |" for row in zip(*columns, strict=True))
    found = read_syllabus(f"# GEOG 110 Mapping\n\n## Grading\n\n{table}\n\n## Contact\n\nWrite to me.\n").categories
    assert [(one.name, one.weight, one.count, one.points) for one in found] == [
        (name, weight, None, None) for name, weight in zip(NAMED, (25, 30, 20, 25), strict=True)
    ]
