"""What stands in the order of rows and columns, against the definition, cell by cell."""

import random
from fractions import Fraction

import numpy as np

from tests.builders import AFTER, category, course, plan
from vinemark.core.audit.finding import Facts
from vinemark.core.audit.order import EqualRun, ScoreOrder, _longest, _longest_rising


def order_of(rows: list[list[str | None]]) -> ScoreOrder:
    of = plan(category(*["10"] * len(rows[0])))
    return Facts(course(of, {f"s{n:02}": row for n, row in enumerate(rows)}), AFTER).order


def longest_rising_slowly(numbers: list[int]) -> int:
    best = [1] * len(numbers)
    for n, number in enumerate(numbers):
        best[n] = 1 + max((best[m] for m in range(n) if numbers[m] <= number), default=0)
    return max(best, default=0)


def test_the_longest_rising_part_against_every_part() -> None:
    draw = random.Random(11)
    for _ in range(200):
        numbers = [draw.randint(0, 9) for _ in range(draw.randint(1, 14))]
        assert _longest_rising(np.array(numbers, dtype=np.int64)) == longest_rising_slowly(numbers)


def test_the_longest_run_against_reading_along() -> None:
    draw = random.Random(12)
    for _ in range(200):
        there = [draw.random() < 0.6 for _ in range(draw.randint(2, 20))] + [True]
        text = "".join("x" if one else "." for one in there)
        longest = max(text.split("."), key=len)
        assert _longest(np.array(there)) == EqualRun(text.index(longest), len(longest), 1)


def test_rows_that_are_the_same_but_for_one_cell() -> None:
    rows: list[list[str | None]] = [
        ["1", "2", "3", "4"],
        ["9", "2", "3", "4"],
        ["1", "2", "3", "9"],
        ["5", "6", "7", "8"],
    ]
    assert list(order_of(rows).same_rows) == [(1, 0), (2, 0)]


def test_the_commonest_score_and_the_next() -> None:
    rows: list[list[str | None]] = [["4"], ["4"], ["5"], [None], ["missing"], ["4"], ["5"], ["6"]]
    order = order_of(rows)
    ((place, value, count, following),) = order.often(3)
    assert (place, Fraction(value, order.fit.table.unit) * 10, count, following) == (0, 4, 3, 2)
    assert list(order.often(4)) == []
    assert list(order_of([[None]]).often(1)) == []
