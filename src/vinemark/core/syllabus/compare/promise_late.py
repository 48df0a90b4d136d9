"""The rule for late work that a sentence promises, as the fields of its form."""

import re
from fractions import Fraction

from vinemark.core.base.number import exact_text
from vinemark.core.plan.plan import HUNDRED, Category, Plan
from vinemark.core.syllabus.compare.promise_words import (
    OF_HUNDRED,
    SAID_AMOUNT,
    Promise,
    amount,
    amount_found,
    category_named,
)

_DAYS = r" ?-?(?:\w{1,12} )?(days?|weeks?|hours?)\b"
_LATER = r"(?:after|more than|beyond|later than|past)"
_A_DAY = r"[^.;]{0,50}?\b(?:per|a|an|each|every)\b(?: \w{1,12}){0,2} (?:day|24)"
_FREE_DAYS = r"(?:free|slip|grace|extension|flex|penalty-free)\b(?: \w{1,12}){0,2} ?days?\b"
_GIVEN = r"(?:has|have|gets?|given|uses?|allowed|receives?)"
_NOTHING = (
    r"(?:zero|not (?:be )?(?:accepted|taken|graded)|no credit|counts? (?:as|for) (?:0|nothing)|worth nothing|no points)"
)


def late_promised(plan: Plan, said: str, _: str = "") -> Promise:
    """A rule for late work."""
    category = category_named(plan, said)
    of_score = re.search(
        r"\bof (?:its|the|their|your) (?:earned )?(?:score|grade|mark|earned points)\b|of what it earn", said
    )
    per_day = amount_found(rf"\b{SAID_AMOUNT}{OF_HUNDRED}{_A_DAY}", said) or _points_a_day(category, said)
    per_day = per_day or ("10" if re.search(rf"\ba tenth\b{_A_DAY}", said) else "")
    if not per_day and not re.search(r"\d", said) and re.search(_NOTHING, said) and not re.search(_LATER, said):
        per_day = "100"
    return Promise(
        "late",
        {
            "category": category.id if category else "",
            "per_day": per_day,
            "of": "score" if of_score else "points",
            "at_most": _most(said, per_day),
            "grace_days": _grace(said),
            "free_days": amount_found(rf"\b{SAID_AMOUNT} {_FREE_DAYS}", said)
            or amount_found(rf"\b{_GIVEN}\b[^.;]{{0,30}}?\b{SAID_AMOUNT} (?:[\"\w-]{{1,14}} )?late days?", said),
            "last_day": _last_day(said),
        },
    )  # fmt: skip


def _points_a_day(category: Category | None, said: str) -> str:
    """Points a day as a percent, where every item of the category has the same points."""
    points = amount_found(rf"\b{SAID_AMOUNT} points?\b{_A_DAY}", said)
    worth = {item.points for item in category.regular} if category else set()
    return exact_text(HUNDRED * Fraction(points) / worth.pop()) if points and len(worth) == 1 else ""


def _most(said: str, per_day: str) -> str:
    found = amount_found(
        rf"\b(?:up to|at most|maximum(?: of)?|no more than|capped at)(?: a| of)* {SAID_AMOUNT}{OF_HUNDRED}", said
    )
    days = amount_found(rf"\b(?:for|up to) (?:at most |up to )?{SAID_AMOUNT}(?: \w{{1,12}})? days?\b", said)
    if found or not (days and per_day) or re.search(_NOTHING, said) or _last_day(said):
        return found
    return exact_text(min(HUNDRED, Fraction(days) * Fraction(per_day)))


def _grace(said: str) -> str:
    match = re.search(rf"\b{SAID_AMOUNT}{_DAYS} grace|\bgrace period of {SAID_AMOUNT}{_DAYS}", said)
    if match is None:
        return ""
    return _in_days(match[1] or match[3], match[2] or match[4])


def _last_day(said: str) -> str:
    """After how many days nothing counts."""
    if re.search(rf"\b{_LATER} a week\b[^.;]{{0,60}}\b{_NOTHING}", said):
        return "7"
    match = re.search(
        rf"\b{_LATER} {SAID_AMOUNT}{_DAYS}[^.;]{{0,60}}\b{_NOTHING}"
        rf"|\b{_NOTHING}\b[^.;]{{0,40}}\b{_LATER} {SAID_AMOUNT}{_DAYS}",
        said,
    )
    if match is not None:
        return _in_days(match[1] or match[3], match[2] or match[4])
    within = re.search(rf"\baccepted (?:for )?(?:up to|until|within) {SAID_AMOUNT}{_DAYS}", said)
    return _in_days(within[1], within[2]) if within else ""


def _in_days(number: str, unit: str) -> str:
    days = amount(number) * (7 if unit.startswith("week") else 1) / (24 if unit.startswith("hour") else 1)
    return exact_text(Fraction(-(-days.numerator // days.denominator)))
