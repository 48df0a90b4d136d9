"""What sentences that promise a rule have in common: amounts, and what of a plan they name."""

import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from fractions import Fraction

from vinemark.core.base.number import exact_text
from vinemark.core.plan.plan import Category, Item, Plan
from vinemark.core.syllabus.read.naming import stems
from vinemark.core.syllabus.read.normal import WORDS

_WORDED = "|".join(sorted((word for word in WORDS if " " not in word and word not in {"single", "hundred"}), key=len,
                          reverse=True))  # fmt: skip
SAID_AMOUNT = rf"(\d{{1,4}}(?:\.\d{{1,4}})?|{_WORDED})"
OF_HUNDRED = r" ?(?:%|percent\b|per cent\b|percentage points?\b)"

EVERYWHERE = frozenset({"day", "week", "work", "class", "grade", "score", "point", "percent", "course", "paper"})
"""Words of names that stand in every other sentence about grades."""


@dataclass(frozen=True)
class Promise:
    """The rule a sentence would make: its kind, the fields of its form, and what must be recorded for it first."""

    kind: str
    fields: Mapping[str, str] = field(default_factory=dict)
    records: str = ""


def amount(text: str) -> Fraction:
    """What SAID_AMOUNT found, as a number."""
    return Fraction(WORDS[text]) if text in WORDS else Fraction(text)


def amount_found(pattern: str, said: str) -> str:
    """The first amount that a pattern finds, as digits; empty where it finds none."""
    match = re.search(pattern, said)
    return exact_text(amount(match[1])) if match else ""


def category_named(plan: Plan, said: str) -> Category | None:
    """The ordinary category of which most words stand in a sentence; None where two are as near."""
    words = set(stems(said))
    scored = [(_share(c.name, words), c) for c in plan.categories if not c.extra]
    best = max((score for score, _ in scored), default=Fraction(0))
    found = [category for score, category in scored if score == best]
    return found[0] if best > 0 and len(found) == 1 else None


def item_named(plan: Plan, said: str, apart_from: Category | None) -> Item | None:
    """An item that a sentence names by all of its words, or the only one of a category that it names."""
    words = _words(said)
    pairs = [(c, i) for c, i in plan.items() if c is not apart_from and not c.extra]
    whole = [item for _, item in pairs if _words(item.name) <= words]
    if len(whole) == 1:
        return whole[0]
    alone = [i for c, i in pairs if len(c.items) == 1 and _share(c.name, set(stems(said))) > 0]
    return alone[0] if len(alone) == 1 else None


def _words(text: str) -> set[str]:
    return set(stems(text)) | set(re.findall(r"\d+", text))


def _share(name: str, words: set[str]) -> Fraction:
    """How many of a name's words are there: its last one must be, and one that says something."""
    named = stems(name)
    there = [word for word in named if word in words]
    if not named or named[-1] not in words or (len(there) < len(named) and set(there) <= EVERYWHERE):
        return Fraction(0)
    return Fraction(len(there), len(named))
