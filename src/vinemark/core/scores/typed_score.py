"""What a person types into a score cell, read as a cell."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from vinemark.core.base.number import NotANumber, exact_text, parse_decimal
from vinemark.core.base.refused import Refused
from vinemark.core.course.cell import Cell, CellWord, DetailedScore, scored
from vinemark.core.plan.plan import HUNDRED, Item, Plan, ScaleRow
from vinemark.core.plan.rules import MOST_LATE_DAYS, Symbol

CELL_WORDS: tuple[CellWord, ...] = ("missing", "exempt")
_LATE = re.compile(r"(?<![a-z])l(?:ate)? ?(\d{1,4})(?: ?d(?:ays?)?)?\Z", re.IGNORECASE | re.ASCII)
"""Late days after a score: '8.5 late 2', '8.5 l2', '8.5 late 2 days'."""
SHORT: dict[str, CellWord] = {"m": "missing", "x": "exempt", "ex": "exempt", "e": "exempt"}


@dataclass(frozen=True)
class ReadScore:
    """A cell as read, and what a person should be told about it ('above the item's points')."""

    cell: Cell
    remark: str = ""


def read_plan_score(plan: Plan, item: Item, typed: str) -> ReadScore:
    """A cell of an item of the plan as typed, with the symbols of its category; what is only recorded is a number."""
    if plan.only_recorded(item.id):
        return _recorded(typed, item)
    category = plan.category_of(item.id)
    read = read_typed_score(typed, item, plan.scale, category.symbols)
    if isinstance(read.cell, DetailedScore) and read.cell.late and category.late is None:
        return ReadScore(
            read.cell, "; ".join(filter(None, (read.remark, f"{category.name} has no rule for late work")))
        )
    return read


def _recorded(typed: str, item: Item) -> ReadScore:
    text = typed.strip()
    mark = _mark(text.lower())
    return ReadScore(mark) if mark or not text else ReadScore(_number(text, item))


def read_typed_score(
    typed: str, item: Item, scale: Sequence[ScaleRow] = (), symbols: Sequence[Symbol] = ()
) -> ReadScore:
    """A cell as typed. Raises Refused with the reason.

    A number ('8.5', '8,5'), a sum ('7+8.5'), a percent of the item's points ('85%'), points of the item's points
    ('9/10'), a symbol, a letter of the scale (its cutoff), 'missing' or 'exempt' in full or as m and x where the scale
    has no such letter, or nothing for blank.
    Late days follow a score: '8.5 late 2', or '8.5 l2'. A value above the points is taken and said.
    """
    text = typed.strip()
    if not text:
        return ReadScore(None)
    symbol = _symbol(text, symbols)
    if symbol is not None:
        return ReadScore(DetailedScore(symbol=symbol))
    words = " ".join(text.split())
    late = _LATE.search(words)
    if late and late.start():
        return _late(words[: late.start()].strip(), int(late[1]), item, scale, symbols)
    return _plain(text, item, scale)


def _symbol(text: str, symbols: Sequence[Symbol]) -> str | None:
    """A symbol as it is spelled, else one that differs in capitals alone."""
    spelled = [one.symbol for one in symbols]
    alike = [symbol for symbol in spelled if symbol.casefold() == text.casefold()]
    return text if text in spelled else alike[0] if len(alike) == 1 else None


def _late(text: str, days: int, item: Item, scale: Sequence[ScaleRow], symbols: Sequence[Symbol]) -> ReadScore:
    if days > MOST_LATE_DAYS:
        raise Refused(item.id, f"has more than {MOST_LATE_DAYS} late days")
    symbol = _symbol(text, symbols)
    if symbol is not None:
        return ReadScore(DetailedScore(None, symbol, days))
    read = _plain(text, item, scale)
    if not isinstance(read.cell, Fraction):
        raise Refused(item.id, "has late days without a score; type the score first: 8.5 late 2")
    return ReadScore(scored(read.cell, days), read.remark)


def _plain(text: str, item: Item, scale: Sequence[ScaleRow]) -> ReadScore:
    letter = next((row for row in scale if row.letter.lower() == text.replace("−", "-").lower()), None)
    mark = _mark(text.lower())
    if mark is not None and letter is None:
        return ReadScore(mark)
    if letter is not None:
        return _of_points(letter.cutoff, item, f"{letter.letter} taken as its cutoff, {exact_text(letter.cutoff)}%")
    if text.endswith("%"):
        return _of_points(_number(text.removesuffix("%").strip(), item), item, "")
    if "/" in text:
        return _pair(text, item)
    value = sum((_number(part.strip(), item) for part in text.split("+")), Fraction(0))
    return _within_digits(value, item, "")


def _mark(text: str) -> CellWord | None:
    return next((mark for mark in CELL_WORDS if mark == text), None) or SHORT.get(text)


def _of_points(percent: Fraction, item: Item, remark: str) -> ReadScore:
    return _within_digits(percent * item.points / HUNDRED, item, remark)


def _pair(text: str, item: Item) -> ReadScore:
    """'9/10' of an item of 10 points: of another base than the item's nothing is taken for granted."""
    earned, _, possible = text.partition("/")
    of = _number(possible.strip(), item)
    if of != item.points:
        raise Refused(item.id, f"is out of {exact_text(of)}, and the item has {exact_text(item.points)} points")
    return _within_digits(_number(earned.strip(), item), item, "")


def _within_digits(value: Fraction, item: Item, remark: str) -> ReadScore:
    """A score is kept as decimal text: what has no end (a third of the points) cannot be one."""
    if "/" in exact_text(value):
        raise Refused(item.id, f"comes to {value}, which cannot be written as a decimal; type the points")
    over = "above the item's points" if value > item.points else ""
    return ReadScore(value, "; ".join(words for words in (remark, over) if words))


def _number(text: str, item: Item) -> Fraction:
    plain = text.replace(",", ".") if text.count(",") == 1 and "." not in text else text
    if re.fullmatch(r"\.\d+", plain, re.ASCII):
        plain = "0" + plain
    try:
        return parse_decimal(plain)
    except NotANumber as error:
        raise Refused(item.id, f"{error}; type points, a percent, m for missing or x for exempt") from None
