"""The lines of a text, each told by its own signs.

Places are [start, end) in the text as it was given. Tables come as rows, a row a line, cells apart by '|', tabs,
dot leaders or wide gaps; list items begin with a sign or number.
"""

import re
from dataclasses import dataclass, field
from typing import Literal, NamedTuple

from vinemark.core.syllabus.read.normal import BULLETS

SectionKind = Literal["grading", "scale", "rubric", "calendar", "other"]

FILLER = "\x01"
ITEM = re.compile(
    rf"^(\s*)([-*+o{BULLETS}]|\(?(?:\d{{1,2}}|[a-zA-Z]|[ivx]{{1,4}}|[IVX]{{1,4}})[.)]|\d{{1,2}}\.\d{{1,2}}\.?(?=\s+[A-Z]))\s+(?=\S)"
)
RULE = re.compile(r"^[\s|:+=_*~.#-]*$")
LEADER = re.compile(
    r"(?<!\s)\s*(?:\.(?: ?\.){3,}|(?<=\s)\.(?: ?\.){2}|(?<= )\.{1,2}(?= \d{1,4}(?:\.\d+)? ?(?:%|points|pts)?$)|"
    r"_{3,}|-{4,})\s*"
)
GAP = re.compile(r"\t+\s*|(?<! x)(?<! =) {3,}|(?<! x)(?<! =)(?<![.!?:@]) {2}(?=\S)")


class Span(NamedTuple):
    """A stretch of the text."""

    start: int
    end: int


@dataclass
class TextSection:
    """A heading with the lines below it."""

    heading: str
    kind: SectionKind
    number: int


@dataclass
class TextLine:
    """One line: its kind, how deep it stands, and its cells where it is a row."""

    start: int
    end: int
    kind: Literal["blank", "rule", "heading", "item", "row", "text"]
    indent: int = 0
    cells: list[Span] = field(default_factory=list)
    section: TextSection | None = None


def line_of(piece: str, start: int) -> TextLine:
    """A line by itself, told by its signs: a list item, a row of cells, a rule, blank or text."""
    end = start + len(piece)
    indent = len(piece) - len(piece.lstrip())
    if not piece.strip():
        return TextLine(start, end, "blank")
    if RULE.match(piece):
        return TextLine(start, end, "rule", indent)
    item = ITEM.match(piece)
    inner = item.end() if item else indent
    cells = cells_in(piece, inner, start)
    if item and not piece.lstrip().startswith("#"):
        return TextLine(start, end, "item", indent, cells)
    piped = piece.strip().startswith("|") and piece.strip().endswith("|") and len(piece.strip()) > 2
    return TextLine(start, end, "row" if piped or len(cells) > 1 else "text", indent, cells)


def cells_in(piece: str, inner: int, start: int, barred: bool = False) -> list[Span]:
    """The stretches between the cell marks of a line; of one that is known to be barred, between its bars."""
    if barred or piece.strip().startswith("|") or piece.count("|") > 1:
        marks = [m.span() for m in re.finditer(r"\|", piece)]
    else:
        marks = [m.span() for m in re.finditer(rf"{LEADER.pattern}|{GAP.pattern}", piece[inner:].rstrip())]
        marks = [(a + inner, b + inner) for a, b in marks]
    edges = [inner, *(edge for mark in marks for edge in mark), len(piece)]
    found = []
    piped = piece.strip().startswith("|")
    for index, (left, right) in enumerate(zip(edges[::2], edges[1::2], strict=True)):
        cell = piece[left:right]
        inside = piped and 0 < index < len(marks)
        if cell.strip() or inside:
            found.append(
                Span(
                    start + right - len(cell.lstrip()),
                    start + max(left + len(cell.rstrip()), right - len(cell.lstrip())),
                )
            )
    return found
