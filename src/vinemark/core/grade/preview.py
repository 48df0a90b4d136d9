"""Rehearsal: everyone's grade under the plan in force and under a changed one; nothing changes meanwhile."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from fractions import Fraction

from vinemark.core.course.course import Course, Student
from vinemark.core.grade.calculation import Grade
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.plan.plan import Plan
from vinemark.core.plan.scale import sorted_scale


@dataclass(frozen=True)
class Effect:
    """One student before and after."""

    student: Student
    before: Grade
    after: Grade

    @property
    def change(self) -> Fraction:
        """Percentage points gained (or lost, below 0); no grade yet counts as 0."""
        return (self.after.percent or Fraction(0)) - (self.before.percent or Fraction(0))

    @property
    def touched(self) -> bool:
        """Whether the percent, its rounding or the letter would be another."""
        return _figures(self.before) != _figures(self.after)

    @property
    def letter_changes(self) -> bool:
        """Whether the letter would be another."""
        return self.before.letter != self.after.letter


def _figures(grade: Grade) -> tuple[Fraction | None, Fraction | None, str | None]:
    return grade.percent, grade.rounded, grade.letter


@dataclass(frozen=True)
class Preview:
    """All effects, the largest first, and what they come to."""

    effects: Sequence[Effect]
    gain: int
    lose: int
    letters_up: int
    letters_down: int
    letters_other: int

    @property
    def touched(self) -> list[Effect]:
        """Those whose figures would change."""
        return [effect for effect in self.effects if effect.touched]


def preview_plan(course: Course, changed: Plan, as_of: date) -> Preview:
    """Everyone who takes part, by the size of the effect: letters first, then percents, then by name."""
    before = grades_of(course, as_of)
    after = grades_of(replace(course, plan=changed), as_of)
    people = [s for s in course.students if s.set_aside is None and course.status(s) != "withdrawn"]
    effects = [Effect(s, before[s.id], after[s.id]) for s in people]
    moves = [_letter_move(course.plan, changed, effect) for effect in effects]
    return Preview(
        sorted(effects, key=lambda e: (not e.letter_changes, -abs(e.change), e.student.name)),
        gain=sum(e.change > 0 for e in effects),
        lose=sum(e.change < 0 for e in effects),
        letters_up=sum(move == "up" for move in moves),
        letters_down=sum(move == "down" for move in moves),
        letters_other=sum(move == "other" for move in moves),
    )


def _letter_move(old: Plan, new: Plan, effect: Effect) -> str | None:
    """Up or down where both letters stand in one of the scales; other where they cannot be compared."""
    if not effect.letter_changes:
        return None
    for plan in (new, old):
        order = [row.letter for row in sorted_scale(plan.scale)]
        if effect.before.letter in order and effect.after.letter in order:
            return "up" if order.index(effect.after.letter) < order.index(effect.before.letter) else "down"
    return "other"


def touches_grades(course: Course, changed: Plan, as_of: date) -> bool:
    """Whether any student's percent, rounded percent or letter would be another; never before there are scores."""
    return any(course.scores.values()) and any(
        effect.touched for effect in preview_plan(course, changed, as_of).effects
    )
