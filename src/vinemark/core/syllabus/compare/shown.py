"""A syllabus for the screen: its text in stretches, marked by what was read there; versions compared."""

from collections.abc import Sequence
from dataclasses import dataclass
from difflib import SequenceMatcher
from fractions import Fraction
from itertools import pairwise
from typing import Literal

from vinemark.core.syllabus.compare.match import Rule
from vinemark.core.syllabus.facts import Reading, SaidCategory
from vinemark.core.syllabus.read.layout import Page
from vinemark.core.syllabus.written import number_text


@dataclass(frozen=True)
class Stretch:
    """A piece of the text: between sentences, or a sentence with what it was read as."""

    text: str
    start: int
    end: int
    sentence: bool = False
    kinds: tuple[str, ...] = ()
    unread: bool = False
    rules: tuple[str, ...] = ()
    states: tuple[str, ...] = ()


def stretches(text: str, reading: Reading, rules: Sequence[Rule] = ()) -> list[Stretch]:
    """The whole text in order; `rules` and `states` name the rules that rest on each sentence."""
    found: list[Stretch] = []
    offset = 0
    for sentence in Page(text).sentences:
        if sentence.start < offset:
            continue
        if sentence.start > offset:
            found.append(Stretch(text[offset : sentence.start], offset, sentence.start))
        found.append(_sentence(text, sentence.start, sentence.end, reading, rules))
        offset = sentence.end
    return [*found, Stretch(text[offset:], offset, len(text))]


def _sentence(text: str, start: int, end: int, reading: Reading, rules: Sequence[Rule]) -> Stretch:
    kinds = dict.fromkeys(c.kind for c in reading.clauses if c.start < end and start < c.end)
    unread = any(u.start < end and start < u.end for u in reading.unread)
    resting = [r for r in rules if any(c.start < end and start < c.end for c in r.clauses)]
    states = dict.fromkeys(r.state for r in resting)
    return Stretch(
        text[start:end], start, end, True, tuple(kinds), unread, tuple(r.key for r in resting), tuple(states)
    )


@dataclass(frozen=True)
class FactLine:
    """A fact in words, and which of two versions says it."""

    side: Literal["both", "first", "second"]
    text: str


def facts_in_words(reading: Reading) -> list[str]:
    """Every fact as a line."""
    lines = [f"Basis: {reading.basis or 'not said'}"]
    lines += [_in_words(category) for category in reading.categories]
    if reading.scale:
        unit = " points" if reading.scale_unit == "points" else ""
        lines.append("Letters: " + ", ".join(f"{r.letter} {number_text(r.cutoff)}{unit}" for r in reading.scale))
    if reading.rounding is not None:
        places = reading.rounding.decimals
        lines.append("Not rounded" if places is None else f"Rounded to {places} decimals")
    if reading.blanks:
        lines.append("Missed work scores zero")
    return lines + [f"Not in a rule: {u.text}" for u in reading.unread]


def _in_words(said: SaidCategory) -> str:
    parts = [
        f"{number_text(said.weight)}%" if said.weight is not None else "",
        f"{number_text(said.points)} points" if said.points is not None else "",
        f"{said.count} items" if said.count is not None else "",
        f"{number_text(said.points_each)} points each" if said.points_each is not None else "",
        f"lowest {said.drop_lowest} dropped" if said.drop_lowest else "",
        f"best {said.keep_best} kept" if said.keep_best is not None else "",
        "extra credit" if said.extra else "",
    ]
    return f"{said.name}: " + (", ".join(part for part in parts if part) or "nothing more said")


def reading_changes(first: Reading, second: Reading) -> list[FactLine]:
    """What two versions say, line by line."""
    before, after = facts_in_words(first), facts_in_words(second)
    found: list[FactLine] = []
    for tag, a, b, c, d in SequenceMatcher(None, before, after, autojunk=False).get_opcodes():
        if tag == "equal":
            found += [FactLine("both", text) for text in before[a:b]]
        else:
            found += [FactLine("first", text) for text in before[a:b]] + [
                FactLine("second", text) for text in after[c:d]
            ]
    return found


def gap_question(reading: Reading, text: str) -> tuple[str, Fraction] | None:
    """A percent that falls between ranges printed as whole numbers ('80–89, 90–100'), where rounding is not said."""
    if reading.rounding is not None or reading.scale_unit != "percent" or len(reading.scale) < 2:
        return None
    ordered = sorted(reading.scale, key=lambda row: -row.cutoff)
    for better, worse in pairwise(ordered):
        top = better.cutoff - 1
        printed = any(f"{worse.cutoff}{dash}{top}" in text.replace(" ", "") for dash in "-–—") or any(
            f"{top}{dash}{worse.cutoff}" in text.replace(" ", "") for dash in "-–—"
        )
        if better.cutoff.denominator == 1 and printed:
            return better.letter, better.cutoff - Fraction(1, 2)
    return None
