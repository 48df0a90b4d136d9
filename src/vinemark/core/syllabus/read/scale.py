"""The letter scale read as a set: letters and numbers of a region, paired every way, the way that hangs together kept.

Rows of a table, letters across, several pairs side by side, ranges in either direction, sentences and number words are
all the same here: candidates for a set of letters with falling cutoffs whose ranges meet.
"""

import re
from bisect import bisect_left
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise
from typing import Literal

from vinemark.core.plan.plan import HUNDRED
from vinemark.core.syllabus.facts import SaidRow
from vinemark.core.syllabus.read.layout import Page
from vinemark.core.syllabus.read.normal import NUMBER, value_of
from vinemark.core.syllabus.read.scale_tokens import SMALL_LETTER, Token, tokens_of
from vinemark.core.syllabus.read.tables import TextTable

RANKS = {
    letter: n for n, letter in enumerate(["A+", "A", "A-", "B+", "B", "B-", "C+", "C", "C-", "D+", "D", "D-", "E", "F"])
}
PLAIN_CUTOFFS = re.compile(
    r"\b(\d{2})(?: ?[/,-] ?| )(\d{2})(?: ?[/,-] ?| )(\d{2})(?: ?[/,-] ?| )(\d{2})\b(?!(?: ?[/,-] ?| )\d)"
)
SCALE_WORDS = re.compile(r"scale|letter|grade|cut ?-?offs?|straight|standard|\blines\b|\ba ?/ ?b ?/ ?c\b")
LEAST_LETTERS = 3
FARTHEST_STEP = 2
MOST_PERCENT_CUTOFF = 110
JUST_BEFORE = 25
NEAR_LETTER = 90
"""So many signs may stand between a letter and its number in running text."""
APART = 240
"""So many signs without a letter or number end a region."""


@dataclass(frozen=True)
class Pair:
    """A letter with the value beside it."""

    letter: str
    value: Token
    start: int
    end: int
    weight: int = 1000
    """How surely the two belong together, in thousandths."""

    @property
    def cutoff(self) -> Fraction:
        """The lowest value that gets the letter."""
        return self.value.low


@dataclass(frozen=True)
class ReadScale:
    """The rows of the scale, best first, their unit and places."""

    rows: Sequence[SaidRow]
    unit: Literal["percent", "points"]
    spans: Sequence[tuple[int, int]]


def read_scale(page: Page, tables: Sequence[TextTable]) -> ReadScale | None:
    """The scale of a text, if it has one; letters written small count only where no others do."""
    text = FOR_INSTANCE.sub(lambda m: " " * len(m[0]), page.line)
    text = TENS_AND_LETTERS.sub(lambda m: re.sub(r"'?s\b", lambda plural: " " * len(plural[0]), m[0]), text)
    found = _read(page, text, tables)
    return found or _read(page, SMALL_LETTER.sub(lambda m: m[0].upper(), text), [])


FOR_INSTANCE = re.compile(r"\b(?:[Ff]or (?:instance|example)\b|e\.g\.)[^.;]{0,60} is an? [A-F]\b[^.;]{0,80}")
"""'For instance, 88 is a B+': an example of a rule, no row."""


TENS_AND_LETTERS = re.compile(r"\b\d0'?s (?:are|get|earn|mean|=) [A-F]'?s\b")
"""'90s are As, 80s are Bs.'"""


def _read(page: Page, text: str, tables: Sequence[TextTable]) -> ReadScale | None:
    tries = [*_of_tables(text, tables), *_of_regions(page, text), _plain_cutoffs(page), *_between_strokes(text)]
    tries.append(_groups_between_strokes(text))
    sets = [tried for tried in map(_falling, tries) if _is_scale(tried) and not _of_values(page, tried)]
    scored = [(_score(page, tried), -n, tried) for n, tried in enumerate(sets)]
    if not scored:
        return None
    best = max(scored, key=lambda s: s[:2])[2]
    said = sum(pair.value.points for pair in best)
    said *= 1 if any(pair.value.percent for pair in best) else len(best)
    points = max(pair.cutoff for pair in best) > MOST_PERCENT_CUTOFF or said * 2 > len(best)
    rows = [SaidRow(pair.letter, pair.cutoff) for pair in best]
    failing = _failing(page, rows, _spans(best))
    rows += [SaidRow("F", Fraction(0))] if failing else []
    return ReadScale(rows, "points" if points else "percent", [*_spans(best), *failing])


FAILING = re.compile(
    rf"\b(?:below|under|less than|fewer than) (?P<n>{NUMBER})(?: ?%| percent| points| pts)? "
    r"(?:(?:is|are|means?|counts? as) (?:an? )?(?:failing|fail(?:ure)?|not passing)|(?:will )?fails?)\b"
)


F_BELOW = re.compile(r"(?<![A-Za-z])F\W{1,12}(?:[Bb]elow|[Ll]ower|[Uu]nder|[Ll]ess)\b(?! ?(?:than )?\d)")
F_FAILS = re.compile(r"(?<![A-Za-z])F\W{1,6}(?:not passing|failing|failure|fail)\b")
F_LAST = re.compile(r"\W{0,3}(?:,|;|and) F(?=[.;)\n]|$)")
"""'D (60), F.': the last letter of a list, with nothing beside it."""


def _failing(page: Page, rows: Sequence[SaidRow], spans: Sequence[tuple[int, int]]) -> list[tuple[int, int]]:
    """Where what lies below the last letter is called failing, without a letter, or with one and without a number."""
    last = rows[-1]
    if last.letter in {"E", "F"} or not last.cutoff:
        return []
    last_end = max(end for _, end in spans)
    near = (page.line, min(spans)[0], last_end + NEAR_LETTER)
    bare = F_BELOW.search(*near) or F_FAILS.search(*near) or F_LAST.match(page.text, last_end)
    found = [m.span() for m in FAILING.finditer(page.flat) if value_of(m["n"]) == last.cutoff]
    return [bare.span()] if bare else found[:1]


def _spans(pairs: Sequence[Pair]) -> list[tuple[int, int]]:
    return [(min(p.start, p.value.start), max(p.end, p.value.end)) for p in pairs]


# --- tables: a column of letters with a column of numbers, or a row with a row ---


def _of_tables(text: str, tables: Sequence[TextTable]) -> Iterator[list[Pair]]:
    for table in tables:
        grid = [[tokens_of(text, cell.start, cell.end) if cell else [] for cell in row] for row in table.rows]
        yield from _by_columns(grid)
        turned = [list(column) for column in zip(*grid, strict=False)]
        yield from _by_columns(turned)


def _by_columns(grid: Sequence[Sequence[list[Token]]]) -> Iterator[list[Pair]]:
    width = max((len(row) for row in grid), default=0)
    lettered = [c for c in range(width) if _letters_in(grid, c) >= 2]
    groups: dict[int, list[list[Pair]]] = {}
    for place, column in enumerate(lettered):
        following = lettered[place + 1] if place + 1 < len(lettered) else width
        before = lettered[place - 1] + 1 if place else 0
        right = [_column_pairs(grid, column, other) for other in range(column + 1, following)]
        left = [_column_pairs(grid, column, other) for other in reversed(range(before, column))]
        for side, found in enumerate((right, left)):
            for n, pairs in enumerate(f for f in found if len(f) >= 2):
                groups.setdefault(10 * side + n, []).append(pairs)
                yield pairs
    for group in groups.values():
        yield _joined(group)


def _joined(group: Sequence[list[Pair]]) -> list[Pair]:
    """Columns of letters side by side are one scale where they share no letter."""
    found: list[Pair] = []
    for pairs in group:
        if not {p.letter for p in pairs} & {p.letter for p in found}:
            found += pairs
    return found


def _letters_in(grid: Sequence[Sequence[list[Token]]], column: int) -> int:
    return sum(1 for row in grid if column < len(row) and _letter(row[column]) is not None)


def _letter(cell: Sequence[Token]) -> Token | None:
    return cell[0] if len(cell) == 1 and cell[0].letter else None


def _column_pairs(grid: Sequence[Sequence[list[Token]]], column: int, other: int) -> list[Pair]:
    found = []
    for row in grid:
        letter = _letter(row[column]) if column < len(row) else None
        values = [t for t in row[other] if not t.letter] if other < len(row) else []
        if letter is not None and values:
            value = next((v for v in values if v.percent), values[0])
            found.append(Pair(letter.letter, value, letter.start, letter.end))
    return found


# --- running text and lines ---


def _of_regions(page: Page, text: str) -> Iterator[list[Pair]]:
    for region in _regions(page, text):
        letters = sum(1 for t in region if t.letter)
        if letters < LEAST_LETTERS or len(region) - letters < LEAST_LETTERS:
            continue
        for pick in ("first", "percent", "last"):
            yield _one_sided(page, region, after=True, pick=pick)
            yield _one_sided(page, region, after=False, pick=pick)
        yield _runs(region, letters_first=True)
        yield _runs(region, letters_first=False)


def _regions(page: Page, text: str) -> Iterator[list[Token]]:
    found: list[Token] = []
    headings = [line.start for line in page.lines if line.kind == "heading"]
    for token in tokens_of(text, 0, len(text)):
        last = found[-1].end if found else token.start
        if token.start - last > APART or any(last <= h < token.start for h in _between(headings, last, token.start)):
            yield found
            found = []
        found.append(token)
    yield found


def _between(places: Sequence[int], low: int, high: int) -> Sequence[int]:
    return places[bisect_left(places, low) : bisect_left(places, high)]


def _one_sided(page: Page, region: Sequence[Token], after: bool, pick: str) -> list[Pair]:
    """Each letter with the number after it (or before it); one that stands far from it takes a free one elsewhere."""
    found: dict[int, Pair] = {}
    used: set[int] = set()
    letters = [n for n, t in enumerate(region) if t.letter]
    for side, least, malus in ((after, 500, 0), (not after, 500, 300), (after, -9000, 100), (not after, -9000, 300)):
        for place, n in enumerate(letters):
            if n in found:
                continue
            stop = _edge(letters, place, len(region), side)
            reach = range(n + 1, stop) if side else range(n - 1, stop, -1)
            values = [k for k in reach if k not in used and _beside(region[n], region[k])]
            k = _picked(region, values, pick) if values else -1
            weight = _closeness(page, region[n], region[k]) if values else -10_000
            if weight >= least:
                used.add(k)
                weight -= malus + (200 if any(f.letter == region[n].letter for f in found.values()) else 0)
                found[n] = Pair(region[n].letter, region[k], region[n].start, region[n].end, weight)
    return [found[n] for n in sorted(found)]


BOUNDARY = re.compile(r"[,;\n]|[.?!](?= )|\band\b|(?<=[.?!]) ")


def _closeness(page: Page, letter: Token, value: Token) -> int:
    """How surely the two belong together: what ends a clause between them speaks against it."""
    between = page.text[min(letter.end, value.end) : max(letter.start, value.start)]
    return 1000 - 300 * min(2, len(BOUNDARY.findall(between))) - 3 * len(between)


def _edge(letters: Sequence[int], place: int, length: int, after: bool) -> int:
    if after:
        return letters[place + 1] if place + 1 < len(letters) else length
    return letters[place - 1] if place else -1


def _beside(letter: Token, value: Token) -> bool:
    return max(letter.start, value.start) - min(letter.end, value.end) <= NEAR_LETTER


def _picked(region: Sequence[Token], values: Sequence[int], pick: str) -> int:
    if pick == "percent":
        return next((k for k in values if region[k].percent), values[0])
    return values[0] if pick == "first" else values[-1]


def _runs(region: Sequence[Token], letters_first: bool) -> list[Pair]:
    """'90, 80, 70 and 60 for A, B, C and D': as many numbers in a row as letters."""
    runs: list[list[Token]] = []
    for token in region:
        if runs and bool(runs[-1][-1].letter) == bool(token.letter):
            runs[-1].append(token)
        else:
            runs.append([token])
    for one, two in pairwise(runs):
        if len(one) == len(two) >= 3 and bool(one[0].letter) == letters_first:
            letters, values = (one, two) if letters_first else (two, one)
            return [Pair(a.letter, b, a.start, a.end) for a, b in zip(letters, values, strict=True)]
    return []


def _plain_cutoffs(page: Page) -> list[Pair]:
    """'The usual 90/80/70/60' is A, B, C, D."""
    for match in PLAIN_CUTOFFS.finditer(page.text):
        numbers = [Fraction(n) for n in match.groups()]
        near = page.flat[max(0, match.start() - 120) : match.end() + 80]
        if all(a > b for a, b in pairwise(numbers)) and numbers[-1] >= 40 and SCALE_WORDS.search(near):
            tokens = [Token(match.start(), match.end(), low=n) for n in numbers]
            return [Pair(a, t, t.start, t.end) for a, t in zip("ABCD", tokens, strict=True)]
    return []


STROKE = r"(?: {0,2}/ {0,2}|,? (?:and )?)"
NUMBER_STROKE = r"(?: {0,2}[/-] {0,2}|,? (?:and )?)"
CUTOFFS = rf"(?P<numbers>(?<![\d/-])\d{{2,3}}(?:\.\d)?(?:{NUMBER_STROKE}\d{{2,3}}(?:\.\d)?){{2,12}})"
LETTERS = rf"(?P<letters>(?<![A-Za-z/])[A-F][+-]?(?:{STROKE}[A-F][+-]?){{2,12}})"
CUTOFFS_FIRST = re.compile(rf"{CUTOFFS}[^\d/]{{1,30}}?{LETTERS}(?![\w/])")
LETTERS_FIRST = re.compile(rf"{LETTERS}[^\d/]{{1,30}}?{CUTOFFS}(?![\w/])")


def _between_strokes(text: str) -> Iterator[list[Pair]]:
    """'93/90/87 for A/A-/B+': as many letters as numbers."""
    for pattern in (CUTOFFS_FIRST, LETTERS_FIRST):
        for found in pattern.finditer(text):
            yield _one_by_one(found)


CUTOFFS_BY_LETTERS = re.compile(
    r"(?<![\d/.-])(?P<numbers>\d{2,3}(?:/\d{2,3}){0,4}) (?P<letters>[A-F][+-]?(?:/[A-F][+-]?){0,4})(?![\w/])"
)


def _groups_between_strokes(text: str) -> list[Pair]:
    """'93/90 A/A-, 87/83/80 B+/B/B-, 60 D': groups with as many letters as numbers, some of them of several."""
    groups = [_one_by_one(found) for found in CUTOFFS_BY_LETTERS.finditer(text)]
    return [pair for group in groups for pair in group] if any(len(group) > 1 for group in groups) else []


def _one_by_one(found: re.Match[str]) -> list[Pair]:
    """Letters and numbers between strokes, where they are as many."""
    letters, numbers = re.split(STROKE, found["letters"]), re.split(NUMBER_STROKE, found["numbers"])
    tokens = [Token(found.start(), found.end(), low=Fraction(number)) for number in numbers]
    return (
        [Pair(a, t, t.start, t.end) for a, t in zip(letters, tokens, strict=False)]
        if len(letters) == len(numbers)
        else []
    )


# --- which set hangs together ---


def _falling(pairs: Sequence[Pair]) -> list[Pair]:
    """The pairs of most weight with falling letters and falling cutoffs, each letter once."""
    ranked = sorted((p for p in pairs if p.letter in RANKS), key=lambda p: (RANKS[p.letter], -p.cutoff))
    best: list[list[Pair]] = []
    for n, pair in enumerate(ranked):
        before = [b for b in best[:n] if b[-1].letter != pair.letter and b[-1].cutoff > pair.cutoff]
        best.append([*max(before, key=_weight, default=[]), pair])
    found = max(best, key=_weight, default=[])
    # 'A+ is not given. A 93': the number beside the first letter is that of something else.
    alone = len(found) > LEAST_LETTERS and found[0].cutoff > FARTHEST_STEP * found[1].cutoff
    return found[1:] if alone else found


def _weight(pairs: Sequence[Pair]) -> int:
    return sum(p.weight for p in pairs)


def _is_scale(pairs: Sequence[Pair]) -> bool:
    letters = [p.letter for p in pairs]
    if len(pairs) < LEAST_LETTERS or letters[0][0] != "A" or not {"B", "C"} & {letter[0] for letter in letters}:
        return False
    if any(p.cutoff == 0 and p.letter[0] not in "DEF" and not p.value.lowest for p in pairs):
        return False
    return max(p.cutoff for p in pairs) >= 50


OF_ONE_LETTER = re.compile(r"\b(?:counts? as|converts? to|converted to|translates? (?:in)?to|recorded as|entered as)\b")
"""'Essays get letters, which count as A 95': what a letter on one piece is worth is no scale."""


NEAREST = re.compile(r"\b(?:convert|translat)[a-z]{1,5}\b[^.]{0,60}\bnearest (?:letter|grade)\b")


def _of_values(page: Page, pairs: Sequence[Pair]) -> bool:
    """'A=95, B=85, converted back to the nearest grade': what letters are worth, and no cutoffs."""
    end = max(pair.end for pair in pairs)
    return NEAREST.search(page.flat, end, end + SOON_AFTER) is not None


SOON_AFTER = 240


def _score(page: Page, pairs: Sequence[Pair]) -> int:
    places = [place for p in pairs for place in (p.start, p.value.start)]
    score = 3 * _weight(pairs) - _clashes(pairs)
    score -= 12000 if OF_ONE_LETTER.search(page.flat, max(0, min(places) - JUST_BEFORE), min(places)) else 0
    score -= 2000 if max(places) - min(places) > 1500 else 0
    score += 2000 if max(p.cutoff for p in pairs) <= 110 else 0
    score += 1000 if any(s.kind == "scale" for s in page.sections_between(min(places), max(places))) else 0
    return score - (6000 if any(s.kind == "rubric" for s in page.sections_between(min(places), max(places))) else 0)


NO_A = 98
"""No A begins above it: only an A+ may."""


def _clashes(pairs: Sequence[Pair]) -> int:
    """How badly the ranges meet: pairing the wrong way shifts every row by one."""
    clash = 0
    for above, below in pairwise(pairs):
        if below.value.high is None:
            continue
        gap = above.cutoff - below.value.high
        clash += 2000 if gap < 0 or gap > max(Fraction(3), above.cutoff / 40) else 0
    top = pairs[0].value.high
    clash += 4000 if top is not None and pairs[0].cutoff < 110 and top < 96 else 0
    clash += 12000 if pairs[0].letter == "A" and NO_A < pairs[0].cutoff <= HUNDRED else 0
    clash += sum(3000 for p in pairs if p.value.lowest and p.letter[0] not in "EF")
    return clash
