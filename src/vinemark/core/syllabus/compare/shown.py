"""A syllabus for the screen: a document whose sentences are marked by what was read there; versions compared."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from difflib import SequenceMatcher
from fractions import Fraction
from itertools import groupby, pairwise
from typing import Literal

from vinemark.core.syllabus.compare.match import Rule
from vinemark.core.syllabus.facts import Reading, SaidCategory
from vinemark.core.syllabus.read.layout import Page, TextBlock
from vinemark.core.syllabus.read.lines import ITEM
from vinemark.core.syllabus.read.tables import TextTable, tables_of
from vinemark.core.syllabus.written import number_text


@dataclass(frozen=True)
class Stretch:
    """A piece of the text, a sentence with what it was read as."""

    text: str
    start: int
    end: int
    sentence: bool = False
    kinds: tuple[str, ...] = ()
    unread: bool = False
    rules: tuple[str, ...] = ()
    states: tuple[str, ...] = ()


@dataclass(frozen=True)
class ShownItem:
    """An item of a list: how deep it stands, counted from 1, and its sentences."""

    depth: int
    stretches: Sequence[Stretch]


@dataclass(frozen=True)
class ShownRow:
    """A row of a table: what was read from it, and the words of its cells."""

    mark: Stretch
    cells: Sequence[str]


@dataclass(frozen=True)
class ShownPiece:
    """A heading, a paragraph, a list or a table of the syllabus, in the order of the text."""

    kind: Literal["heading", "paragraph", "list", "table"]
    level: int = 0
    stretches: Sequence[Stretch] = ()
    items: Sequence[ShownItem] = ()
    rows: Sequence[ShownRow] = ()


HIGHEST, DEEPEST_HEADING = 2, 6
INDENT = 2
"""So many blanks are one step deeper in a list."""


def shown_document(text: str, reading: Reading, rules: Sequence[Rule] = ()) -> list[ShownPiece]:
    """The syllabus as a document, each sentence marked by what was read there; `rules` name those that rest on it."""
    page = Page(text)
    tables = {line.start: table for table in tables_of(page) for line in table.lines}
    marked = _Marker(page, reading, rules)
    found: list[ShownPiece] = []
    for kind, group in groupby(page.blocks, key=lambda block: _group_key(block, tables)):
        blocks = list(group)
        if kind[0] == "row":
            found.append(ShownPiece("table", rows=[_row(marked, page, block) for block in blocks]))
        elif kind[0] == "item":
            found.append(ShownPiece("list", items=_items(marked, blocks)))
        else:
            found += [_single(marked, page, block) for block in blocks]
    return _levelled(found)


def _levelled(pieces: Sequence[ShownPiece]) -> list[ShownPiece]:
    """The headings without a step left out: below the page's own, each one deeper than the one it belongs to."""
    found: list[ShownPiece] = []
    above: list[int] = []
    for piece in pieces:
        if piece.kind == "heading":
            above = [level for level in above if level < piece.level] + [piece.level]
        found.append(replace(piece, level=HIGHEST + len(above) - 1) if piece.kind == "heading" else piece)
    return found


def _group_key(block: TextBlock, tables: Mapping[int, TextTable]) -> tuple[str, int]:
    """What stands together: the items of a list, the rows of one table."""
    return block.kind, id(tables[block.start]) if block.kind == "row" and block.start in tables else 0


class _Marker:
    """Marks sentences by the clauses, rules and unread sentences that overlap them."""

    def __init__(self, page: Page, reading: Reading, rules: Sequence[Rule]) -> None:
        self.page, self.reading, self.rules = page, reading, rules

    def sentence(self, start: int, end: int) -> Stretch:
        """A sentence, in one line and without signs of emphasis."""
        words = " ".join(self.page.text[start:end].split())
        return replace(_sentence(words, start, end, self.reading, self.rules), text=words)

    def block(self, block: TextBlock) -> list[Stretch]:
        """The sentences of a block, a list sign left out."""
        found = [self.sentence(s.start, s.end) for s in block.sentences]
        if block.kind == "item" and found:
            found[0] = replace(found[0], text=ITEM.sub("", found[0].text))
        return found


def _single(marked: _Marker, page: Page, block: TextBlock) -> ShownPiece:
    if block.kind == "heading":
        words = " ".join(page.text[block.start : block.end].split())
        signs = len(words) - len(words.lstrip("#"))
        level = min(HIGHEST + max(0, signs - 1), DEEPEST_HEADING)
        return ShownPiece("heading", level, [Stretch(words.strip("# "), block.start, block.end)])
    return ShownPiece("paragraph", stretches=marked.block(block))


def _items(marked: _Marker, blocks: Sequence[TextBlock]) -> list[ShownItem]:
    least = min(block.indent for block in blocks)
    return [ShownItem(1 + min(3, (block.indent - least) // INDENT), marked.block(block)) for block in blocks]


def _row(marked: _Marker, page: Page, block: TextBlock) -> ShownRow:
    line = next(line for line in page.lines_between(block.start, block.end))
    cells = [" ".join(page.text[cell.start : cell.end].split()) for cell in line.cells]
    sentence = block.sentences[0] if block.sentences else None
    mark = marked.sentence(sentence.start, sentence.end) if sentence else Stretch("", block.start, block.end)
    return ShownRow(mark, cells)


def _sentence(text: str, start: int, end: int, reading: Reading, rules: Sequence[Rule]) -> Stretch:
    kinds = dict.fromkeys(c.kind for c in reading.clauses if c.start < end and start < c.end)
    unread = any(u.start < end and start < u.end for u in reading.unread)
    resting = [r for r in rules if any(c.start < end and start < c.end for c in r.clauses)]
    states = dict.fromkeys(r.state for r in resting)
    return Stretch(
        text[start:end], start, end, True, tuple(kinds), unread, tuple(r.key for r in resting), tuple(states)
    )


@dataclass(frozen=True)
class FactLine:
    """A fact in words, and which of two versions says it."""

    side: Literal["both", "first", "second"]
    text: str


def facts_in_words(reading: Reading) -> list[str]:
    """Every fact as a line."""
    lines = [f"Basis: {reading.basis or 'not said'}"]
    lines += [_in_words(category) for category in reading.categories]
    if reading.scale:
        unit = " points" if reading.scale_unit == "points" else ""
        lines.append("Letters: " + ", ".join(f"{r.letter} {number_text(r.cutoff)}{unit}" for r in reading.scale))
    if reading.rounding is not None:
        places = reading.rounding.decimals
        lines.append("Not rounded" if places is None else f"Rounded to {places} decimals")
    if reading.blanks:
        lines.append("Missed work scores zero")
    return lines + [f"Not in a rule: {u.text}" for u in reading.unread]


def _in_words(said: SaidCategory) -> str:
    parts = [
        f"{number_text(said.weight)}%" if said.weight is not None else "",
        f"{number_text(said.points)} points" if said.points is not None else "",
        f"{said.count} items" if said.count is not None else "",
        f"{number_text(said.points_each)} points each" if said.points_each is not None else "",
        f"lowest {said.drop_lowest} dropped" if said.drop_lowest else "",
        f"best {said.keep_best} kept" if said.keep_best is not None else "",
        "extra credit" if said.extra else "",
    ]
    return f"{said.name}: " + (", ".join(part for part in parts if part) or "nothing more said")


def reading_changes(first: Reading, second: Reading) -> list[FactLine]:
    """What two versions say, line by line."""
    before, after = facts_in_words(first), facts_in_words(second)
    found: list[FactLine] = []
    for tag, a, b, c, d in SequenceMatcher(None, before, after, autojunk=False).get_opcodes():
        if tag == "equal":
            found += [FactLine("both", text) for text in before[a:b]]
        else:
            found += [FactLine("first", text) for text in before[a:b]] + [
                FactLine("second", text) for text in after[c:d]
            ]
    return found


def gap_question(reading: Reading, text: str) -> tuple[str, Fraction] | None:
    """A percent that falls between ranges printed as whole numbers ('80–89, 90–100'), where rounding is not said."""
    if reading.rounding is not None or reading.scale_unit != "percent" or len(reading.scale) < 2:
        return None
    ordered = sorted(reading.scale, key=lambda row: -row.cutoff)
    for better, worse in pairwise(ordered):
        top = better.cutoff - 1
        printed = _printed_range(text, worse.cutoff, top)
        if better.cutoff.denominator == 1 and printed:
            return better.letter, better.cutoff - Fraction(1, 2)
    return None


def _printed_range(text: str, low: Fraction, high: Fraction) -> bool:
    """Whether a text has 'low–high' or 'high–low' in whole numbers, not '90–91.99'."""
    close = "".join(text.split())
    pairs = [(low, high), (high, low)]
    return any(_stands_alone(close, f"{one}{dash}{other}") for one, other in pairs for dash in "-–—")


def _stands_alone(text: str, figures: str) -> bool:
    """Whether figures stand in a text without a digit or decimals going on at either end."""
    place = text.find(figures)
    while place >= 0:
        before, after = text[max(0, place - 1) : place], text[place + len(figures) : place + len(figures) + 2]
        if not (before.isdigit() or before == "." or after[:1].isdigit() or (after[:1] == "." and after[1:].isdigit())):
            return True
        place = text.find(figures, place + 1)
    return False
