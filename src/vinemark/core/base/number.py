"""The one door for numbers: exact text in, exact rationals held, text out.

No binary floating point is accepted or produced anywhere in the core.
"""

import re
from fractions import Fraction
from typing import Literal, get_args

from vinemark.core.base.limits import DIGIT_LIMIT

MAX_DIGITS = DIGIT_LIMIT.most
ZERO = Fraction(0)

_PLAIN = re.compile(r"[0-9]+(\.[0-9]+)?", re.ASCII)
_RATIO = re.compile(r"\A([0-9]+)/([0-9]+)", re.ASCII)


class NotANumber(ValueError):
    """Text that is no number by the rules of the course file; the message says why."""


def parse_decimal(text: str) -> Fraction:
    """Read ASCII digits with an optional point and digits: '8.5' -> 17/2.

    Raises NotANumber for a sign, an exponent, blanks, thousands marks or more than 40 digits.
    """
    if not _PLAIN.fullmatch(text):
        raise NotANumber(_why_not_plain(text))
    if sum(c != "." for c in text) > MAX_DIGITS:
        raise NotANumber(f"has more than {MAX_DIGITS} digits")
    return Fraction(text)


def parse_ratio(text: str) -> Fraction:
    """Like parse_decimal, and also a fraction of two whole numbers: '100/3'."""
    match = _RATIO.fullmatch(text)
    if match is None:
        return parse_decimal(text)
    if len(text) - 1 > MAX_DIGITS:
        raise NotANumber(f"has more than {MAX_DIGITS} digits")
    if int(match[2]) == 0:
        raise NotANumber("divides by 0")
    return Fraction(int(match[1]), int(match[2]))


def _why_not_plain(text: str) -> str:
    if not text.strip():
        return "type a number"
    if re.fullmatch(r"-[0-9.]+", text):
        return "must not be negative"
    return f"must be a number, not “{text[:40]}”"


RoundingWay = Literal["nearest", "up", "down"]
ROUNDING_WAYS: tuple[RoundingWay, ...] = get_args(RoundingWay)


def rounded_quotient(part: int, of: int, way: RoundingWay) -> int:
    """part / of >= 0 as a whole number: half up, always up, or cut off."""
    if way == "nearest":
        return (2 * part + of) // (2 * of)
    return part // of if way == "down" else -(-part // of)


def rounded_to(value: Fraction, decimals: int, way: RoundingWay) -> Fraction:
    """Round a value >= 0 to a number of decimals: half up, always up, or cut off."""
    scale = 10**decimals
    return Fraction(rounded_quotient(value.numerator * scale, value.denominator, way), scale)


def round_half_up(value: Fraction, decimals: int) -> Fraction:
    """Round a value >= 0 to a number of decimals, half up: 83.5 -> 84."""
    return rounded_to(value, decimals, "nearest")


def fixed(value: Fraction, decimals: int) -> str:
    """Text with exactly that many decimals, rounded half up: fixed(251/3, 2) == '83.67'."""
    return fixed_ratio(value.numerator, value.denominator, decimals)


def fixed_ratio(numerator: int, denominator: int, decimals: int) -> str:
    """The same of a numerator and a denominator > 0, which need not be in lowest terms."""
    sign = "-" if numerator < 0 else ""
    scaled = (2 * abs(numerator) * 10**decimals + denominator) // (2 * denominator)
    digits = str(scaled).rjust(decimals + 1, "0")
    text = f"{digits[:-decimals]}.{digits[-decimals:]}" if decimals else digits
    return sign + text if scaled else text


def trimmed(value: Fraction, decimals: int) -> str:
    """Like fixed, with trailing zeros of the decimals left off: '9.5', '20'."""
    text = fixed(value, decimals)
    return text.rstrip("0").rstrip(".") if "." in text else text


def exact_text(value: Fraction) -> str:
    """The exact value as a decimal where it ends within 40 digits, else as a fraction: '8.5', '100/3'."""
    if value.denominator == 1:
        return str(value.numerator)
    places = _decimal_places(value.denominator)
    if places is None:
        return ratio_text(value)
    text = trimmed(value, places)
    return text if len(text) <= MAX_DIGITS else ratio_text(value)


def percent_text(value: Fraction | None) -> str | None:
    """A percent for reading: every digit where it ends within six decimals, else six of them."""
    if value is None:
        return None
    return exact_text(value) if _short(value) else fixed(value, 6) + "…"


def _short(value: Fraction) -> bool:
    return ends(value) and len(exact_text(value).partition(".")[2]) <= 6


def with_sign(value: Fraction) -> str:
    """A number with its sign, for reading: '+1.5', '−2'."""
    text = exact_text(abs(value))
    return f"−{text}" if value < 0 else f"+{text}"


def ratio_text(value: Fraction) -> str:
    """The value as a fraction in lowest terms, '251/3', or a whole number, '95'."""
    return str(value.numerator) if value.denominator == 1 else f"{value.numerator}/{value.denominator}"


def ends(value: Fraction) -> bool:
    """Whether the value can be written as a decimal that ends."""
    return _decimal_places(value.denominator) is not None


def _decimal_places(denominator: int) -> int | None:
    twos = fives = 0
    while denominator % 2 == 0:
        denominator, twos = denominator // 2, twos + 1
    while denominator % 5 == 0:
        denominator, fives = denominator // 5, fives + 1
    return max(twos, fives) if denominator == 1 else None
