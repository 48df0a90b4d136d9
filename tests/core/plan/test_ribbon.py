"""What a plan says in words, as a ribbon, and in a cell."""

from fractions import Fraction

import pytest

from tests.builders import category, plan
from vinemark.core.plan.ribbon import ribbon, weight_verdict


@pytest.mark.parametrize(
    ("total", "words"),
    [("100", "100 of 100"), ("95", "95 of 100: 5 open"), ("110", "110 of 100: 10 too much"),
     ("99.99", "99.99 of 100: 0.01 open"), ("300/3", "100 of 100"), ("100/3", "33.333333 of 100: 66.666667 open")],
)  # fmt: skip
def test_what_is_open_is_said_as_a_number(total: str, words: str) -> None:
    assert weight_verdict(Fraction(total)) == words


def test_the_ribbon_shows_what_is_open_and_what_is_too_much() -> None:
    open_ = ribbon(plan(category("1", weight="40"), category("1", weight="50", prefix="j")))
    assert [(s.label, s.start, s.width) for s in open_.segments][-1] == ("open", 900, 100)
    over = ribbon(plan(category("1", weight="75"), category("1", weight="50", prefix="j")))
    assert [(s.label, s.value) for s in over.segments][-1] == ("too much", "25")
    assert not over.full
    assert ribbon(plan(category("1"))).full
