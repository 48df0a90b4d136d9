"""Totals or letters from elsewhere, held against ours; and which other rule would explain a difference."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from fractions import Fraction

from vinemark.core.audit.other_rules import OtherRule, other_rules
from vinemark.core.base.number import NotANumber, exact_text, fixed, parse_decimal, round_half_up
from vinemark.core.course.course import Course, Student
from vinemark.core.grade.calculation import Grade
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.grade.earned import earned_points
from vinemark.core.plan.plan import HUNDRED, Plan

TRIED_ON = 60
"""So many students, those who differ first, are enough to see which other rules are worth counting."""
JOINS_RULES = ", and "
CUT_OFF = "cut off instead of rounded"
FIRST, SECOND = 3, 40
"""So many of the likeliest rules are tried together with so many others."""
FAR = 1_000_000
WORTH_COUNTING = 6
"""So many other rules are counted over all of a large class."""
EXPLANATIONS_TOLD = 12
BY_CHANCE = 10
"""A rule explains something where it makes at least one in so many of those agree who differ."""


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


def read_figures(typed: Mapping[str, str], course: Course, as_of: date) -> Mapping[str, OutsideFigure]:
    """What a column says of each student: percents, points or letters, told apart; what is none of these is left out.

    Plain letters are read too where the scale has them with plus and minus only.
    """
    letters = [row.letter for row in course.plan.scale]
    plain = [letter.rstrip("+-") for letter in letters]
    read = {student: read_figure(text, [*letters, *plain]) for student, text in typed.items()}
    found = {student: figure for student, figure in read.items() if figure is not None}
    numbers = sum(figure.percent is not None for figure in found.values())
    return by_unit(found, course, as_of) if numbers else found


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
    """One student: what elsewhere says, what is worked out here, whether they agree, how far theirs is from ours."""

    student: Student
    theirs: OutsideFigure
    ours: str
    agrees: bool
    apart: str = ""


@dataclass(frozen=True)
class Explanation:
    """Other rules, one or two, and how many would agree under them; `plan` is the one with them where that is all.

    `off` says how far the others are from agreeing, to tell which rules are near.
    """

    rules: tuple[str, ...]
    agree: int
    plan: Plan | None = None
    off: int = 0

    @property
    def rank(self) -> tuple[int, int, int]:
        """The more agree the better, then the nearer, then the fewer rules."""
        return -self.agree, self.off, len(self.rules)

    @property
    def words(self) -> str:
        """The rules in words."""
        return JOINS_RULES.join(self.rules)


@dataclass(frozen=True)
class Comparison:
    """Everyone's line, how many agree as it is, and the rules that would make more agree, the best first.

    `missing` are enrolled students of whom elsewhere says nothing.
    """

    lines: Sequence[TotalLine]
    agree: int
    explanations: Sequence[Explanation]
    missing: Sequence[Student] = ()


def compare_totals(
    course: Course, theirs: Mapping[str, OutsideFigure], as_of: date, likeliest: int = FIRST
) -> Comparison:
    """Ours against theirs, student by student, and under every explanation that is tried.

    Each other rule is tried alone, and so many of the `likeliest` together with a second one.
    """
    found = held_totals(course, theirs, as_of)
    differing = [line.student.id for line in found.lines if not line.agrees]
    if not differing:
        return found
    tried = _Tried(course, theirs, as_of, differing).explanations(likeliest)
    # Some agree by chance under any rule.
    least = found.agree + max(1, len(differing) // BY_CHANCE)
    better = sorted((e for e in tried if e.agree >= least), key=lambda e: (-e.agree, len(e.rules)))
    single = max((e.agree for e in better if len(e.rules) == 1), default=found.agree)
    # Two rules are only worth saying where one alone explains less.
    worth = [e for e in better if len(e.rules) == 1 or e.agree > single]
    return replace(found, explanations=worth[:EXPLANATIONS_TOLD])


def held_totals(course: Course, theirs: Mapping[str, OutsideFigure], as_of: date) -> Comparison:
    """Ours against theirs, student by student, without a search for what would explain a difference."""
    grades = grades_of(course, as_of)
    lines = [
        TotalLine(
            s,
            theirs[s.id],
            _ours(theirs[s.id], grades[s.id]),
            agrees(theirs[s.id], grades[s.id]),
            _apart_words(theirs[s.id], grades[s.id]),
        )
        for s in course.students
        if s.id in theirs
    ]
    missing = [s for s in course.students if s.id not in theirs and s.id in course.enrolled_ids]
    return Comparison(lines, sum(line.agrees for line in lines), (), missing)


class _Tried:
    """Other rules tried on some of those compared, and the best of them counted over all."""

    def __init__(
        self, course: Course, theirs: Mapping[str, OutsideFigure], as_of: date, differing: Sequence[str]
    ) -> None:
        self.course, self.theirs, self.as_of = course, theirs, as_of
        self.letters = {row.letter: place for place, row in enumerate(course.plan.scale)}
        self.some = self._some(differing)

    def explanations(self, likeliest: int) -> list[Explanation]:
        """Each other rule alone, then the best of them together with a second one."""
        rules = [OtherRule("", self.course.plan, ""), *other_rules(self.course.plan)]
        single = [(rule, one) for rule in rules for one in self._under((rule.words,), rule.plan, self.some)]
        single.sort(key=lambda found: found[1].rank)
        likely = [rule for rule, one in single if CUT_OFF not in one.rules and rule.words]
        both = [one for pair, plan in _pairs(likely, likeliest) for one in self._under(pair, plan, self.some)]
        found = [*(one for _, one in single), *both, *self._without_adjustments(self.some)]
        found = [one for one in found if one.rules]
        if len(self.some.students) == len(self.course.students):
            return found
        found.sort(key=lambda one: one.rank)
        return [self._counted(one) for one in found[:WORTH_COUNTING]]

    def _under(self, rules: tuple[str, ...], plan: Plan, course: Course) -> Iterator[Explanation]:
        """How many agree under other rules, and with figures cut off where that makes more agree."""
        words = tuple(word for word in rules if word)
        grades = grades_of(replace(course, plan=plan), self.as_of)
        there = [(figure, grades[student]) for student, figure in self.theirs.items() if student in grades]
        agree = sum(agrees(*pair) for pair in there)
        off = sum(self._off(*pair) for pair in there)
        yield Explanation(words, agree, plan, off)
        cut_off = sum(_cut_off(*pair) for pair in there)
        if cut_off > agree:
            yield Explanation((*words, CUT_OFF), cut_off, off=off)

    def _off(self, figure: OutsideFigure, grade: Grade) -> int:
        """How far a figure is from ours: ten-thousandths of a percent or point, or steps of the scale."""
        if figure.points is not None:
            earned = earned_points(grade)
            return _apart(figure.points, earned.earned if earned else None)
        if figure.percent is not None:
            return _apart(figure.percent, grade.percent)
        theirs, ours = self.letters.get(figure.text), self.letters.get(grade.letter or "")
        return FAR if theirs is None or ours is None else abs(theirs - ours)

    def _without_adjustments(self, course: Course) -> Iterator[Explanation]:
        if course.adjustments:
            agree = agreeing(replace(course, adjustments={}), self.theirs, self.as_of)
            yield Explanation(("without adjustments",), agree)

    def _counted(self, one: Explanation) -> Explanation:
        """An explanation counted over the whole class."""
        if one.rules == ("without adjustments",):
            return next(self._without_adjustments(self.course))
        rules = tuple(words for words in one.rules if words != CUT_OFF)
        plan = one.plan or self._plan_of(rules)
        return next((found for found in self._under(rules, plan, self.course) if found.rules == one.rules), one)

    def _plan_of(self, rules: Sequence[str]) -> Plan:
        plan = self.course.plan
        for words in rules:
            plan = next((rule.plan for rule in other_rules(plan) if rule.words == words), plan)
        return plan

    def _some(self, differing: Sequence[str]) -> Course:
        """The course with so many of those compared, those who differ first."""
        if len(self.theirs) <= TRIED_ON:
            return self.course
        wanted = [*differing, *(s for s in self.theirs if s not in set(differing))][:TRIED_ON]
        some = [student for student in self.course.students if student.id in set(wanted)]
        scores = {s.id: self.course.scores.get(s.id, {}) for s in some}
        return replace(self.course, students=tuple(some), scores=scores)


def _apart(theirs: Fraction, ours: Fraction | None) -> int:
    return FAR if ours is None else min(FAR, int(abs(theirs - ours) * FAR / HUNDRED))


def _pairs(likely: Sequence[OtherRule], first: int) -> Iterator[tuple[tuple[str, str], Plan]]:
    """The likeliest rules, each with a second one of another kind; each pair in its first order."""
    told: set[frozenset[str]] = set()
    wanted = {rule.words for rule in likely[:SECOND]}
    for one in likely[:first]:
        for rule in other_rules(one.plan):
            pair = frozenset((one.words, rule.words))
            if rule.kind != one.kind and rule.words in wanted and pair not in told:
                told.add(pair)
                yield (one.words, rule.words), rule.plan


def _ours(figure: OutsideFigure, grade: Grade) -> str:
    earned = earned_points(grade) if figure.points is not None else None
    if earned is not None:
        return f"{exact_text(round_half_up(earned.earned, 4))} of {exact_text(earned.possible)}"
    return "no grade yet" if grade.percent is None else f"{fixed(grade.percent, 4)} {grade.letter or ''}".strip()


def _apart_words(figure: OutsideFigure, grade: Grade) -> str:
    """'+1.25': theirs is so much more than ours; empty for letters, and where it is less than a hundredth."""
    ours, theirs = grade.percent, figure.percent
    if figure.points is not None:
        earned = earned_points(grade)
        ours, theirs = earned.earned if earned else None, figure.points
    if ours is None or theirs is None:
        return ""
    more = round_half_up(abs(theirs - ours), 2)
    return f"{'+' if theirs > ours else '−'}{fixed(more, 2)}" if more else ""


def agreeing(course: Course, theirs: Mapping[str, OutsideFigure], as_of: date) -> int:
    """How many of the figures agree with the course as it is."""
    grades = grades_of(course, as_of)
    return sum(agrees(figure, grades[student]) for student, figure in theirs.items() if student in grades)


def _cut_off(figure: OutsideFigure, grade: Grade) -> bool:
    """Whether a figure agrees where the rest of its decimals was cut off."""
    given = figure.percent
    exact = grade.percent
    if figure.points is not None:
        earned = earned_points(grade)
        given, exact = figure.points, earned.earned if earned else None
    if given is None or exact is None:
        return False
    return Fraction(int(exact * 10**figure.decimals), 10**figure.decimals) == given


def by_unit(
    read: Mapping[str, OutsideFigure], course: Course, as_of: date, said_points: bool = False
) -> Mapping[str, OutsideFigure]:
    """Numbers read as points where they are points: by what agrees, then by what their heading said."""
    points = {student: in_points(figure) for student, figure in read.items()}
    by_points = replace(course, plan=replace(course.plan, basis="points"))
    as_percent, as_points = agreeing(course, read, as_of), agreeing(by_points, points, as_of)
    if as_percent != as_points:
        return points if as_points > as_percent else read
    return points if said_points else read
