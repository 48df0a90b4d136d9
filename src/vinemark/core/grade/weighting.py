"""The sets of weights of a plan: its own, and the alternatives of which the better counts."""

from collections.abc import Sequence
from fractions import Fraction
from functools import lru_cache

from vinemark.core.base.number import ZERO
from vinemark.core.plan.plan import Plan


class Weighting:
    """One set of weights, a weight for each category in plan order; `id` and `name` None for the plan's own."""

    def __init__(self, plan: Plan, weights: Sequence[Fraction], id: str | None = None, name: str | None = None) -> None:
        self.id = id
        self.name = name
        self.weights = tuple(weights)
        self._ordinary = tuple(not category.extra for category in plan.categories)
        self._whole = lru_cache(maxsize=256)(self._sum)

    def whole(self, there: Sequence[bool]) -> Fraction | None:
        """W over the ordinary categories that have a percentage; None for 0."""
        return self._whole(tuple(there)) or None

    def _sum(self, there: tuple[bool, ...]) -> Fraction:
        lines = zip(self.weights, self._ordinary, there, strict=True)
        return sum((weight for weight, ordinary, has in lines if ordinary and has), ZERO)


def weightings_of(plan: Plan) -> list[Weighting]:
    """The plan's own weights first, then the alternatives in order."""
    own = [category.weight or ZERO for category in plan.categories]
    others = [
        Weighting(plan, [alt.weights.get(c.id, c.weight or ZERO) for c in plan.categories], alt.id, alt.name)
        for alt in plan.alternatives
    ]
    return [Weighting(plan, own), *others]
