"""Totals or letters from elsewhere, held against ours; and which other rule would explain a difference."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from fractions import Fraction

from vinemark.core.base.number import NotANumber, exact_text, fixed, parse_decimal, round_half_up
from vinemark.core.course.course import Course, Student
from vinemark.core.grade.calculation import Grade
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.plan.plan import Category, Plan, Rounding


@dataclass(frozen=True)
class OutsideFigure:
    """What elsewhere says of one student: a percent with the decimals it was written with, or a letter."""

    text: str
    percent: Fraction | None = None
    decimals: int = 0


def read_figure(typed: str, letters: Sequence[str]) -> OutsideFigure | None:
    """A percent ('87.25', '87,25%') or a letter of the scale; None for anything else."""
    text = typed.strip().removesuffix("%").strip().replace("−", "-")
    letter = next((x for x in letters if x.casefold() == text.casefold()), None)
    if letter is not None:
        return OutsideFigure(letter)
    try:
        percent = parse_decimal(text.replace(",", "."))
    except NotANumber:
        return None
    return OutsideFigure(text, percent, len(text.replace(",", ".").partition(".")[2]))


def agrees(figure: OutsideFigure, grade: Grade) -> bool:
    """The same letter, or the same percent at the decimals that elsewhere writes, rounded half up."""
    if figure.percent is None:
        return grade.letter == figure.text
    return grade.percent is not None and round_half_up(grade.percent, figure.decimals) == figure.percent


@dataclass(frozen=True)
class TotalLine:
    """One student: what elsewhere says, what is worked out here, and whether they agree."""

    student: Student
    theirs: OutsideFigure
    ours: str
    agrees: bool


@dataclass(frozen=True)
class Explanation:
    """Another rule, and how many would agree under it."""

    words: str
    agree: int


@dataclass(frozen=True)
class Comparison:
    """Everyone's line, how many agree as it is, and the rules that would make more agree, the best first."""

    lines: Sequence[TotalLine]
    agree: int
    explanations: Sequence[Explanation]


def compare_totals(course: Course, theirs: Mapping[str, OutsideFigure], as_of: date) -> Comparison:
    """Ours against theirs, student by student, and under every explanation that is tried."""
    grades = grades_of(course, as_of)
    people = [s for s in course.students if s.id in theirs]
    lines = [TotalLine(s, theirs[s.id], _ours(grades[s.id]), agrees(theirs[s.id], grades[s.id])) for s in people]
    agree = sum(line.agrees for line in lines)
    tried = [
        Explanation(words, _count(replace(course, plan=plan), theirs, as_of))
        for words, plan in other_rules(course.plan)
    ]
    tried.append(Explanation("without adjustments", _count(replace(course, adjustments={}), theirs, as_of)))
    tried.append(Explanation("cut off instead of rounded", _cut_off(grades, theirs)))
    better = sorted((e for e in tried if e.agree > agree), key=lambda e: -e.agree)
    return Comparison(lines, agree, better)


def _ours(grade: Grade) -> str:
    return "no grade yet" if grade.percent is None else f"{fixed(grade.percent, 4)} {grade.letter or ''}".strip()


def _count(course: Course, theirs: Mapping[str, OutsideFigure], as_of: date) -> int:
    grades = grades_of(course, as_of)
    return sum(agrees(figure, grades[student]) for student, figure in theirs.items() if student in grades)


def _cut_off(grades: Mapping[str, Grade], theirs: Mapping[str, OutsideFigure]) -> int:
    return sum(
        f.percent is not None and (p := grades[s].percent) is not None
        and Fraction(int(p * 10**f.decimals), 10**f.decimals) == f.percent
        for s, f in theirs.items()
        if s in grades
    )  # fmt: skip


def other_rules(plan: Plan) -> list[tuple[str, Plan]]:
    """Plans that somebody else may have worked with, each in words."""
    found: list[tuple[str, Callable[[Category], Category]]] = [
        ("blanks count as 0", lambda c: replace(c, blanks="zero")),
        ("blanks are left out", lambda c: replace(c, blanks="wait")),
        ("every item counts the same (equally)", lambda c: replace(c, split="even")),
        ("items count by their points", lambda c: replace(c, split="by_points")),
        ("nothing is dropped", lambda c: replace(c, drop_lowest=0, drop_highest=0, keep_best=None)),
        ("the lowest percents are dropped", lambda c: replace(c, drop_by="lowest_percent")),
        ("no caps", lambda c: replace(c, cap=None)),
    ]
    plans = [(words, _each(plan, change)) for words, change in found]
    for decimals in (0, 1, 2):
        plans.append((f"rounded to {decimals} decimals before the letter", replace(plan, rounding=Rounding(decimals))))
    plans.append(("letters by the exact percent", replace(plan, rounding=None)))
    if plan.basis == "weighted":
        plans.append(("points earned out of points possible", replace(plan, basis="points")))
    plans += _without_further_rules(plan)
    for category in plan.categories:
        weight = f" ({exact_text(category.weight)}%)" if category.weight else ""
        plans.append((f"without {category.name}{weight}", _without(plan, category)))
    return [(words, other) for words, other in plans if other != plan]


def _without_further_rules(plan: Plan) -> list[tuple[str, Plan]]:
    """Each kind of further rule left out."""
    return [
        ("without late deductions", _each(plan, lambda c: replace(c, late=None))),
        ("without the replacement", replace(plan, replacements=())),
        ("first weights only", replace(plan, alternatives=())),
        ("without requirements", replace(plan, requirements=())),
        ("without the points for everyone", replace(plan, added=Fraction(0))),
    ]


def _without(plan: Plan, category: Category) -> Plan:
    """The plan without a category, and without the rules that name it or its items."""
    gone = {category.id, *(item.id for item in category.items)}
    return replace(
        plan,
        categories=tuple(c for c in plan.categories if c is not category),
        replacements=tuple(one for one in plan.replacements if not {one.source, one.into} & gone),
        requirements=tuple(one for one in plan.requirements if not {one.condition.category, one.condition.item} & gone),
        alternatives=tuple(
            replace(one, weights={c: w for c, w in one.weights.items() if c != category.id})
            for one in plan.alternatives
        ),
    )


def _each(plan: Plan, change: Callable[[Category], Category]) -> Plan:
    return replace(plan, categories=tuple(change(category) for category in plan.categories))
