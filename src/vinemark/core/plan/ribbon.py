"""The ribbon of weights that must fill 100: segments, what is open or too much."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from vinemark.core.base.number import exact_text, trimmed
from vinemark.core.plan.plan import HUNDRED, Plan, points_total

COLORS = 6


@dataclass(frozen=True)
class Segment:
    """One stretch of the ribbon; `start` and `width` in thousandths of its length, for drawing only."""

    label: str
    value: str
    start: int
    width: int
    color: int | None
    kind: str = "category"


@dataclass(frozen=True)
class Ribbon:
    """All segments, the unit of the scale below, and what is open or too much, in words."""

    segments: Sequence[Segment]
    total: str
    verdict: str
    full: bool
    ticks: Sequence[tuple[int, str]]


def ribbon(plan: Plan) -> Ribbon:
    """The weights of a weighted plan against 100, or the points of a points plan against their sum."""
    if plan.basis == "points":
        return _points_ribbon(plan)
    parts = [(c.name, c.weight or Fraction(0), i) for i, c in enumerate(plan.categories) if not c.extra]
    total = sum((w for _, w, _ in parts), Fraction(0))
    length = max(total, HUNDRED)
    segments = _segments(parts, length)
    if total < HUNDRED:
        segments.append(_segment("left to assign", HUNDRED - total, total, length, None, "open"))
    if total > HUNDRED:
        segments.append(_segment("over", total - HUNDRED, HUNDRED, length, None, "over"))
    ticks = [(int(1000 * t / length), f"{t}%" if t == 100 else str(t)) for t in (0, 25, 50, 75, 100)]
    return Ribbon(segments, exact_text(total), weight_verdict(total), total == HUNDRED, ticks)


def weight_verdict(total: Fraction) -> str:
    """How the weights stand to 100, in words."""
    if total == HUNDRED:
        return "100 of 100"
    gap = abs(HUNDRED - total)
    about = trimmed(gap, 6) if trimmed(gap, 6) != "0" else exact_text(gap)
    return f"{trimmed(total, 6)} of 100: {about} {'left to assign' if total < HUNDRED else 'over'}"


def _points_ribbon(plan: Plan) -> Ribbon:
    parts = [(c.name, points_total(c), i) for i, c in enumerate(plan.categories) if not c.extra]
    total = sum((w for _, w, _ in parts), Fraction(0))
    ticks = [(int(1000 * k / Fraction(4)), trimmed(total * k / 4, 2)) for k in range(5)] if total else []
    return Ribbon(_segments(parts, total), exact_text(total), f"{exact_text(total)} points in all", total > 0, ticks)


def _segments(parts: Sequence[tuple[str, Fraction, int]], length: Fraction) -> list[Segment]:
    segments, start = [], Fraction(0)
    for name, worth, index in parts:
        if worth > 0:
            segments.append(_segment(name, worth, start, length, index % COLORS, "category"))
        start += worth
    return segments


def _segment(label: str, worth: Fraction, start: Fraction, length: Fraction, color: int | None, kind: str) -> Segment:
    left, right = int(1000 * start / length), int(1000 * (start + worth) / length)
    return Segment(label, trimmed(worth, 4), left, right - left, color, kind)
