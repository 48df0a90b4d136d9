"""Letters, numbers and ranges as they stand in a scale, found one by one."""

import re
from dataclasses import dataclass
from fractions import Fraction

from vinemark.core.syllabus.read.normal import DIGITS, HUNDREDS, TENS, UNITS, value_of

# An article is no letter: after 'A' only words that speak of a grade may follow.
ARTICLE = (
    r" (?!(?:is|are|from|for|if|means|starts?|begins?|at|and|or|grades?|range|requires|to|will|goes|than|needs|takes|"
    r"below|above|under|anything|everything|with|you|points?|percent|in|on|of|he|she|it|we|as|when|but|runs|covers|"
    r"stands|through|takes|asks|begins|comes|over|one|two|ninety|eighty|students?|earned|work|where|once|corresponds|"
    r"equals)\b)[a-z]{2,}"
)
LETTER = (
    r"(?P<letter>(?<![A-Za-z0-9'+/&])[A-F](?:\+(?!\d)|-(?!\d)(?![A-Za-z](?!inus|lus))|[ -]?(?:[Pp]lus|[Mm]inus)\b)?)"
    rf"(?![A-Za-z0-9])(?!'[a-z]{{2}})(?<!A(?={ARTICLE}))(?<!A(?= \d{{1,4}}-[a-z]))"
)
HIGH_WORDS = rf"(?:{'|'.join(TENS[2:])})(?:[- ](?:{'|'.join(UNITS[1:10])}))?"
NUM = rf"(?:{DIGITS}|\b(?:{HUNDREDS}|{HIGH_WORDS})\b)"
UNIT = r"(?: ?%| ?(?:percent|per cent)\b| ?points?\b| ?pts?\b\.?)?"
DASH = r"(?: ?-{1,2} ?| ?(?:to|through|thru|until|till|up to|and up to) )"
LESS = r"(?:just )?(?:below|under|less than|lower than|fewer than|short of|<)"
RANGE = (
    rf"(?:(?P<between>between ))?(?:[<>] ?)?(?P<one>{NUM}){UNIT}(?:{DASH}|(?(between) and |(?!))| ?<=? ?)"
    rf"(?:x|grade|score|%)? ?(?:<=? ?|\u2264 ?)?(?:but )?(?:not including |{LESS} )?(?P<two>{NUM}){UNIT}"
)
BETWEEN = rf"(?P<low>{NUM}){UNIT} ?(?:<=?|\u2264) ?(?P<named>[a-z%]{{1,12}}[+-]?) ?(?:<=?|\u2264) ?(?P<top>{NUM}){UNIT}"
BELOW = (
    rf"(?:anything |everything |all |scores? |any(?:thing)? score )?{LESS}(?: a| an)? ?(?P<below>{NUM}){UNIT}|"
    rf"(?<!\d )(?<!%)\bup to (?P<below3>{NUM}){UNIT}|"
    rf"(?P<below2>{NUM}){UNIT} (?:and|or|&) (?:below|under|less|lower|fewer|down)\b"
)
REST_OF_SCALE = (
    r"\b(?:anything|everything|all) (?:less|lower|else|(?:below|under)(?: that| this)?)\b(?! ?(?:than "
    r")?[\d<])(?! (?:an? )?\d)|\botherwise\b|"
    r"\b(?:below|under|less than|lower than) (?:that|this|it|those)\b|\bthe rest\b|"
    r"\belse(?= (?:an? )?[EF]\b)|\b(?:lower|less)(?= (?:is|=) )|"
    r"\b(?:lower|less|fewer|below|under)(?=[ |:=,-]{1,5}(?:an? )?F\b)|(?<=F \| )(?:lower|less|fewer)(?= ?\|)"
)
FROM_VALUE = (
    rf"(?:(?:>=?|\u2265|at least|from|minimum(?: of)?) ?)?(?P<from>{NUM}){UNIT}"
    r"(?: ?\+(?!\d)| ?(?:and|or|&) (?:above|up|over|more|better|higher|greater)| ?(?:upwards?|plus)\b)?"
)
TOKEN = re.compile(rf"{LETTER}|(?i:(?P<rest>{REST_OF_SCALE})|{BETWEEN}|{BELOW}|{RANGE}|{FROM_VALUE})")
GRADE_POINTS = re.compile(r"[0-4]\.\d{1,2}")
SMALLEST_CUTOFF = 30
"""A bare number below this is no cutoff."""
SMALL_LETTER = re.compile(r"(?<![a-z0-9'])(?P<letter>[a-df][+-]?)(?= ?(?:is|=|:|for|from) ?(?:at least |from )?\d)")


@dataclass(frozen=True)
class Token:
    """A letter, or a value: its lowest and, where the text gives one, its highest number."""

    start: int
    end: int
    letter: str = ""
    low: Fraction = Fraction(0)
    high: Fraction | None = None
    percent: bool = False
    points: bool = False
    lowest: bool = False
    """Whether it says that everything below something belongs here."""


def tokens_of(text: str, start: int, end: int) -> list[Token]:
    """The letters and values of a stretch of a text in one line, in its order."""
    found: list[Token] = []
    for match in TOKEN.finditer(text, start, end):
        between = _letter_between(match)
        made = _letter(match) if match["letter"] else _value(match)
        found += [token for token in (between, made) if token is not None]
    return found


def _letter_between(match: re.Match[str]) -> Token | None:
    """'83 <= B < 93': the letter within a range."""
    inside = re.fullmatch(LETTER, match["named"].strip()) if match["named"] else None
    return None if inside is None else Token(match.start(), match.start(), letter=_plain(inside["letter"]))


def _letter(match: re.Match[str]) -> Token:
    return Token(match.start(), match.end(), letter=_plain(match["letter"]))


def _plain(letter: str) -> str:
    """'B minus' is B-."""
    return re.sub(r"[ -]?minus", "-", re.sub(r"[ -]?plus", "+", letter, flags=re.I), flags=re.I)


def _value(match: re.Match[str]) -> Token | None:
    found = match.groupdict()
    percent = bool(re.search(r"%|\bper ?cent", match[0], re.I))
    points = bool(re.search(r"\bpoints?\b|\bpts?\b", match[0], re.I))
    if found["rest"]:
        return Token(match.start(), match.end(), lowest=True)
    bound = found["below"] or found["below2"] or found["below3"]
    if bound:
        top = value_of(bound)
        return Token(match.start(), match.end(), high=top, percent=percent, lowest=True)
    ends = [value_of(found[k]) for k in ("one", "two", "low", "top") if found[k]]
    numbers = [n for n in ends if n is not None]
    if len(numbers) == 2:
        return Token(match.start(), match.end(), low=min(numbers), high=max(numbers), percent=percent, points=points)
    return _least(match, percent, points)


def _least(match: re.Match[str], percent: bool, points: bool) -> Token | None:
    least = value_of(match["from"]) if match["from"] else None
    if least is None or (GRADE_POINTS.fullmatch(match["from"]) and not percent):
        return None
    return (
        None
        if least < SMALLEST_CUTOFF and least != 0
        else Token(match.start(), match.end(), low=least, percent=percent, points=points)
    )
