"""Random plans, cells and courses for property tests."""

from dataclasses import replace
from datetime import timedelta
from fractions import Fraction
from typing import Any

from hypothesis import strategies as st

from tests.builders import DURING, TENS, TERM
from vinemark.core.base.number import ROUNDING_WAYS
from vinemark.core.course.cell import Cell, DetailedScore
from vinemark.core.course.course import Adjustment, Course, SectionName, Student
from vinemark.core.plan.plan import BLANKS, DROP_BYS, SPLITS, Category, Item, Plan, Rounding, Split
from vinemark.core.plan.rules import (
    LATE_OFS,
    Alternative,
    Condition,
    Consequence,
    LateRule,
    Replacement,
    Requirement,
    RoundTo,
    Symbol,
)

NUMBERS = st.fractions(0, 30, max_denominator=4)
DECIMALS = NUMBERS.filter(lambda number: number.denominator != 3)
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


LATE = st.builds(
    LateRule,
    per_day=st.sampled_from([Fraction(0), Fraction(10), Fraction(25, 2), Fraction(100)]),
    of=st.sampled_from(LATE_OFS),
    at_most=st.sampled_from([None, None, Fraction(0), Fraction(40)]),
    grace_days=st.integers(0, 2),
    last_day=st.sampled_from([None, None, 1, 3]),
    free_days=st.integers(0, 4),
)
SYMBOLS = (Symbol("check+", Fraction(100)), Symbol("check", Fraction("85")), Symbol("ok late", Fraction("233/2")))
ROUND_TO = st.builds(RoundTo, st.integers(0, 2), st.sampled_from(ROUNDING_WAYS))


@st.composite
def requirements(draw: st.DrawFn, plan: Plan, name: str) -> Requirement | None:
    """A requirement about any category or item of the plan; None where it has none to be about."""
    about = draw(st.sampled_from(["category below", "item below", "missed", "above"]))
    ids = [item.id for _, item in plan.items()]
    if not ids:
        return None
    item, category = draw(st.sampled_from(ids)), draw(st.sampled_from([c.id for c in plan.categories]))
    below, few = Fraction(draw(st.integers(20, 110))), Fraction(draw(st.integers(1, 3)))
    condition = {
        "category below": Condition("percent_below", below, category=category),
        "item below": Condition("percent_below", below, item=item),
        "missed": Condition("missed_at_least", few, category=category),
        "above": Condition("value_above", few + Fraction(1, 2), item=item),
    }[about]
    each = condition.kind != "percent_below" and draw(st.booleans())
    consequence = draw(st.sampled_from([
        Consequence("letter_at_most", letter="C"), Consequence("letters_down", Fraction(1), for_each=each),
        Consequence("percent_down", Fraction(7, 4), for_each=each), Consequence("percent_at_most", Fraction(69)),
    ]))  # fmt: skip
    return Requirement(name, condition, consequence)


@st.composite
def ruled_plans(draw: st.DrawFn) -> Plan:
    """A plan with any of the further rules."""
    plan = draw(plans())
    made = tuple(
        replace(c, late=draw(st.one_of(st.none(), LATE)), symbols=SYMBOLS, rounding=draw(st.none() | ROUND_TO))
        for c in plan.categories
    )
    plan = replace(plan, categories=made, added=draw(st.sampled_from([Fraction(0), Fraction(3, 2)])))
    sources = [i.id for c, i in plan.items() if not c.extra and not i.extra]
    into = [c.id for c in made if not c.extra]
    rules = tuple(
        Replacement(draw(st.sampled_from(sources)), draw(st.sampled_from(into)), draw(st.integers(1, 3)),
                    draw(st.booleans()))
        for _ in range(draw(st.integers(0, 3)) if sources else 0)
    )  # fmt: skip
    weights = st.sampled_from([Fraction(0), Fraction(30), Fraction(200, 3)])
    others = [] if plan.basis == "points" else [
        Alternative(f"a{n}", f"Weights {n}", {c: draw(weights) for c in into}) for n in range(draw(st.integers(0, 2)))
    ]  # fmt: skip
    wanted = [draw(requirements(plan, f"r{n}")) for n in range(draw(st.integers(0, 4)))]
    return replace(
        plan,
        replacements=rules,
        alternatives=tuple(others),
        requirements=tuple(one for one in wanted if one is not None),
        rounding=draw(st.sampled_from([None, Rounding(0, "rounded", "up"), Rounding(1, "exact", "down"), Rounding(0)])),
    )


@st.composite
def ruled_courses(draw: st.DrawFn, students: int = 6) -> Course:
    """A class under such a plan, with late days, symbols and adjustments."""
    found = draw(courses(students, ruled_plans()))
    ids = [item.id for _, item in found.plan.items()]
    scores = {student: dict(row) for student, row in found.scores.items()}
    detailed = st.one_of(
        st.builds(lambda score, late: DetailedScore(score, None, late), NUMBERS, st.integers(1, 5)),
        st.builds(lambda one, late: DetailedScore(None, one.symbol, late), st.sampled_from(SYMBOLS), st.integers(0, 5)),
    )
    for row in scores.values():
        for item in ids:
            if draw(st.integers(0, 3)) == 0:
                row[item] = draw(detailed)
    amounts = st.sampled_from([Fraction(-5), Fraction(1, 8), Fraction(200)])
    adjusted = {s.id: Adjustment(draw(amounts)) for s in found.students if draw(st.integers(0, 3)) == 0}
    return replace(found, scores=scores, adjustments=adjusted)


@st.composite
def courses(draw: st.DrawFn, students: int = 6, plan_of: st.SearchStrategy[Plan] | None = None) -> Course:
    """A plan with a class and its cells."""
    plan = draw(plans() if plan_of is None else plan_of)
    ids = [item.id for _, item in plan.items()]
    people = tuple(Student(f"s{n}", f"Name {n}") for n in range(students))
    scores: dict[str, dict[str, Cell]] = {s.id: {i: c for i in ids if (c := draw(CELLS)) is not None} for s in people}
    dated = [item.id for _, item in plan.items() if item.due is not None]
    longer = {(people[0].id, item): DURING + timedelta(draw(st.sampled_from([-1, 0, 20]))) for item in dated[:3]}
    extended = longer if draw(st.booleans()) else {}
    return Course(TERM, SectionName("HYDR 230", "Watershed Field Methods", "01"), plan, people, scores,
                  extensions=extended)  # fmt: skip


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
