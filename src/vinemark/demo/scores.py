"""Scores that look like real classes: ability, effort, hard and easy items, a few who stopped coming."""

import random
from collections.abc import Mapping, Sequence
from datetime import date
from fractions import Fraction

from vinemark.core.course.cell import Cell
from vinemark.core.course.course import Student
from vinemark.core.plan.plan import Item, Plan


def scores_for(
    rng: random.Random, plan: Plan, students: Sequence[Student], stopped: Mapping[str, date]
) -> dict[str, dict[str, Cell]]:
    """A cell for every item; `stopped` says after which day a student was not seen again."""
    hard = {item.id: rng.gauss(0, 0.05) for _, item in plan.items()}
    return {s.id: _student(rng, plan, hard, stopped.get(s.id)) for s in students}


def _student(rng: random.Random, plan: Plan, hard: Mapping[str, float], stopped: date | None) -> dict[str, Cell]:
    ability = min(0.98, max(0.5, rng.gauss(0.83, 0.085)))
    effort = min(1.0, max(0.86, rng.gauss(0.985, 0.03)))
    cells: dict[str, Cell] = {}
    for _, item in plan.items():
        if not item.counts:
            continue
        if stopped is not None and item.due is not None and item.due > stopped:
            cells[item.id] = "missing"
        elif rng.random() > effort:
            cells[item.id] = "missing" if rng.random() < 0.7 else "exempt"
        else:
            cells[item.id] = _score(rng, item, ability + hard[item.id])
    return cells


def _score(rng: random.Random, item: Item, level: float) -> Fraction:
    """A score in halves (small items) or whole points, never above the item's points."""
    step = 2 if item.points <= 20 else 1
    drawn = min(1.0, max(0.1, rng.gauss(level, 0.075)))
    return min(item.points, Fraction(round(drawn * float(item.points) * step), step))
