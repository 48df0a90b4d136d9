"""Extra credit said in a sentence: on top of the whole grade, in percent or points."""

import re
from collections.abc import Iterator, Sequence
from fractions import Fraction
from typing import NamedTuple

from vinemark.core.syllabus.facts import SaidCategory
from vinemark.core.syllabus.read.layout import Page, Sentence
from vinemark.core.syllabus.read.mentions import Amount, amounts
from vinemark.core.syllabus.read.naming import is_extra
from vinemark.core.syllabus.read.normal import phrase, whole

ON_TOP = re.compile(
    r"\b(?:extra|bonus)\b|\bon top of\b|\b(?:beyond|above) the \d|\badds? (?:at most|as much as|as many as) |"
    r"\badds? (?:up to )?[\w.]{1,8} ?(?:%|percent|percentage points?|points?) to (?:your|the|their) (?:final|course|"
    r"overall|total|semester|term|grade|average)\b|"
    r"\badded (?:on)?to (?:your|the|their) (?:final|course|overall|total|semester|term|grade|average)\b|"
    r"\braises? (?:your|the|their) (?:final |course |overall |semester |term )?(?:grade|average|percentage) by\b|"
    r"\bup to\b.{0,60}\boptional\b|\boptional\b.{0,60}\bup to\b|"
    r"\b(?:earn|get|gain|receive) (?:up to )?an additional [\w.]{1,6} ?(?:%|percent\b|percentage points?\b|points?\b)|"
    r"\badditional [\w.]{1,6} ?(?:%|percent|percentage points?|points?) (?:can|may) be (?:earned|had|gained)\b|"
    r"(?:(?<=^)|(?<=: )|(?<=\())\+\d{1,2}(?:\.\d{1,2})? ?(?:%|percent\b|points?\b|pts\b)"
)
NONE = re.compile(
    r"\bno (?:extra|bonus)|\bnot (?:offer|give|accept|available|possible|be (?:any|given|offered))|"
    r"\bnever\b(?! more than)|"
    r"\bthere is none\b|"
    r"\bdo not (?:ask|offer)|\bdon't (?:ask|offer)|\bneither\b|\bwithout extra\b"
)
PART_OF_SOME = re.compile(
    r"\bsome (?:of the )?[a-z]{3,16} (?:has|have|carry|include|contain) (?:an? )?(?:[a-z]{3,16} )?"
    r"(?:parts?|questions?|problems?|sections?)\b"
)
"""'Some programs have a challenge part': on top of an item, and not of the grade."""
WITHIN_ITEM = re.compile(
    rf"{PART_OF_SOME.pattern}|"
    r"\bbonus (?:questions?|problems?|items?|parts?|rounds?)\b|\bon (?:each|every|that|the|an?|any) (?:\w+ "
    r")?(?:exam|test|quiz|paper|set|lab|assignment|homework)\b|"
    r"\b(?:exams?|tests?|quiz(?:zes)?|sets?|papers?) (?:may |will )?(?:have|has|include|contain)|"
    r"\b(?:added|adds?|goes|go|counts?|points?) (?:on)?(?:to|towards?) (?:your |the |an? |each |any )?(?:\w+ "
    r")?(?:exam|test|quiz|paper|lab|midterm)\b"
)
MOST_OF_EXTRA = re.compile(
    r"\b(?:up to|at most|a maximum of|maximum(?: of)?|no more than|never more than|not more than|capped at|"
    r"as much as|as many "
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


OFTEN = phrase(
    r"\b(?:up to|at most|no more than|not more than|never more than|a maximum of|limit(?:ed to| of|"
    r":)?) (?:(?P<n>{number}) "
    r"(?:of (?:them|these|those)|times|such|different|(?:[a-z]+ )?[a-z]+s)\b|(?P<twice>twice))|"
    r"\b(?P<m>{number}) times at (?:the )?most|"
    r"\b(?P<two>twice) at (?:the )?most"
)
MOST_OFTEN = 20
LED_BY_EACH = re.compile(r"\W{0,6}(?:and )?(?:each|every)\b")
"""'Up to two hearings; each adds 1%': the amount is of one of those said before."""
EACH_RIGHT_BEHIND = re.compile(r" (?:of )?(?:extra credit |bonus )?(?:each|apiece)\b")


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
        before = ""
        for sentence in block.sentences:
            led, before = before, sentence.text
            spoken = opened or ON_TOP.search(sentence.text) is not None
            if not spoken or NONE.search(sentence.text) or NO_EXTRA.search(sentence.text):
                continue
            within = WITHIN_ITEM.search(sentence.text)
            opened = opened or (is_extra(sentence.text) and not within)
            found = None if within else _best(sentence.text)
            if found is not None and (opened or ON_TOP.search(sentence.text)):
                yield _made(sentence, found, weighted, led)


def _best(text: str) -> Amount | None:
    """The most that can be had, else the amount of the sentence."""
    found: Sequence[Amount] = [a for a in amounts(text) if _can_be(text, a)]
    limits = [a for a in found if _is_limit(text, a)]
    return (limits or found or [None])[0]  # type: ignore[list-item]


def _is_limit(text: str, amount: Amount) -> bool:
    return MOST_OF_EXTRA.search(text[max(0, amount.start - 50) : amount.start]) is not None


def most_of_row(text: str) -> tuple[Amount, int | None] | None:
    """The most that a row of extra credit gives, or how often its amount can be had; None where it says neither."""
    found = _best(text)
    often = _how_often(text, found) if found is not None else None
    return (found, often) if found is not None and (often or _is_limit(text, found)) else None


MOST_PERCENT = 25
BOUND = re.compile(
    r"(?<!no )(?<!not )(?<!never )\b(?:above|below|over|under|more than|less than|at least|beyond) (?:the )?$"
)


def _can_be(text: str, amount: Amount) -> bool:
    """Whether an amount can be extra credit: no bound of something else, no large share of the grade."""
    if amount.value is None or BOUND.search(text[: amount.start]):
        return False
    return amount.unit == "points" or amount.value <= MOST_PERCENT


def _made(sentence: Sentence, amount: Amount, weighted: bool, led: str) -> SaidExtra:
    made = SaidCategory(_name(sentence.text, amount.start), extra=True, start=sentence.start, end=sentence.end)
    in_percent = amount.unit == "weight" or AVERAGE.search(sentence.text)
    often = _how_often(sentence.text, amount, led)
    most = (amount.value or Fraction(0)) * (often or 1)
    made.count = often
    if weighted and in_percent:
        made.weight = most
    elif amount.unit == "points":
        made.points = most
        made.points_each = amount.value if often else None
    elif not weighted:
        made.weight = most
    return SaidExtra(made, sentence.start, sentence.end)


def _how_often(text: str, amount: Amount, led: str = "") -> int | None:
    """'5 points, at most twice': how often it can be had, perhaps by the words before; None for a limit."""
    if _is_limit(text, amount):
        return None
    before = LED_BY_EACH.match(text) or EACH_RIGHT_BEHIND.match(text, amount.end)
    said = OFTEN.search(text, amount.end) or (OFTEN.search(f"{led} {text[: amount.start]}") if before else None)
    if said is None:
        return None
    times = 2 if said["twice"] or said["two"] else whole(said["n"] or said["m"])
    return times if times and 1 < times <= MOST_OFTEN and said.start("n") != amount.start else None


LONGEST_NAME, LONGEST_NAME_BEHIND = 5, 3
"""In words; 'Bonus: enter the student map contest' tells what to do, and names nothing."""
NAMED = re.compile(
    r"^\W*(?P<before>[a-z][a-z' -]{3,40}?) ?\((?:extra credit|bonus)\)|^\W*(?:extra credit|bonus)[:,-] "
    r"?(?P<after>[a-z][a-z' -]{3,30}?)[:,(-]"
)


def _name(text: str, amount_at: int) -> str:
    """A short name at the start of the sentence, or plain 'Extra credit'."""
    found = NAMED.match(text)
    name = (found["before"] or found["after"] or "") if found and found.end() <= amount_at + 2 else ""
    most = LONGEST_NAME if found and found["before"] else LONGEST_NAME_BEHIND
    return name[:1].upper() + name[1:] if 0 < len(name.split()) <= most else "Extra credit"
