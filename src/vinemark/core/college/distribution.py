"""Grades of a section side by side with those of others: by the letter they begin with."""

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Final

FAMILIES: Final = ("A", "B", "C", "D", "F")
OTHER: Final = "other"
HEIGHT: Final = 40


@dataclass(frozen=True)
class LetterBar:
    """How many grades begin with a letter, and how high their bar is of HEIGHT."""

    label: str
    count: int
    height: int


def distribution(codes: Iterable[str]) -> Sequence[LetterBar]:
    """A bar for each letter, and for other codes where there are any; the height is the share of all."""
    counts = Counter(_family(code) for code in codes)
    every = counts.total()
    labels = [*FAMILIES, OTHER] if counts[OTHER] else FAMILIES
    return [LetterBar(label, counts[label], _height(counts[label], every)) for label in labels]


def _family(code: str) -> str:
    """A of A−; a code that only begins with the letter, as AU does, is another."""
    letter, sign = code[:1].upper(), code[1:]
    return letter if letter in FAMILIES and sign in {"", "+", "-", "−", "–"} else OTHER


def _height(count: int, every: int) -> int:
    """Rounded up, so that a single one is seen."""
    return -(-count * HEIGHT // every) if every else 0
