"""The benchmark behind bin/bench: ratios taken in one run, never a test that can fail by time.

The pandas pipeline follows the same rules with floats, whole columns at a time: by points or even, the two
drops that help most by the same parametric search, the three figures (by the plan, blanks as 0, in full),
half-up rounding and letters. Both start from parsed input and end at results for every student.
"""

import gc
import random
import statistics
import sys
import time
import tracemalloc
from collections.abc import Callable
from dataclasses import replace
from datetime import date
from fractions import Fraction

import numpy as np
import pandas as pd

from vinemark.core.course.cell import Cell, DetailedScore
from vinemark.core.course.course import Course, SectionName, Student, Term
from vinemark.core.grade.calculation import Calculator, Grade, work_out
from vinemark.core.grade.category import common_denominator
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.grade.counted import counted_rows
from vinemark.core.plan.plan import Category, Item, Plan, Rounding, ScaleRow
from vinemark.core.plan.rules import (
    Alternative,
    Condition,
    Consequence,
    LateRule,
    RecordedItem,
    Replacement,
    Requirement,
    RoundTo,
    Symbol,
)
from vinemark.exchange.results_json import results_json

DAY = date(2026, 12, 19)
TERM = Term("Fall 2026", date(2026, 8, 31), date(2026, 12, 18))
SCALE = [("A", 90), ("B", 80), ("C", 70), ("D", 60), ("F", 0)]
RUNS = 5


def make(students: int, categories: int = 6, items: int = 10, seed: int = 1) -> Course:
    """A weighted course with two drops in each category, one cell in twenty blank."""
    rng = random.Random(seed)
    made = []
    for c in range(categories):
        points = [rng.choice([10, 20, 25, 50, 100]) for _ in range(items)]
        these = tuple(Item(f"c{c}i{n}", f"Item {n}", Fraction(p)) for n, p in enumerate(points))
        split = ("by_points", "even")[c % 2]
        made.append(Category(f"c{c}", f"C {c}", Fraction(100, categories), split=split, drop_lowest=2, items=these))  # type: ignore[arg-type]
    plan = Plan("weighted", tuple(made), tuple(ScaleRow(x, Fraction(v)) for x, v in SCALE), Rounding(2))
    people = tuple(Student(f"S{n}", f"Name {n}") for n in range(students))
    scores = {s.id: _row(rng, plan) for s in people}
    return Course(TERM, SectionName("BENCH 1", "Bench", "01"), plan, people, scores)


def _row(rng: random.Random, plan: Plan) -> dict[str, Cell]:
    return {i.id: Fraction(rng.randint(0, int(i.points) * 2), 2) for _, i in plan.items() if rng.random() > 0.05}


def frame_of(course: Course) -> pd.DataFrame:
    """The scores as a table of floats, blanks as NaN."""
    columns = [item.id for _, item in course.plan.items()]
    rows = [{i: float(c) for i, c in course.scores[s.id].items()} for s in course.students]  # type: ignore[arg-type]
    return pd.DataFrame(rows, columns=columns, index=[s.id for s in course.students])


def pandas_results(plan: Plan, frame: pd.DataFrame) -> pd.DataFrame:
    """Percent, blanks as 0, blanks in full, rounded percent and letter of everyone."""
    points = pd.Series({item.id: float(item.points) for _, item in plan.items()})
    full = frame.fillna(points)
    out = pd.DataFrame(
        {
            "percent": _percents(plan, frame, points),
            "blanks_zero": _percents(plan, frame.fillna(0.0), points),
            "blanks_full": _percents(plan, full, points),
        }
    )
    out["rounded"] = np.floor(out["percent"] * 100 + 0.5) / 100
    cutoffs = [v for _, v in reversed(SCALE)]
    out["letter"] = np.array([x for x, _ in reversed(SCALE)])[np.searchsorted(cutoffs, out["rounded"], "right") - 1]
    return out


def _percents(plan: Plan, frame: pd.DataFrame, points: pd.Series) -> pd.Series:
    parts, weights = [], []
    for category in plan.categories:
        ids = [item.id for item in category.items]
        parts.append(_category(frame[ids], points[ids], category))
        weights.append(float(category.weight or 0))
    table = pd.concat(parts, axis=1)
    worth = np.array(weights)
    return 100 * (table * worth).sum(axis=1) / (table.notna() * worth).sum(axis=1)


def _category(scores: pd.DataFrame, points: pd.Series, category: Category) -> pd.Series:
    even = category.split == "even"
    earned = (scores / points if even else scores).to_numpy()
    there = ~np.isnan(earned)
    sizes = there * (np.ones(len(points)) if even else points.to_numpy())
    earned = np.where(there, earned, 0.0)
    count = np.minimum(category.drop_lowest, there.sum(axis=1) - 1)
    ratio = earned.sum(axis=1) / sizes.sum(axis=1)
    for _ in range(20):
        gain = np.where(there, earned - ratio[:, None] * sizes, np.inf)
        keep = gain.argsort(axis=1, kind="stable").argsort(axis=1, kind="stable") >= count[:, None]
        better = (earned * keep).sum(axis=1) / (sizes * keep).sum(axis=1)
        if np.allclose(better, ratio, rtol=0, atol=1e-15):
            break
        ratio = better
    return pd.Series(ratio, index=scores.index)


def seconds(run: Callable[[], object]) -> float:
    """The least of several runs."""
    times = []
    for _ in range(RUNS):
        start = time.perf_counter()
        run()
        times.append(time.perf_counter() - start)
    return min(times)


def check(course: Course, grades: dict[str, Grade]) -> None:
    """Both pipelines must agree before their times mean anything."""
    table = pandas_results(course.plan, frame_of(course))
    for student, grade in grades.items():
        for column in ("percent", "blanks_zero", "blanks_full"):
            exact = getattr(grade, column)
            assert abs(float(exact) - table.loc[student, column]) < 1e-9, (student, column)


def against_pandas() -> None:
    course = make(1000)
    check(course, grades_of(course, DAY))
    frame = frame_of(course)
    exact = seconds(lambda: grades_of(course, DAY))
    floats = seconds(lambda: pandas_results(course.plan, frame))
    print(f"(a) 1,000 students x 60 items, two drops a category: exact {exact:.3f} s, pandas floats {floats:.3f} s")
    print(f"    ratio exact / pandas {exact / floats:.2f}")


def one_student() -> None:
    course = make(1000)
    row = course.scores["S1"]
    alone = seconds(lambda: [work_out(course.plan, row, DAY) for _ in range(50)]) / 50
    items = [item for _, item in course.plan.items()]
    ready = Calculator(course.plan, DAY, common_denominator(items, counted_rows(course.plan, course.scores.values())))
    within = seconds(lambda: [ready.grade(row) for _ in range(50)]) / 50
    print(
        f"(b) one student recomputed, plan made ready anew: {alone * 1000:.2f} ms; plan ready: {within * 1000:.2f} ms"
    )


def growth() -> None:
    sizes = (250, 1000, 4000)
    each = [statistics.median(seconds(lambda c=c: grades_of(c, DAY)) / n for _ in range(1))  # type: ignore[misc]
            for n in sizes for c in (make(n),)]  # fmt: skip
    line = ", ".join(f"{n}: {t * 1e6:.0f} µs" for n, t in zip(sizes, each, strict=True))
    print(f"(c) time for each student: {line}; ratio 4,000 / 250 {each[-1] / each[0]:.2f}")


def memory() -> None:
    course = make(1000)
    tracemalloc.start()
    grades = grades_of(course, DAY)
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    print(f"(d) memory for the grades of 1,000 students: {peak / 1e6:.1f} MB, {peak / len(grades) / 1000:.1f} kB each")


def with_every_rule(course: Course) -> Course:
    """The same class, where a fifth of the work is late, under a plan with one of each further rule."""
    rng = random.Random(2)
    first, second, *rest = course.plan.categories
    late = LateRule(Fraction(10), at_most=Fraction(50), grace_days=0, free_days=2)
    symbols = (Symbol("check+", Fraction(100)), Symbol("check", Fraction(85)))
    made = (
        replace(first, late=late), replace(second, symbols=symbols), *rest[:-1], replace(rest[-1], rounding=RoundTo(1)),
    )  # fmt: skip
    weights = {c.id: Fraction(10 + 3 * n) for n, c in enumerate(made)}
    plan = replace(
        course.plan,
        categories=made,
        replacements=(Replacement("c3i0", "c2", 1),),
        alternatives=(Alternative("a", "Other weights", weights),),
        requirements=(
            Requirement("r", Condition("percent_below", Fraction(60), "c3"), Consequence("letter_at_most", letter="C")),
            Requirement("s", Condition("value_above", Fraction(2), item="x"), Consequence("letters_down", Fraction(1))),
        ),
        recorded=(RecordedItem("x", "Absences"),),
        added=Fraction(1),
    )
    scores = {student: dict(row) for student, row in course.scores.items()}
    for row in scores.values():
        for item in first.items:
            cell = row.get(item.id)
            if isinstance(cell, Fraction) and rng.random() < 0.2:
                row[item.id] = DetailedScore(cell, None, rng.randint(1, 3))
        row["x"] = Fraction(rng.randint(0, 4))
    return replace(course, plan=plan, scores=scores)


def rules() -> None:
    course = make(1000)
    ruled = with_every_rule(course)
    plain, all_rules = in_turn(lambda: grades_of(course, DAY), lambda: grades_of(ruled, DAY))
    print(f"(e) 1,000 students without further rules {plain:.3f} s, with one of each {all_rules:.3f} s")
    print(f"    ratio {all_rules / plain:.2f}")
    written, ruled_written = in_turn(lambda: results_json(course, DAY), lambda: results_json(ruled, DAY))
    print(f"    and with the results written: ratio {ruled_written / written:.2f}")


def in_turn(first: Callable[[], object], second: Callable[[], object]) -> tuple[float, float]:
    """The least of several runs of each, one after the other, in processor time; garbage waits, as in `compute`."""
    times: tuple[list[float], list[float]] = ([], [])
    for _ in range(2 * RUNS):
        for run, found in zip((first, second), times, strict=True):
            gc.collect()
            gc.disable()
            start = time.process_time()
            run()
            found.append(time.process_time() - start)
            gc.enable()
    return min(times[0]), min(times[1])


if __name__ == "__main__":
    against_pandas()
    one_student()
    growth()
    memory()
    rules()
    sys.exit(0)
