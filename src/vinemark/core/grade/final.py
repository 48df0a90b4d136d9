"""From the percent of the categories to the letter: added points, an adjustment, requirements, caps, rounding.

The order is that of calculation-2, section 5.
"""

from collections.abc import Sequence
from fractions import Fraction

from vinemark.core.base.number import ZERO
from vinemark.core.grade.letters import Letters
from vinemark.core.grade.requirements import NotMet
from vinemark.core.plan.plan import Plan


def final_percent(plan: Plan, before: Fraction, adjustment: Fraction, not_met: Sequence[NotMet]) -> Fraction:
    """Steps 2 to 5: what is added and taken, the lowest cap, nothing below 0."""
    percent = before
    for given in (plan.added, adjustment):
        percent = percent + given if given else percent
    caps = [] if plan.cap is None else [plan.cap]
    for requirement, times in not_met:
        consequence = requirement.consequence
        if consequence.kind == "percent_down":
            percent -= consequence.amount * times
        elif consequence.kind == "percent_at_most":
            caps.append(consequence.amount)
    percent = min([percent, *caps]) if caps else percent
    return percent if percent.numerator > 0 else ZERO


def final_letter(letters: Letters, by_percent: str | None, not_met: Sequence[NotMet]) -> str | None:
    """Steps 7 and 8: rows down the scale, then the lowest of the letters at most."""
    if by_percent is None or not not_met:
        return by_percent
    down, at_most = 0, []
    for requirement, times in not_met:
        consequence = requirement.consequence
        if consequence.kind == "letters_down":
            down += int(consequence.amount) * times
        elif consequence.kind == "letter_at_most":
            at_most.append(consequence.letter)
    return letters.lowered(by_percent, down, at_most)
