"""From the computed grade to the rows that go out, and back."""

from datetime import date
from fractions import Fraction

from tests.builders import AFTER, course, items, plan
from vinemark.core.plan.plan import Category
from vinemark.core.scores.last_work import last_work


def test_the_last_work_is_the_latest_dated_one_with_a_score_above_0() -> None:
    made = [items("10", prefix=f"k{n}", due=date(2026, 10, n + 1))[0] for n in range(4)]
    of = course(plan(Category("c", "C", Fraction(100), items=tuple(made))), {"ada": ["5", "6", "0", "missing"]})
    found = last_work(of, "ada", AFTER)
    assert found is not None
    assert found.due == date(2026, 10, 2)
    assert last_work(of, "ada", date(2026, 10, 1)) == of.plan.item("k00")
