"""Which of all rows are the categories."""

from fractions import Fraction

import pytest

from vinemark.core.syllabus import read_syllabus
from vinemark.core.syllabus.read.blocks import (
    chosen,
    entry_points,
    footnotes,
    points_of,
    weights_of,
)
from vinemark.core.syllabus.read.layout import Page
from vinemark.core.syllabus.read.row_reading import RowReading
from vinemark.core.syllabus.read.rows import entries
from vinemark.core.syllabus.read.tables import tables_of


def names(text: str) -> list[str]:
    page = Page(text)
    return [e.name for e in chosen(page, entries(page, tables_of(page)))]


def row(**amounts: object) -> RowReading:
    return RowReading("Labs", 0, 1, 0, None, 0, **amounts)  # type: ignore[arg-type]


def test_points_are_the_total_or_else_each_times_the_count() -> None:
    assert entry_points(row(points=Fraction(50), points_each=Fraction(10), count=3)) == 50
    assert entry_points(row(points_each=Fraction(10), count=3)) == 30
    assert entry_points(row(points_each=Fraction(10))) == 10
    assert entry_points(row()) is None
    assert points_of([row(points=Fraction(50)), row(), row(points_each=Fraction(5), count=2)]) == 60
    assert weights_of([row(weight=Fraction(10), weight_each=True, count=3), row(weight=Fraction(5))]) == 35


def test_the_grading_list_and_not_the_parts_of_one_paper() -> None:
    text = (
        "Grading\nHomework: 40%\nPaper: 60%\n\n"
        "# How the paper is judged\n\n- Content: 50%\n- Style: 30%\n- Sources: 20%\n"
    )  # fmt: skip
    assert names(text) == ["Homework", "Paper"]


def test_the_parts_of_one_project_are_no_categories_and_those_of_the_exams_are() -> None:
    """Arithmetic: 3 + 12 is 15, and 40 + 45 is 85."""
    text = (
        "Grading\n- Exams: 85%\n  - Midterm: 40%\n  - Final: 45%\n- Project: 15%\n  - proposal (3%)\n  - poster (12%)\n"
    )
    assert names(text) == ["Midterm", "Final", "Project"]


def test_a_note_below_says_how_many_and_what_is_dropped() -> None:
    page = Page("Grading\n- Lab reports*: 40%\n- Final: 60%\n\n* Eight reports, of which the best seven count.\n")
    picked = chosen(page, entries(page, tables_of(page)))
    assert footnotes(page, picked)
    assert [(e.count, [d.best for d in e.drops]) for e in picked] == [(8, [7]), (None, [])]


def test_a_subtotal_gives_way_to_what_it_is_made_of_and_a_total_is_no_category() -> None:
    text = "Grading\n- Exams: 60%\n  - Midterm: 25%\n  - Final: 35%\n- Homework: 40%\nTotal: 100%\n"
    assert names(text) == ["Midterm", "Final", "Homework"]


def test_nothing_that_looks_like_a_whole_is_no_plan() -> None:
    assert names("Safety\nBring gloves: 2\n") == []


GROUPS = {
    "Speeches": {"Introduction speech": 10, "Persuasive speech": 20},
    "Written work": {"Outlines": 15, "Self-evaluations": 15},
    "Exams": {"Midterm": 15, "Final exam": 25},
}


@pytest.mark.parametrize("group", ["## {g}", "{g}", "{g}:", "**{g}**", "- {g}", "{g} ({w}%)", "{g} ........ {w}%"])
@pytest.mark.parametrize(
    "member", ["- {n}: {v}%", "    {n}      {v}%", "  {n} ..... {v}%", "a. {n}, {v}%", "{n} ({v}%)"]
)
def test_rows_under_several_headings_that_together_make_the_whole_are_one_plan(group: str, member: str) -> None:
    told = "\n\n".join(
        "\n".join(
            [
                group.format(g=name, w=sum(rows.values())),
                *(member.format(n=one, v=share) for one, share in rows.items()),
            ]
        )
        for name, rows in GROUPS.items()
    )
    found = read_syllabus(f"# COMM 175\n\n{told}\n\nA missed speech is a zero.\n").categories
    assert {one.name: one.weight for one in found} == {n: v for rows in GROUPS.values() for n, v in rows.items()}


def test_rows_of_one_name_under_many_headings_are_no_plan_by_themselves() -> None:
    text = "".join(
        f"## {name}\n\n- Weight: {share}%\n\n" for name, share in [("Labs", 60), ("Tests", 25), ("Talk", 15)]
    )
    assert [(one.name, one.weight) for one in read_syllabus(text).categories] == [
        ("Labs", 60),
        ("Tests", 25),
        ("Talk", 15),
    ]
