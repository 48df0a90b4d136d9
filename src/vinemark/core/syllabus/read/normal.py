"""Text made even, sign by sign, so that every place in it is a place in the original; numbers as people write them."""

import re
from fractions import Fraction
from typing import NamedTuple

SIGNS = {
    **dict.fromkeys("\u00a0\u1680\u2000\u2001\u2002\u2003\u2004\u2005\u2006\u2007", " "),
    **dict.fromkeys("\u2008\u2009\u200a\u202f\u205f\u3000", " "),
    **dict.fromkeys("\u200b\u200c\u200d\u2060\ufeff\u00ad", " "),
    **dict.fromkeys("\u2010\u2011\u2012\u2013\u2014\u2015\u2212\u2043\uff0d", "-"),
    **dict.fromkeys("\u2018\u2019\u201a\u201b\u2032\u00b4\u0060", "'"),
    **dict.fromkeys("\u201c\u201d\u201e\u201f\u2033\u00ab\u00bb", '"'),
    **dict.fromkeys("\u00d7\u2715\u2716", "x"),
    **dict.fromkeys("\u2264\u2a7d", "\u2264"),
    **dict.fromkeys("\u2265\u2a7e", "\u2265"),
    **dict.fromkeys("\u2190\u2192\u21d2\u2794\u279c\u27a1", "-"),
    "\uff0b": "+", "\uff05": "%", "\u2215": "/", "\u2044": "/", "\u2026": ".", "\uff1a": ":",
    "\u000b": " ", "\u000c": "\n", "\u0085": "\n", "\u2028": "\n", "\u2029": "\n", "\r": " ",
}  # fmt: skip
_SIGN_TABLE = str.maketrans(SIGNS)
NOTE_SIGN = "[†‡§⁰¹²³⁴-⁹]{1,2}"
"""What leads to a footnote, beside asterisks."""
BULLETS = "\u2022\u2023\u25aa\u25ab\u25cf\u25cb\u25e6\u2219\u00b7\u25a0\u25a1\u27a2\u2713\u2605"


def even(text: str) -> str:
    """The text with one kind of blank, dash and quote, of the same length."""
    return text.translate(_SIGN_TABLE)


def lowered(text: str) -> str:
    """Small letters, of the same length."""
    plain = text.lower()
    if len(plain) == len(text):
        return plain
    return "".join(c.lower() if len(c.lower()) == 1 else c for c in text)


UNITS = [
    "zero",
    "one",
    "two",
    "three",
    "four",
    "five",
    "six",
    "seven",
    "eight",
    "nine",
    "ten",
    "eleven",
    "twelve",
    "thirteen",
    "fourteen",
    "fifteen",
    "sixteen",
    "seventeen",
    "eighteen",
    "nineteen",
]
TENS = ["twenty", "thirty", "forty", "fifty", "sixty", "seventy", "eighty", "ninety"]
WORDS = {word: n for n, word in enumerate(UNITS)} | {word: 10 * (n + 2) for n, word in enumerate(TENS)}
WORDS |= {"hundred": 100, "a hundred": 100, "one hundred": 100, "dozen": 12, "a dozen": 12, "single": 1}
PARTS = {
    "half": 2, "third": 3, "quarter": 4, "fourth": 4, "fifth": 5, "sixth": 6, "seventh": 7, "eighth": 8, "ninth": 9,
    "tenth": 10, "twelfth": 12, "twentieth": 20,
}  # fmt: skip
VULGAR = {"½": Fraction(1, 2), "⅓": Fraction(1, 3), "⅔": Fraction(2, 3), "¼": Fraction(1, 4), "¾": Fraction(3, 4),
          "⅕": Fraction(1, 5), "⅙": Fraction(1, 6), "⅛": Fraction(1, 8)}  # fmt: skip

_TENS = "|".join(TENS)
_UNITS = "|".join(sorted(UNITS, key=len, reverse=True))
HUNDREDS = rf"(?:{'|'.join(UNITS[1:10])}) hundred(?: (?:and )?(?:{_TENS}))?"
NUMBER_WORD = (
    rf"(?:{HUNDREDS}|(?:{_TENS})(?:[- ](?:{'|'.join(UNITS[1:10])}))?|(?:an? |one )?(?:hundred|dozen)|{_UNITS})"
)
# With a left edge and limits: a text of digits alone takes no longer to read than it is long.
DIGITS = r"(?<!\d)(?:\d{1,3}(?:,\d{3}){1,4}(?:\.\d{1,12})?|\d{1,12}(?:[.]\d{1,12})?(?:/\d{1,12})?|\.\d{1,12})"
NUMBER = rf"(?:{DIGITS}[½⅓⅔¼¾]?|[½⅓⅔¼¾⅕⅙⅛]|\b{NUMBER_WORD}\b)"
PERCENT_SIGN = r"(?: ?%|[ -](?:percent|per cent|pct\.?)(?:age points?)?\b| percentage points?\b)"
_PART = "|".join(PARTS)
PART = rf"\b(?:an?|one|two|three|four|five|another|1|2|3)?[ -]?(?:{_PART})s?\b"
POINTS_WORD = r"(?:[ -]?points?\b|[ -]?pts?\b\.?|[ -]?marks?\b)"

MARKS = {
    "number": NUMBER,
    "percent": rf"{NUMBER}{PERCENT_SIGN}",
    "part": PART,
    "points": rf"{NUMBER}{POINTS_WORD}",
    "score": r"(?:scores?|grades?|marks?|ones?|results?)",
    "course": r"(?:course|final|overall|total|semester|term|class|whole)",
    "grade": r"(?:grades?|marks?|averages?|scores?|percentages?|totals?|results?|evaluation|assessment)",
    "goes": (
        r"(?:drop(?:ped)?|not (?:be )?count(?:ed)?|not be counted|excluded|discarded|ignored|left out|disregarded|"
        r"thrown (?:out|away)|removed|omitted|forgotten|forgiven|eliminated|set aside|cut|tossed(?: out)?|taken out)"
    ),
}


def phrase(pattern: str) -> re.Pattern[str]:
    """A pattern in small letters with {number}, {percent}, {score} … standing for what people write there.

    '{count:number}' gives the stretch a name: '(?P<count>…)'.
    """

    def filled(match: re.Match[str]) -> str:
        name, _, mark = match[1].rpartition(":")
        return f"(?P<{name}>{MARKS[mark]})" if name else f"(?:{MARKS[mark]})"

    return re.compile(re.sub(r"\{([a-z_]+(?::[a-z_]+)?)\}", filled, pattern))


class Saying(NamedTuple):
    """A way of saying a rule: its pattern, and an example that it must read."""

    pattern: re.Pattern[str]
    example: str


def saying(pattern: str, example: str) -> Saying:
    """A way of saying something, its pattern written as `phrase` takes it."""
    return Saying(phrase(pattern), example)


def value_of(text: str) -> Fraction | None:
    """A number as written: '12.5', '1,000', '2/3', 'twenty-five', 'a dozen', '½'; None for anything else."""
    found = text.strip().lower().replace(",", "")
    found = re.sub(rf"{PERCENT_SIGN}$|{POINTS_WORD}$", "", found).strip()
    if re.fullmatch(r"\d+(?:\.\d+)?(?:/[1-9]\d*)?|\.\d+", found):
        return Fraction(found) if "/" not in found else Fraction(found.split("/")[0]) / int(found.split("/")[1])
    if found and found[-1] in VULGAR:
        whole = value_of(found[:-1]) if found[:-1] else Fraction(0)
        return None if whole is None else whole + VULGAR[found[-1]]
    return _words_value(found)


def _words_value(found: str) -> Fraction | None:
    if found in WORDS:
        return Fraction(WORDS[found])
    hundreds, said, rest = found.partition(" hundred")
    if said and hundreds in UNITS[1:10] and rest:
        return Fraction(100 * WORDS[hundreds] + WORDS.get(rest.removeprefix(" and").strip(), 0))
    tens, _, ones = found.replace("-", " ").partition(" ")
    if tens in UNITS[1:10] and ones == "hundred":
        return Fraction(100 * WORDS[tens])
    if tens in TENS and ones in UNITS[1:10]:
        return Fraction(WORDS[tens] + WORDS[ones])
    if tens in {"one", "a"} and ones in {"hundred", "dozen"}:
        return Fraction(WORDS[ones])
    return None


def part_of(text: str) -> Fraction | None:
    """A part as written: 'a fifth', 'two thirds', 'half', 'one-quarter'; None for anything else."""
    words = text.strip().lower().replace("-", " ").split()
    below = PARTS.get(words[-1].removesuffix("s") if words and words[-1] not in PARTS else words[-1]) if words else None
    if below is None:
        return None
    times = words[0] if len(words) > 1 else "one"
    above = Fraction(1) if times in {"a", "an", "another"} else value_of(times)
    return None if above is None else above / below


def whole(text: str) -> int | None:
    """A whole number as written, above 0."""
    found = value_of(text)
    return int(found) if found is not None and found.denominator == 1 and found > 0 else None
