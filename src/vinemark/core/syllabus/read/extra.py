"""Extra credit said in a sentence: on top of the whole grade, in percent or points."""

import re
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from vinemark.core.syllabus.facts import SaidCategory
from vinemark.core.syllabus.read.layout import Page, Sentence
from vinemark.core.syllabus.read.mentions import Amount, amounts
from vinemark.core.syllabus.read.naming import is_extra

ON_TOP = re.compile(
    r"\b(?:extra|bonus)\b|\bon top of\b|\b(?:beyond|above) the \d|\badds? (?:at most|as much as|as many as) |"
    r"\badded (?:on)?to (?:your|the) (?:final|course|overall|total|semester|term|grade|average)\b"
)
NONE = re.compile(
    r"\bno (?:extra|bonus)|\bnot (?:offer|give|accept|available|possible|be (?:any|given|offered))|\bnever\b|"
    r"\bthere is none\b|"
    r"\bdo not (?:ask|offer)|\bdon't (?:ask|offer)|\bneither\b|\bwithout extra\b"
)
WITHIN_ITEM = re.compile(
    r"\bbonus (?:questions?|problems?|items?|parts?|rounds?)\b|\bon (?:each|every|that|the|an?|any) (?:\w+ "
    r")?(?:exam|test|quiz|paper|set|lab|assignment|homework)\b|"
    r"\b(?:exams?|tests?|quiz(?:zes)?|sets?|papers?) (?:may |will )?(?:have|has|include|contain)"
)
MOST_OF_EXTRA = re.compile(
    r"\b(?:up to|at most|a maximum of|maximum(?: of)?|no more than|not more than|capped at|as much as|as many "
    r"as|limit(?:ed)? (?:to|of|is)|max\.?|"
    r"most (?:that )?(?:you|anyone) can (?:earn|get|gain) is) ?(?:of )?(?:another |an additional |an extra |a "
    r"total of )?$"
)
NO_EXTRA = re.compile(
    r"\blate\b|\bloses?\b|\bextra (?:time|day|copies|help|absence|session)|\bextra-?curricular|\bper day\b|"
    r"\brounded\b|\babsences?\b"
)
AVERAGE = re.compile(
    r"\b(?:final|course|overall|semester|term) (?:average|grade|percentage|mark|score|percent)|\bpercentage "
    r"points?\b"
)


class SaidExtra(NamedTuple):
    """Extra credit with its place."""

    category: SaidCategory
    start: int
    end: int


def find_extra(page: Page, weighted: bool) -> SaidExtra | None:
    """The first sentence that offers extra credit on the whole grade and says how much."""
    return next(_offers(page, weighted), None)


def _offers(page: Page, weighted: bool) -> Iterator[SaidExtra]:
    for block in page.blocks:
        if block.section.kind in {"calendar", "rubric"} or block.kind == "heading":
            continue
        opened = is_extra(block.section.heading) or re.search(r"\bextras?\b|\bbonus", block.section.heading) is not None
        for sentence in block.sentences:
            spoken = opened or ON_TOP.search(sentence.text) is not None
            if not spoken or NONE.search(sentence.text) or NO_EXTRA.search(sentence.text):
                continue
            within = WITHIN_ITEM.search(sentence.text)
            opened = opened or (is_extra(sentence.text) and not within)
            found = None if within else _best(sentence.text)
            if found is not None and (opened or ON_TOP.search(sentence.text)):
                yield _made(sentence, found, weighted)


def _best(text: str) -> Amount | None:
    """The most that can be had, else the amount of the sentence."""
    found: Sequence[Amount] = [a for a in amounts(text) if _can_be(text, a)]
    limits = [a for a in found if MOST_OF_EXTRA.search(text[max(0, a.start - 50) : a.start])]
    return (limits or found or [None])[0]  # type: ignore[list-item]


MOST_PERCENT = 25
BOUND = re.compile(r"(?<!no )(?<!not )\b(?:above|below|over|under|more than|less than|at least|beyond) (?:the )?$")


def _can_be(text: str, amount: Amount) -> bool:
    """Whether an amount can be extra credit: no bound of something else, no large share of the grade."""
    if amount.value is None or BOUND.search(text[: amount.start]):
        return False
    return amount.unit == "points" or amount.value <= MOST_PERCENT


def _made(sentence: Sentence, amount: Amount, weighted: bool) -> SaidExtra:
    made = SaidCategory(_name(sentence.text, amount.start), extra=True, start=sentence.start, end=sentence.end)
    in_percent = amount.unit == "weight" or AVERAGE.search(sentence.text)
    if weighted and in_percent:
        made.weight = amount.value
    elif amount.unit == "points":
        made.points = amount.value
    elif not weighted:
        made.weight = amount.value
    return SaidExtra(made, sentence.start, sentence.end)


NAMED = re.compile(
    r"^\W*(?P<before>[a-z][a-z' -]{3,40}?) ?\((?:extra credit|bonus)\)|^\W*(?:extra credit|bonus)[:,-] "
    r"?(?P<after>[a-z][a-z' -]{3,30}?)[:,(-]"
)


def _name(text: str, amount_at: int) -> str:
    """A short name at the start of the sentence, or plain 'Extra credit'."""
    found = NAMED.match(text)
    name = (found["before"] or found["after"] or "") if found and found.end() <= amount_at + 2 else ""
    return name[:1].upper() + name[1:] if 0 < len(name.split()) <= 5 else "Extra credit"
