"""Sentences that promise a further rule: which rule of the plan holds one, and the rule that one would make.

What can be read of a sentence becomes the fields of the rule's form, as somebody would type them; what cannot stays
empty. Nothing is invented: a sentence whose numbers are not found opens the form instead of making a rule.
"""

import re
from collections.abc import Callable, Mapping
from fractions import Fraction

from vinemark.core.base.number import exact_text
from vinemark.core.plan.plan import Category, Plan
from vinemark.core.syllabus.compare.promise_late import late_promised
from vinemark.core.syllabus.compare.promise_required import attendance_promised, requirement_promised
from vinemark.core.syllabus.compare.promise_words import (
    EVERYWHERE,
    OF_HUNDRED,
    SAID_AMOUNT,
    Promise,
    amount,
    category_named,
    item_named,
)
from vinemark.core.syllabus.facts import About
from vinemark.core.syllabus.read.naming import stems
from vinemark.core.syllabus.read.normal import even, lowered

_MOST_SIGNS = 1000
_WEAKEST = re.compile(
    rf"\b(?:{SAID_AMOUNT} )?(?:lowest|weakest|worst|poorest|lower)(?: of)?(?: (?:your|the|these))? (.{{3,40}})"
)
_REPLACED_BY = re.compile(r"(\b[^.;]{3,60}) (?:is|are|will be|may be|can be) replaced (?:by|with) ([^.;]{3,80})")
_NOT_MISSED = re.compile(r"\bmissed\b[^.;]{0,40}\b(?:not|cannot)\b|\bnot\b[^.;]{0,40}\bmissed\b")
_POINTS_ADDED = re.compile(
    rf"\badd(?:s|ed|ing)? {SAID_AMOUNT}(?:{OF_HUNDRED}| points?\b)"
    rf"|\b{SAID_AMOUNT}(?:{OF_HUNDRED}| points?) (?:are |is )?added"
    rf"|\b(?:up|raised|curved)(?: up)? by {SAID_AMOUNT}(?:{OF_HUNDRED}| points?\b)"
)


def held_by(plan: Plan, about: About, adjusted: bool = False) -> bool:
    """Whether the plan has a rule of the kind; `adjusted`: whether any student has an adjustment."""
    return {
        "late": any(category.late for category in plan.categories),
        "replacement": bool(plan.replacements),
        "alternative": bool(plan.alternatives),
        "requirement": bool(plan.requirements),
        "attendance": bool(plan.requirements),
        "curve": bool(plan.added) or adjusted,
    }[about]


def promise_of(plan: Plan, text: str, about: About) -> Promise:
    """The rule that a sentence would make of a plan."""
    said = " ".join(lowered(even(text[:_MOST_SIGNS])).split())
    return _READERS[about](plan, said, " ".join(text.split()))


def _replacement(plan: Plan, said: str, _: str) -> Promise:
    passive = _REPLACED_BY.search(said)
    if passive:
        into = category_named(plan, passive[1])
        source = item_named(plan, passive[2], into)
        fields = {"source": source.id if source else "", "into": into.id if into else "", "count": "1", "missed": ""}
        return Promise("replacement", fields)
    low = _WEAKEST.search(said)
    into = category_named(plan, low[2]) if low else None
    into = into or (category_named(plan, said.partition("replac")[2]) if "replac" in said else None)
    source = item_named(plan, said, into)
    fields = {
        "source": source.id if source else "",
        "into": into.id if into else "",
        "count": exact_text(amount(low[1])) if low and low[1] else "1",
        "missed": "no" if _NOT_MISSED.search(said) else "",
    }
    return Promise("replacement", fields)


def _alternative(plan: Plan, said: str, _: str) -> Promise:
    weights: dict[Category, Fraction | None] = {}
    for category in plan.categories:
        found = [] if category.extra else _numbers_beside(category.name, said)
        own = category.weight or Fraction(0)
        other = next((number for number in found if number != own), found[0] if found else None)
        if not category.extra:
            weights[category] = other
    if not any(weights.values()):
        return Promise("alternative", {"name": "The better of two"})
    typed = {f"weight-{c.id}": exact_text((c.weight or Fraction(0)) if w is None else w) for c, w in weights.items()}
    return Promise("alternative", {"name": "The better of two", **typed})


def _numbers_beside(name: str, said: str) -> list[Fraction]:
    """Percents that stand beside a name, before it or after it."""
    words = [word for word in stems(name) if word not in EVERYWHERE] or [name.lower()]
    word = f"(?:{'|'.join(re.escape(one) for one in words)})"
    pattern = (
        rf"\b{SAID_AMOUNT}{OF_HUNDRED} (?:on |for |to |from |of )?(?:the |your )?"
        rf"(?:(?!and\b|or\b|plus\b)\w{{1,12}} )?{word}"
        rf"|\b{word}\w{{0,3}} ?(?:at|for|is|are|counts?|worth|to|:|=|\()? ?(?:for )?{SAID_AMOUNT}{OF_HUNDRED}"
    )
    return [amount(match[1] or match[2]) for match in re.finditer(pattern, said)]


def _curve(plan: Plan, said: str, _: str) -> Promise:
    match = _POINTS_ADDED.search(said)
    number = next((one for one in match.groups() if one), "") if match else ""
    return Promise("added", {"added": exact_text(amount(number)) if number else ""})


_READERS: Mapping[About, Callable[[Plan, str, str], Promise]] = {
    "late": late_promised,
    "replacement": _replacement,
    "alternative": _alternative,
    "requirement": requirement_promised,
    "attendance": attendance_promised,
    "curve": _curve,
}
