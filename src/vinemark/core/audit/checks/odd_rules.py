"""Checks of figures of the plan that are hardly meant: caps, due dates outside the term, a scale out of order."""

import re
from collections.abc import Iterator, Sequence
from fractions import Fraction
from itertools import pairwise
from typing import Final

from vinemark.core.audit.finding import Facts, Found
from vinemark.core.base.dates import day_words
from vinemark.core.base.number import exact_text
from vinemark.core.plan.plan import HUNDRED, Category, ScaleRow
from vinemark.core.plan.scale import sorted_scale
from vinemark.core.syllabus.read.layout import Page

LEAST_CAP, MOST_CAP = Fraction(50), Fraction(200)
CAP_WORDS: Final = re.compile(
    r"\b(?:cap|caps|capped|at most|no more than|up to|maximum|cannot exceed|can not exceed|limit|limited|limits)\b",
    re.IGNORECASE,
)
PERCENT: Final = re.compile(r"(\d{1,5}(?:\.\d{1,6})?)\s?(?:%|percent\b|per cent\b)", re.IGNORECASE)
RANKED: Final = ("A+", "A", "A-", "B+", "B", "B-", "C+", "C", "C-", "D+", "D", "D-", "E+", "E", "E-", "F+", "F", "F-")


def cap_odd(facts: Facts) -> Iterator[Found]:
    """A cap below 50% or above 200% that no sentence of the syllabus says."""
    caps: list[tuple[Category | None, Fraction | None]] = [(None, facts.plan.cap)]
    caps += [(category, category.cap) for category in facts.plan.categories]
    for category, cap in caps:
        if cap is not None and not LEAST_CAP <= cap <= MOST_CAP and not _is_said(facts, cap):
            name = category.name if category else "the course"
            yield Found(
                f"The cap of {name} is {exact_text(cap)}%.",
                category=category.id if category else None,
                evidence=["The syllabus does not say it." if facts.course.syllabus else "There is no syllabus text."],
            )


def _is_said(facts: Facts, cap: Fraction) -> bool:
    if not facts.course.syllabus:
        return False
    sentences = [sentence.text for sentence in Page(facts.course.syllabus).sentences]
    return any(
        CAP_WORDS.search(text) and cap in {Fraction(number) for number in PERCENT.findall(text)} for text in sentences
    )


def due_outside(facts: Facts) -> Iterator[Found]:
    """A due date before the term's first day or after its last."""
    term = facts.course.term
    for category, item in facts.plan.items():
        if item.due is not None and not term.starts <= item.due <= term.ends:
            where = "before the term starts" if item.due < term.starts else "after the term ends"
            yield Found(
                f"{item.name} is due {day_words(item.due)}, {where}.",
                category=category.id,
                item=item.id,
                evidence=[f"The term runs from {day_words(term.starts)} to {day_words(term.ends)}."],
            )


def scale_odd(facts: Facts) -> Iterator[Found]:
    """A cutoff above 100, or letters out of rank."""
    scale = sorted_scale(facts.plan.scale)
    high = [row for row in scale if row.cutoff > HUNDRED]
    said = [f"{row.letter}: {exact_text(row.cutoff)}" for row in scale]
    if high:
        letters = ", ".join(row.letter for row in high)
        yield Found(f"The cutoff of {letters} is above 100: points read as percent?", evidence=said)
        return
    wrong = out_of_rank(scale)
    if wrong is not None:
        upper, lower = wrong
        yield Found(f"{lower.letter} has a lower cutoff than {upper.letter}, which is the lower letter.", evidence=said)


def out_of_rank(scale: Sequence[ScaleRow]) -> tuple[ScaleRow, ScaleRow] | None:
    """The first two of the letters A to F, by falling cutoff, that stand the other way round."""
    known = [row for row in scale if _sign(row.letter) in RANKED]
    places = [RANKED.index(_sign(row.letter)) for row in known]
    return next((known[n : n + 2] for n, (one, other) in enumerate(pairwise(places)) if one > other), None)  # type: ignore[return-value]


def _sign(letter: str) -> str:
    return letter.replace("−", "-").strip()


def drops_highest(facts: Facts) -> Iterator[Found]:
    """A category that drops its highest scores and no lowest ones, and no sentence of the syllabus says so."""
    said = re.search(r"\bhighest\b|\bbest\b", facts.course.syllabus or "", re.IGNORECASE)
    for category in facts.plan.categories:
        if category.drop_highest and not category.drop_lowest and category.keep_best is None and not said:
            count = category.drop_highest
            yield Found(
                f"{category.name} drops the highest {'score' if count == 1 else f'{count} scores'}, and no lowest.",
                category=category.id,
                evidence=["Most syllabuses drop the lowest."],
            )
