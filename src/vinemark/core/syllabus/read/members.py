"""Groups whose members have shares of their own: 'Tests are 45%: 20% for the midterm and 25% for the final exam'."""

import re
from bisect import bisect_right
from collections.abc import Iterator, Sequence
from dataclasses import replace
from fractions import Fraction

from vinemark.core.syllabus.read.blocks import innermost, weights_of
from vinemark.core.syllabus.read.layout import Page
from vinemark.core.syllabus.read.lexicon import is_work
from vinemark.core.syllabus.read.naming import clean
from vinemark.core.syllabus.read.normal import NUMBER, PERCENT_SIGN, value_of
from vinemark.core.syllabus.read.prose import Said
from vinemark.core.syllabus.read.row_reading import PART_WORDS, RowReading, is_one_piece

FEWEST_IN_GROUP = 2
LEADS_TO_MEMBERS = re.compile(
    r"(?: of (?:the |your |my )?(?:(?:course|final|overall|total) )?(?:grade|mark))?"
    r"(?: (?:in all|in total|altogether))?"
    r"\)?(?: ?[:(\u2013-] ?| - |, (?:of which|that is|namely|made up of|with) )"
)
MEMBERS_END = re.compile(r"[.;)]\s|[.;)]?$|\n")
BETWEEN_MEMBERS = re.compile(r",? and |, |; ")
SHARE = re.compile(rf"\(?({NUMBER}){PERCENT_SIGN}\)?")
OF_MEMBER = re.compile(r"(?i)^(?:are |is )?(?:for |on |from |in |comes? from )?(?:the |an? |your |my )?")


def with_members(page: Page, picked: Sequence[Said], rows: Sequence[RowReading]) -> list[Said]:
    """The shares that were read, with the members of a group, in rows below it or in its own words, in its place."""
    ordered = sorted(picked, key=lambda said: said.start)
    found: list[Said] = []
    for one, following in zip(ordered, [*ordered[1:], None], strict=True):
        until = min(following.start if following else len(page.flat), _section_end(page, one))
        found += _members(page, one, rows, until) or [one]
    return found


def _section_end(page: Page, said: Said) -> int:
    headings = [line.start for line in page.lines if line.kind == "heading"]
    place = bisect_right(headings, said.end)
    return headings[place] if place < len(headings) else len(page.flat)


def _members(page: Page, group: Said, rows: Sequence[RowReading], until: int) -> list[Said]:
    if group.each or group.extra or group.whole is None or is_one_piece(group.name):
        return []
    below = innermost([row for row in rows if group.end <= row.start < until])
    for made in (list(_of_rows(group, below)), list(_in_words(page, group, until))):
        whole = sum((one.whole or Fraction(0) for one in made), Fraction(0))
        if len(made) >= FEWEST_IN_GROUP and whole == group.whole and not _are_parts(made):
            return made
    return []


def _are_parts(made: Sequence[Said]) -> bool:
    return 2 * sum(PART_WORDS.search(one.name.lower()) is not None for one in made) > len(made)


def _of_rows(group: Said, below: Sequence[RowReading]) -> Iterator[Said]:
    if weights_of(below) == group.whole and not any(row.extra or row.total for row in below):
        for row in below:
            yield replace(
                group, name=row.name, start=row.start, end=row.end, amount=row.weight, each=row.weight_each,
                count=row.count, rest=False,
            )  # fmt: skip


def _in_words(page: Page, group: Said, until: int) -> Iterator[Said]:
    """The list right behind the group: each a name and its share, in either order."""
    lead = LEADS_TO_MEMBERS.match(page.flat, group.end)
    if lead is None or lead.end() >= until:
        return
    ends = MEMBERS_END.search(page.flat, lead.end())
    place, end = lead.end(), min(until, ends.start() if ends else until)
    if lead[0].rstrip().endswith("("):
        closed = page.flat.find("%)", place)
        end = max(end, min(until, closed + 1)) if closed >= 0 else end
    for piece in [*BETWEEN_MEMBERS.finditer(page.flat, place, end), None]:
        stop = piece.start() if piece else end
        share = SHARE.search(page.flat, place, stop)
        words = page.text[place : share.start()] + page.text[share.end() : stop] if share else ""
        name = clean(OF_MEMBER.sub("", words.strip(" (),:"))) if share else None
        if share is None or name is None or not any(is_work(word) for word in name.text.lower().split()):
            return
        yield replace(
            group, name=name.text, start=place, end=stop, amount=value_of(share[1]), count=name.number, rest=False
        )
        place = piece.end() if piece else end
