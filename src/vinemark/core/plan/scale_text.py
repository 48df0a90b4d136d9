"""A letter scale as a syllabus prints it, read as rows.

One row a line, or several with commas or semicolons between them. To add a way of saying a row, add a pattern
to ROWS with its example.
"""

import re
from collections.abc import Sequence
from fractions import Fraction
from typing import Literal, NamedTuple

from vinemark.core.base.limits import NOTE_LIMIT, more_than
from vinemark.core.base.refused import Refused
from vinemark.core.plan.plan import ScaleRow

_LETTER = r"(?P<letter>[A-Z]{1,3}[+-]?)"
_NUMBER = r"\d{1,5}(?:\.\d{1,6})?(?:/[1-9]\d{0,4})?"
_OPEN = r"[:=( ]{0,9}"
_UPWARD = r"(?:\+|and (?:above|up|over)|or (?:more|above|higher))?"

_ROWS = (
    # 'A: 93-100', 'A (93 to 100)'
    rf"{_LETTER}{_OPEN}(?P<one>{_NUMBER}) ?(?:-|to) ?(?P<two>{_NUMBER})\)?",
    # '93-100: A', '93-100 = A'
    rf"(?P<one>{_NUMBER}) ?(?:-|to) ?(?P<two>{_NUMBER}){_OPEN}{_LETTER}\)?",
    # 'F: below 60', 'F < 60'
    rf"{_LETTER}{_OPEN}(?:is )?(?:below|under|less than|<) ?(?P<under>{_NUMBER})\)?",
    # 'below 60: F', 'below 60 is an F'
    rf"(?:below|under|less than|<) ?(?P<under>{_NUMBER}){_OPEN}(?:is )?(?:an? )?{_LETTER}\)?",
    # 'A: 93', 'A >= 93', 'A from 93', 'A = 93 and above', 'A 93+'
    rf"{_LETTER}{_OPEN}(?:>=|>|≥|from|at least)? ?(?P<one>{_NUMBER}) ?{_UPWARD}\)?",
    # '93 and above: A', '93+ A', '93 A'
    rf"(?P<one>{_NUMBER}) ?{_UPWARD}{_OPEN}{_LETTER}\)?",
)


class PastedScale(NamedTuple):
    """The rows read, highest first as typed, the pieces that could not be, the highest number that stands there, and
    what the text says its numbers are, if it says so."""

    rows: Sequence[ScaleRow]
    unread: Sequence[str]
    highest: Fraction
    unit: Literal["percent", "points"] | None


def read_pasted_scale(text: str) -> PastedScale:
    """Rows of a pasted scale. A bare '90/80/70/60' is A, B, C, D, and F from 0. Raises Refused for a text too long."""
    if len(text) > NOTE_LIMIT.most:
        raise Refused("pasted", f"is longer than a scale: {more_than(NOTE_LIMIT)}")
    plain = _normal(text)
    bare = re.fullmatch(
        rf"({_NUMBER})(?:\s*/\s*|\s+)({_NUMBER})(?:\s*/\s*|\s+)({_NUMBER})(?:\s*/\s*|\s+)({_NUMBER})", plain
    )
    numbers = [Fraction(found) for found in bare.groups()] if bare else _numbers(plain)
    highest, unit = max(numbers, default=Fraction(0)), _unit(text)
    if bare is not None:
        rows = [ScaleRow(letter, Fraction(cutoff)) for letter, cutoff in zip("ABCD", bare.groups(), strict=True)]
        return PastedScale([*rows, ScaleRow("F", Fraction(0))], [], highest, unit)
    rows, unread = [], []
    for piece in re.split(r"[\n,;|]+|\.\s", plain):
        row = _row(piece.strip(" ."))
        if row is not None:
            rows.append(row)
        elif piece.strip(" ."):
            unread.append(piece.strip(" ."))
    return PastedScale(rows, unread, highest, unit)


def rows_with_ends(text: str) -> list[tuple[ScaleRow, Fraction | None]]:
    """The rows of a pasted scale, each with the highest value that stands beside it where it is a range."""
    pieces = (piece.strip(" .") for piece in re.split(r"[\n,;|]+|\.\s", _normal(text)))
    return [(row, _end(piece)) for piece in pieces if (row := _row(piece)) is not None]


def _end(piece: str) -> Fraction | None:
    ranged = re.search(rf"({_NUMBER}) ?(?:-|to) ?({_NUMBER})", piece)
    return max(Fraction(ranged[1]), Fraction(ranged[2])) if ranged else None


def _numbers(plain: str) -> list[Fraction]:
    return [Fraction(found) for found in re.findall(_NUMBER, plain)]


def _unit(text: str) -> Literal["percent", "points"] | None:
    if re.search(r"%|percent", text, re.IGNORECASE):
        return "percent"
    return "points" if re.search(r"\b(?:points?|pts)\b", text, re.IGNORECASE) else None


def _normal(text: str) -> str:
    """One kind of dash, no percent signs, single blanks within a line."""
    dashes = re.sub(r"[−–—‒]", "-", text).replace("%", "").replace("\u00a0", " ")
    dashes = re.sub(r"(?<=\d),(?=\d{3}\b)", "", dashes)
    dashes = re.sub(r"(?<!\s)\s*\b(?:points?|pts?|percent)\b\.?", "", dashes, flags=re.IGNORECASE)
    return "\n".join(" ".join(line.split()) for line in dashes.strip().splitlines())


def _row(piece: str) -> ScaleRow | None:
    for pattern in _ROWS:
        match = re.fullmatch(pattern, piece)
        if match is not None:
            return ScaleRow(match["letter"], _cutoff(match.groupdict()))
    return None


def _cutoff(found: dict[str, str | None]) -> Fraction:
    """The lower end of a range; 0 for what lies below a number."""
    if found.get("under"):
        return Fraction(0)
    numbers = [Fraction(found[key] or "") for key in ("one", "two") if found.get(key)]
    return min(numbers)
