"""Tables of a text: rows with a place for every column."""

from vinemark.core.syllabus.read.layout import Page
from vinemark.core.syllabus.read.tables import cell_words, tables_of


def grids(text: str) -> list[list[list[str]]]:
    page = Page(text)
    return [[[cell_words(page, cell) for cell in row] for row in table.rows] for table in tables_of(page)]


def test_rows_between_bars_keep_their_empty_places() -> None:
    assert grids("| Work | N | Weight |\n|---|---|---|\n| Labs | | 40% |\n") == [
        [["work", "n", "weight"], ["labs", "", "40%"]],
    ]  # fmt: skip


def test_typed_columns_are_told_by_where_they_stand() -> None:
    text = "Work              Share     Notes\nLabs              40%       ten\nFinal                       late\n"
    assert grids(text)[0][2] == ["final", "", "late"]


def test_running_text_parts_two_tables() -> None:
    assert len(grids("| a | 1 |\n\nSome words.\n\n| b | 2 |\n")) == 2


def test_a_scale_after_air_is_a_table_of_its_own() -> None:
    plan = "Quizzes          100\nExams            200\n\n"
    assert [len(grid) for grid in grids(f"{plan}270 - 300          A\n240 - 269          B\n")] == [2, 2]
    assert [len(grid) for grid in grids(f"{plan}90-100% A    80-89% B    70-79% C\n")] == [2, 1]
    assert [len(grid) for grid in grids(f"{plan}Final exam       100\n")] == [3]


def test_a_table_whose_rows_have_no_pipes_at_their_ends() -> None:
    """Source: GitHub Flavored Markdown Spec 0.29, 4.10: pipes at the ends of a row may be left out (from memory)."""
    text = "Weights\n\nComponent | Weight\n--- | ---:\nLabs, weekly | 40\nFinal |\n\nLabs | are fun"
    page = Page(text)
    (table,) = tables_of(page)
    words = [[text[cell.start : cell.end] if cell else "" for cell in row] for row in table.rows]
    assert words == [["Component", "Weight"], ["Labs, weekly", "40"], ["Final", ""]]
    bare = text.replace("--- | ---:\n", "")
    assert tables_of(Page(bare)) == []


def test_a_scale_in_columns_below_a_table_is_a_table_of_its_own() -> None:
    page = Page(
        "Notebook (2 points a day)   50%\nExams     50%   (10% each)\n\n94 - 100 A      77 - 79 C+\n90 - 93  A-\n"
    )
    assert [len(table.rows) for table in tables_of(page)] == [2, 2]
