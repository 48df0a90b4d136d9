"""How many items a category has, said apart from its weight."""

import re
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from vinemark.core.base.names import singular
from vinemark.core.syllabus.facts import SaidCategory
from vinemark.core.syllabus.read.layout import Page, Sentence, TextBlock
from vinemark.core.syllabus.read.lexicon import is_work
from vinemark.core.syllabus.read.mentions import WorkName, phrases
from vinemark.core.syllabus.read.naming import mentioned, stems
from vinemark.core.syllabus.read.normal import phrase, whole
from vinemark.core.syllabus.read.row_remarks import ONE_EVENT, is_of_others
from vinemark.core.syllabus.read.subject import named_before

ITEMS = frozenset(
    [
        "assignment",
        "exercise",
        "entry",
        "set",
        "sheet",
        "installment",
        "submission",
        "post",
        "response",
        "piece",
        "issue",
        "log",
        "check",
        "report",
        "page",
        "paper",
        "response",
        "card",
        "note",
        "one",
    ]
)
"""What the items of a category may be called: 'seven sets in all'."""
NOT_COUNTED = re.compile(
    r"\b(?:miss|missed|missing|skip|skipped|up to|first|next|any|if|after|beyond|drops?|dropped|dropping|last|"
    r"best|top|highest|lowest|"
    r"worst|than|every|only|least|most|within|or|free|replace|exchange|choose|between|week|weeks|throw|discard|"
    r"forgive|passes|"
    r"pass)(?: (?:of|the|your|these))*\W*$"
)
RATE = re.compile(
    r"^(?: [a-z-]+){0,2} (?:a|per|each|every) (?:week|day|month|class|meeting|unit|chapter|term)\b(?! on)"
)
RATE_BEFORE = re.compile(r"\b(?:after|for|on|at|with) (?:each|every) (?!of\b)[a-z-]+,? (?:you|we|i) [a-z ]{1,16}$")
"""'After each walk you hand in two sketches' says how many at a time."""
TIMED = re.compile(
    r"\b(?:hours?|minutes?|pages?|weeks?|days?|words?|points?|questions?|students?|people|credits?|specimens?|sources?)$"
)
MOVED = re.compile(
    r"\b(?:may|can|could) be (?:moved|made up|missed|skipped|replaced|rescheduled|late)\b|\bthis week\b|\bworth of\b"
)
COUNT_OF_THEM = phrase(
    r"\b(?P<n>{number}) (?:of (?:them|these)\b(?! (?:will )?(?:means?|results?|leads?|lowers?|costs?)\b)|"
    r"(?:times )?in (?:all|total|number)\b|times (?:in|over|during) the)|of which "
    r"(?:there (?:will be|are)|i (?:give|assign|collect)|we (?:have|do)|you (?:do|write)) (?P<m>{number})|"
    r"(?<=, )(?P<k>{number}) (?:altogether|all told|[a-z]{3,16} by the end)\b|"
    r"(?:^\W*(?:[a-z ]{2,30}: )?)(?P<l>{number}) (?:are|will be) (?:assigned|given|collected|written|due)\b"
)
ALONE = phrase(
    r"^\W*(?:[a-z][a-z &'-]{2,40}[.:] )?(?:there (?:are|will be)|we have|you will have|expect) "
    r"(?P<n>{number})(?: of them)?(?: in (?:all|"
    r"total))?(?: this term| over the term)?(?:\W*$|,? (?:and|but) (?:i|we|your|only)\b)"
)
OVER_TERM = phrase(
    r"^\W*(?:there (?:will be|are) )?{n:number} (?:and\b|(?:over|in|during|through|throughout|across) the "
    r"(?:semester|term|course|year|quarter)\b)"
)
LABELLED = phrase(
    r"^\W*(?P<what>[a-z][a-z' -]{2,40}?) {0,4}(?:\(\d[^()]{0,12}\))?\W{0,2}: {1,4}(?P<n>{number})(?: in all| in total)?"
    r"(?:[.;,]*$|, (?=(?:the|of which|your|my)\b))"
)
IN_BRACKETS = phrase(
    r"\((?:there (?:are|will be) )?(?P<n>{number})(?!%)(?: (?!points?|pts|percent|minutes?|hours?|pages?|pp\b|weeks?|"
    r"lowest|best|x |of the|required|needed)[a-z-]+){0,2}(?=[,;)])"
)
OF_OTHERS = phrase(r"\b{number} [a-z]+, $")
"""'At least 6 sources, 2 of them from before 1950'."""
MOST_COUNTED = 60
OF_ALL_WORK = 4
"""A sentence that names so many categories speaks of none of them in particular."""


NUMBERED = phrase(r"{number}")


class SaidCount(NamedTuple):
    """A count with its place in the text."""

    category: SaidCategory
    number: int
    start: int
    end: int


def find_counts(page: Page, categories: Sequence[SaidCategory]) -> list[SaidCount]:
    """Every count that a sentence gives to a category, in the order of the text."""
    found: list[SaidCount] = []
    ordinary = [c for c in categories if not c.extra]
    if not ordinary:
        return []
    topic: SaidCategory | None = None
    for block in page.blocks:
        if block.section.kind in {"calendar", "rubric"} or block.kind in {"row"}:
            continue
        topic = _topic_of(page, block, ordinary) or topic
        for sentence in block.sentences:
            if NUMBERED.search(sentence.text):
                found += _of_sentence(sentence, ordinary, topic)
            named = mentioned(sentence.text, ordinary)
            topic = (named[0] if len(named) < OF_ALL_WORK else None) if named else topic
    return found


def _topic_of(page: Page, block: TextBlock, categories: Sequence[SaidCategory]) -> SaidCategory | None:
    """The category that a heading or the label of a paragraph names."""
    words = (
        page.flat[block.start : block.end]
        if block.kind == "heading"
        else re.split(r"[.:]", page.flat[block.start : block.end])[0]
    )
    named = mentioned(words, categories) if len(words) < 60 else []
    if not named and block.kind != "item":
        named = mentioned(block.section.heading, categories)
    return named[0] if named else None


ALL_DROPPED = re.compile(r", (?:the |your )?(?:lowest|worst)(?: ones?| of each)?, (?:is|are|do|does|will)\b")
"""'Two sets and two quizzes, the lowest, are dropped' counts what is dropped."""


def _of_sentence(
    sentence: Sentence, categories: Sequence[SaidCategory], topic: SaidCategory | None
) -> Iterator[SaidCount]:
    text = sentence.text
    if ALL_DROPPED.search(text):
        return
    for pattern in (LABELLED, ALONE, OVER_TERM):
        match = pattern.match(text)
        if match:
            named = mentioned(match["what"], categories) if pattern is LABELLED else [topic] if topic else []
            yield from _made(sentence, named[0] if named else None, match["n"], match.span("n"))
            return
    yield from _of_them(sentence, categories, topic)
    bracketed = list(IN_BRACKETS.finditer(text))
    for match in bracketed if len(bracketed) == 1 else ():
        speaking = named_before if match[0].startswith("(there") else _right_before
        near = speaking(text[: match.start()], categories)
        if near is None or not is_of_others(near.name, match[0]):
            yield from _made(sentence, near, match["n"], match.span())
    if MOVED.search(text):
        return
    for named_work in phrases(text, frozenset(c.name.lower() for c in categories)):
        if (
            named_work.count
            and named_work.count > 1
            and not TIMED.search(named_work.text)
            and not _no_count(text, named_work)
        ):
            category = _of_its_own(named_work, _category_of(named_work, text, categories, topic))
            yield from _made(sentence, category, str(named_work.count), (named_work.start, named_work.end))


def _of_them(sentence: Sentence, categories: Sequence[SaidCategory], topic: SaidCategory | None) -> Iterator[SaidCount]:
    """'There are six of them', 'ten in all'."""
    text = sentence.text
    for match in COUNT_OF_THEM.finditer(text):
        others = any(p.known for p in phrases(text[: match.start()]))
        near = named_before(text[: match.start()], categories) or (None if others else topic)
        near = None if near and ONE_EVENT.search(near.name.lower()) else near
        if OF_OTHERS.search(text[: match.start()]) and not _right_before(
            text[: match.start()].rstrip(", "), categories
        ):
            continue
        if text[: match.start()].endswith(", ") or not NOT_COUNTED.search(text[: match.start()]):
            yield from _made(sentence, near, match[match.lastgroup or "n"], match.span())


def _may_count(before: str, categories: Sequence[SaidCategory]) -> bool:
    """Whether 'six of them' behind some words counts work."""
    if OF_OTHERS.search(before) and not _right_before(before.rstrip(", "), categories):
        return False
    return before.endswith(", ") or not NOT_COUNTED.search(before)


def _right_before(text: str, categories: Sequence[SaidCategory]) -> SaidCategory | None:
    """The category whose name ends a text."""
    last = [p for p in phrases(text, frozenset(c.name.lower() for c in categories)) if not text[p.end :].strip()]
    named = mentioned(last[-1].text, categories) if last else []
    return named[0] if named else None


def _no_count(text: str, said: WorkName) -> bool:
    before = re.sub(r"[\w-]+\W*$", "", text[: said.start])
    often = RATE.match(text[said.end :]) or RATE_BEFORE.search(text[: said.start])
    return bool(NOT_COUNTED.search(before)) or often is not None


def _made(
    sentence: Sentence, category: SaidCategory | None, number: str, place: tuple[int, int]
) -> Iterator[SaidCount]:
    count = whole(number)
    if category is not None and count is not None and 1 < count <= MOST_COUNTED and not _single(category):
        yield SaidCount(category, count, sentence.start + place[0], sentence.start + place[1])


def _single(category: SaidCategory) -> bool:
    name = category.name.lower()
    return name in {"final", "final exam", "final examination", "participation", "attendance"} or name.endswith(
        " final exam"
    )


def _category_of(
    said: WorkName, text: str, categories: Sequence[SaidCategory], topic: SaidCategory | None
) -> SaidCategory | None:
    """The category a counted name speaks of: by its last word, or, for an item, the one spoken of."""
    words = stems(said.text)
    alike = [c for c in categories if words and stems(c.name) and words[-1] == stems(c.name)[-1]]
    if len(alike) == 1 and (len(words) > 1 or _of_several(alike[0])) and _may_be(alike[0], words, categories):
        return alike[0]
    if alike and (len(alike) > 1 or len(words) == 1):
        best = mentioned(said.text, alike) if len(alike) > 1 else []
        return best[0] if best and set(words[:-1]) & set(stems(best[0].name)) else None
    named = mentioned(said.text, categories)
    if named and words and is_work(words[-1]) and (words[-1] == stems(named[0].name)[-1] or named[0] is topic):
        return named[0]
    if words and singular(words[-1]) in ITEMS:
        return (named[0] if named else None) or named_before(text[: said.start], categories) or topic
    led = NAMED_FIRST.match(text)
    labelled = mentioned(led["label"], categories) if led and led.end() == said.start else []
    fits = words and is_work(words[-1]) and len(labelled) == 1 and _of_several(labelled[0])
    return labelled[0] if fits and not alike and named in ([], labelled) else None


def _of_its_own(said: WorkName, category: SaidCategory | None) -> SaidCategory | None:
    """'The final jury is two pieces': of a name of one event only its own noun counts."""
    if category is None or not ONE_EVENT.search(category.name.lower()):
        return category
    words = said.text.lower().split()
    own = bool(words) and singular(words[-1]) == singular(category.name.lower().split()[-1])
    return category if own else None


NAMED_FIRST = phrase(
    r"^\W*(?P<label>[a-z][a-z &'-]{2,40}?) {0,4}(?:\([^()]{1,20}\))?\W{0,3}(?::| -)\W{0,4}(?:{number}%\W{1,3})?"
    r"(?:there (?:are|will be) )?(?:{number} )?"
)
"""'Midterms (25%): two exams of equal weight'."""


def _may_be(category: SaidCategory, words: Sequence[str], categories: Sequence[SaidCategory]) -> bool:
    """Whether a counted name of the same last word is that category's: 'ten weekly quizzes' are the quizzes."""
    name = stems(category.name)
    return len(words) == 1 or len(name) == 1 or bool(set(words) & set(name[:-1])) or _only(category, words, categories)


COLLECTIVE = re.compile(
    r"(?:work|journal|log|notebook|diary|portfolio|participation|series|set|bank|reading|writing|clinic|studio|lab)$"
)


def _of_several(category: SaidCategory) -> bool:
    """Whether a category's name speaks of several items, or of one thing that has many."""
    last = category.name.lower().split()[-1]
    return last != singular(last) or COLLECTIVE.search(last) is not None


def _only(category: SaidCategory, words: Sequence[str], categories: Sequence[SaidCategory]) -> bool:
    """Whether the other words of a counted name belong to no other category: 'ten weekly quizzes' are the quizzes."""
    return not any(set(words[:-1]) & set(stems(c.name)) for c in categories if c is not category)
