"""The letter of a percent, and the cutoffs around it."""

from collections.abc import Sequence
from fractions import Fraction
from typing import NamedTuple, cast

from vinemark.core.base.number import rounded_to
from vinemark.core.plan.plan import Plan, Rounding
from vinemark.core.plan.scale import scale_faults, sorted_scale

NEAR = Fraction(1, 2)


def rounded_percent(rounding: Rounding | None, percent: Fraction) -> Fraction | None:
    """The percent as the plan rounds it, once; None where it does not round."""
    return None if rounding is None else rounded_to(percent, rounding.decimals, rounding.way)


def letter_value(rounding: Rounding | None, percent: Fraction) -> Fraction:
    """The value that is compared with the cutoffs."""
    if rounding is None or rounding.letter_uses == "exact":
        return percent
    return rounded_to(percent, rounding.decimals, rounding.way)


class Letters:
    """A plan's scale made ready for many percents."""

    def __init__(self, plan: Plan) -> None:
        sound = bool(plan.scale) and not scale_faults(plan.scale)
        self._rows = sorted_scale(plan.scale) if sound else []
        self._cutoffs = [(row.letter, *row.cutoff.as_integer_ratio()) for row in self._rows]
        self._rounding = plan.rounding
        self._uses_rounded = plan.rounding is not None and plan.rounding.letter_uses == "rounded"
        self._lowest = [lowest_exact(plan, row.cutoff) for row in self._rows]
        # Where everything is rounded up, the lowest exact percent of a letter is the one just not reached.
        self._beyond = self._uses_rounded and plan.rounding is not None and plan.rounding.way == "up"

    def of(self, percent: Fraction, rounded: Fraction | None) -> str | None:
        """The letter of a course percent, given as it is and as the plan rounds it; None without a sound scale."""
        value = rounded if self._uses_rounded and rounded is not None else percent
        part, whole = value.as_integer_ratio()
        return next((letter for letter, cutoff, of in self._cutoffs if cutoff * whole <= part * of), None)

    def of_exact(self, percent: Fraction) -> str | None:
        """The letter of an exact course percent, rounded here as the plan rounds."""
        return self.of(percent, rounded_percent(self._rounding, percent))

    def following(self, percent: Fraction) -> "NextLetter | None":
        """The next letter above this percent; None at the top or without a sound scale."""
        value = letter_value(self._rounding, percent)
        above = [(row, low) for row, low in zip(self._rows, self._lowest, strict=True) if row.cutoff > value]
        if not above:
            return None
        row, lowest = min(above, key=lambda pair: pair[0].cutoff)
        return NextLetter(row.letter, lowest - percent)

    def lowered(self, letter: str, down: int, at_most: Sequence[str]) -> str:
        """A letter so many rows down the scale, not below its lowest, and none above one of `at_most`."""
        order = [row.letter for row in self._rows]
        place = min(order.index(letter) + down, len(order) - 1)
        return order[max([place, *(order.index(most) for most in at_most if most in order)])]

    def near(self, percent: Fraction) -> bool:
        """Whether less than half a percent is missing to the next letter."""
        if self._beyond:
            return any(0 <= lowest - percent < NEAR for lowest in self._lowest)
        return any(0 < lowest - percent < NEAR for lowest in self._lowest)


def letters_of(plan: Plan) -> Letters:
    """A plan's scale, made ready once for all who ask."""
    found = plan.__dict__.get("letters")
    if found is None:
        found = plan.__dict__["letters"] = Letters(plan)
    return cast(Letters, found)


def letter_for(plan: Plan, percent: Fraction) -> str | None:
    """The letter of an exact course percent by the plan's scale and rounding."""
    return letters_of(plan).of_exact(percent)


def lowest_exact(plan: Plan, cutoff: Fraction) -> Fraction:
    """The lowest exact percent that reaches a cutoff: 89.5 for 90 when rounded to whole numbers.

    Where everything is rounded up, what is above it reaches the cutoff: 89 for 90.
    """
    rounding = plan.rounding
    if rounding is None or rounding.letter_uses == "exact":
        return cutoff
    step = Fraction(1, 10**rounding.decimals)
    # The cutoff itself need not lie on the rounding grid: the first grid value at or above it counts.
    grid = -(-cutoff // step) * step
    below = {"nearest": step / 2, "up": step, "down": Fraction(0)}[rounding.way]
    return max(Fraction(0), grid - below)


class NextLetter(NamedTuple):
    """The next better letter and how many percentage points are missing to it, exactly."""

    letter: str
    short_by: Fraction


def next_letter(plan: Plan, percent: Fraction) -> NextLetter | None:
    """The next letter above this percent; None at the top or without a sound scale."""
    return letters_of(plan).following(percent)
