"""A syllabus read: all facts with their places, from its text."""

import re
from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction
from itertools import islice

from vinemark.core.base.names import singular
from vinemark.core.plan.plan import HUNDRED
from vinemark.core.syllabus.facts import Clause, FactKind, Reading, SaidCategory, Unread
from vinemark.core.syllabus.read.blocks import (
    chosen,
    entry_points,
    footnotes,
    nested_notes,
    points_of,
    totals_of,
    weights_of,
)
from vinemark.core.syllabus.read.choose import COMPLETE, LEAST, BestSet, best_set, second_look
from vinemark.core.syllabus.read.counts import find_counts
from vinemark.core.syllabus.read.drops import Drop, find_drops, is_conditional
from vinemark.core.syllabus.read.extra import find_extra
from vinemark.core.syllabus.read.groups import with_groups
from vinemark.core.syllabus.read.headed import said_headed
from vinemark.core.syllabus.read.layout import Page, Sentence
from vinemark.core.syllabus.read.members import with_members
from vinemark.core.syllabus.read.naming import is_extra, mentioned, stems
from vinemark.core.syllabus.read.policies import (
    about_of,
    holds_no_rule,
    read_rounding,
    says_zero_for_blanks,
    split_of,
)
from vinemark.core.syllabus.read.prose import (
    PENALTY,
    Said,
    as_categories,
    said_amounts,
    said_formula,
    said_list,
    said_strokes,
)
from vinemark.core.syllabus.read.row_reading import RowReading
from vinemark.core.syllabus.read.rows import entries
from vinemark.core.syllabus.read.scale import read_scale
from vinemark.core.syllabus.read.subject import named_after, named_before
from vinemark.core.syllabus.read.tables import tables_of
from vinemark.core.syllabus.read.wrapped import Unwrapped


def read_syllabus(text: str) -> Reading:
    """What a text says about grading. It never invents: what it does not state is None."""
    whole = Unwrapped(text)
    return whole.given_places(_Reader(Page(whole.text)).read())


class _Reader:
    """One reading: each step adds its facts and clauses."""

    def __init__(self, page: Page) -> None:
        self.page = page
        self.tables = tables_of(page)
        self.reading = Reading()
        self.rows: list[tuple[int, int]] = []
        self.points: list[Said] = []
        self.of_parts: list[tuple[int, int]] = []

    def read(self) -> Reading:
        """All steps in order; later ones rest on the categories found first."""
        self._scale()
        self._categories()
        self._extra_credit()
        self._find_parts()
        self._counts()
        self._drops()
        self._points_each(self.points)
        self._points_kept()
        self._splits()
        self._policies()
        self._unread()
        self.reading.clauses.sort()
        return self.reading

    def _clause(self, start: int, end: int, kind: FactKind, category: SaidCategory | None = None) -> None:
        clause = Clause(start, end, kind, category.name if category else None, self.page.said(start, end))
        if clause not in self.reading.clauses:
            self.reading.clauses.append(clause)

    # --- the scale ---

    def _scale(self) -> None:
        found = read_scale(self.page, self.tables)
        if found is None:
            return
        self.reading.scale, self.reading.scale_unit = found.rows, found.unit
        for start, end in found.spans:
            self._clause(start, end, "scale")

    def _in_scale(self, start: int, end: int) -> bool:
        return any(c.kind == "scale" and c.start < end and start < c.end for c in self.reading.clauses)

    # --- categories ---

    def _categories(self) -> None:
        found = with_groups(self.page, self.tables, entries(self.page, self.tables))
        rows = [e for e in found if not self._in_scale(e.start, e.end)]
        picked = chosen(self.page, rows)
        said = [s for s in said_amounts(self.page) if not self._in_scale(s.start, s.end) and not s.extra]
        said = self._without_groups(_told_once(self._with_kept(self._with_counts(said))))
        weights = said_formula(self.page) or said_strokes(self.page) or [s for s in said if s.unit == "weight"]
        listed = said_list(self.page, totals_of(self.page))
        self.points = points = listed or [s for s in said if s.unit == "points"]
        in_weights = best_set(weights, [HUNDRED])
        in_points = best_set(points, self._totals(points))
        if len(picked) < SEVERAL and not in_weights.complete and not in_points.said:
            in_weights = max(in_weights, second_look(weights), key=lambda found: (found.complete, found.worth))
        if not (len(picked) >= SEVERAL and self._adds_up(picked)):
            in_weights, in_points = self._under_headings(in_weights, in_points)
        wholes = [found.worth for found in (in_weights, in_points) if found.complete]
        sure = len(picked) >= SEVERAL and self._adds_up(picked)
        lone = (len(picked) == 1 and bool(wholes)) or (not sure and _covers(in_weights, picked))
        sure = sure or (len(picked) >= SEVERAL and not in_weights.complete and _is_part(in_points, picked))
        if picked and not lone and (sure or self._worth(picked) >= max(wholes, default=0)):
            self._take_rows(rows, picked)
            self._complete(weights)
        else:
            self._take_prose(in_weights, in_points, rows)

    def _under_headings(self, in_weights: BestSet, in_points: BestSet) -> tuple[BestSet, BestSet]:
        """The sets, or one that names in headings and labels make up."""
        said = self._with_kept(self._with_counts(said_headed(self.page, totals_of(self.page))))
        if said and said[0].unit == "points":
            self.points = said
            return in_weights, best_set(said, [sum((one.whole or Fraction(0) for one in said), Fraction(0))])
        more = in_weights.complete and len(in_weights.said) > len(said)
        return (best_set(said, [HUNDRED]) if said and not more else in_weights), in_points

    def _with_counts(self, said: Sequence[Said]) -> list[Said]:
        """Amounts of each one with their number, where it stands in another sentence."""
        counts: dict[str, int] = {}
        plural = {f"{s.name}s" if s.each and singular(s.name) == s.name else s.name: s.name for s in said}
        for found in find_counts(self.page, [SaidCategory(name) for name in plural]):
            counts.setdefault(plural[found.category.name], found.number)
        return [
            replace(s, count=counts[s.name]) if s.each and s.count is None and s.name in counts else s for s in said
        ]

    def _with_kept(self, said: Sequence[Said]) -> list[Said]:
        """Amounts of each one with how many count, where the words behind say that the lowest are dropped."""
        return [replace(s, kept=self._kept_of(s)) if s.each else s for s in said]

    def _kept_of(self, said: Said) -> int | None:
        behind = (s for s in self.page.blocks[said.block].sentences if s.end > said.start)
        drop = next((drop for sentence in islice(behind, NEAR_SENTENCES) for drop in find_drops(sentence.text)), None)
        if drop is None or said.count is None:
            return None
        kept = drop.best or said.count - drop.lowest
        return kept if 0 < kept < said.count else None

    def _without_groups(self, said: Sequence[Said]) -> list[Said]:
        """'Sixty percent comes from field work. Field work means three reports (15% each) and a plan (15%)': only what
        the sentence about the group gives to its parts."""
        sentences = self.page.sentences
        starts, places = [s.start for s in sentences], [s.start for s in said]
        kept = []
        for one in said:
            first = bisect_right(starts, one.start)
            for about in sentences[first : first + NEAR_SENTENCES]:
                inside = said[bisect_left(places, about.start) : bisect_left(places, about.end)]
                parts = [part.whole or 0 for part in inside if part.unit == one.unit]
                named = about.text.startswith(one.name.lower()) or THESE_ARE.match(about.text)
                if len(parts) > 1 and sum(parts) == one.whole and named:
                    break
            else:
                kept.append(one)
        return kept

    def _worth(self, picked: Sequence[RowReading]) -> int:
        """How much the rows speak for themselves, on the scale of the sentences' sets."""
        ordinary = [e for e in picked if not e.extra]
        single = 40 if len(ordinary) > 1 else 10
        return single * len(ordinary) + (COMPLETE if self._adds_up(picked) else 0)

    def _totals(self, points: Sequence[Said]) -> set[Fraction]:
        singles = {s.amount for s in points} | {s.whole for s in points}
        return {t for t in totals_of(self.page) if t not in singles and t >= LEAST_TOTAL}

    def _adds_up(self, picked: Sequence[RowReading]) -> bool:
        ordinary = [e for e in picked if not e.extra]
        if len(ordinary) < 2:
            return False
        totals = {total for total in totals_of(self.page) if total >= LEAST_TOTAL}
        in_points = 2 * sum(e.points is not None or e.points_each is not None for e in ordinary) >= len(ordinary)
        return weights_of(ordinary) == HUNDRED or (in_points and points_of(ordinary) in totals)

    def _take_rows(self, rows: Sequence[RowReading], picked: Sequence[RowReading]) -> None:
        ends = {e.line: e for e in rows}
        self._bare_are_points(picked)
        weighted = self._rows_weighted(picked)
        noted = footnotes(self.page, picked)
        self.rows += [(line.start, line.end) for line, _ in noted]
        whole = weighted and weights_of([e for e in picked if not e.extra]) == HUNDRED
        for entry in picked:
            if whole and entry.worth is None and not entry.extra:
                continue
            following = min(
                (line for line in ends if line > entry.line and ends[line] in picked), default=entry.line + 12
            )
            nested_notes(self.page, entry, min(following, entry.line + 12))
            self._take_row(entry, weighted)
        for line, entry in noted:
            of = next((c for c in self.reading.categories if c.start == entry.start), None)
            self._clause(line.start, line.end, "drop", of)
        self.reading.basis = "weighted" if weighted else "points"

    def _bare_are_points(self, picked: Sequence[RowReading]) -> None:
        """Bare numbers that make the 100 points of the course are points, though they would do as percentages."""
        ordinary = [e for e in picked if not e.extra]
        if HUNDRED not in totals_of(self.page) or not all(e.worth is not None for e in ordinary):
            return
        first = min((e.start for e in picked), default=0)
        words = self.page.flat[max(0, first - NEAR_ROWS) : max((e.end for e in picked), default=0)]
        if OF_PERCENT.search(words) or not HUNDRED_POINTS.search(words):
            return
        for entry in picked:
            if entry.points is None and not entry.weight_each:
                entry.points, entry.weight = entry.weight, None

    def _rows_weighted(self, picked: Sequence[RowReading]) -> bool:
        ordinary = [e for e in picked if not e.extra]
        weights = sum(e.worth is not None for e in ordinary)
        points = sum(entry_points(e) is not None for e in ordinary)
        if not weights:
            return False
        return not (points == len(ordinary) and self.reading.scale_unit == "points")

    def _take_row(self, entry: RowReading, weighted: bool) -> None:
        unnamed = is_extra(entry.name.lower()) and len(entry.name.split()) <= 3
        told = LED_BY_EXTRA.match(self.page.flat[entry.start : entry.end]) and len(entry.name.split()) > LONGEST_EXTRA
        name = "Extra credit" if unnamed or (entry.extra and told) else entry.name
        points = entry.points
        if points is None and entry.points_each is not None and entry.count is not None:
            points = entry.points_each * entry.count
        if points is None and entry.points_each is not None and not weighted:
            points, entry.points_each = entry.points_each, None
        made = SaidCategory(name, entry.worth if weighted else None, points, entry.count, entry.points_each,
                            extra=entry.extra, start=entry.start, end=entry.end)  # fmt: skip
        self.reading.categories.append(made)
        self.rows.append((entry.start, entry.end))
        self._clause(entry.start, entry.end, "extra" if entry.extra else "weight", made)
        if entry.count is not None:
            self._clause(entry.start, entry.end, "count", made)
        for drop in entry.drops[:1]:
            made.drop_lowest, made.keep_best = drop.lowest, drop.best
            self._clause(entry.start, entry.end, "drop", made)

    def _complete(self, weights: Sequence[Said]) -> None:
        """What sentences add to a table that does not fill 100."""
        if self.reading.basis != "weighted":
            return
        total = sum((c.weight or 0 for c in self.reading.categories if not c.extra), Fraction(0))
        for said in weights:
            known = [c.name.lower() for c in self.reading.categories]
            if said.name.lower() in known or any(c.start <= said.start < c.end for c in self.reading.categories):
                continue
            amount = HUNDRED - total if said.rest and said.amount is None else said.whole
            if amount and total + amount == HUNDRED and said.score >= LEAST:
                self._take_said([replace(said, amount=amount, each=False)])
                total += amount

    def _take_prose(self, in_weights: BestSet, in_points: BestSet, rows: Sequence[RowReading]) -> None:
        """The set of weights, or of points, that hangs together best."""
        several = len(in_points.said) > 1 or in_points.complete
        better = in_points.worth > in_weights.worth or (in_points.complete and not in_weights.complete)
        if in_points.said and several and better:
            self._take_said(in_points.said)
            self.reading.basis = "points"
            return
        picked = with_members(self.page, in_weights.said, rows) if in_weights.complete else in_weights.said
        if len(picked) < 2 and _sum_of(picked) < LEAST_SHARE and not any(s.score > CERTAIN for s in picked):
            return
        self._take_said(picked)
        self.reading.basis = "weighted"

    def _take_said(self, picked: Sequence[Said]) -> None:
        for made in as_categories(picked):
            made.count = made.count if made.count != 1 else None
            self.reading.categories.append(made)
            self._clause(made.start, made.end, "extra" if made.extra else "weight", made)
            if made.count is not None:
                self._clause(made.start, made.end, "count", made)

    # --- extra credit ---

    def _extra_credit(self) -> None:
        if any(c.extra for c in self.reading.categories) or not self.reading.categories:
            return
        found = find_extra(self.page, self.reading.basis == "weighted")
        if found is not None:
            self.reading.categories.append(found.category)
            self._clause(found.start, found.end, "extra", found.category)

    # --- counts and drops in other sentences ---

    def _find_parts(self) -> None:
        """Sentences that give points to several parts of one category with a weight: 'five lab reports, 20 points each,
        and a practical of 100'. What they say is of the parts."""
        points = sorted(self.points, key=lambda s: s.start)
        places = [s.start for s in points]
        for sentence in self.page.sentences if self.reading.basis == "weighted" else ():
            inside = points[bisect_left(places, sentence.start) : bisect_left(places, sentence.end)]
            if len(inside) < SEVERAL_PARTS:
                continue
            named = [next(iter(mentioned(s.name, self.reading.categories)), None) for s in inside]
            if len({s.name.lower() for s in inside}) > 1 and len({c and c.name for c in named}) == 1:
                self.of_parts.append((sentence.start, sentence.end))

    def _counts(self) -> None:
        for found in find_counts(self.page, self.reading.categories):
            category = found.category
            told = found.number in {category.points, category.weight, category.points_each}
            if told or _within(found.start, self.of_parts):
                continue
            own = category.start <= found.start < category.end
            elsewhere = self._in_row(found.start) and not own
            if category.count is not None or category.extra or elsewhere or self._in_scale(found.start, found.end):
                continue
            category.count = found.number
            self._clause(found.start, found.end, "count", category)

    def _points_each(self, said: Sequence[Said]) -> None:
        """Points of each item where a sentence gives them apart from the weight."""
        for one in said:
            named = mentioned(one.name, self.reading.categories) or mentioned(one.topic, self.reading.categories)
            category = next(iter(named), None)
            taken_off = PENALTY.search(self.page.flat[one.start : one.end])
            if category is None or not one.each or one.score < LEAST_EACH or taken_off:
                continue
            if _within(one.start, self.of_parts):
                continue
            if category.points_each is not None or category.extra or self._within_one(one):
                continue
            if category.points is None and category.weight is None:
                continue
            count = category.count or one.count
            counted = {count, category.keep_best, (count or 0) - category.drop_lowest}
            if (
                category.points is not None
                and count
                and category.points not in {(n or 0) * (one.amount or 0) for n in counted}
            ):
                continue
            category.points_each, category.count = one.amount, count
            if category.points is None and count and one.amount is not None:
                category.points = one.amount * count

    def _within_one(self, one: Said) -> bool:
        """'An exam consists of forty questions (1.5 points each)': what one piece is made of."""
        before = self.page.flat[max(0, one.start - NEAR_WORK) : one.end]
        made_of = MADE_OF.search(before) is not None or INNER_EACH.search(before) is not None
        return INNER_WORK.search(one.name.lower()) is not None or made_of

    def _points_kept(self) -> None:
        """What is left after the drops, where only that makes up the total that the text gives."""
        totals = totals_of(self.page)
        ordinary = [c for c in self.reading.categories if not c.extra]
        whole = sum((c.points or Fraction(0) for c in ordinary), Fraction(0))
        left = {c.name: after for c in ordinary if (after := _after_drops(c)) is not None}
        less = sum((c.points or 0) - left[c.name] for c in ordinary if c.name in left)
        if self.reading.basis == "points" and left and whole not in totals and whole - less in totals:
            for category in ordinary:
                category.points = left.get(category.name, category.points)

    def _in_row(self, place: int) -> bool:
        """Whether a place lies in a row that has been read as one already."""
        return _within(place, self.rows)

    def _drops(self) -> None:
        last: SaidCategory | None = None
        told_in = -1
        for sentence in self.page.sentences:
            if sentence.section.kind in {"calendar", "rubric"}:
                continue
            near = last if told_in == sentence.paragraph else None
            named = mentioned(sentence.text, self.reading.categories)
            for drop in find_drops(sentence.text) or (find_drops(sentence.asked) if sentence.question else []):
                if self._in_row(sentence.start + drop.start):
                    continue
                of_each = len(named) > 1 and (
                    OF_EACH.match(sentence.text, drop.end) or BOTH_LOWEST.search(sentence.text, drop.start, drop.end)
                )
                one = self._dropped_from(sentence, drop.start, drop.end, near) or last
                for category in named if of_each else [one] if one is not None else []:
                    self._take_drop(sentence, drop, category)
            if named:
                last, told_in = named[0], sentence.paragraph

    def _take_drop(self, sentence: Sentence, drop: Drop, category: SaidCategory) -> None:
        if not category.drop_lowest and category.keep_best is None:
            category.drop_lowest, category.keep_best = drop.lowest, drop.best
            category.count = category.count or drop.of
            self._clause(sentence.start + drop.start, sentence.start + drop.end, "drop", category)

    def _dropped_from(self, sentence: Sentence, start: int, end: int, near: SaidCategory | None) -> SaidCategory | None:
        """What a drop is of: named in its own words, else beside them, else in its paragraph, else by the heading."""
        found = [c for c in self.reading.categories if not c.extra]
        text = sentence.text
        left = max(text.rfind(c, 0, start) for c in (",", ";", ":", "("))
        right = min([n for c in (",", ";", ".", ")") if (n := text.find(c, end)) >= 0], default=len(text))
        beside = named_after(text[start:right], found) or named_before(text[left + 1 : start], found)
        before = beside or named_before(text[:start], found)
        if before is not None:
            return before
        named = mentioned(text, found)
        if named:
            return named[0]
        named = [near] if near is not None else mentioned(sentence.section.heading, found)
        return named[0] if named else None

    def _splits(self) -> None:
        """How the items of a category share its weight, where a sentence says so."""
        for sentence in self.page.sentences:
            split = split_of(sentence.text)
            if split is None or sentence.section.kind in {"calendar", "rubric"}:
                continue
            ordinary = [c for c in self.reading.categories if not c.extra]
            named = mentioned(sentence.text, ordinary) or mentioned(sentence.section.heading, ordinary)
            if named and named[0].split is None:
                named[0].split = split

    # --- policies ---

    def _is_cutoff(self, sentence: Sentence) -> bool:
        """Whether '89.5 is an A' is a row of a scale of such numbers, and no example of rounding."""
        halves = any(row.cutoff.denominator != 1 for row in self.reading.scale or ())
        return halves and "round" not in sentence.text and self._in_scale(sentence.start, sentence.end)

    def _policies(self) -> None:
        rounding = read_rounding(self.page.sentences)
        if rounding is not None and not self._is_cutoff(rounding[1]):
            self.reading.rounding = rounding[0]
            self._clause(rounding[1].start, rounding[1].end, "rounding")
            if rounding[0].way != "nearest":
                # The format of a reading has decimals alone: the sentence stays where its reader sees it.
                start, end = rounding[1].start, rounding[1].end
                self.reading.unread.append(Unread(start, end, self.page.said(start, end)))
        before = ""
        for sentence in self.page.sentences:
            asked = f"{before} {sentence.asked}" if OR_ELSE.match(sentence.asked) else sentence.asked
            before = sentence.asked
            if says_zero_for_blanks(asked) and sentence.section.kind != "calendar":
                self.reading.blanks = "zero"
                self._clause(sentence.start, sentence.end, "blanks")

    def _unread(self) -> None:
        before: Sentence | None = None
        for sentence in self.page.sentences:
            led = before is not None and self.page.flat[before.start : sentence.start].rstrip().endswith(";")
            start = before.start if before is not None and led and not self._is_read(before) else sentence.start
            before = sentence
            if not holds_no_rule(sentence):
                continue
            if is_conditional(sentence.text) or not self._is_read(sentence) or "highest" in sentence.text:
                said = self.page.said(start, sentence.end)
                self.reading.unread = [u for u in self.reading.unread if u.start != start]
                self.reading.unread.append(Unread(start, sentence.end, said, about_of(sentence.text)))

    def _is_read(self, sentence: Sentence) -> bool:
        return any(c.start < sentence.end and sentence.start < c.end for c in self.reading.clauses)


def _told_once(said: Sequence[Said]) -> list[Said]:
    """'Movement studies: 30%. Two studies (15% each)': what a paragraph says twice stands once, under its full name."""
    kept: list[Said] = []
    for one in said:
        near = range(max(0, len(kept) - NEAR_SAID), len(kept))
        first = next((n for n in near if _is_told_again(kept[n], one)), None)
        if first is None:
            kept.append(one)
        else:
            kept[first] = replace(kept[first], count=kept[first].count or one.count)
    return kept


def _is_told_again(first: Said, one: Said) -> bool:
    names = stems(first.name), stems(one.name)
    shorter = len(names[1]) < len(names[0]) and names[1] and names[0][-len(names[1]) :] == names[1]
    return bool(shorter) and one.each and (first.block, first.unit, first.whole) == (one.block, one.unit, one.whole)


def _covers(found: BestSet, picked: Sequence[RowReading]) -> bool:
    """Whether sentences make a whole of all rows, and of more beside them."""
    said = {(s.name.lower(), s.whole) for s in found.said}
    return found.complete and len(said) > len(picked) and all((e.name.lower(), e.worth) in said for e in picked)


def _within(place: int, spans: Sequence[tuple[int, int]]) -> bool:
    return any(start <= place < end for start, end in spans)


def _after_drops(category: SaidCategory) -> Fraction | None:
    """The points of the items that count; None where nothing is dropped, or the points are no product."""
    each, count = category.points_each, category.count
    if each is None or not count or category.points != each * count:
        return None
    kept = category.keep_best or count - category.drop_lowest
    return each * kept if 0 < kept < count else None


OF_EACH = re.compile(r"(?: (?:score|grade|mark|one))? (?:of|in|from) (?:each|both|either)\b")
"""'One problem and one quiz, the lowest of each, do not count'."""
BOTH_LOWEST = re.compile(r"\b(?:lowest|worst|weakest) [a-z -]{2,30},? and (?:the |your )?(?:lowest|worst|weakest)\b")
"""'Your lowest lab and lowest homework will be dropped'."""
LONGEST_EXTRA = 3
LED_BY_EXTRA = re.compile(r"\W{0,6}(?:extra credit|bonus)\b")
"""'Bonus: enter the student map contest' tells what to do for it, and names nothing."""
NEAR_WORK = 160
NEAR_SENTENCES = 2
NEAR_SAID = 8
SEVERAL_PARTS = 2
INNER_WORK = re.compile(r"\b(?:questions?|problems|items|multiple[- ]choice|short[- ]answer)\b")
MADE_OF = re.compile(r"\b(?:consists? of|contains?|is made of|are made of)\b[^.;]*$")
INNER_EACH = re.compile(
    r"\b(?:questions|problems|items),? (?:\d+ ?[-\u2013] ?\d+\b|each\b|worth\b|of \d|at \d|for \d)|"
    r"\b(?:question|problem|item) (?:is|brings|counts)\b"
)
"""'The midterm has 20 questions, each worth 5 points'."""
THESE_ARE = re.compile(r"(?:this|these|they|it) (?:is|are|includes?|covers?|consists? of|means?|comprises?) ")
"""'Tests make up the other 45%. These are the midterm (20%) and the final exam (25%).'"""
NEAR_ROWS = 250
"""So many signs above the rows may say what their numbers are."""
OF_PERCENT = re.compile(r"%|\bper ?cent|\bweight|\bshare\b")
HUNDRED_POINTS = re.compile(r"\b(?:100|a hundred|one hundred) (?:points|pts|marks)\b")


def _is_part(found: BestSet, picked: Sequence[RowReading]) -> bool:
    """Whether all that sentences make up is in the rows already: a group of theirs that happens to be a whole."""
    return all(any(row.start <= said.start < row.end for row in picked) for said in found.said)


OR_ELSE = re.compile(
    r"(?:otherwise|or else|if not|without (?:one|it|that|this|an excuse)|(?:they|these) "
    r"(?:are (?:scored|graded|recorded|counted)|count|get|receive|earn|score))\b"
)
"""A sentence that says what follows from the one before."""
SEVERAL = 3
LEAST_EACH = -5
LEAST_TOTAL = 50
LEAST_SHARE = 60
CERTAIN = 60
"""Tenths of evidence with which a single amount makes a plan."""


def _sum_of(found: Sequence[Said]) -> Fraction:
    return sum((s.whole or Fraction(0) for s in found), Fraction(0))
