"""What a person types into a score cell, read as a cell."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from vinemark.core.base.number import NotANumber, exact_text, parse_decimal
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Cell, CellWord
from vinemark.core.plan.plan import HUNDRED, Item, ScaleRow

CELL_WORDS: tuple[CellWord, ...] = ("missing", "exempt")
SHORT: dict[str, CellWord] = {"m": "missing", "x": "exempt", "ex": "exempt", "e": "exempt"}


@dataclass(frozen=True)
class ReadScore:
    """A cell as read, and what a person should be told about it ('above the item's points')."""

    cell: Cell
    remark: str = ""


def read_typed_score(typed: str, item: Item, scale: Sequence[ScaleRow] = ()) -> ReadScore:
    """A cell as typed. Raises Refused with the reason.

    A number ('8.5', '8,5'), a sum ('7+8.5'), a percent of the item's points ('85%'), a letter of the scale (its
    cutoff), 'missing' or 'exempt' in full or as m and x where the scale has no such letter, or nothing for blank.
    A value above the points is taken and said.
    """
    text = typed.strip()
    if not text:
        return ReadScore(None)
    letter = next((row for row in scale if row.letter.lower() == text.replace("−", "-").lower()), None)
    mark = _mark(text.lower())
    if mark is not None and letter is None:
        return ReadScore(mark)
    if letter is not None:
        return _of_points(letter.cutoff, item, f"{letter.letter} taken as its cutoff, {exact_text(letter.cutoff)}%")
    if text.endswith("%"):
        return _of_points(_number(text.removesuffix("%").strip(), item), item, "")
    value = sum((_number(part.strip(), item) for part in text.split("+")), Fraction(0))
    return _within_digits(value, item, "")


def _mark(text: str) -> CellWord | None:
    return next((mark for mark in CELL_WORDS if mark == text), None) or SHORT.get(text)


def _of_points(percent: Fraction, item: Item, remark: str) -> ReadScore:
    return _within_digits(percent * item.points / HUNDRED, item, remark)


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
