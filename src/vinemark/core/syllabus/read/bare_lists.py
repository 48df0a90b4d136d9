"""Lists of names, each beside a number without a unit: 'Field trips: 20', 'Midterm (100)', '30 - Labs'.

Nothing but their sum says what the numbers are: they are believed where together they make 100, or as many points as
the text says there are.
"""

import re
from collections.abc import Sequence
from fractions import Fraction
from itertools import groupby
from typing import NamedTuple

from vinemark.core.plan.plan import HUNDRED
from vinemark.core.syllabus.read.lexicon import is_work
from vinemark.core.syllabus.read.lines import FILLER, Span, TextLine
from vinemark.core.syllabus.read.naming import is_extra, is_total
from vinemark.core.syllabus.read.normal import lowered
from vinemark.core.syllabus.read.points_totals import points_totals

FEWEST_LISTED, MOST_LISTED = 3, 20
LEAST_OF_COURSE = 50
LONGEST_LEADING = 300
NAME_FIRST = re.compile(
    r"(?P<name>(?:\d-)?[A-Z\"'(][^|\t%]{1,70}?[\w)\"'])"
    r"(?P<by> {0,2}: {0,9}| {0,2}= {0,9}| -{1,2} | ?[(\[](?=\d{1,4}[)\]]\W{0,3}$)|, | |"
    r"\t{1,9} {0,9}| {2,60}|[ .]{2,90})"
    r"(?P<n>\d{1,4}(?:\.\d{1,2})?)(?P<close>[)\]]?)[.;,]? {0,60}"
)
NUMBER_FIRST = re.compile(
    r"(?:\[(?=\d{1,3}%?\])|\((?=\d{1,3}%?\)))?"
    r"(?P<n>\d{1,4}(?:\.\d{1,2})?)(?P<by>%?[)\]] {1,9}|: {1,9}| -{1,2} | = | {1,60}|\t{1,9} {0,9})"
    r"(?P<name>(?:\d-)?[A-Z\"'][^|\t%]{1,70}?)[.;,]? {0,60}"
)
SAYS_GRADE = re.compile(
    r"\bgrad(?:e|es|ed|ing)\b|assess|evaluat|weight|points|percent|marks?\b|worth|breakdown|counts|requirements"
)
OF_COURSE = re.compile(r"\b(?:course|semester|term|final|overall|your) (?:course )?(?:grade|mark|total|average)s?\b")
PARTS_OR_OTHER = re.compile(
    r"\b(?:rubric|forms?|format|criteria|phone|schedule|readings?|calendar|dates?|weeks?|pages?|minutes|hours|rooms?|sizes?|"
    r"each|every|exam|examination|midterm|test|quiz|essay|paper|report|project|presentation|portfolio|lab|poster|speech|"
    r"review|assignment|homework)\b"
)
"""What a lead speaks of that tells of the parts of one piece of work, or of something else than grades."""
SURELY_WORK = re.compile(
    r"\b(?:exams?|examinations?|midterms?|quiz(?:zes)?|tests?|final|homeworks?|labs?|papers?|projects?|participation|"
    r"attendance|assignments?|presentations?|problem sets?|essays?|reports?)\b"
)
READ_IN_ITEMS = frozenset(["name:", "name=", "name-", "name."])
CELLS = 2


class _Pair(NamedTuple):
    """A line of a list: its name, its number, and how one stands to the other."""

    line: TextLine
    name: Span
    number: Span
    value: Fraction
    form: str


def take_bare_lists(text: str, lines: Sequence[TextLine]) -> None:
    """Make the lines of such lists items, or rows of two cells where an item would not be read so."""
    written = [(line, _pair(text, line)) for line in lines if line.kind not in {"blank", "rule"}]
    lead = ""
    for form, run in groupby(written, key=lambda one: one[1].form if one[1] else None):
        listed = list(run)
        pairs = [pair for _, pair in listed if pair is not None]
        right = FEWEST_LISTED <= len(pairs) <= MOST_LISTED and _is_whole(text, pairs)
        if right and _is_grading(text, lead, pairs):
            for pair in pairs:
                if form in READ_IN_ITEMS:
                    pair.line.kind = "item" if pair.line.kind == "text" else pair.line.kind
                else:
                    pair.line.kind, pair.line.cells = "row", sorted([pair.name, pair.number])
        lead = text[listed[-1][0].start : listed[-1][0].end][-LONGEST_LEADING:].lower()


def _pair(text: str, line: TextLine) -> _Pair | None:
    if line.kind not in {"item", "text"} or not 0 < len(line.cells) <= CELLS or "|" in text[line.start : line.end]:
        return None
    begin = line.cells[0].start
    for pattern in (NAME_FIRST, NUMBER_FIRST):
        found = pattern.fullmatch(text, begin, line.end)
        if found is not None and _names_something(found["name"]):
            form = ("name" if pattern is NAME_FIRST else "number") + _sort_of(found["by"])
            number = Span(found.start("n"), found.end("close") if pattern is NAME_FIRST else found.end("n"))
            return _Pair(line, Span(*found.span("name")), number, Fraction(found["n"]), form)
    return None


def _names_something(name: str) -> bool:
    return re.search(r"[A-Za-z]{3}", name) is not None and FILLER not in name.strip(FILLER)


def _sort_of(between: str) -> str:
    """How name and number are kept apart, however wide."""
    signs = between.strip()
    return signs[:1] if signs else "gap" if len(between) > 1 or "\t" in between else "blank"


def _is_whole(text: str, pairs: Sequence[_Pair]) -> bool:
    """Whether the numbers make 100, their own total, or a total of points that the text states."""
    names = [text[slice(*pair.name)].lower() for pair in pairs]
    parts = [pair.value for pair, name in zip(pairs, names, strict=True) if not is_total(name) and not is_extra(name)]
    totals = [pair.value for pair, name in zip(pairs, names, strict=True) if is_total(name)]
    whole = sum(parts, Fraction(0))
    if len(parts) < FEWEST_LISTED or whole < LEAST_OF_COURSE or any(total != whole for total in totals):
        return False
    return whole == HUNDRED or bool(totals) or whole in points_totals(lowered(text))


def _is_grading(text: str, lead: str, pairs: Sequence[_Pair]) -> bool:
    """Whether the list is of the work of a course; below 'The final exam' or 'Each report is graded so' it is not."""
    if PARTS_OR_OTHER.search(lead) and not OF_COURSE.search(lead):
        return False
    words = [text[slice(*pair.name)].lower() for pair in pairs]
    works = sum(any(is_work(word) for word in re.findall("[a-z-]+", name)) for name in words)
    sure = sum(SURELY_WORK.search(name) is not None for name in words)
    return 2 * sure >= len(words) or (works > 0 and SAYS_GRADE.search(lead) is not None)
