"""What a person types into a score cell, read as a cell."""

from dataclasses import dataclass

from vinemark.core.course import Cell
from vinemark.core.course_format import Refused
from vinemark.core.number import NotANumber, parse_decimal
from vinemark.core.plan import Item

WORDS = {"missing": "missing", "m": "missing", "exempt": "exempt", "x": "exempt", "ex": "exempt"}


@dataclass(frozen=True)
class Entry:
    """A cell as read, and what a person should be told about it ('over 10 points')."""

    cell: Cell
    remark: str = ""


def read_entry(typed: str, item: Item) -> Entry:
    """A number, 'missing' or 'exempt' (m, x), or nothing for blank. Raises Refused with the reason.

    A decimal comma is read as a point: '8,5' is 8.5. A value above the points is taken and said.
    """
    text = typed.strip()
    if not text:
        return Entry(None)
    word = WORDS.get(text.lower())
    if word == "missing":
        return Entry("missing")
    if word == "exempt":
        return Entry("exempt")
    return _number(text, item)


def _number(text: str, item: Item) -> Entry:
    plain = text.replace(",", ".") if text.count(",") == 1 and "." not in text else text
    if plain.startswith(".") and plain[1:].isdigit():
        plain = "0" + plain
    try:
        value = parse_decimal(plain)
    except NotANumber as error:
        raise Refused(item.id, f"{error}; type points, m for missing or x for exempt") from None
    return Entry(value, "above the item's points" if value > item.points else "")
