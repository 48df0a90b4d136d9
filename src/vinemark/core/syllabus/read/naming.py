"""Names of categories as a syllabus gives them, and which category a sentence speaks of."""

import re
from collections.abc import Mapping, Sequence
from functools import lru_cache
from typing import NamedTuple

from vinemark.core.base.names import singular
from vinemark.core.syllabus.facts import SaidCategory
from vinemark.core.syllabus.read.normal import NOTE_SIGN, NUMBER, PERCENT_SIGN, POINTS_WORD, phrase, whole

BRACKETS = re.compile(r"\([^()]*\)|\[[^\[\]]*\]")
LEAD = re.compile(
    r"^(?:(?:and|or|also|plus|then|another|finally|lastly|while|with|as well as|for|from|on|"
    r"to|of|in|by|the|your|our|my|their|a|an|all|"
    r"each|every|both|any|some|this|that|these|those|there (?:is|are|will be)|it is|"
    r"you (?:will )?(?:write|take|have|do|give|"
    r"make|submit|complete|hand in)|we (?:will )?have|course grade|i give|"
    r"one'?s|is|are|worth|it)\b(?!-)[\s,:-]*)+",
    re.I,
)
# The last word or signs of a name that are none of it.
TAIL = re.compile(
    r"(?:[\s,:;.=-]{1,30}|\b(?:is|are|will be|counts?|counting|worth|makes?(?: up)?|making up|for|"
    r"at|of|each|apiece|together|in total|in all|"
    r"altogether|total|totall?ing|combined|carr(?:y|ies)|brings?|contributes?|accounts?|which|"
    r"that|the|a|an|and|your|up to|"
    r"about|only|also|up|to|an additional|additional|but|has|have|earns?|gets?|gives?|adds?|"
    r"weighs?|being|with|from|on|in|by|as|per|"
    r"(?:graded|scored|marked) (?:out of|from)|out of|x|@)\b)$",
    re.I,
)
COUNTED = phrase(
    r"^(?:about |approximately |around |at least |"
    r"up to )?(?P<n>{number})(?![\d%./-])(?!-d\b)(?! ?(?:%|percent|points?\b|pts?\b|min|"
    r"hours?\b(?!-long| exam| test| quiz)))[\s-]+(?=[a-z])"
)
# 'Position papers x 6'
TIMES_AFTER = re.compile(r"(?<!\s)\s{1,3}(?:x|@) ?(?P<n>\d{1,2})$", re.I)
# 'the best five of the six essays'
MEASURED = phrase(
    r"(?i)(?:,| of) (?:about |at least )?{number}(?:(?: to |-){number})?[ -](?:minutes?|pages?|hours?|words)\b"
    r"(?:, in {number} (?:stages|parts|steps))?$"
)
"""'Exit interview, 10 minutes', 'Term paper of 15 pages, in two stages'."""
COUNT_BEHIND = phrase(
    r"(?i)[,:] (?P<n>{number})(?! each$)(?: (?:in (?:all|total)|of them|entries|sheets|sets|times))?"
    r"(?: (?:at|x|@))?(?: {number}(?:%|[ -][a-z]+)?)?(?: each)?$"
)
"""'Lecture exams, two at 12.5% each', 'Crop journal, 15 entries x 4'."""
SELECTED_BEHIND = phrase(
    r"(?i)(?<=[a-z]), (?:your |the )?(?:best|top|highest|drop|dropping) {number} (?:out )?of {number}(?: [a-z]+)?$"
)
"""'Map exercises, top 5 of 6'."""
WORTH_BEHIND = phrase(r"(?i)(?<=[a-z]{3}), {number} each$")
"""'Six map exercises, 20 each': what one is worth."""
BEST_OF = phrase(r"^(?:best|top|highest) {number}(?: [a-z]+)? (?:out )?of (?:the |your )?(?P<n>{number}) ")
NOTE_SIGNS = re.compile(rf"(?<=[a-z)]{{2}}) ?{NOTE_SIGN}(?!\w)")
LATER = re.compile(
    r"(?<!\s)\s+(?:is|are|will|was|were|has|have|makes?|counts?|comes?|can|must|may|should|together|"
    r"which|that|who|where|when|held|given|due|taken|covering|throughout|during|every|"
    r"(?:on|in|over|at) the (?:weeks?|term|semester|middle|end|first|last|second|third|fall|spring|"
    r"course of|exam|day)|in weeks?|"
    r"(?:on|in) (?:jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec|mon|tue|wed|thu|fri|sat|sun)[a-z]*|"
    r"you|we|i (?=[a-z]{2}))\b.*$",
    re.I,
)
TOTAL = re.compile(
    r"^(?:grand |course |overall |semester |sub-?|sub )?totals?\b|^(?:points )?possible$|^(?:sum|altogether|"
    r"all together|in all|overall|max(?:imum)?)\b|^total\b|^final (?:course )?(?:grade|mark)$|"
    r"^(?:course |your )?grade$|^everything\b|^all (?:the )?(?:work|of it)\b"
)
EXTRA = re.compile(r"\bextra[ -]credits?\b|\bbonus(?:es)?\b|\bextra points?\b")
WEAK = frozenset(
    [
        "the",
        "a",
        "an",
        "of",
        "and",
        "or",
        "for",
        "in",
        "on",
        "to",
        "with",
        "your",
        "our",
        "weekly",
        "final",
        "all",
        "other",
        "regular",
        "written",
        "online",
        "class",
        "course",
        "group",
        "work",
        "grade",
        "score",
        "unit",
        "short",
        "long",
        "two",
        "one",
        "three",
    ]
)


class Name(NamedTuple):
    """A name, and the number that stood before it ('Two short papers': Short papers, 2)."""

    text: str
    number: int | None


def clean(said: str) -> Name:
    """A name as it stands in the document, without counts, percentages, points and bracketed remarks."""
    text = re.sub(r"\([^()]*$|^[^()]*\)", " ", BRACKETS.sub(" ", said))
    text = re.sub(rf"(?i){NUMBER}{PERCENT_SIGN}|{NUMBER}{POINTS_WORD}(?: each)?", " ", text)
    text = NOTE_SIGNS.sub(" ", text)
    text = " ".join(text.split()).strip(" \t:;,.=-|*#\"'")
    text = LEAD.sub("", text)
    text = WORTH_BEHIND.sub("", text)
    text = SELECTED_BEHIND.sub("", text)
    behind = COUNT_BEHIND.search(text)
    if behind and re.search("[a-z]{3}", text[: behind.start()]):
        return Name(clean(text[: behind.start()]).text, whole(behind["n"]))
    times = TIMES_AFTER.search(text)
    count = whole(times["n"]) if times else None
    text = text[: times.start()] if times else text
    text = MEASURED.sub("", text)
    best = BEST_OF.match(text.lower())
    if best:
        count = whole(best["n"])
        text = text[best.end() :]
    found = COUNTED.match(text.lower())
    if found:
        count = whole(found["n"])
        text = re.sub(r"^(?:x|@) +", "", text[found.end() :])
    text = LEAD.sub("", text)
    if not text.lower().startswith("what "):
        text = LATER.sub("", text)
    text = _without_tail(text).strip(" \t:;,.=-|*#\"'@/")
    text = re.sub(r"(?<!\s)\s*[-:,/]\s*$", "", text)
    return Name(text[:1].upper() + text[1:], count)


LONGEST_TAIL_PIECE = 40
LETTERED = "A"
"""'Exam A' beside 'Exam B'."""


def _without_tail(text: str) -> str:
    """A name without the words that lead on from it, taken off one by one from its end."""
    end = len(text)
    while found := TAIL.search(text, max(0, end - LONGEST_TAIL_PIECE), end):
        if text[found.start() : end].strip() == LETTERED:
            break
        end = found.start()
    return text[:end]


def is_total(name: str) -> bool:
    """Whether a row is a sum, not a category."""
    return bool(TOTAL.match(name.lower().strip(" *:#=")))


def is_extra(text: str) -> bool:
    """Whether words call something extra credit."""
    return bool(EXTRA.search(text))


@lru_cache(maxsize=4096)
def stems(text: str) -> tuple[str, ...]:
    """Words in small letters, in the singular."""
    return tuple(singular(word) for word in re.findall(r"[a-z]+", text.lower().replace("'s", "")))


def mentioned(text: str, categories: Sequence[SaidCategory]) -> list[SaidCategory]:
    """The categories that a text names, best first: by the whole name, then by its last word, then by a telling one."""
    words = stems(text)
    names = tuple(category.name for category in categories)
    bearing = _bearing(names)
    near = sorted({n for word in set(words) for n in bearing.get(word, ())})
    scored = [(_likeness(words, names[n], bearing), -n) for n in near]
    return [categories[-n] for score, n in sorted(scored, reverse=True) if score > 0]


@lru_cache(maxsize=64)
def _bearing(names: tuple[str, ...]) -> Mapping[str, Sequence[int]]:
    """Each word with the places of the names that have it."""
    found: dict[str, list[int]] = {}
    for place, name in enumerate(names):
        for word in set(stems(name)):
            found.setdefault(word, []).append(place)
    return found


def _likeness(words: Sequence[str], name: str, bearing: Mapping[str, Sequence[int]]) -> int:
    own = stems(name)
    if f" {' '.join(own)} " in f" {' '.join(words)} ":
        return 100 + len(own)
    telling = [w for w in own if w not in WEAK and len(bearing[w]) == 1]
    told = sum(w in words for w in telling)
    if own[-1] in words and (told or own[-1] not in WEAK):
        return 20 + 5 * told
    return 10 * told
