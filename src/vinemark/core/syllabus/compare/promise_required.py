"""The requirement that a sentence promises, as the fields of its form: something to reach, or work and days missed."""

import re

from vinemark.core.base.number import exact_text
from vinemark.core.plan.plan import Item, Plan, ScaleRow
from vinemark.core.syllabus.compare.promise_words import (
    OF_HUNDRED,
    SAID_AMOUNT,
    Promise,
    amount,
    amount_found,
    category_named,
    item_named,
)
from vinemark.core.syllabus.read.naming import stems

_ORDINALS = {"first": 1, "second": 2, "third": 3, "fourth": 4, "fifth": 5, "sixth": 6, "seventh": 7, "eighth": 8}
_ABSENCES, _DAYS_MISSED = "Absences", "Days missed"
_LETTER = r"\b(?:an? |the |of )?([a-d][+-]?|f)(?![\w+])"


_LEAST_LETTER = re.compile(
    rf"\b(?:at least|minimum of|minimum|earn|score|average)\b(?: \w+)? ?{_LETTER}|{_LETTER} or (?:better|higher|above)"
)
_LETTER_AT_MOST = re.compile(
    rf"\b(?:(?:no )?(?:more|higher|better) than|at most|above|maximum (?:grade )?(?:of|is)) {_LETTER}"
)
_LETTERS_DOWN = re.compile(
    rf"\b(?:(third|half|1/3|1/2)(?: of)?(?: an?)?|{SAID_AMOUNT}|an?)? ?(?:full |whole )?letter( step)?s?\b"
)
_LESS = re.compile(r"\blower|\breduc|\bdrop|\bdown\b|\blos[es]|\bdeduct|\btake|\boff\b|\bcosts?|\bminus|\bsubtract")


def requirement_promised(plan: Plan, said: str, text: str) -> Promise:
    """Something to reach, or work that must not be missed."""
    if re.search(r"\babsen", said):
        return attendance_promised(plan, said, text)
    missed = _missed(plan, said)
    condition = missed or _reached(plan, said)
    effect = _effect(plan, said) if missed else _failing(plan, said)
    records = _DAYS_MISSED if missed and not missed["subject"] else ""
    return Promise("requirement", {**condition, **effect, "text": text}, records)


def _reached(plan: Plan, said: str) -> dict[str, str]:
    """Something to reach: 'you must pass the final', 'at least 60% on the labs'."""
    item, category = item_named(plan, said, None), category_named(plan, said)
    if item is not None and category is not None and not set(stems(item.name)) >= set(stems(category.name)):
        item = None
    subject = f"item {item.id}" if item else f"category {category.id}" if category else ""
    if category is not None and len(category.items) != 1 and item is None:
        subject = f"category {category.id}"
    percent = amount_found(rf"\b{SAID_AMOUNT}{OF_HUNDRED}", said)
    letter = _LEAST_LETTER.search(said)
    if not percent and letter:
        percent = _cutoff(plan, letter[1] or letter[2])
    if not percent and re.search(r"\bpass", said):
        percent = _lowest_pass(plan)
    return {"subject": subject, "condition": "percent_below", "threshold": percent}


def _missed(plan: Plan, said: str) -> dict[str, str]:
    """Work or days missed: 'more than one missed field day', 'miss two or more labs'."""
    if not re.search(r"\bmiss", said):
        return {}
    many = _more_than(said)
    category = category_named(plan, said)
    if not many:
        return {}
    if category is None:
        counted = _counted(plan, said)
        subject = f"item {counted.id}" if counted else ""
        return {"subject": subject, "condition": "value_above", "threshold": str(many)}
    return {"subject": f"category {category.id}", "condition": "missed_at_least", "threshold": str(many + 1)}


def _more_than(said: str) -> int:
    """How many are still allowed; 0 where none is said."""
    match = re.search(rf"\b(?:more than|over|beyond|exceed\w*|above|after) (?:the )?{SAID_AMOUNT}\b", said)
    if match:
        return int(amount(match[1]))
    match = re.search(rf"\b{SAID_AMOUNT} or more\b|\bat least {SAID_AMOUNT} miss", said)
    if match:
        return int(amount(match[1] or match[2])) - 1
    match = re.search(rf"\b{SAID_AMOUNT} (?:\w{{1,12}} )?absences? (?:are|is) (?:allowed|free|excused|permitted)", said)
    if match:
        return int(amount(match[1]))
    match = re.search(rf"\b{SAID_AMOUNT} (?:\w{{1,12}} )?absences?\b|\bmiss(?:es|ed|ing)? {SAID_AMOUNT} ", said)
    if match:
        return int(amount(match[1] or match[2])) - 1
    match = re.search(rf"\b(?:from|starting with|with) (?:the |your )?({'|'.join(_ORDINALS)})\b", said)
    if match:
        return _ORDINALS[match[1]] - 1
    match = re.search(rf"\b(?:after|beyond) (?:the |your )?({'|'.join(_ORDINALS)})\b", said)
    return _ORDINALS[match[1]] if match else 0


def attendance_promised(plan: Plan, said: str, text: str) -> Promise:
    """What days missed do to the grade."""
    missed = _missed(plan, said)
    if missed and not re.search(r"\babsen|\bclass", said):
        return Promise("requirement", {**missed, **_effect(plan, said), "text": text})
    counted = _counted(plan, said)
    many = _more_than(said)
    condition = {
        "subject": f"item {counted.id}" if counted else "",
        "condition": "value_above",
        "threshold": str(many) if many else "",
    }
    return Promise("requirement", {**condition, **_effect(plan, said), "text": text}, "" if counted else _ABSENCES)


def _counted(plan: Plan, said: str) -> Item | None:
    """What is recorded of absences or of days missed: of several the one that shares most words with the sentence."""
    found = [item for item in plan.columns.values() if re.search(r"absen|\bmissed\b", item.name.lower())]
    words = set(stems(said))
    return max(found, key=lambda item: len(words & set(stems(item.name))), default=None)


def _effect(plan: Plan, said: str) -> dict[str, str]:
    """What becomes of the grade: a letter at most, steps down, points off, or failing."""
    each = "1" if re.search(r"\b(?:each|every|per|for each)\b", said) else ""
    most = _LETTER_AT_MOST.search(said)
    if most:
        return {"consequence": "letter_at_most", "amount": most[1].upper(), "for_each": ""}
    steps = _LETTERS_DOWN.search(said)
    if steps and _LESS.search(said):
        part = "third" if steps[3] else steps[1]
        return {
            "consequence": "letters_down",
            "amount": _steps(plan, part, steps[2]),
            "for_each": each,
        }
    off = amount_found(rf"\b{SAID_AMOUNT}(?:{OF_HUNDRED}| points?\b)", said)
    if off and _LESS.search(said):
        return {"consequence": "percent_down", "amount": off, "for_each": each}
    return _failing(plan, said) if re.search(r"\bfail|\bcannot pass|\bto pass", said) else {}


def _failing(plan: Plan, said: str) -> dict[str, str]:
    most = re.search(rf"\b(?:no (?:more|higher|better) than|at most) {_LETTER}", said)
    lowest = most[1].upper() if most else _by_cutoff(plan)[-1].letter if plan.scale else ""
    return {"consequence": "letter_at_most", "amount": lowest, "for_each": ""}


def _steps(plan: Plan, part: str | None, number: str | None) -> str:
    """A third of a letter is one row of a scale with plus and minus; a whole letter is all rows of a letter."""
    fine = any(row.letter[1:] in {"+", "-", "−"} for row in plan.scale)
    if part in {"third", "1/3"}:
        return "1"
    return str(int(amount(number or "one")) * (3 if fine else 1)) if part is None else ""


def _by_cutoff(plan: Plan) -> list[ScaleRow]:
    return sorted(plan.scale, key=lambda row: -row.cutoff)


def _lowest_pass(plan: Plan) -> str:
    """The lowest percent that is no fail: where the letter above the lowest begins."""
    rows = _by_cutoff(plan)
    return exact_text(rows[-2].cutoff) if len(rows) > 1 else ""


def _cutoff(plan: Plan, letter: str) -> str:
    return next((exact_text(row.cutoff) for row in plan.scale if row.letter.lower() == letter), "")
