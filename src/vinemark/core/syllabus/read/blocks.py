"""Which of all rows are the categories.

The table or list that makes up the whole, without its totals, its groups and the parts inside one item.
"""

import re
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from fractions import Fraction

from vinemark.core.plan.plan import HUNDRED
from vinemark.core.syllabus.read.drops import find_drops
from vinemark.core.syllabus.read.layout import Page
from vinemark.core.syllabus.read.lexicon import is_work
from vinemark.core.syllabus.read.lines import TextLine
from vinemark.core.syllabus.read.normal import NOTE_SIGN, NUMBER, POINTS_WORD, value_of, whole
from vinemark.core.syllabus.read.points_totals import points_totals
from vinemark.core.syllabus.read.row_reading import (
    A_NUMBER_OF,
    PART_WORDS,
    PENALTY_ROW,
    PER_ITEM,
    RowReading,
    is_one_piece,
)

GRADE_WORDS = re.compile(
    r"\bgrad(?:e|es|ed|ing)\b|evaluat|assess|weight|\bpoints?\b|\bcount|\bmarks?\b|"
    r"\bcomponents?\b|worth|course (?:total|average)|"
    r"made up|consists? of|comes? from|as follows|based on|breakdown|distribut"
)
RUBRIC_WORDS = re.compile(
    r"(?:each|every|the|a|your) (?!course|final (?:course )?grade|class|overall|semester|"
    r"term)[a-z -]{2,30}(?:is|are|will be) "
    r"(?:judged|marked|graded|scored|assessed|evaluated|read|worth|weighted)(?: (?:on|by|for|"
    r"according|as|using))?|rubric|criteri|"
    r"(?:exam|paper|project|essay|report|presentation|portfolio|"
    r"performance)s?(?:'s)? (?:grade|score|mark)s? (?:is|are|consists?|comes?)|look for"
)


@dataclass
class Block:
    """Rows that stand together, and the words that lead to them."""

    entries: list[RowReading]
    lead: str

    @property
    def ordinary(self) -> list[RowReading]:
        """Rows that make the whole: no totals, nothing on top."""
        return [e for e in self.entries if not e.total and not e.extra]


def weights_of(found: Sequence[RowReading]) -> Fraction:
    """Sum of the whole weights."""
    return sum((e.worth or Fraction(0) for e in found), Fraction(0))


def points_of(found: Sequence[RowReading]) -> Fraction:
    """Sum of the points, each one's times the count where no total is given."""
    return sum((entry_points(e) or Fraction(0) for e in found), Fraction(0))


def entry_points(entry: RowReading) -> Fraction | None:
    """The total that the text gives, and only where it gives none, count times points each."""
    if entry.points is not None:
        return entry.points
    return None if entry.points_each is None else entry.points_each * (entry.count or 1)


def totals_of(page: Page) -> set[Fraction]:
    """Numbers that the text calls the total of points, and those that stand alone on a line."""
    return set(points_totals(page.flat)) | _lone_numbers(page) | _tops_of_scales(page)


TOP_OF_SCALE = re.compile(r"(?<![a-z])a[+]?[ :|=(]{1,4}(?P<one>\d{3,4}) ?- ?(?P<two>\d{3,4})\b")


def _tops_of_scales(page: Page) -> set[Fraction]:
    """'A 644-700': where the best letter ends, there are no more points."""
    return {Fraction(max(int(m["one"]), int(m["two"]))) for m in TOP_OF_SCALE.finditer(page.flat)}


def _lone_numbers(page: Page) -> set[Fraction]:
    words = (
        page.flat[line.start : line.end].strip(" |*_=-") for line in page.lines if line.end - line.start < LONGEST_ALONE
    )
    return {
        found
        for word in words
        if LONE.fullmatch(word) and (found := value_of(word)) is not None and found >= LEAST_ALONE
    }


LONGEST_ALONE = 120
LEAST_ALONE = 50
LONE = re.compile(rf"{NUMBER}(?:{POINTS_WORD})?")


def chosen(page: Page, found: Sequence[RowReading]) -> list[RowReading]:
    """The entries that are the course's categories; extra credit rows with them."""
    totals = totals_of(page)
    blocks = _with_whole_over_headings(_blocks(page, found), totals)
    for block in blocks:
        _parts_of_one(block)
    scored = [(score(block, totals), -n, block) for n, block in enumerate(blocks)]
    if not scored:
        return []
    best, _, block = max(scored, key=lambda s: s[:2])
    if best < 3:
        return []
    picked = list(block.entries)
    summed = any(e.total for e in block.entries) or points_of(block.ordinary) in _lone_numbers(page)
    whole = summed and points_of(block.ordinary) in totals
    for other_score, _, other in scored:
        if other is not block and other_score > -3 and _belongs(block, other, whole):
            picked += other.entries
    picked = innermost(picked)
    return [e for e in picked if not e.total]


MOST_IN_PLAN = 80
"""More rows, or lists of rows, are no plan."""
MOST_HEADINGS = 8
FEWEST_OVER_HEADINGS = 4


def _with_whole_over_headings(blocks: Sequence[Block], totals: Collection[Fraction]) -> list[Block]:
    """'Speeches' over four rows, 'Written work' over two and 'Exam' over one: where only together they make the whole,
    they are one block."""
    if len(blocks) > MOST_IN_PLAN or any(_is_whole(block, totals) for block in blocks):
        return list(blocks)
    for first in range(len(blocks)):
        for last in range(first + 2, min(first + MOST_HEADINGS, len(blocks)) + 1):
            rows = [entry for block in blocks[first:last] for entry in block.entries]
            joined = Block(rows, blocks[first].lead)
            if len(joined.ordinary) >= FEWEST_OVER_HEADINGS and _may_be_joined(rows) and _is_whole(joined, totals):
                return [*blocks[:first], joined, *blocks[last:]]
    return list(blocks)


def _may_be_joined(rows: Sequence[RowReading]) -> bool:
    """Whether all rows have a share, or all points, and names of their own that are mostly of work."""
    names = [entry.name.lower() for entry in rows]
    alike = {entry.worth is not None for entry in rows}
    elsewhere = any(entry.section.kind in {"rubric", "calendar", "scale"} for entry in rows)
    works = sum(any(is_work(word) for word in name.split()) for name in names)
    return len(alike) == 1 and not elsewhere and len(set(names)) == len(names) and 2 * works >= len(names)


def _is_whole(block: Block, totals: Collection[Fraction]) -> bool:
    rows = innermost(block.ordinary)
    return weights_of(rows) == HUNDRED or (not weights_of(rows) and points_of(rows) in totals and len(rows) > 1)


def _parts_of_one(block: Block) -> None:
    """Weights written as 0.30: numbers below 1 that add up to 1."""
    rows = block.ordinary
    figures = [e.worth if e.worth is not None else e.points for e in rows]
    if all(f is not None and f < 1 for f in figures) and sum((f or Fraction(0) for f in figures), Fraction(0)) == 1:
        for entry, part in zip(rows, figures, strict=True):
            entry.weight, entry.weight_each, entry.points = 100 * (part or Fraction(0)), False, None


def _belongs(block: Block, other: Block, whole: bool) -> bool:
    """Whether another block completes this one, unless it is whole: extra credit, or just what is missing to 100."""
    if all(e.extra for e in other.entries):
        return True
    if whole:
        return False
    weights, more = weights_of(block.ordinary), weights_of(other.ordinary)
    same = block.entries[0].section is other.entries[0].section
    return bool(weights and more and weights + more == 100) or (
        same and not weights and _is_points(block) and _is_points(other)
    )


def _is_points(block: Block) -> bool:
    return all(entry_points(e) is not None for e in block.ordinary)


def _blocks(page: Page, found: Sequence[RowReading]) -> list[Block]:
    """Entries of one section with no running text of length between them."""
    blocks: list[Block] = []
    for entry in found:
        last = blocks[-1].entries[-1] if blocks else None
        between = page.flat[last.end : entry.start].strip() if last else ""
        joined = last is not None and last.section is entry.section and _no_paragraph(page, last, entry)
        if joined and page.lines[entry.line].kind != "row" and not entry.extra and _is_full_table(page, blocks[-1]):
            joined = False
        if joined and len(between) < 400:
            blocks[-1].entries.append(entry)
        else:
            blocks.append(Block([entry], _lead(page, entry)))
    return blocks


def _is_full_table(page: Page, block: Block) -> bool:
    """Whether a table's own rows are the whole grade, so that what stands below in lists is no more of it."""
    rows = all(page.lines[entry.line].kind == "row" for entry in block.entries)
    return rows and len(block.ordinary) > 1 and weights_of(block.ordinary) == HUNDRED


def _no_paragraph(page: Page, last: RowReading, entry: RowReading) -> bool:
    between = page.lines[last.line + 1 : entry.line]
    return sum(line.kind == "text" and line.indent <= entry.indent for line in between) <= 2


def _lead(page: Page, entry: RowReading) -> str:
    """The words just above a block, within its section, and the heading."""
    near = page.lines[max(0, entry.line - 6) : entry.line]
    above = [line for line in near if line.section is entry.section and line.kind == "text"]
    return f"{entry.section.heading} | " + " ".join(page.flat[line.start : line.end].strip() for line in above[-3:])


def score(block: Block, totals: set[Fraction]) -> int:
    """How much a block looks like the make-up of the whole grade."""
    ordinary = [e for e in innermost(block.entries) if not e.total and not e.extra]
    if not ordinary:
        return -5
    weights, points = weights_of(ordinary), points_of(ordinary)
    kind = ordinary[0].section.kind
    found = 2 * (kind == "grading") - 8 * (kind == "rubric") - 8 * (kind == "calendar") - 2 * (kind == "scale")
    found += 6 * (weights == 100) + 2 * (90 <= weights <= 110) + 5 * (points in totals and points > 0)
    found += 2 * any(e.total for e in block.entries) + 2 * (len(ordinary) > 2) + bool(GRADE_WORDS.search(block.lead))
    found -= (
        7 * bool(RUBRIC_WORDS.search(block.lead))
        + 6 * _mostly(ordinary, PART_WORDS)
        + 6 * _mostly(ordinary, PENALTY_ROW)
    )
    found += 5 * (sum(map(_is_product, ordinary)) > 1)
    return found - 4 * (len(ordinary) == 1 and weights != 100)


def _is_product(entry: RowReading) -> bool:
    """Whether a row says how many, the points of each and their product."""
    several = entry.count is not None and entry.count > 1 and entry.points_each is not None
    return several and entry.points == (entry.points_each or 0) * (entry.count or 0)


def _mostly(found: Sequence[RowReading], words: re.Pattern[str]) -> bool:
    return 2 * sum(bool(words.search(e.name.lower())) for e in found) > len(found)


def innermost(found: Sequence[RowReading]) -> list[RowReading]:
    """Without groups whose members follow (a subtotal), and without the parts inside one item."""
    rows = list(found)
    kept: list[RowReading] = []
    groups: list[RowReading] = []
    index = 0
    while index < len(rows):
        row = rows[index]
        deeper = _deeper(rows, index)
        if row.total or not deeper:
            members = [] if row.total else _members_by_sum(rows, index, groups)
            (groups if members else kept).append(row)
            index += 1
            continue
        if _adds_up(row, deeper) and not _mostly(deeper, PART_WORDS) and not is_one_piece(row.name):
            kept += innermost(deeper)
        else:
            kept.append(row)
        index += 1 + len(deeper)
    return kept


def _deeper(rows: Sequence[RowReading], index: int) -> list[RowReading]:
    found = []
    for row in rows[index + 1 :]:
        if row.indent <= rows[index].indent or row.total:
            break
        found.append(row)
    return found


def _adds_up(row: RowReading, members: Sequence[RowReading]) -> bool:
    weights, points = weights_of(members), points_of(members)
    return (row.worth is not None and weights == row.worth) or (
        row.worth is None and row.points is not None and points == row.points
    )


def _members_by_sum(rows: Sequence[RowReading], index: int, groups: Sequence[RowReading]) -> list[RowReading]:
    """Rows after a subtotal that add up to it, where all rows but the groups above are more than the whole."""
    row = rows[index]
    if len(rows) > MOST_IN_PLAN:
        return []
    everything = [r for r in rows if not r.total and not r.extra and r not in groups]
    weighted = row.worth is not None
    total, own = (weights_of(everything), row.worth) if weighted else (points_of(everything), entry_points(row))
    whole_is = Fraction(100) if weighted else next((entry_points(r) for r in rows if r.total), None)
    if own is None or whole_is is None or total <= whole_is:
        return []
    found: list[RowReading] = []
    for member in rows[index + 1 :]:
        found.append(member)
        so_far = weights_of(found) if weighted else points_of(found)
        if so_far == own:
            return found if len(found) > 1 else []
        if so_far > own:
            return []
    return []


FOOTNOTE = re.compile(rf"(?P<sign>\*{{1,3}}|{NOTE_SIGN})\s*(?=\S)")
FOOTNOTE_SIGNS = re.compile(rf"\*+|{NOTE_SIGN}")
FOOTNOTE_LINES = 8


def footnotes(page: Page, picked: Sequence[RowReading]) -> list[tuple[TextLine, RowReading]]:
    """Drops said below the rows under a sign that one of them bears; gives the lines that were read."""
    last = max((entry.line for entry in picked), default=0)
    read: list[tuple[TextLine, RowReading]] = []
    for line in page.lines[last + 1 : last + 1 + FOOTNOTE_LINES]:
        led = FOOTNOTE.match(page.raw[line.start : line.end].strip())
        words = page.flat[line.start : line.end]
        drops = find_drops(words) if led else []
        bearing = [entry for entry in picked if led and _bears(page, entry, led["sign"])]
        if drops and len(bearing) == 1 and not bearing[0].drops:
            bearing[0].drops = drops
            counted = A_NUMBER_OF.search(words.strip(" *"))
            bearing[0].count = bearing[0].count or drops[0].of or (whole(counted["n"]) if counted else None)
            read.append((line, bearing[0]))
    return read


def _bears(page: Page, entry: RowReading, sign: str) -> bool:
    """Whether a row has a sign once: twice it only makes words bold."""
    return FOOTNOTE_SIGNS.findall(page.raw[entry.start : entry.end + len(sign)]).count(sign) == 1


def nested_notes(page: Page, entry: RowReading, following: int) -> None:
    """Counts and drops said in the lines that stand deeper below an entry."""
    for line in page.lines[entry.line + 1 : following]:
        if line.kind == "heading" or (line.kind in {"item", "row"} and line.indent <= entry.indent):
            break
        if line.kind not in {"item", "text"} or line.indent <= entry.indent:
            continue
        text = page.flat[line.cells[0].start if line.cells else line.start : line.end].strip()
        if LONE.fullmatch(text):
            continue
        entry.drops = entry.drops or find_drops(text)
        each = PER_ITEM.search(text)
        if each and entry.points_each is None:
            entry.points_each = value_of(each["each"])
        if entry.count is None and entry.drops:
            entry.count = next((d.of for d in entry.drops if d.of), None)
        counted = A_NUMBER_OF.search(text)
        if entry.count is None and counted and not re.search(r"%", text[: counted.end() + 3]):
            entry.count = whole(counted["n"])
