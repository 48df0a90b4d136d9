"""Random plans, cells and courses for property tests."""

from dataclasses import replace
from datetime import timedelta
from fractions import Fraction
from typing import Any

from hypothesis import strategies as st

from tests.builders import DURING, TENS, TERM
from vinemark.core.course.course import Cell, Course, SectionName, Student
from vinemark.core.plan.plan import BLANKS, DROP_BYS, SPLITS, Category, Item, Plan, Rounding, Split

NUMBERS = st.fractions(0, 30, max_denominator=4)
CELLS: st.SearchStrategy[Cell] = st.one_of(st.none(), st.sampled_from(["missing", "exempt"]), NUMBERS, NUMBERS, NUMBERS)
CEILINGS = st.one_of(st.none(), st.sampled_from([Fraction(60), Fraction(100), Fraction(211, 2)]))


@st.composite
def items(draw: st.DrawFn, prefix: str, least: int = 0) -> tuple[Item, ...]:
    """Up to six items with every flag."""
    found = []
    for n in range(draw(st.integers(least, 6))):
        due = draw(st.sampled_from([None, DURING - timedelta(9), DURING + timedelta(9)]))
        points = draw(st.sampled_from([Fraction(5), Fraction(10), Fraction(25, 2), Fraction(30)]))
        share = draw(st.sampled_from([Fraction(100, 3), Fraction(20), Fraction(1)]))
        flags: Any = {k: draw(st.integers(0, 4)) > 0 for k in ("counts", "droppable")}
        found.append(Item(f"{prefix}-{n}", f"Item {prefix} {n}", points, draw(st.integers(0, 5)) == 0, share,
                          due=due, **flags))  # fmt: skip
    return tuple(found)


@st.composite
def categories(draw: st.DrawFn, prefix: str) -> Category:
    """A category with any rules that do not contradict themselves."""
    best = draw(st.one_of(st.none(), st.none(), st.integers(1, 4)))
    rules: dict[str, Any] = {
        "split": draw(st.sampled_from(SPLITS)),
        "drop_lowest": 0 if best is not None else draw(st.integers(0, 3)),
        "drop_highest": draw(st.sampled_from([0, 0, 1, 2])),
        "keep_best": best,
        "drop_by": draw(st.sampled_from(DROP_BYS)),
        "blanks": draw(st.sampled_from(BLANKS)),
        "cap": draw(CEILINGS),
        "extra": draw(st.integers(0, 4)) == 0,
    }
    weight = draw(st.sampled_from([Fraction(0), Fraction(20), Fraction(100, 3), Fraction(55)]))
    return Category(prefix, f"Category {prefix}", weight, items=draw(items(prefix)), **rules)


@st.composite
def plans(draw: st.DrawFn) -> Plan:
    """A plan of up to four categories under either basis."""
    made = tuple(draw(categories(f"c{n}")) for n in range(draw(st.integers(0, 4))))
    rounding = draw(st.sampled_from([None, Rounding(0), Rounding(1, "exact"), Rounding(2)]))
    return Plan(draw(st.sampled_from(["weighted", "points"])), made, TENS, rounding, draw(CEILINGS))


@st.composite
def courses(draw: st.DrawFn, students: int = 6) -> Course:
    """A plan with a class and its cells."""
    plan = draw(plans())
    ids = [item.id for _, item in plan.items()]
    people = tuple(Student(f"s{n}", f"Name {n}") for n in range(students))
    scores: dict[str, dict[str, Cell]] = {s.id: {i: c for i in ids if (c := draw(CELLS)) is not None} for s in people}
    return Course(TERM, SectionName("HYDR 230", "Watershed Field Methods", "01"), plan, people, scores)


@st.composite
def plain_plans(draw: st.DrawFn, split: Split = "even") -> Plan:
    """Weighted, nothing dropped, extra or capped; every category with items."""
    made = [
        replace(draw(categories(f"c{n}")), split=split, drop_lowest=0, drop_highest=0, keep_best=None, cap=None,
                extra=False, weight=Fraction(draw(st.integers(1, 60))), items=_plain(draw(items(f"c{n}", 1))))
        for n in range(draw(st.integers(1, 4)))
    ]  # fmt: skip
    return Plan("weighted", tuple(made), TENS)


def _plain(found: tuple[Item, ...]) -> tuple[Item, ...]:
    return tuple(replace(item, extra=False, counts=True) for item in found)
