"""Lines that a file breaks for their width made whole, so that no saying is cut in two by the blanks of an indent."""

import re
from bisect import bisect_right
from collections.abc import Iterator, Sequence
from dataclasses import replace
from itertools import pairwise
from typing import Any

from vinemark.core.syllabus.facts import Clause, Reading, Unread
from vinemark.core.syllabus.read.lines import TextLine, line_of

LEAST_FULL = 45
"""In signs: a shorter line was not broken for its width."""
ENDS = ".!?:;"


class Unwrapped:
    """A text without the breaks and indents inside its sentences, and where each sign of it stood."""

    def __init__(self, text: str) -> None:
        self.given = text
        pieces: list[str] = []
        self._kept: list[int] = [0]
        self._from: list[int] = [0]
        length = begin = 0
        for stop, start, joint in sorted([*_breaks(text), *_hanging(text)]):
            pieces += (text[begin:stop], joint)
            length += stop - begin + len(joint)
            self._kept.append(length)
            self._from.append(start)
            begin = start
        self.text = "".join([*pieces, text[begin:]])

    def place(self, place: int) -> int:
        """The place in the text as it was given."""
        piece = bisect_right(self._kept, place) - 1
        return self._from[piece] + place - self._kept[piece]

    def given_places(self, reading: Reading) -> Reading:
        """A reading of this text with its places in the text as it was given."""
        reading.categories = [replace(c, start=self.place(c.start), end=self.place(c.end)) for c in reading.categories]
        reading.clauses = [one._replace(**self._said(one)) for one in reading.clauses]
        reading.unread = [one._replace(**self._said(one)) for one in reading.unread]
        return reading

    def _said(self, one: Clause | Unread) -> dict[str, Any]:
        start, end = self.place(one.start), self.place(one.end)
        return {"start": start, "end": end, "text": " ".join(self.given[start:end].split())}


def _breaks(text: str) -> Iterator[tuple[int, int, str]]:
    """Of every break inside a sentence: where the line ends, without blanks, where the words below begin, and a blank
    to stand between them."""
    in_item = False
    for above, below in pairwise(_lines(text)):
        words = text[below.start : below.end]
        in_item = above.kind == "item" or in_item
        goes_on = bool(below.indent or in_item) and _goes_on(text, above, below)
        in_item = in_item and goes_on
        if goes_on:
            ends = above.start + len(text[above.start : above.end].rstrip())
            yield ends, below.start + len(words) - len(words.lstrip()), " "


HANGING = re.compile(
    r"^(?P<label>(?:grad(?:es?|ing)|evaluation|assessment|requirements|weights?|breakdown)(?: \w{1,12})?:)"
    r"(?P<gap> {2,40})"
    r"(?=\S[^\n]{0,200}\d ?%[^\n]{0,80}\n(?P<indent> {4,60})\S[^\n]{0,200}\d ?%)",
    re.IGNORECASE | re.MULTILINE,
)
"""'Grading:   Homework    10%', with the other works below the first."""


def _hanging(text: str) -> Iterator[tuple[int, int, str]]:
    """Where a label with a list beside it ends: a line of its own above the list."""
    for found in HANGING.finditer(text):
        width = len(found["label"]) + len(found["gap"])
        if len(found["indent"]) == width:
            yield found.end("label"), found.end("gap"), "\n\n" + " " * width


def _lines(text: str) -> Sequence[TextLine]:
    lines, start = [], 0
    for piece in text.split("\n"):
        lines.append(line_of(piece, start))
        start += len(piece) + 1
    return lines


def _goes_on(text: str, above: TextLine, below: TextLine) -> bool:
    """Whether a line with an indent only goes on with the sentence of a full line above it."""
    if above.kind not in {"text", "item"} or below.kind != "text" or below.indent < above.indent:
        return False
    led, words = text[above.start : above.end].rstrip(), text[below.start : below.end].lstrip()
    full = len(led.lstrip()) >= LEAST_FULL and led[-1:] not in ENDS
    return full and (words[:1].islower() or words[:1].isdigit() or words[:1] in "($") and not led.endswith("%")
