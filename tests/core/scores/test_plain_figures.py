"""Points earned of possible and the average without weights, beside the plan's own figures."""

from fractions import Fraction

from tests.builders import category, grade, plan
from vinemark.core.scores.plain_figures import PlainFigures, plain_figures

PLAN = plan(
    category("10", "20", weight="80", drop_lowest=1),
    category("100", weight="20", prefix="t"),
    category("5", weight="2", prefix="e", extra=True),
)


def test_every_score_counts_the_same_and_nothing_is_dropped() -> None:
    found = plain_figures(grade(PLAN, "5", "20", "missing", "3"))
    assert found == PlainFigures(Fraction(28), Fraction(130), Fraction(50))
    assert found.points == "28/130"


def test_what_waits_or_is_exempt_is_not_possible_yet() -> None:
    found = plain_figures(grade(PLAN, "9", None, "exempt", None))
    assert found == PlainFigures(Fraction(9), Fraction(10), Fraction(90))


def test_without_any_score_there_is_no_average() -> None:
    found = plain_figures(grade(PLAN))
    assert (found.average, found.points) == (None, "–")
