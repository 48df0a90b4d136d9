"""Rounding in formulas, as the plan rounds."""

from vinemark.core.base.number import RoundingWay

FUNCTIONS: dict[RoundingWay, str] = {"nearest": "ROUND", "up": "ROUNDUP", "down": "ROUNDDOWN"}


def steady(formula: str) -> str:
    """To the tenth decimal: below every exact difference that matters and above the noise of binary numbers."""
    return f"ROUND({formula},10)"


def rounding_formula(formula: str, decimals: str, way: RoundingWay) -> str:
    """A number that is 0 or more, rounded to decimals (a number or a cell)."""
    return f"{FUNCTIONS[way]}({steady(formula)},{decimals})"
