"""Symbols of a category: what can be one, and what one is worth."""

import re
from collections.abc import Iterable
from fractions import Fraction

from vinemark.core.base.number import NotANumber, parse_decimal
from vinemark.core.base.refused import Refused
from vinemark.core.plan.plan import HUNDRED, Category, Item, Plan
from vinemark.core.plan.rules import LONGEST_SYMBOL

WORDS_OF_CELLS = frozenset({"missing", "exempt", "m", "x"})


def symbol_fault(symbol: str) -> str:
    """Why a text cannot be a symbol; empty where it can."""
    if not symbol.strip():
        return "must not be empty"
    if len(symbol) > LONGEST_SYMBOL:
        return f"must not be longer than {LONGEST_SYMBOL} characters"
    if symbol.strip().lower() in WORDS_OF_CELLS:
        return f"cannot be “{symbol}”, which is typed for missing or exempt"
    if is_number(symbol):
        return "must not be a number"
    return ""


def is_number(text: str) -> bool:
    """Whether a text reads as a number, with or without a sign."""
    try:
        parse_decimal(re.sub(r"\A[+-]", "", text.strip()))
    except NotANumber:
        return False
    return True


def symbol_value(category: Category, item: Item, symbol: str) -> Fraction | None:
    """v of a symbol, in points of the item; None for a symbol that the category does not have."""
    percent = next((one.percent for one in category.symbols if one.symbol == symbol), None)
    return None if percent is None else item.points * percent / HUNDRED


def refuse_lost_symbols(plan: Plan, used: Iterable[tuple[str, str]]) -> None:
    """Refuse a plan in which a symbol that stands in a cell would mean nothing; `used` are items and their symbols.

    Raises Refused at 'symbols'.
    """
    for item_id, symbol in used:
        placed = plan.placed.get(item_id)
        if placed is not None and symbol_value(*placed, symbol) is None:
            raise Refused(
                "symbols",
                f"scores of {placed[1].name} use “{symbol}”, which {placed[0].name} would not have; change them first",
            )
