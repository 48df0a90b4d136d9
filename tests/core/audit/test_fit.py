"""Levels, standings and what is left over, against the definition by Python's own statistics; displaced columns against
numpy's correlation."""

import math
import random
import statistics
from fractions import Fraction

import numpy as np
import pytest

from tests.builders import category, course, plan
from tests.core.audit.audit_courses import PLANTERS, SHAPES, clean
from tests.seeds import seed
from vinemark.core.audit.fit import Fit
from vinemark.core.audit.score_table import score_table
from vinemark.core.course.course import Course
from vinemark.core.plan.plan import Item

Parts = dict[tuple[str, str], Fraction]


def parts_of(of: Course) -> Parts:
    """Every score above 0 as a fraction of its points."""
    items = [i for c, i in of.plan.items() if not c.extra and not i.extra and i.counts]
    cells = {(s.id, i.id): (of.value(s.id, i.id), i) for s in of.enrolled() for i in items}
    return {place: cell / i.points for place, (cell, i) in cells.items() if isinstance(cell, Fraction) and cell}


def level(parts: Parts, item: str) -> Fraction | None:
    found = [part for (_, one), part in parts.items() if one == item]
    return statistics.median(found) if len(found) >= 5 else None


def standing(parts: Parts, levels: dict[str, Fraction | None], student: str, item: str) -> Fraction | None:
    found = [part - lvl for (who, one), part in parts.items()
             if who == student and one != item and (lvl := levels[one]) is not None]  # fmt: skip
    return statistics.median(found) if len(found) >= 4 else None


def items_of(fit: Fit) -> list[Item]:
    return [fit.table.columns[place].item for place in fit.places]


def drawn(shape: str, number: int) -> Course:
    of = clean(seed(2200 + number), shape=shape)
    return of.with_cells({(s.id, "k0i0"): None for s in of.students[3:]}) if number % 2 else of


@pytest.mark.parametrize("shape", SHAPES)
@pytest.mark.parametrize("number", range(2))
def test_it_is_what_the_definition_says(shape: str, number: int) -> None:
    of = drawn(shape, number)
    fit, parts = Fit(score_table(of)), parts_of(of)
    levels = {item.id: level(parts, item.id) for item in items_of(fit)}
    for place, item in enumerate(items_of(fit)):
        mine = levels[item.id]
        assert bool(fit.has_level[place]) == (mine is not None)
        if mine is None:
            continue
        assert Fraction(int(fit.level[place]), fit.unit) == mine
        for row, student in enumerate(fit.table.students):
            wanted = standing(parts, levels, student.id, item.id)
            assert bool(fit.has_standing[row, place]) == (wanted is not None)
            if wanted is None:
                continue
            assert Fraction(int(fit.standing[row, place]), fit.unit) == wanted
            part = parts.get((student.id, item.id))
            assert bool(fit.has_rest[row, place]) == (part is not None)
            if part is not None:
                expected = min(Fraction(1), max(Fraction(0), mine + wanted))
                assert Fraction(int(fit.rest[row, place]), fit.unit) == part - expected


def test_the_example_of_the_contract() -> None:
    """0.9, 0.85, 0.8, 0.95 and 0.15 on items of level 0.8, 0.8, 0.7, 0.85 and 0.75: b is 0.1, r is -0.7."""
    levels = ("80", "80", "70", "85", "75")
    of = course(plan(category(*["100"] * 5)), {
        **{f"s{n}": list(levels) for n in range(6)}, "ada": ["90", "85", "80", "95", "15"],
    })  # fmt: skip
    fit = Fit(score_table(of))
    row = [student.id for student in fit.table.students].index("ada")
    assert Fraction(int(fit.standing[row, 4]), fit.unit) == Fraction("0.1")
    assert Fraction(int(fit.rest[row, 4]), fit.unit) == Fraction("-0.7")


def best_displacement(fit: Fit, place: int) -> tuple[int, int] | None:
    """By the definition, a row and a direction at a time."""
    rows = [row for row in range(len(fit.table.students)) if fit.has_standing[row, place]]
    best: tuple[float, int, int] | None = None
    for step in (-1, 1):
        for first in range(len(rows)):
            used = [n for n in range(first, len(rows)) if 0 <= n + step < len(rows) and fit.valid[rows[n], place]]
            if len(used) < 12:
                continue
            f = [int(fit.f[rows[n], place]) for n in used]
            own = [int(fit.standing[rows[n], place]) for n in used]
            other = [int(fit.standing[rows[n + step], place]) for n in used]
            if min(len(set(f)), len(set(own)), len(set(other))) < 2:
                continue
            q, p = (np.corrcoef(f, kind)[0, 1] for kind in (other, own))
            gain = (math.atanh(min(q, 1 - 1e-12)) - math.atanh(p)) * math.sqrt(len(used) - 3)
            if q >= 0.6 and gain >= 5 and (best is None or gain > best[0] + 1e-9):
                best = gain, rows[used[0]], step
    return None if best is None else best[1:]


@pytest.mark.parametrize("number", range(6))
def test_a_displaced_column_is_found_where_numpy_finds_it(number: int) -> None:
    planted = PLANTERS["column-shifted"](random.Random(seed(2300 + number)), clean(1))
    fit = Fit(score_table(planted.course))
    for place in range(len(fit.places)):
        found = fit.displaced.get(place)
        wanted = best_displacement(fit, place) if fit.has_level[place] else None
        assert (None if found is None else (found.row, found.step)) == wanted


def test_a_class_without_students_or_items_has_nothing() -> None:
    assert Fit(score_table(course(plan(), {}))).displaced == {}
    assert Fit(score_table(course(plan(category("10")), {}))).displaced == {}
    assert Fit(score_table(course(plan(), {"ada": []}))).displaced == {}
