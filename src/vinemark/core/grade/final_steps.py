"""The working after the categories: which weights counted, what was added and taken, caps, rounding, the letter."""

from fractions import Fraction
from itertools import accumulate
from typing import NamedTuple

from vinemark.core.base.number import exact_text, fixed, percent_text, trimmed, with_sign
from vinemark.core.grade.calculation import Grade
from vinemark.core.grade.earned import points_words
from vinemark.core.grade.final import final_letter
from vinemark.core.grade.letters import letter_value, letters_of
from vinemark.core.grade.requirements import NotMet
from vinemark.core.grade.weighting import Weighting, weightings_of
from vinemark.core.plan.plan import HUNDRED, Plan, ScaleRow
from vinemark.core.plan.rule_words import consequence_words, requirement_words, rounding_done
from vinemark.core.plan.worth import points_in_all

OWN_WEIGHTS = "By the plan’s own weights"


class FinalStep(NamedTuple):
    """One line: what was done, and what it comes to."""

    name: str
    value: str


def final_steps(plan: Plan, grade: Grade, reason: str = "") -> list[FinalStep]:
    """From the percent of the categories to the letter; empty where there is no grade yet."""
    if grade.percent is None or grade.uncapped is None:
        return []
    points = points_words(grade)
    total = f"{points} points" if points else "Total of the categories"
    steps = [*_weights(plan, grade), FinalStep(total, f"{percent_text(grade.uncapped)}")]
    steps += _changes(plan, grade, reason)
    steps += _limits(plan, grade)
    if grade.rounded is not None and plan.rounding is not None:
        steps.append(FinalStep(rounding_done(plan.rounding), fixed(grade.rounded, plan.rounding.decimals)))
    by_percent = grade.letter_by_percent or grade.letter
    if by_percent is not None:
        value = letter_value(plan.rounding, grade.percent)
        row = max((r for r in plan.scale if r.cutoff <= value), key=lambda r: r.cutoff)
        steps.append(FinalStep(f"{row.letter} from {exact_text(row.cutoff)}{_cutoff_points(plan, row)}", by_percent))
    return steps + _letters(plan, grade)


def _cutoff_points(plan: Plan, row: ScaleRow) -> str:
    """A cutoff in points of the whole course, under the points basis."""
    whole = points_in_all(plan) if plan.basis == "points" else None
    return f"% ({trimmed(row.cutoff * whole / HUNDRED, 4)} of {exact_text(whole)} points)" if whole else ""


def is_lowered(grade: Grade) -> bool:
    """Whether requirements that are not met lower the letter."""
    return grade.letter is not None and grade.letter_by_percent not in {None, grade.letter}


def companion_letters(plan: Plan, grade: Grade) -> tuple[str | None, str | None]:
    """The letters with blanks as 0 and in full, each with its own requirements."""
    letters, percents = letters_of(plan), (grade.blanks_zero, grade.blanks_full)
    zero, full = (
        None if percent is None else final_letter(letters, letters.of_exact(percent), not_met)
        for percent, not_met in zip(percents, grade.not_met_else, strict=True)
    )
    return zero, full


def _weights(plan: Plan, grade: Grade) -> list[FinalStep]:
    """What each set of weights gives, the one that counted said."""
    if not plan.alternatives:
        return []
    found = []
    for weighting in weightings_of(plan):
        percent = percent_by(plan, grade, weighting)
        name = f"By “{weighting.name}”" if weighting.name else OWN_WEIGHTS
        used = grade.weighting is not None and grade.weighting.id == weighting.id
        if percent is not None:
            found.append(FinalStep(f"{name}, which counts" if used else name, f"{percent_text(percent)}"))
    return found


def percent_by(plan: Plan, grade: Grade, weighting: Weighting) -> Fraction | None:
    """The percent that the categories give by one set of weights; None where its weights in play add up to 0."""
    parts = [result.fraction for result in grade.categories]
    whole = weighting.whole([part is not None for part in parts])
    if whole is None:
        return None
    lines = zip(grade.categories, parts, weighting.weights, strict=True)
    return sum(
        (weight * part * (1 if result.category.extra else HUNDRED / whole) for result, part, weight in lines if part),
        Fraction(0),
    )


def _changes(plan: Plan, grade: Grade, reason: str) -> list[FinalStep]:
    """What is added and taken, each with its sum."""
    changes = [("Points for everyone", plan.added)] if plan.added else []
    if grade.adjustment:
        changes.append((f"Adjustment: {reason}" if reason else "Adjustment", grade.adjustment))
    for one in grade.not_met:
        if one.requirement.consequence.kind == "percent_down":
            changes.append((_not_met(plan, one), -one.requirement.consequence.amount * one.times))
    sums = accumulate((change for _, change in changes), initial=grade.uncapped or Fraction(0))
    return [
        FinalStep(f"{name} ({with_sign(change)})", f"{percent_text(total)}")
        for (name, change), total in zip(changes, list(sums)[1:], strict=True)
    ]


def _limits(plan: Plan, grade: Grade) -> list[FinalStep]:
    """What holds the percent down, or up at 0."""
    taken = sum(
        (o.times * o.requirement.consequence.amount for o in grade.not_met
         if o.requirement.consequence.kind == "percent_down"),
        Fraction(0),
    )  # fmt: skip
    before = (grade.uncapped or Fraction(0)) + plan.added + grade.adjustment - taken
    if grade.percent == before:
        return []
    percent = f"{percent_text(grade.percent)}"
    for one in grade.not_met:
        consequence = one.requirement.consequence
        if consequence.kind == "percent_at_most" and consequence.amount == grade.percent:
            return [FinalStep(_not_met(plan, one), percent)]
    return [FinalStep("Limited by the cap of the course" if before > 0 else "Never below 0", percent)]


def _letters(plan: Plan, grade: Grade) -> list[FinalStep]:
    """What lowers the letter, and where that ends."""
    kinds = {"letters_down", "letter_at_most"}
    found = [
        FinalStep(_not_met(plan, one), consequence_words(one.requirement.consequence).removeprefix("the letter "))
        for one in grade.not_met
        if one.requirement.consequence.kind in kinds and grade.letter is not None
    ]
    return [*found, FinalStep("Letter after the requirements", grade.letter or "")] if found else []


def _not_met(plan: Plan, one: NotMet) -> str:
    """A requirement that is not met, as the instructor says it or as the rule reads."""
    words = one.requirement.text or requirement_words(plan, one.requirement)
    times = f", {one.times} times" if one.times > 1 else ""
    return f"Not met: {words.removesuffix('.')}{times}"
