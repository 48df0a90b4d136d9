"""Whole random sections against an independent float pipeline of pandas and numpy, within 1e-9."""

import random
from fractions import Fraction

import numpy as np
import pandas as pd
import pytest

from tests.builders import AFTER
from vinemark.core.grade.calculation import work_out
from vinemark.core.plan.plan import BLANKS, SPLITS, Blanks, Category, Item, Plan, Split

pytestmark = pytest.mark.many

STUDENTS = 40


def random_plan(rng: random.Random) -> Plan:
    """Three weighted categories without unequal points where something is dropped."""
    categories = []
    for c in range(3):
        split: Split = rng.choice(SPLITS[:2])
        drops = rng.randint(0, 2)
        points = [rng.choice([5, 10, 20, 50]) for _ in range(rng.randint(3, 8))]
        if drops and split == "by_points":
            points = [points[0]] * len(points)
        made = tuple(Item(f"c{c}i{n}", f"I{n}", Fraction(p)) for n, p in enumerate(points))
        blanks: Blanks = rng.choice(BLANKS[:2])
        categories.append(
            Category(f"c{c}", f"C{c}", Fraction(rng.randint(5, 60)), split=split, drop_lowest=drops, blanks=blanks,
                     items=made)
        )  # fmt: skip
    return Plan("weighted", tuple(categories))


def random_frame(rng: random.Random, plan: Plan) -> pd.DataFrame:
    """Scores in quarters, one in eight blank; students as rows."""
    columns = {
        item.id: [np.nan if rng.random() < 0.125 else rng.randint(0, int(item.points) * 4) / 4 for _ in range(STUDENTS)]
        for _, item in plan.items()
    }
    return pd.DataFrame(columns)


def pandas_percents(plan: Plan, frame: pd.DataFrame) -> pd.Series:
    """The same rules, whole columns at a time: a blank is 0 or NaN, the lowest ratios become NaN."""
    percents, weights = {}, {}
    for category in plan.categories:
        points = pd.Series({item.id: float(item.points) for item in category.items})
        scores = frame[points.index]
        scores = scores.fillna(0) if category.blanks == "zero" else scores
        ratios = scores / points
        counted = ratios.notna().sum(axis=1)
        ranks = ratios.rank(axis=1, method="first")
        drops = np.minimum(category.drop_lowest, np.maximum(counted - 1, 0))
        ratios = ratios.mask(ranks.le(drops, axis=0))
        sizes = points if category.split == "by_points" else points * 0 + 1
        percents[category.id] = (ratios * sizes).sum(axis=1, min_count=1) / (ratios.notna() * sizes).sum(axis=1)
        weights[category.id] = float(category.weight or 0)
    table, worth = pd.DataFrame(percents), pd.Series(weights)
    return 100 * (table * worth).sum(axis=1, min_count=1) / (table.notna() * worth).sum(axis=1)


@pytest.mark.parametrize("seed", range(25))
def test_random_sections_agree(seed: int) -> None:
    """Source: pandas' own ranking, masking and sums."""
    rng = random.Random(seed)
    plan = random_plan(rng)
    frame = random_frame(rng, plan)
    expected = pandas_percents(plan, frame)
    assert expected.notna().any()
    for n, row in frame.iterrows():
        cells = {item: Fraction(value) for item, value in row.items() if not np.isnan(value)}
        found = work_out(plan, cells, AFTER).percent
        wanted = expected[n]
        assert (found is None) == bool(np.isnan(wanted))
        assert found is None or abs(float(found) - wanted) < 1e-9
