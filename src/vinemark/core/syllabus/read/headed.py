"""Shares of the grade that stand below a heading or behind a label each: 'Exercises', and under it 'Due on Fridays,
worth 30%'. They are believed where together they make up the whole."""

import re
from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass, field
from fractions import Fraction

from vinemark.core.plan.plan import HUNDRED
from vinemark.core.syllabus.read.layout import Page, Sentence, TextBlock
from vinemark.core.syllabus.read.lexicon import is_work
from vinemark.core.syllabus.read.mentions import OF_GRADE, Amount, amounts
from vinemark.core.syllabus.read.naming import Name, clean, is_extra
from vinemark.core.syllabus.read.normal import BULLETS
from vinemark.core.syllabus.read.prose import (
    BOUND_BEFORE,
    GRADES,
    LABEL_ONLY,
    NEEDED_BEFORE,
    NOT_OF_GRADE,
    NOT_WORK,
    OWN_SHARE,
    PENALTY,
    RUBRIC,
    RUN_IN,
    Said,
    clause_around,
    heading_sentence,
)
from vinemark.core.syllabus.read.row_reading import NOT_NAME

FEWEST_HEADED = 3
SURELY_SAID = 60
EACH_BEHIND = re.compile(r"^ ?(?:points? |pts )?(?:each|apiece|per (?:one|piece))\b")
EACH_LEADS = re.compile(r"\b(?:each(?: one| of them)?|every one) (?:is |are |counts? |is worth |worth |counts? for )*$")
GIVES = re.compile(r"\b(?:weight|worth|value|share|counts?|carr(?:y|ies)|makes?|brings?)\b")
BRACKETED_LABEL = re.compile(r"^\W*(?P<label>[a-z][a-z0-9 &/'-]{2,40}?) ?\([^()]{1,80}\) ?(?:\.|:| -)\s")
"""'Weekly quizzes (12, the two lowest are dropped): 25%'."""
OF_THE_WORK = re.compile(r"^ of (?:it|this|that|them|these)\b")
"""Below a name 'each partner writes 50% of it' speaks of the work, not of the grade."""
GIVEN_BEFORE = re.compile(r"\b(?:weight|worth|value|share|percentage)(?: of (?:the )?(?:course |final )?grade)?: $")


@dataclass
class _Stretch:
    """A name and the sentences below it."""

    name: Name
    sentences: list[tuple[int, Sentence]] = field(default_factory=list)


def said_headed(page: Page, totals: Collection[Fraction]) -> list[Said]:
    """One amount under each of several names, where they make up 100% or a stated total of points."""
    for plain in (False, True):
        stretches = [one for one in _stretches(page, plain) if not is_extra(one.name.text)]
        for unit, wholes in (("weight", {HUNDRED}), ("points", totals)):
            found = [said for one in stretches if (said := _only_amount(one, unit)) is not None]
            total = sum((said.whole or Fraction(0) for said in found), Fraction(0))
            if len(found) >= FEWEST_HEADED and total in wholes and _names_work(found):
                return found
    return []


def _names_work(found: Sequence[Said]) -> bool:
    named = [any(is_work(word) for word in said.name.lower().split()) for said in found]
    return len({said.name.lower() for said in found}) == len(found) and 2 * sum(named) >= len(found)


def _stretches(page: Page, plain: bool) -> Iterator[_Stretch]:
    """Below headings and names in bold; with `plain`, behind labels in plain letters too."""
    stretch: _Stretch | None = None
    for number, block in enumerate(page.blocks):
        named = _name(page, block, plain)
        if named is not None or block.kind == "heading":
            if stretch is not None:
                yield stretch
            stretch = _Stretch(named) if named is not None else None
        if stretch is not None:
            told = [heading_sentence(page, block)] if block.kind == "heading" else block.sentences
            stretch.sentences += [(number, sentence) for sentence in told]
    if stretch is not None:
        yield stretch


def _name(page: Page, block: TextBlock, plain: bool) -> Name | None:
    """The name that a heading, or the label of a paragraph, bears."""
    if block.section.kind in ({"calendar", "rubric", "scale"} | ({"grading"} if block.kind == "heading" else set())):
        return None
    words, begin, end = page.flat[block.start : block.end], block.start, block.end
    if block.kind != "heading":
        led = (RUN_IN.match(words) or BRACKETED_LABEL.match(words)) if plain else None
        bold = page.bold_lead(block.start, block.end)
        if led is None and bold is None:
            return None
        if led is not None:
            begin, end = block.start + led.start("label"), block.start + led.end("label")
        else:
            begin, end = block.start, block.start + words.find(str(bold)) + len(str(bold))
    name = clean(page.text[begin:end].strip(f" #*_:=-+{BULLETS}"))
    text = name.text.lower()
    return None if not text or text in NOT_WORK or NOT_NAME.match(text) or LABEL_ONLY.match(text) else name


def _only_amount(stretch: _Stretch, unit: str) -> Said | None:
    """The one amount of the grade in a stretch; of several the one that is said to be of the grade."""
    every = [
        (number, sentence, amount)
        for number, sentence in stretch.sentences
        for amount in amounts(sentence.text)
        if amount.unit == unit and amount.value is not None and not _is_other(sentence.text, amount)
    ]
    surest = [_sureness(sentence, amount) for _, sentence, amount in every]
    every = [one for one, sure in zip(every, surest, strict=True) if sure == max(surest)]
    if len(every) != 1:
        return None
    number, sentence, amount = every[0]
    text = sentence.text
    each = EACH_BEHIND.match(text[amount.end :]) is not None or EACH_LEADS.search(text[: amount.start]) is not None
    return Said(
        stretch.name.text, sentence.start, sentence.start + amount.end, amount.value, each, stretch.name.number, False,
        SURELY_SAID, unit=amount.unit, block=number,
    )  # fmt: skip


def _sureness(sentence: Sentence, amount: Amount) -> int:
    """How plainly an amount is said to be of the grade: best where it stands in the heading itself."""
    text = sentence.text
    clause, before = clause_around(text, amount.start, amount.end), text[: amount.start]
    heading, of_grade = sentence.paragraph < 0, OF_GRADE.match(text[amount.end :]) is not None
    gives = GIVES.search(clause) is not None or GIVEN_BEFORE.search(before) is not None
    return 8 * heading + 4 * of_grade + 2 * gives + (GRADES.search(clause) is not None)


def _is_other(text: str, amount: Amount) -> bool:
    """Whether an amount is taken off, a bound, or of something else than the grade."""
    before, after = text[: amount.start], text[amount.end :]
    if OF_THE_WORK.match(after):
        return True
    if OF_GRADE.match(after):
        return PENALTY.search(clause_around(text, amount.start, amount.end)) is not None
    near = text[max(0, amount.start - 70) : amount.end + 50]
    found = (
        PENALTY.search(clause_around(text, amount.start, amount.end)),
        NOT_OF_GRADE.match(after),
        OWN_SHARE.search(near),
        BOUND_BEFORE.search(before[-90:]),
        NEEDED_BEFORE.search(before),
        RUBRIC.search(text),
    )
    return any(one is not None for one in found)
