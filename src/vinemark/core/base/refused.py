"""What cannot be accepted, and the readers of single values that refuse it at its place.

Numbers arrive as text (NumberText where a JSON file had a bare number), so that every digit is kept."""

import re
from collections.abc import Callable, Mapping, Sequence
from datetime import date, datetime
from fractions import Fraction
from typing import TypeVar, cast

from vinemark.core.base.limits import NOTE_LIMIT, more_than
from vinemark.core.base.number import MAX_DIGITS, NotANumber, parse_decimal, parse_ratio

_T = TypeVar("_T")
_L = TypeVar("_L", bound=str)
LONGEST_LINE = 200


class NumberText(str):
    """The text of a bare JSON number, as it stood in the file."""


class Refused(ValueError):
    """What a file holds cannot be taken; `place` says where, `reason` why."""

    def __init__(self, field: str, reason: str) -> None:
        super().__init__(f"{field}: {reason}" if field else reason)
        self.field = field
        self.reason = reason

    def __reduce__(self) -> tuple[type["Refused"], tuple[str, str]]:
        """As it goes from one process to another."""
        return type(self), (self.field, self.reason)


class Keys:
    """One JSON object being read: every key must be taken, an unknown one is refused."""

    def __init__(self, value: object, field: str, known: Sequence[str] | None) -> None:
        """`known` are the keys that may stand there; None leaves unknown ones alone."""
        if not isinstance(value, Mapping):
            raise Refused(field, "must be an object")
        for key in value:
            if known is not None and key not in known:
                raise Refused(_join(field, key), "unknown key")
        self.value = cast(Mapping[str, object], value)
        self.field = field

    def at(self, key: str) -> str:
        """The place of a key."""
        return _join(self.field, key)

    def needed(self, key: str, read: Callable[[object, str], _T]) -> _T:
        """A key that must be there."""
        if key not in self.value:
            raise Refused(self.at(key), "is missing")
        return read(self.value[key], self.at(key))

    def given(self, key: str, read: Callable[[object, str], _T], default: _T) -> _T:
        """A key with a default that is not null: null is refused."""
        return read(self.value[key], self.at(key)) if key in self.value else default

    def maybe(self, key: str, read: Callable[[object, str], _T]) -> _T | None:
        """A key whose default is null."""
        value = self.value.get(key)
        return None if value is None else read(value, self.at(key))


def _join(field: str, key: str) -> str:
    return f"{field}.{key}" if field else key


def text(value: object, field: str) -> str:
    """Text that is not empty."""
    found = any_text(value, field)
    if not found.strip():
        raise Refused(field, "must not be empty")
    return found


def any_text(value: object, field: str) -> str:
    """Text, which may be empty."""
    if not isinstance(value, str) or isinstance(value, NumberText):
        raise Refused(field, "must be a text")
    if any("\ud800" <= sign <= "\udfff" for sign in value):
        raise Refused(field, "holds half of a sign (a lone surrogate)")
    if "\0" in value:
        raise Refused(field, "holds a sign that is none (NUL)")
    return value


def short_note(typed: str, field: str) -> str:
    """A reason or a remark as it was typed, no longer than one may be."""
    if len(typed) > NOTE_LIMIT.most:
        raise Refused(field, more_than(NOTE_LIMIT))
    return typed


def one_line(value: object, field: str) -> str:
    """Text that is not empty, stands on one line and is no longer than a line."""
    found = text(value, field)
    if len(found) > LONGEST_LINE or not all(sign.isprintable() for sign in found):
        raise Refused(field, f"must be one line of at most {LONGEST_LINE} signs")
    return found


def iso_moment(value: object, field: str) -> str:
    """A date with a time as ISO 8601 writes it, left as it stands."""
    try:
        datetime.fromisoformat(one_line(value, field))
    except ValueError as error:
        if isinstance(error, Refused):
            raise
        raise Refused(field, "must be a date with a time") from None
    return str(value)


def flag(value: object, field: str) -> bool:
    """True or false."""
    if not isinstance(value, bool):
        raise Refused(field, "must be true or false")
    return value


def number(value: object, field: str) -> Fraction:
    """A number >= 0, as text or as a JSON number."""
    return _parsed(value, field, parse_decimal)


def ratio(value: object, field: str) -> Fraction:
    """A number >= 0, also a fraction of two whole numbers."""
    return _parsed(value, field, parse_ratio)


def signed(value: object, field: str) -> Fraction:
    """A number that may be negative."""
    if isinstance(value, str) and value.startswith("-"):
        return -number(type(value)(value[1:]), field)
    return number(value, field)


def above_zero(read: Callable[[object, str], Fraction]) -> Callable[[object, str], Fraction]:
    """A reader that also refuses 0."""

    def reader(value: object, field: str) -> Fraction:
        found = read(value, field)
        if found == 0:
            raise Refused(field, "must be more than 0")
        return found

    return reader


def _parsed(value: object, field: str, parse: Callable[[str], Fraction]) -> Fraction:
    if not isinstance(value, str):
        raise Refused(field, "must be a number")
    try:
        return _json_number(value) if isinstance(value, NumberText) else parse(value)
    except NotANumber as error:
        raise Refused(field, str(error)) from None


def _json_number(value: str) -> Fraction:
    match = re.fullmatch(r"(-?)([0-9]+)(?:\.([0-9]+))?(?:[eE]([+-]?[0-9]+))?", value, re.ASCII)
    if match is None:
        raise NotANumber("must be a number")
    sign, whole, decimals, exponent = match[1], match[2], match[3] or "", match[4] or "0"
    if len(exponent.lstrip("+-0")) > 4:
        raise NotANumber(f"has more than {MAX_DIGITS} digits")
    plain = _spelled_out(whole + decimals, len(whole) + int(exponent))
    if sign and plain.strip("0.") != "":
        raise NotANumber("must not be negative")
    return parse_decimal(plain)


def _spelled_out(digits: str, point: int) -> str:
    """Digits with the decimal point after `point` of them, zeros filled in."""
    if point <= 0:
        return "0." + "0" * -point + digits
    if point >= len(digits):
        return digits + "0" * (point - len(digits))
    return f"{digits[:point]}.{digits[point:]}"


def count(value: object, field: str) -> int:
    """A whole number >= 0, as number or text; '2.0' is refused."""
    if not isinstance(value, str) or not re.fullmatch(r"[0-9]+", value, re.ASCII):
        raise Refused(field, "must be a whole number, 0 or more")
    if len(value) > MAX_DIGITS:
        raise Refused(field, f"has more than {MAX_DIGITS} digits")
    return int(value)


def whole_number(value: object, field: str) -> int:
    """A whole number >= 0 of parsed JSON in which numbers are machine numbers: no text, no 2.0."""
    if isinstance(value, bool) or not isinstance(value, int) or value < 0:
        raise Refused(field, "must be a whole number, 0 or more")
    return value


def iso_day(value: object, field: str) -> date:
    """A date as YYYY-MM-DD."""
    if isinstance(value, str) and re.fullmatch(r"[0-9]{4}-[0-9]{2}-[0-9]{2}", value, re.ASCII):
        try:
            return date.fromisoformat(value)
        except ValueError:
            pass
    raise Refused(field, "must be a date as YYYY-MM-DD")


def one_of(choices: tuple[_L, ...]) -> Callable[[object, str], _L]:
    """A reader for one word of a list."""

    def reader(value: object, field: str) -> _L:
        for choice in choices:
            if value == choice and not isinstance(value, NumberText):
                return choice
        raise Refused(field, f"must be one of {', '.join(choices)}")

    return reader


def rows(read: Callable[[object, str], _T]) -> Callable[[object, str], tuple[_T, ...]]:
    """A reader for a list."""

    def reader(value: object, field: str) -> tuple[_T, ...]:
        if not isinstance(value, list):
            raise Refused(field, "must be a list")
        return tuple(read(entry, f"{field}[{i}]") for i, entry in enumerate(value))

    return reader


def refuse_repeat(ids: Sequence[str], field_of: Callable[[int], str]) -> None:
    """Refuse the second of two equal ids, at its place."""
    seen: set[str] = set()
    for i, found in enumerate(ids):
        if found in seen:
            raise Refused(field_of(i), f"“{found}” is there twice")
        seen.add(found)
