"""What a sentence speaks of: names of work and amounts of the grade, each found by itself before they are joined."""

import re
from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import lru_cache
from typing import Literal

from vinemark.core.base.names import singular
from vinemark.core.plan.plan import HUNDRED
from vinemark.core.syllabus.read.lexicon import OPENERS, is_stop, is_work
from vinemark.core.syllabus.read.normal import (
    NUMBER,
    NUMBER_WORD,
    PART,
    PERCENT_SIGN,
    POINTS_WORD,
    part_of,
    value_of,
    whole,
)

WORD = re.compile(
    rf"(?:{NUMBER_WORD})-(?:page|minute|hour|word|sentence|question|paragraph|week|day|act)\b|(?P<number>{NUMBER})(?P<unit>{PERCENT_SIGN}|{POINTS_WORD})?|[a-z][a-z'&-]*(?:/[a-z'-]+)*|[^\w\s]|\S"
)
BRACKETED = re.compile(r"\([^()]*\)|\[[^\[\]]*\]")
NO_COUNT = re.compile(
    r"\b(?:best|top|highest|lowest|worst|weeks?|chapters?|room|hall|section|unit|part|drop(?:ped)?|drops|skip|"
    r"miss|first|"
    r"last|next|after|within|at most|at least|more than|fewer than|less than|other|page|problem|exam|quiz|midterm|test|"
    r"lab|grade|than|any|between|or|only one of|up to)\s*$"
)
GRADE_NOUN = r"(?:grades?|marks?|averages?|total|scores?|evaluation|assessment|percentages?|result|points|course)"
OF_WORDS = (
    rf"(?: ?of|,? ?towards?| ?to(?= the)| ?in) (?:the |your |my |our |their |one's |this )?(?:(?:course|final|"
    rf"overall|total|semester|term|whole|"
    rf"class|entire|cumulative|end-of-term|letter|the) )*{GRADE_NOUN}\b| of (?:it|what you (?:get|earn|receive)|"
    rf"everything|the whole)\b"
)
OF_GRADE = re.compile(rf"^(?:{OF_WORDS})")
SHARE_OF_GRADE = re.compile(
    rf"^ of it\b|^ (?:the|your) (?:(?:course|final|whole) )?grade\b|^(?: ?of|,? ?towards?) .{{0,30}}\b{GRADE_NOUN}\b"
)


@dataclass(frozen=True)
class WorkName:
    """A name of work with the number before it; places are in the sentence."""

    start: int
    end: int
    text: str
    count: int | None = None
    known: bool = False
    each: bool = False


@dataclass(frozen=True)
class Amount:
    """A share of the grade in percent, or points."""

    start: int
    end: int
    value: Fraction | None
    unit: Literal["weight", "points"]
    rest: bool = False
    parts: tuple[Fraction, ...] = ()


@dataclass(frozen=True)
class _Word:
    start: int
    end: int
    text: str
    number: str = ""
    unit: str = ""


def _words(text: str) -> Iterator[_Word]:
    for match in WORD.finditer(text):
        yield _Word(match.start(), match.end(), match[0], match["number"] or "", match["unit"] or "")


IDIOM = re.compile(
    r"\bas a (?:group|class|whole|set|team)\b|\bin class\b|\bin (?:the )?lab\b(?! )|\bin person\b|\bout of\b|\bat "
    r"stake\b|\bin all\b|\bin writing\b"
)


def phrases(text: str, glossary: Collection[str] = ()) -> list[WorkName]:
    """Runs of words that could be a name of work, in small letters; what stands in brackets is left out.

    A name in the glossary is known though no word of it is: a heading or label of the text bears it.
    """
    hidden = BRACKETED.sub(lambda m: "(" + " " * (len(m[0]) - 2) + ")", text)
    hidden = IDIOM.sub(lambda m: "," * len(m[0]), hidden)
    runs = _runs_of(hidden)
    if not glossary:
        return list(runs)
    found = [replace(p, known=True) if p.text in glossary else p for p in runs]
    return _with_borne(found, hidden, frozenset(glossary))


def _with_borne(found: list[WorkName], hidden: str, glossary: frozenset[str]) -> list[WorkName]:
    """Also the names of the glossary some of whose words would end a name."""
    borne = [WorkName(m.start(), m.end(), m[0], None, known=True) for m in _any_of(glossary).finditer(hidden)]
    borne = [b for b in borne if not any(p.start <= b.start and b.end <= p.end for p in found)]
    apart = [p for p in found if not any(b.start < p.end and p.start < b.end for b in borne)]
    return sorted([*apart, *borne], key=lambda p: p.start) if borne else found


@lru_cache(maxsize=32)
def _any_of(glossary: frozenset[str]) -> re.Pattern[str]:
    """A pattern of all its names, the longest first."""
    names = "|".join(re.escape(name) for name in sorted(glossary, key=len, reverse=True))
    return re.compile(rf"(?<![a-z0-9])(?:{names})(?![a-z0-9])")


@lru_cache(maxsize=4096)
def _runs_of(hidden: str) -> tuple[WorkName, ...]:
    words = list(_words(hidden))
    found: list[WorkName] = []
    run: list[int] = []
    for n in range(len(words)):
        if _continues(words, n, run):
            run.append(n)
            continue
        if run:
            found += _phrase(hidden, words, run)
        run = [n] if _starts(words, n) else []
    if run:
        found += _phrase(hidden, words, run)
    return tuple(one for one in found if one.text != LENGTH)


LENGTH = "hours"
"""'Final exam, two hours': names work only with a word before it, as 'shop hours' do."""
ACTORS = frozenset(
    [
        "i",
        "we",
        "you",
        "they",
        "he",
        "she",
        "who",
        "will",
        "can",
        "may",
        "must",
        "shall",
        "should",
        "would",
        "could",
        "cannot",
        "not",
    ]
)
"""After these stands a verb."""


SPOKEN_NUMERAL = re.compile(r"one|two|three|four|five|six")
"""'Scene two 20% and scene three 30%.'"""


def _starts(words: Sequence[_Word], n: int) -> bool:
    word, before = words[n], words[n - 1].text if n else ""
    if word.number or not word.text[0].isalpha() or before in ACTORS:
        return False
    following = words[n + 1].text if n + 1 < len(words) else ""
    if word.text == "last" and before == "the" and n + 1 < len(words) and words[n + 1].number:
        return False
    if word.text == "final" and before in {"the", "that"} and following[:1].isdigit():
        # 'the final 5% depends on the jury', but 'the midterm 15%, the final 25%.'
        return not (n + 2 < len(words) and words[n + 2].text[0].isalpha())
    if word.text in OPENERS:
        return is_work(word.text) or is_work(following) or not (is_stop(following) or not following[:1].isalpha())
    of_course = word.text in {"term", "course", "semester", "hour"} and is_work(following)
    return not is_stop(word.text) or of_course


def _continues(words: Sequence[_Word], n: int, run: Sequence[int]) -> bool:
    if not run:
        return False
    word, before = words[n], words[run[-1]]
    if word.text in {"&", "/"}:
        return n + 1 < len(words) and _starts(words, n + 1)
    if word.number and not word.unit:
        spoken = SPOKEN_NUMERAL.fullmatch(word.number) and singular(before.text) == before.text
        numeral = (re.fullmatch(r"\d{1,2}", word.number) or spoken) and word.start - before.end == 1
        return bool(numeral) and is_work(before.text) and not (n + 1 < len(words) and _starts(words, n + 1))
    return _starts(words, n)


def _phrase(text: str, words: Sequence[_Word], run: list[int]) -> Iterator[WorkName]:
    heads = [n for n in run if is_work(words[n].text)]
    if heads:
        tail = words[heads[-1] + 1].text if heads[-1] < run[-1] else ""
        following = words[run[-1] + 1].text if run[-1] + 1 < len(words) else ""
        if tail and _is_verb(tail, following):
            run = [n for n in run if n <= heads[-1]]
    first = words[run[0]]
    count, each = _before(text, words, run[0])
    if count is None and not heads and len(run) == 1 and len(first.text) < 3:
        return
    yield WorkName(first.start, words[run[-1]].end, text[first.start : words[run[-1]].end], count, bool(heads), each)


DETERMINERS = frozenset(
    [
        "the",
        "a",
        "an",
        "your",
        "my",
        "our",
        "its",
        "their",
        "this",
        "that",
        "these",
        "those",
        "another",
        "every",
        "each",
        "two",
        "three",
        "four",
        "you",
        "us",
    ]
)


def _is_verb(word: str, following: str) -> bool:
    """Whether a word after a name is what the work does, not part of the name."""
    if word.endswith("ed"):
        return True
    return word.endswith(("s", "ing")) and following in DETERMINERS


def _before(text: str, words: Sequence[_Word], first: int) -> tuple[int | None, bool]:
    """The number before a name, and whether it speaks of each one."""
    place, count = first - 1, None
    if place >= 0 and words[place].text == "-":
        place -= 1
    if place >= 0 and words[place].number and not words[place].unit:
        plain = re.fullmatch(r"(?:a )?[a-z-]+|\d{1,2}", words[place].number)
        if plain and not NO_COUNT.search(text[: words[place].start]):
            count = whole(words[place].number)
        place -= 1
    while place >= 0 and words[place].text in {"the", "of", "your", "these", "those", "our", "one"}:
        place -= 1
    each = place >= 0 and words[place].text in {"each", "every", "per"}
    return (count if count is None or count <= 60 else None), each


AMOUNT = re.compile(
    rf"(?P<percent>{NUMBER})(?: (?:bonus|extra|additional)(?= percent))?{PERCENT_SIGN}|"
    rf"(?P<points>{NUMBER})(?:[ -](?:extra[ -]credit|extra|bonus|additional|"
    rf"course))?{POINTS_WORD}|(?P<ratio>(?<![\d/])[1-9]/[1-9]\d?)(?![\d/])|"
    rf"(?P<part>{PART})"
)
REST = re.compile(
    r"\b(?:the (?:rest|remainder)|whatever (?:remains|is left)|what(?: is|'s) left)\b(?! ?(?:\d|of (?:the|them|us) "
    r"(?!grade|course|mark)))"
)
RANGE_BEFORE = re.compile(r"\d ?(?:-|to) ?$")
CHANGED = re.compile(r"(?:from|was|were|instead of|rather than|down from|up from|no longer) $")


def amounts(text: str, in_points: bool = False, in_parts: bool = False) -> list[Amount]:
    """Every share of the grade and every number of points that a sentence in small letters gives."""
    matches = list(AMOUNT.finditer(text))
    found = [a for match in matches if (a := _amount(text, match)) is not None]
    if in_parts or (
        any(a.unit == "weight" and "%" not in text[a.start : a.end] for a in found) and SHARED.search(text)
    ):
        found += [a for match in matches if (a := _further_part(match, found)) is not None]
    rests = [Amount(m.start(), m.end(), None, "weight", rest=True) for m in REST.finditer(text)]
    found += [r for r in rests if not any(a.unit == "weight" and -2 < a.start - r.end < 12 for a in found)]
    found += _further_numbers(text, found)
    if in_points or POINTS_SAID.search(text):
        found += _bare_points(text, found)
    found += _further_listed(text, found)
    return _listed(text, _without_whole(text, sorted(found, key=lambda a: a.start)))


IN_ALL_BEFORE = re.compile(
    r"\b(?:there (?:are|will be)|has|have|carries|totals|out of|adds? up to|of) (?:a total of )?$"
)


OF_THE = re.compile(r"\b(?:of|out of) (?:the|all) $")
"""'Of the 100 percent, 20 are for quizzes': the whole is no share."""


def _without_whole(text: str, found: list[Amount]) -> list[Amount]:
    """'There are 200 points: 80 for quizzes and 120 for the final': without the first where the others make it up."""
    found = [a for a in found if a.value != HUNDRED or a.unit != "weight" or not OF_THE.search(text[: a.start])]
    points = [a for a in found if a.unit == "points" and a.value is not None]
    whole_is = points[0] if points else None
    said = whole_is is not None and IN_ALL_BEFORE.search(text[: whole_is.start])
    made_up = said and whole_is is not None and sum(a.value or 0 for a in points[1:]) == whole_is.value
    return [a for a in found if a is not whole_is] if made_up and len(points) > MOST_WITHOUT_WHOLE else found


MOST_WITHOUT_WHOLE = 2


ONE_OF_SEVERAL = re.compile(r" ?(?:each|apiece|per [a-z]+)\b")
LISTED_AMOUNTS = re.compile(r",? ?(?:and |, )?")


def _listed(text: str, found: Sequence[Amount]) -> list[Amount]:
    """'20%, 20% and 30%' of one work is one amount with three parts."""
    made: list[Amount] = []
    for amount in found:
        joined = _one_amount(text, made[-1], amount) if made else None
        if joined is not None:
            made[-1] = joined
        else:
            made.append(amount)
    return made


def _one_amount(text: str, last: Amount, amount: Amount) -> Amount | None:
    if last.value is None or amount.value is None or last.unit != amount.unit:
        return None
    if not LISTED_AMOUNTS.fullmatch(text, last.end, amount.start) or ONE_OF_SEVERAL.match(text, amount.end):
        return None
    parts = (*(last.parts or (last.value,)), amount.value)
    return replace(last, end=amount.end, value=last.value + amount.value, parts=parts)


SHARED = re.compile(r"\b(?:grade|mark|average|total|it)\b")
WITH_NUMBER = re.compile(r"\W?(?:an?|one|two|three|another|the other)[ -][a-z]+|half")


def _further_part(match: re.Match[str], found: Sequence[Amount]) -> Amount | None:
    """'A quarter from the sample book', once another share of the sentence is said to be of the grade."""
    if not match["part"] or not WITH_NUMBER.fullmatch(match[0]) or any(a.start == match.start() for a in found):
        return None
    part = part_of(match["part"])
    return Amount(match.start(), match.end(), part * 100, "weight") if part is not None and part < 1 else None


ANOTHER = re.compile(
    rf"\b(?:another|a further|an additional) (?P<n>{NUMBER})(?=,? (?:is|are|comes?|goes|for|from|depends?|"
    rf"rests?) (?:for |"
    rf"from |on |to )?(?:the|your|our|a|an)\b)|"
    rf"\b(?:is|are|counts|brings) (?:another|a further|an additional) (?P<m>{NUMBER})(?=[,.;]|$)"
)


IN_A_LIST = re.compile(
    r",? (?:and )?(?P<the>the |your )?(?:[a-z][a-z'-]{1,15} ){0,2}(?P<work>[a-z][a-z'-]{2,15}) "
    r"(?P<n>\d{1,3})(?=[.;,]|$| and )"
)
"""'The map exercises make up 15 percent, the commentaries 25': what the one before is of holds on."""


ORDINALS = frozenset(["first", "second", "third", "fourth", "fifth", "sixth", "last", "other"])
"""'The first counts 15 percent, the second 20.'"""


def _names_work(listed: re.Match[str]) -> bool:
    return (
        is_work(singular(listed["work"]))
        or listed["work"] in ORDINALS
        or (listed["the"] is not None and not is_stop(listed["work"]))
    )


def _further_numbers(text: str, found: Sequence[Amount]) -> list[Amount]:
    """'Another thirty is the final': a share that leaves its percent to the sentence before."""
    made = []
    for match in ANOTHER.finditer(text):
        group = "n" if match["n"] else "m"
        value = value_of(match[group])
        taken = any(a.start < match.end() and match.start() < a.end for a in found)
        if value is not None and LEAST_BARE <= value < MOST_BARE and not taken:
            made.append(Amount(match.start(group), match.end(group), value, "weight"))
    return made


def _further_listed(text: str, found: Sequence[Amount]) -> list[Amount]:
    """'The notebook is worth 25 points, the sketches 30 and the report 45': numbers of what the first is of."""
    made: list[Amount] = []
    taken = {a.start for a in found}
    for last in [a for a in found if not a.rest]:
        place = last.end
        while (listed := IN_A_LIST.match(text, place)) and _names_work(listed) and listed.start("n") not in taken:
            made.append(Amount(listed.start("n"), listed.end("n"), value_of(listed["n"]), last.unit))
            place = listed.end()
            taken.add(listed.start("n"))
    return made


LEAST_BARE, MOST_BARE = 2, 100
POINTS_SAID = re.compile(r"\bpoints?\b|\bpts\b")
BARE = re.compile(
    rf"(?<![\d.,/-])(?P<n>{NUMBER})(?=,? (?:come |comes |are |is )?(?:from|for|on|to) (?:the|your|each|our|an?|"
    rf"two|three|four|five|(?:[a-z]{{2,16}} )?[a-z]{{2,20}}s)\b|,? ?(?:each|apiece)\b)|"
    rf"(?:(?<=\bis )|(?<=\bhas )|(?<=\bgets )|(?<=\bfor )|(?<=\bare )|(?<=\bworth )|(?<=\bbrings )|(?<=\bearns "
    rf"))(?P<alone>{NUMBER})(?=[,.;)]|$| and | \()|"
    rf"(?<=: )(?P<led>{NUMBER})(?=[,.;)]|$)"
)


def _bare_points(text: str, found: Sequence[Amount]) -> list[Amount]:
    """'250 from the labs, 120 from the final': numbers that share the word points with others of their sentence."""
    made = []
    for match in BARE.finditer(text):
        value = value_of(match["n"] or match["alone"] or match["led"])
        taken = any(a.start < match.end() and match.start() < a.end for a in found)
        if value is not None and value >= 5 and not taken and not RANGE_BEFORE.search(text[: match.start()][-4:]):
            made.append(Amount(match.start(), match.end(), value, "points"))
    return made


def _amount(text: str, match: re.Match[str]) -> Amount | None:
    before = text[max(0, match.start() - 14) : match.start()]
    if RANGE_BEFORE.search(before) or CHANGED.search(before):
        return None
    if match["percent"] or match["points"]:
        value = value_of(match["percent"] or match["points"])
        unit: Literal["weight", "points"] = "weight" if match["percent"] else "points"
        return Amount(match.start(), match.end(), value, unit) if value else None
    part = part_of(match["part"]) if match["part"] else value_of(match["ratio"])
    after = text[match.end() :]
    if match["part"] and part is not None and OTHER_PART.search(text[: match.end()]):
        return Amount(match.start(), match.end(), part * 100, "weight")
    if part is None or part >= 1 or not (SHARE_OF_GRADE.match(after) or _ends_item(text, match)):
        return None
    return Amount(match.start(), match.end(), part * 100, "weight")


OTHER_PART = re.compile(r"\bthe (?:other|last|remaining|final) (?:half|third|quarter|fifth|tenth)$")


def _ends_item(text: str, match: re.Match[str]) -> bool:
    """'Discussion leadership: one-tenth', 'it counts a fifth': a part that needs no 'of the grade'."""
    closed = re.match(r"\W*(?:$|[.;,)])", text[match.end() :])
    led = re.search(
        r"(?:[:=|(]|\b(?:counts?|counting|worth|makes? up|is|are)(?: for)?(?: about| only)?) ?$", text[: match.start()]
    )
    return bool(closed and led) and not re.fullmatch(
        r"\W*(?:half|third|fourth|fifth|sixth|seventh|eighth|ninth|tenth)s?", match[0]
    )
