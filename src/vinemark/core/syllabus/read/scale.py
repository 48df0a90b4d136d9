"""The letter scale, however it is printed: rows, ranges, from-values, one line, letters across, points of a total."""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise
from typing import Literal

from vinemark.core.syllabus.facts import SaidRow
from vinemark.core.syllabus.read.layout import Page
from vinemark.core.syllabus.read.normal import DIGITS, value_of

# An article is no letter: after 'A' only words that speak of a grade may follow.
ARTICLE = (
    r" (?!(?:is|are|from|for|if|means|starts?|begins?|at|and|or|grades?|range|requires|to|will|goes|than|needs|takes|"
    r"below|above|under|anything|everything|with|you|points?|percent|in|on|of|he|she|it|we|as|when|but)\b)[a-z]{2,}"
)
LETTER = (
    r"(?P<letter>(?<![A-Za-z0-9'+/&])(?:A|B|C|D|E|F)(?:\+|-(?!\d)| ?\b(?:[Pp]lus|[Mm]inus)\b)?)(?![A-Za-z0-9'])"
    rf"(?<!A(?={ARTICLE}))"
)
NUM = rf"(?:{DIGITS})"
UNIT = r"(?: ?%| ?percent\b| ?points?\b| ?pts?\b\.?)?"
RANGE = (
    rf"(?P<one>{NUM}){UNIT} ?(?:-+|to|through|up to|<|\u2264|and up to|thru|"
    rf"until)[ <\u2264]*(?:but )?(?:below |under |less than |just under |x \u2264 |"
    rf"x < )?(?P<two>{NUM}){UNIT}"
)
UP = (
    rf"(?P<from>{NUM}){UNIT} ?(?:\+|(?:and|or) (?:above|up|over|more|better|higher|greater)|"
    rf"or (?:above|up|over)|upward(?:s)?|at least|minimum)?"
)
LEAST = rf"(?:>=?|\u2265|at least|from|minimum(?: of)?|above|over|starts at|begins at|is|=)? ?{UP}"
BELOW = (
    rf"(?:below|under|less than|lower than|fewer than|<|anything (?:below|under|less than|"
    rf"lower than)|anything lower than|up to) ?(?P<below>{NUM}){UNIT}|"
    rf"(?P<below2>{NUM}){UNIT} (?:and|or) (?:below|under|less|lower|fewer|down)"
)
FILL = (
    r"(?:[\s:=|(,.]|-(?=[\s\d])|\b(?:is|are|for|means|range|grade|grades|letter|starts|"
    r"begins|at|from|requires|needs|takes|will be|an?|scores?|of|percent|average|if|you (?:will )?(?:have|need)|need|"
    r"your|total|earned|goes)\b|\b[0-4]\.\d{1,2}\b(?=[\s|]{1,20}\d)){0,90}"
)
FILL_BACK = (
    r"(?:[\s:=|(),.;%]|-(?=[\sA-Z])|\b(?:is|are|earns?|gets?|gives?|makes?|means|for|an?|"
    r"grade|the|letter|of|points?|percent|and|will|be|you|receive|your|results? in|brings?|"
    r"guarantees?|at least|assigned|equals?)\b){0,90}"
)

# Letter first: 'A: 93-100', 'A 93+', 'F below 60', 'An A starts at 90'.
FORWARD = re.compile(rf"{LETTER}{FILL}(?:{BELOW}|{RANGE}|{LEAST})")
# Number first: '93-100 A', '90 and up is an A', 'below 60: F'.
BACKWARD = re.compile(rf"(?:{BELOW}|{RANGE}|{LEAST}){FILL_BACK}{LETTER}")
# In a note without capitals: 'a is 90+, b is 80+'.
SMALL = re.compile(
    rf"(?<![a-z0-9'])(?P<letter>[a-df][+-]?) ?(?:is|=|:|for|from) ?(?:at least |from )?(?:{BELOW}|{RANGE}|{LEAST})"
)
ACROSS = re.compile(
    r"\b(\d{2})(?: ?[/,-] ?| )(\d{2})(?: ?[/,-] ?| )(\d{2})(?: ?[/,-] ?| )(\d{2})\b(?!(?: ?[/,-] ?| )\d)"
)
SCALE_WORDS = re.compile(r"scale|letter|grade|cut ?-?offs?|straight|standard|\blines\b")


@dataclass(frozen=True)
class ScaleMatch:
    """One row read, with its place."""

    letter: str
    cutoff: Fraction
    top: Fraction | None
    start: int
    end: int
    open: bool = False


@dataclass(frozen=True)
class ReadScale:
    """The rows of the scale in the order of the text, their unit and place."""

    rows: Sequence[SaidRow]
    unit: Literal["percent", "points"]
    spans: Sequence[tuple[int, int]]


def read_scale(page: Page) -> ReadScale | None:
    """The scale of a text, if it has one."""
    tries = [
        _run(list(_matches(page, FORWARD))),
        _run(list(_matches(page, BACKWARD))),
        _run(list(_matches(page, SMALL))),
        _run(_lying(page)),
        _run(_bare(page)),
    ]
    runs = [run for found in tries for run in found if _is_scale(run)]
    if not runs:
        return None
    best = max(runs, key=lambda run: (len(run), -_slack(run)))
    best = _in_percent(page, best)
    highest = max(row.cutoff for row in best)
    unit: Literal["percent", "points"] = "points" if highest > 110 else "percent"
    rows = [SaidRow(row.letter, row.cutoff) for row in best]
    return ReadScale(rows, unit, [(row.start, row.end) for row in best])


def _matches(page: Page, pattern: re.Pattern[str]) -> Iterator[ScaleMatch]:
    place = 0
    text = page.text.replace("\n", " ")
    while match := pattern.search(text, place):
        place = max(match.end(), place + 1)
        if "\n\n\n" in page.text[match.start() : match.end()] or match.end() - match.start() > 90:
            place = match.start() + 1
            continue
        row = _row(match)
        if row is not None:
            yield row


def _row(match: re.Match[str]) -> ScaleMatch | None:
    found = match.groupdict()
    letter = found["letter"].replace(" ", "").lower().replace("plus", "+").replace("minus", "-").upper()
    if found["below"] or found["below2"]:
        top = value_of(found["below"] or found["below2"])
        return ScaleMatch(letter, Fraction(0), top, match.start(), match.end())
    if found["one"]:
        one, two = value_of(found["one"]), value_of(found["two"])
        if one is None or two is None:
            return None
        return ScaleMatch(letter, min(one, two), max(one, two), match.start(), match.end())
    least = value_of(found["from"])
    return None if least is None else ScaleMatch(letter, least, None, match.start(), match.end(), open=True)


def _lying(page: Page) -> list[ScaleMatch]:
    """Letters in one row, their cutoffs or ranges in the next."""
    found: list[ScaleMatch] = []
    rows = [line for line in page.lines if line.kind in {"row", "item"} and len(line.cells) > 2]
    for above, below in pairwise(rows):
        letters = [page.text[a:b] for a, b in above.cells]
        numbers = [page.text[a:b] for a, b in below.cells]
        if not re.fullmatch(LETTER, letters[-1]):
            continue
        letters, numbers = letters[-len(numbers) :], numbers[-len(letters) :]
        for letter, number in zip(letters, numbers, strict=False):
            match = FORWARD.fullmatch(f"{letter} {number}") if re.fullmatch(LETTER, letter) else None
            row = _row(match) if match else None
            if row is not None:
                found.append(ScaleMatch(row.letter, row.cutoff, row.top, above.start, below.end, row.open))
    return found


def _bare(page: Page) -> list[ScaleMatch]:
    """'The usual 90/80/70/60' is A, B, C, D."""
    for match in ACROSS.finditer(page.text):
        numbers = [Fraction(n) for n in match.groups()]
        near = page.flat[max(0, match.start() - 120) : match.end() + 80]
        if all(a > b for a, b in pairwise(numbers)) and numbers[-1] >= 40 and SCALE_WORDS.search(near):
            return [
                ScaleMatch(letter, n, None, match.start(), match.end(), open=True)
                for letter, n in zip("ABCD", numbers, strict=True)
            ]
    return []


def _run(found: list[ScaleMatch]) -> list[list[ScaleMatch]]:
    """Rows that stand near one another, each letter once, cutoffs going one way."""
    runs: list[list[ScaleMatch]] = []
    for row in found:
        run = runs[-1] if runs else []
        near = run and row.start - run[-1].end < 160
        if near and row.letter not in [r.letter for r in run] and _fits(run, row):
            run.append(row)
        elif near and (row.letter in [r.letter for r in run]):
            continue
        else:
            runs.append([row])
    return runs


def _fits(run: Sequence[ScaleMatch], row: ScaleMatch) -> bool:
    if len(run) < 2:
        return row.cutoff != run[-1].cutoff
    falling = run[0].cutoff > run[-1].cutoff
    return (row.cutoff < run[-1].cutoff) == falling and row.cutoff != run[-1].cutoff


def _is_scale(run: Sequence[ScaleMatch]) -> bool:
    letters = [row.letter for row in run]
    ordered = [letter[0] for letter in letters]
    rising = ordered == sorted(ordered) or ordered == sorted(ordered, reverse=True)
    cutoffs = [row.cutoff for row in sorted(run, key=lambda r: r.letter[0])]
    if len(run) < 3 or not rising or not {"A", "B"} <= set(ordered):
        return False
    tops = [c for row, c in zip(sorted(run, key=lambda r: r.letter[0]), cutoffs, strict=True) if row.letter[0] == "A"]
    return max(cutoffs) in tops and max(cutoffs) >= 50


def _slack(run: Sequence[ScaleMatch]) -> int:
    """How loosely a run is written, and how badly its ranges meet: the other orientation shifts every row by one."""
    loose = sum(b.start - a.end for a, b in pairwise(run)) + sum(r.end - r.start for r in run)
    order = sorted(run, key=lambda r: -r.cutoff)
    clash = sum(1 for a, b in pairwise(order) if b.top is not None and (b.top > a.cutoff or a.cutoff - b.top > 3))
    # A best letter that ends well below 100 belongs to the row beside it.
    ends_early = order[0].top is not None and order[0].cutoff < 110 and order[0].top < 96
    return loose + 1000 * clash + 5000 * ends_early


def _in_percent(page: Page, run: list[ScaleMatch]) -> list[ScaleMatch]:
    """Where each row has both points and percent, the percent."""
    if max(row.cutoff for row in run) <= 110:
        return run
    made = []
    for place, row in enumerate(run):
        end = run[place + 1].start if place + 1 < len(run) else min(len(page.text), row.end + 40)
        line_end = page.text.find("\n", row.end)
        tail = page.text[row.end : min(end, line_end if line_end >= 0 else end)]
        head = page.text[page.text.rfind("\n", 0, row.start) + 1 : row.start]
        match = re.search(rf"({NUM}) ?%? ?(?:-+|to) ?({NUM}) ?%|({NUM}) ?%", tail) or re.search(
            rf"({NUM}) ?%? ?(?:-+|to) ?({NUM}) ?%|({NUM}) ?%", head
        )
        numbers = [value for g in match.groups() if g and (value := value_of(g)) is not None] if match else []
        if not numbers and row.cutoff:
            return run
        least = min(numbers) if numbers and row.cutoff else Fraction(0)
        made.append(ScaleMatch(row.letter, least, None, row.start, row.end))
    return made
