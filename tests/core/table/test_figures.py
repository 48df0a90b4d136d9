"""Columns that are worked out of others."""

from fractions import Fraction

import pytest

from tests.core.table.grids import columns_of, grid_of, lines_of, roles_of
from vinemark.core.table.columns import read_columns
from vinemark.core.table.figures import said_weights, with_figures

SCORES = ((8, 9, 44), (6, 7, 39), (10, 8, 50), (5, 9, 31), (7, 10, 47))


def table(heading: str, figures: list[str], lead: str = "") -> str:
    rows = [f"S{n},{','.join(map(str, SCORES[n]))},{figures[n]}" for n in range(len(figures))]
    return "\n".join([f"Name,Lab 1,Lab 2,Essay,{heading}", *([lead] if lead else []), *rows])


def test_a_sum_is_the_total_whatever_its_heading_says() -> None:
    sums = [str(sum(scores)) for scores in SCORES]
    assert roles_of(table("All in", sums))[-1] == "total"
    assert roles_of(table("All in", [*sums[:4], "41"]))[-1] == "item"
    assert roles_of(table("All in", sums[:3]))[-1] == "total"
    assert roles_of(table("All in", sums[:2]))[-1] == "item"


def test_a_sum_of_some_is_a_part() -> None:
    assert roles_of("Name,Lab 1,Lab 2,Both,Essay\nAm,8,9,17,44\nBo,6,7,13,39\nCy,10,8,18,50\nDi,5,9,14,31\n") == [
        "name", "item", "item", "subtotal", "item",
    ]  # fmt: skip


@pytest.mark.parametrize("places", [1, 2])
def test_a_percent_of_all_points(places: int) -> None:
    percents = [f"{100 * sum(scores) / 70:.{places}f}" for scores in SCORES]
    assert roles_of(table("Standing to date so far", percents, "Points,10,10,50,"))[-1] == "total"
    assert roles_of(table("Extra reading", percents, "Points,10,10,50,"))[-1] == "total"
    assert roles_of(table("Extra reading", percents, "Points,10,10,60,"))[-1] == "item"


def test_a_mean_by_weights() -> None:
    means = [f"{float(2 * a + 2 * b + Fraction(6 * c, 5)):.2f}" for a, b, c in SCORES]
    lead = "Points,10,10,50,\nWeight,20,20,60,"
    assert roles_of(table("Result to here", means, lead))[-1] == "total"


def test_what_is_the_same_for_everyone_is_no_mean() -> None:
    rows = "\n".join(f"S{n},10,10,10" for n in range(6))
    assert roles_of(f"Name,Lab 1,Lab 2,Oral\n{rows}\n")[-1] == "item"


def test_scores_near_one_another_are_no_mean() -> None:
    rows = "S1,0.92,0.88,0.81\nS2,1,0.97,0.9\nS3,0.7,0.65,0.55\nS4,0.85,0.9,0.77\n"
    assert roles_of(f"Name,Labs,Midterm,Final\n{rows}")[-1] == "item"


def test_a_figure_of_the_past_alone() -> None:
    """Of those handed in: a blank counts nowhere."""
    rows = "S1,8,,80\nS2,6,7,65\nS3,10,9,95\nS4,,5,50\nS5,7,7,70\n"
    assert roles_of(f"Name,Quiz 1,Quiz 2,Quiz average %,Essay\nPoints,10,10,,\n{rows}")[3] == "subtotal"


def test_the_letter_behind_the_total() -> None:
    assert roles_of("Name,Lab 1,Lab 2,Total,Ltr mark\nAm,8,9,17,B\nBo,6,7,13,C\nCy,9,9,18,A\n")[-1] == "letter"


def test_rows_of_weights() -> None:
    text = "Name,Logs,Paper,Exam\nWeight,0.2,0.3,0.5\nA,8,9,7\nB,6,7,9\n"
    grid = grid_of(text)
    lines = lines_of(grid)
    assert said_weights(grid, lines) == {1: 20, 2: 30, 3: 50}
    assert with_figures(grid, lines, read_columns(grid, lines)) == columns_of(text)


def test_the_percent_of_the_column_before_it_is_a_part() -> None:
    rows = "Ode,12,51,85%,80\nQuist,15,58,97%,88\nRay,9,40,67%,59\n"
    assert roles_of(f"Name,Lab,Score / 60,%,Score / 90\n{rows}") == ["name", "item", "item", "subtotal", "item"]
    other = rows.replace("67%", "71%")
    assert roles_of(f"Name,Lab,Score / 60,%,Score / 90\n{other}")[3] == "total"


def test_the_best_of_several_is_worked_out_of_them() -> None:
    text = "Name,P1,P2,P3,Best two,Essay\nAm,12,14,15,29,40\nBo,11,9,10,21,33\nCy,15,15,15,30,44\nDi,9,8,12,21,28\n"
    assert roles_of(text)[4:] == ["subtotal", "item"]
    assert roles_of(text.replace("29", "28"))[4] == "item"


def test_a_midterm_in_percent_is_work_where_work_comes_after_it() -> None:
    text = "Name,Essay,Midterm %,Final Exam,Weighted\nAm,20,91%,88,87.2\nBo,18,78%,81,79.9\nCy,24,88%,93,91\n"
    assert roles_of(text) == ["name", "item", "item", "item", "total"]
