"""What a cell of the score sheet can hold."""

from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

CellWord = Literal["missing", "exempt"]
PlainCell = Fraction | CellWord | None
"""A number >= 0, 'missing', 'exempt', or None for blank."""


@dataclass(frozen=True)
class DetailedScore:
    """A score that is more than a number: with whole late days, or a symbol of the item's category in its place.

    Either `score` or `symbol` is given. A number without late days is a plain cell.
    """

    score: Fraction | None = None
    symbol: str | None = None
    late: int = 0


Cell = PlainCell | DetailedScore


def scored(score: Fraction, late: int) -> Cell:
    """A number with late days, as a cell."""
    return DetailedScore(score, None, late) if late else score
