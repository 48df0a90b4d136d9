"""A heading of a column taken apart: the name of the work, its points, its weight, its day, whether it is extra."""

import re
from dataclasses import dataclass
from datetime import date
from fractions import Fraction

_AMOUNT = r"(\d{1,5}(?:\.\d{1,4})?)"
_UNIT = r"(?:pts?\b\.?|points?\b|marks?\b)"
_POINTS = (
    re.compile(
        rf"[(\[] ?(?:out of |of |max\.? |/ ?)?{_AMOUNT} ?{_UNIT}? ?(?:possible|max|each)? ?[)\]]", re.IGNORECASE
    ),
    re.compile(rf"(?<!\d) ?/ ?{_AMOUNT} ?{_UNIT}?$", re.IGNORECASE),
    re.compile(rf"[,:;–-]? ?\b(?:out of|max(?:imum)?\.?|worth) {_AMOUNT} ?{_UNIT}?$", re.IGNORECASE),
    re.compile(rf"[,:;–-]? ?(?<![\d.]){_AMOUNT} ?{_UNIT}(?: possible)?$", re.IGNORECASE),
    re.compile(rf" ?: ?{_AMOUNT}$"),
)
_WEIGHT = re.compile(
    rf"[(\[] ?{_AMOUNT} ?(?:%|percent\b)[^)\]\d]{{0,40}}[)\]]"
    rf"|[,:;–-]? ?(?<![\d.]){_AMOUNT}(?:%| ?percent\b)(?: ?of (?:the )?(?:course |final )?grade)?",
    re.IGNORECASE,
)
_POINTS_EACH = re.compile(
    rf"[(\[] ?{_AMOUNT} ?{_UNIT} (?:each|apiece) ?[)\]]|,? {_AMOUNT} ?{_UNIT} (?:each|"
    rf"apiece)$",
    re.IGNORECASE,
)
_BARE_UNIT = re.compile(rf" ?[(\[] ?{_UNIT} ?[)\]]", re.IGNORECASE)
_PERCENT = re.compile(r" ?(?:[(\[] ?% ?[)\]]|%|\bpercent(?:age)?\b|\bpct\b\.?) ?$", re.IGNORECASE)
_EXTRA = re.compile(r"\b(?:bonus|extra[ -]?credit|EC)\b", re.IGNORECASE)
_EXTRA_APART = re.compile(r" ?[(\[] ?(?:bonus|extra[ -]?credit|EC) ?[)\]]", re.IGNORECASE)
_NOTHING_IN_BRACKETS = re.compile(r"[(\[] ?[,;]? ?[)\]]")
_MONTHS = ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"]
_WORD_DAY = re.compile(
    r"[(\[]? ?(?:due:? ?)?\b(jan|feb|mar|apr|may|jun|jul|aug|sept?|oct|nov|dec)[a-z]{0,6}\.? (\d{1,2})"
    r"(?:,? (\d{4}))? ?[)\]]?",
    re.IGNORECASE,
)
_SLASH_DAY = re.compile(
    r"(?:[(\[] ?|\bdue:? |^)(?:due:? ?)?(\d{1,2})/(\d{1,2})(?:/(\d{4}|\d{2}))? ?[)\]]?(?!\S)", re.IGNORECASE
)
_ISO_DAY = re.compile(r"[(\[]? ?(?:due:? ?)?(\d{4})-(\d{2})-(\d{2}) ?[)\]]?", re.IGNORECASE)


@dataclass(frozen=True)
class SaidDay:
    """A day as a heading says it: month, day, and the year where it is said."""

    month: int
    day: int
    year: int | None = None

    def in_year(self, year: int) -> date | None:
        """The day in a year, its own where it says one; None for no day of the calendar."""
        try:
            return date(self.year or year, self.month, self.day)
        except ValueError:
            return None


@dataclass(frozen=True)
class Heading:
    """What a heading says. `percent`: that the column holds percents."""

    name: str
    points: Fraction | None = None
    weight: Fraction | None = None
    extra: bool = False
    percent: bool = False
    day: SaidDay | None = None


def read_heading(text: str) -> Heading:
    """A heading taken apart; what is given apart is no part of the name. A heading that is only a date is the name."""
    rest, day = _without_day(text)
    rest, weight = _taken(_WEIGHT, rest)
    points = None
    for pattern in _POINTS:
        if points is None:
            rest, points = _taken(pattern, rest)
    percent = bool(_PERCENT.search(rest))
    rest = _PERCENT.sub("", rest) if percent else rest
    extra = bool(_EXTRA.search(rest))
    rest = _EXTRA_APART.sub("", rest)
    rest = _BARE_UNIT.sub(" ", rest)
    name = _tidy(_NOTHING_IN_BRACKETS.sub("", _single(rest)))
    return Heading(name or " ".join(text.split()), points, weight, extra, percent, day)


def says_extra(text: str) -> bool:
    """Whether a heading says that something is extra credit."""
    return bool(_EXTRA.search(text))


def group_of(text: str) -> tuple[str, Fraction | None]:
    """The heading of a group without its weight and the points of each item, and the weight."""
    rest, weight = _taken(_WEIGHT, text)
    rest, _ = _taken(_POINTS_EACH, rest)
    return _tidy(rest), weight


def points_of_group(text: str) -> Fraction | None:
    """The points that the heading of a group gives to each of its items."""
    return _taken(_POINTS_EACH, text)[1]


def _taken(pattern: re.Pattern[str], text: str) -> tuple[str, Fraction | None]:
    match = pattern.search(text)
    if match is None or not (text[: match.start()] + text[match.end() :]).strip(" ()[]"):
        return text, None
    amount = next(group for group in match.groups() if group)
    return _without(match), Fraction(amount)


def _without(match: re.Match[str]) -> str:
    return _single(f"{match.string[: match.start()]} {match.string[match.end() :]}")


def _single(text: str) -> str:
    return " ".join(text.split())


def _tidy(text: str) -> str:
    return _single(text.strip(" ,;:–-")).replace(" :", ":").replace(" ,", ",")


def _without_day(text: str) -> tuple[str, SaidDay | None]:
    match, day = find_day(text)
    if match is None or day is None:
        return text, None
    rest = _without(match)
    return (rest, day) if rest.strip(" ()[],:;–-") else (text, day)


def find_day(text: str, day_first: bool = False) -> tuple[re.Match[str] | None, SaidDay | None]:
    """A date within a text: where it stands, and the day. Slashes are month/day unless `day_first`."""
    match = _ISO_DAY.search(text)
    if match:
        return match, SaidDay(int(match[2]), int(match[3]), int(match[1]))
    match = _WORD_DAY.search(text)
    if match:
        year = int(match[3]) if match[3] else None
        return match, SaidDay(_MONTHS.index(match[1][:3].lower()) + 1, int(match[2]), year)
    match = _SLASH_DAY.search(text)
    if match is None:
        return None, None
    one, two = int(match[1]), int(match[2])
    month, day = (two, one) if day_first else (one, two)
    year = int(match[3]) if match[3] else None
    year = year + 2000 if year is not None and year < 100 else year
    return (match, SaidDay(month, day, year)) if 1 <= month <= 12 and 1 <= day <= 31 else (None, None)
