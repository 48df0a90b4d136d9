"""Groups whose row has no figure."""

from fractions import Fraction

from vinemark.core.syllabus.read.groups import with_groups
from vinemark.core.syllabus.read.layout import Page
from vinemark.core.syllabus.read.rows import entries
from vinemark.core.syllabus.read.tables import tables_of


def worth(text: str) -> list[tuple[str, Fraction | None]]:
    page = Page(text)
    tables = tables_of(page)
    return [(row.name, row.points or row.weight) for row in with_groups(page, tables, entries(page, tables))]


def test_one_piece_of_work_in_parts_is_worth_their_sum() -> None:
    text = "Case briefs       100\nTeam project\n   Proposal        25\n   Report         100\nFinal exam        100\n"
    assert worth(text) == [("Case briefs", 100), ("Team project", 125), ("Final exam", 100)]


def test_the_members_of_a_group_of_several_works_stay() -> None:
    text = "Essays            20%\nLaboratory\n   Lab reports     25%\n   Lab quizzes     15%\nFinal exam        40%\n"
    assert worth(text) == [
        ("Essays", 20), ("Laboratory", 40), ("Lab reports", 25), ("Lab quizzes", 15), ("Final exam", 40),
    ]  # fmt: skip


def test_a_bare_row_without_figures_below_it_is_no_group() -> None:
    text = "Essays            20%\nTeam project\nFinal exam        80%\n"
    assert worth(text) == [("Essays", 20), ("Final exam", 80)]


def test_an_item_that_is_one_piece_of_work_over_its_parts() -> None:
    """Arithmetic: 5 + 10 + 20 is 35."""
    text = "- Essays: 65%\n- Interview project\n  - Guide: 5%\n  - Transcript: 10%\n  - Analysis: 20%\n"
    assert worth(text) == [("Essays", 65), ("Interview project", 35)]
    assert [name for name, _ in worth(text.replace("Interview project", "Laboratory"))] == [
        "Essays", "Guide", "Transcript", "Analysis",
    ]  # fmt: skip
