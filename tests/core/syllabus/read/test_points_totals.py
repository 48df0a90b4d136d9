"""How many points a text says there are in all."""

from vinemark.core.syllabus.read.points_totals import points_totals


def test_what_a_text_calls_the_total_of_points() -> None:
    assert points_totals("the course has a total of 500 points") == {500}
    assert points_totals("400 points in all; homework is done weekly") == {400}
    assert points_totals("homework is done weekly") == set()


def test_a_heading_and_a_bracket_state_it_too() -> None:
    assert points_totals("grading: 500 points") == {500}
    assert points_totals("grading (1,000 points)") == {1000}
