"""Totals or letters from elsewhere, held against ours; and which other rule would explain a difference."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from fractions import Fraction

from vinemark.core.base.number import NotANumber, exact_text, fixed, parse_decimal, round_half_up
from vinemark.core.course.course import Course, Student
from vinemark.core.grade.calculation import Grade
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.grade.earned import earned_points
from vinemark.core.plan.plan import Category, Plan, Rounding

TRIED_ON = 120
"""So many students are enough to see which other rules are worth counting."""
JOINS_RULES = ", and "
PAIRED = 6
WORTH_COUNTING = 3
"""So many other rules are counted over all of a large class."""


@dataclass(frozen=True)
class OutsideFigure:
    """What elsewhere says of one student: a percent or points with the decimals it was written with, or a letter."""

    text: str
    percent: Fraction | None = None
    decimals: int = 0
    points: Fraction | None = None


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


def in_points(figure: OutsideFigure) -> OutsideFigure:
    """A number read as points and not as a percent."""
    return figure if figure.percent is None else replace(figure, percent=None, points=figure.percent)


def agrees(figure: OutsideFigure, grade: Grade) -> bool:
    """The same letter, or the same percent or points at the decimals that elsewhere writes, rounded half up."""
    if figure.points is not None:
        earned = earned_points(grade)
        return earned is not None and round_half_up(earned.earned, figure.decimals) == figure.points
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
    """Other rules, one or two, and how many would agree under them; `plan` is the one with them where that is all."""

    rules: tuple[str, ...]
    agree: int
    plan: Plan | None = None

    @property
    def words(self) -> str:
        """The rules in words."""
        return JOINS_RULES.join(self.rules)


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
    lines = [
        TotalLine(s, theirs[s.id], _ours(theirs[s.id], grades[s.id]), agrees(theirs[s.id], grades[s.id]))
        for s in people
    ]
    agree = sum(line.agrees for line in lines)
    if agree == len(lines):
        return Comparison(lines, agree, ())
    tried = _explanations(course, theirs, as_of)
    if course.adjustments:
        tried.append(Explanation(("without adjustments",), agreeing(replace(course, adjustments={}), theirs, as_of)))
    tried.append(Explanation(("cut off instead of rounded",), _cut_off(grades, theirs)))
    better = sorted((e for e in tried if e.agree > agree), key=lambda e: (-e.agree, len(e.rules)))
    single = max((e.agree for e in better if len(e.rules) == 1), default=agree)
    # Two rules are only worth saying where one alone explains less.
    return Comparison(lines, agree, [e for e in better if len(e.rules) == 1 or e.agree > single])


def _explanations(course: Course, theirs: Mapping[str, OutsideFigure], as_of: date) -> list[Explanation]:
    """Each other rule alone, then the best of them in pairs; of a large class some tell which are worth counting."""
    some = _some_of(course, theirs)
    single = [
        Explanation((words,), agreeing(replace(some, plan=plan), theirs, as_of), plan)
        for words, plan in other_rules(course.plan)
    ]
    single.sort(key=lambda one: -one.agree)
    best = single[:PAIRED]
    pairs = {
        frozenset((one.rules[0], words)): Explanation((one.rules[0], words), 0, plan)
        for one in best
        if one.plan is not None
        for words, plan in other_rules(one.plan)
        if words in {other.rules[0] for other in best} - {one.rules[0]}
    }
    both = [_counted(pair, some, theirs, as_of) for pair in pairs.values()]
    if len(some.students) == len(course.students):
        return single + both
    both.sort(key=lambda one: -one.agree)
    worth = sorted([*single[:WORTH_COUNTING], *both[:1]], key=lambda one: (-one.agree, len(one.rules)))
    return [_counted(one, course, theirs, as_of) for one in worth[:WORTH_COUNTING]]


def _counted(one: Explanation, course: Course, theirs: Mapping[str, OutsideFigure], as_of: date) -> Explanation:
    return replace(one, agree=agreeing(replace(course, plan=one.plan or course.plan), theirs, as_of))


def _some_of(course: Course, theirs: Mapping[str, OutsideFigure]) -> Course:
    """The course with so many of those compared that other rules can be told apart by them."""
    if len(theirs) <= TRIED_ON:
        return course
    some = [student for student in course.students if student.id in theirs][:TRIED_ON]
    return replace(course, students=tuple(some), scores={s.id: course.scores.get(s.id, {}) for s in some})


def _ours(figure: OutsideFigure, grade: Grade) -> str:
    earned = earned_points(grade) if figure.points is not None else None
    if earned is not None:
        return f"{exact_text(round_half_up(earned.earned, 4))} of {exact_text(earned.possible)}"
    return "no grade yet" if grade.percent is None else f"{fixed(grade.percent, 4)} {grade.letter or ''}".strip()


def agreeing(course: Course, theirs: Mapping[str, OutsideFigure], as_of: date) -> int:
    """How many of the figures agree with the course as it is."""
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
    plans += [*_drops(plan), *_without_further_rules(plan)]
    for category in plan.categories:
        weight = f" ({exact_text(category.weight)}%)" if category.weight else ""
        plans.append((f"without {category.name}{weight}", _without(plan, category)))
    return [(words, other) for words, other in plans if other != plan]


def _drops(plan: Plan) -> list[tuple[str, Plan]]:
    """The lowest one or two of each category dropped that has some to spare."""
    found = []
    for category in plan.categories:
        for count, words in ((1, "the lowest of {} is dropped"), (2, "the lowest two of {} are dropped")):
            if len(category.regular) > count + 1 and not category.extra:
                other = replace(category, drop_lowest=count, keep_best=None)
                found.append((words.format(category.name), _with(plan, category, other)))
    return found


def _with(plan: Plan, category: Category, other: Category) -> Plan:
    return replace(plan, categories=tuple(other if c is category else c for c in plan.categories))


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
