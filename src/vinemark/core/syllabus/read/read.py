"""A syllabus read: all facts with their places, from its text."""

import re
from collections.abc import Sequence
from fractions import Fraction

from vinemark.core.plan.plan import HUNDRED
from vinemark.core.syllabus.facts import Clause, FactKind, Reading, SaidCategory, Unread
from vinemark.core.syllabus.read.blocks import chosen, entry_points, nested_notes, points_totals
from vinemark.core.syllabus.read.drops import find_drops, is_conditional
from vinemark.core.syllabus.read.layout import Page, Sentence
from vinemark.core.syllabus.read.naming import clean, is_extra, mentioned, nearest_before
from vinemark.core.syllabus.read.normal import NUMBER, PERCENT_SIGN, POINTS_WORD, phrase, value_of, whole
from vinemark.core.syllabus.read.policies import BY_POINTS, holds_no_rule, read_rounding, says_zero_for_blanks
from vinemark.core.syllabus.read.prose import Said, as_categories, said_formula, said_points, said_weights
from vinemark.core.syllabus.read.rows import MOST_OF, RowReading, entries
from vinemark.core.syllabus.read.scale import read_scale


def read_syllabus(text: str) -> Reading:
    """What a text says about grading. It never invents: what it does not state is None."""
    return _Reader(Page(text)).read()


class _Reader:
    """One reading: each step adds its facts and clauses."""

    def __init__(self, page: Page) -> None:
        self.page = page
        self.reading = Reading()
        self.rows: list[tuple[int, int]] = []

    def read(self) -> Reading:
        """All steps in order; later ones rest on the categories found first."""
        self._scale()
        self._categories()
        self._extra_credit()
        self._counts()
        self._drops()
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
        found = read_scale(self.page)
        if found is None:
            return
        self.reading.scale, self.reading.scale_unit = found.rows, found.unit
        for start, end in found.spans:
            self._clause(start, end, "scale")

    def _in_scale(self, start: int, end: int) -> bool:
        return any(c.kind == "scale" and c.start < end and start < c.end for c in self.reading.clauses)

    # --- categories ---

    def _categories(self) -> None:
        rows = [e for e in entries(self.page) if not self._in_scale(e.start, e.end)]
        picked = chosen(self.page, rows)
        formula = said_formula(self.page)
        weights = [s for s in formula or said_weights(self.page) if not self._in_scale(s.start, s.end)]
        if picked:
            self._take_rows(rows, picked)
            self._complete(weights)
        else:
            self._take_prose(weights)

    def _take_rows(self, rows: Sequence[RowReading], picked: Sequence[RowReading]) -> None:
        ends = {e.line: e for e in rows}
        weighted = self._rows_weighted(picked)
        for entry in picked:
            following = min(
                (line for line in ends if line > entry.line and ends[line] in picked), default=entry.line + 12
            )
            nested_notes(self.page, entry, min(following, entry.line + 12))
            self._take_row(entry, weighted)
        self.reading.basis = "weighted" if weighted else "points"

    def _rows_weighted(self, picked: Sequence[RowReading]) -> bool:
        ordinary = [e for e in picked if not e.extra]
        weights = sum(e.worth is not None for e in ordinary)
        points = sum(entry_points(e) is not None for e in ordinary)
        if not weights:
            return False
        by_points = BY_POINTS.search(self.page.flat) and self.reading.scale_unit == "points"
        return not (points == len(ordinary) and by_points)

    def _take_row(self, entry: RowReading, weighted: bool) -> None:
        name = "Extra credit" if is_extra(entry.name.lower()) and len(entry.name.split()) <= 3 else entry.name
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
            if (
                said.extra
                or said.name.lower() in known
                or any(c.start <= said.start < c.end for c in self.reading.categories)
            ):
                continue
            amount = HUNDRED - total if said.rest and said.amount is None else said.whole
            if amount is not None and total + amount == HUNDRED and said.sure:
                self._take_said([said], amount)
                total += amount

    def _take_prose(self, weights: Sequence[Said]) -> None:
        ordinary = [s for s in weights if not s.extra]
        points = [s for s in said_points(self.page) if not self._in_scale(s.start, s.end) and not s.extra]
        picked = _fitting(ordinary)
        if _sum_of(picked) != HUNDRED and points and (len(points) > len(picked) or not picked):
            self._take_points(points)
            return
        if len(picked) < 2 and _sum_of(picked) < 60 and not any(s.of_grade for s in picked):
            return
        self._take_said(picked)
        self.reading.basis = "weighted"

    def _take_points(self, points: Sequence[Said]) -> None:
        totals = points_totals(self.page.flat)
        found = list(points)
        names = {s.name.lower() for s in found}
        bare = [s for s in self._bare_points() if s.name.lower() not in names]
        if totals and _sum_of(found) not in totals:
            found = next(
                (sorted([*found, s], key=lambda s: s.start) for s in bare if _sum_of([*found, s]) in totals), found
            )
        if len(found) < 2 and not (totals & {_sum_of(found)}):
            return
        self._take_said(found)
        self.reading.basis = "points"

    def _bare_points(self) -> list[Said]:
        """'The project is 130': points without the word, to be taken only where they complete the total."""
        found = []
        for sentence in self.page.sentences:
            for match in re.finditer(
                rf"\b(?:is|for|at) ({NUMBER})(?!{PERCENT_SIGN}|{POINTS_WORD}|\d|[.,]\d)(?= ?[,.;(]|$)", sentence.text
            ):
                pieces = [p for p in re.split(r"[.;:]| and ", sentence.text[: match.start()]) if p.strip()]
                name = clean(pieces[-1].split(",")[0]).text if pieces else ""
                if 0 < len(name.split()) < 6:
                    found.append(Said(name, sentence.start, sentence.start + match.end(), value_of(match[1]),
                                      False, None, False, True, unit="points"))  # fmt: skip
        return found

    def _take_said(self, picked: Sequence[Said], amount: Fraction | None = None) -> None:
        total = _sum_of([s for s in picked if not s.rest])
        for said in picked:
            if said.rest and said.amount is None:
                said.amount = amount if amount is not None else HUNDRED - total
        for made in as_categories(picked):
            self.reading.categories.append(made)
            self._clause(made.start, made.end, "extra" if made.extra else "weight", made)
            if made.count is not None:
                self._clause(made.start, made.end, "count", made)

    # --- extra credit ---

    def _extra_credit(self) -> None:
        if any(c.extra for c in self.reading.categories) or not self.reading.categories:
            return
        for sentence in self.page.sentences:
            made = self._said_extra(sentence)
            if made is not None:
                self.reading.categories.append(made)
                self._clause(sentence.start, sentence.end, "extra", made)
                return

    def _said_extra(self, sentence: Sentence) -> SaidCategory | None:
        text = sentence.text
        if not (is_extra(text) or (is_extra(sentence.section.heading) and re.search(r"\badd|\bon top", text))):
            return None
        if re.search(
            r"\bno extra|not (?:offer|give|accept)|\bno bonus|never|there is none|bonus questions?|"
            r"on (?:each|every|the) (?:exam|test|quiz)",
            text,
        ):
            return None
        if re.search(r"\blate\b|\bloses?\b", text) or sentence.section.kind == "calendar":
            return None
        for pattern, unit in ((EXTRA_PERCENT, "weight"), (EXTRA_POINTS, "points")):
            match = (MOST_OF.search(text) if unit == "weight" else None) or pattern.search(text)
            if match:
                return self._extra_category(sentence, match, unit)
        return None

    def _extra_category(self, sentence: Sentence, match: re.Match[str], unit: str) -> SaidCategory:
        amount = value_of(match["n"])
        on_average = re.search(r"(?:final|course|overall) (?:average|grade|percentage|mark|score)", sentence.text)
        weighted = self.reading.basis == "weighted" and (unit == "weight" or bool(on_average))
        made = SaidCategory(
            _extra_name(sentence.text, match.start()), extra=True, start=sentence.start, end=sentence.end
        )
        if weighted:
            made.weight = amount
        elif unit == "points":
            made.points = amount
        return made

    # --- counts and drops in other sentences ---

    def _counts(self) -> None:
        last: SaidCategory | None = None
        for sentence in self.page.sentences:
            if sentence.section.kind in {"calendar", "rubric"} or self._in_scale(sentence.start, sentence.end):
                continue
            named = mentioned(sentence.text, self.reading.categories)
            alone = COUNT_ALONE.match(sentence.text)
            if alone and named and named[0].count is None:
                named[0].count = whole(alone["n"])
                self._clause(sentence.start, sentence.end, "count", named[0])
            for match in COUNT_IN_BRACKETS.finditer(sentence.text):
                category = nearest_before(sentence.text[: match.start()], self.reading.categories)
                if category is not None and category.count is None:
                    category.count = whole(match["n"])
                    self._clause(sentence.start + match.start(), sentence.start + match.end(), "count", category)
            for match in COUNT_OF.finditer(sentence.text):
                if not self._in_row(sentence.start + match.start()):
                    self._count(sentence, match, last)
            last = named[0] if named else last

    def _count(self, sentence: Sentence, match: re.Match[str], last: SaidCategory | None) -> None:
        number = whole(match["n"])
        words = match["what"] or ""
        if (
            number is None
            or number > 60
            or (number == 1 and re.search(r"\bdrop|\bskip|\bmiss", sentence.text))
            or _before_count(sentence.text[max(0, match.start() - 60) : match.start()])
        ):
            return
        if re.match(r"(?:of )?(?:them|these)\b", words.strip()):
            category = nearest_before(sentence.text[: match.start()], self.reading.categories) or last
        else:
            category = next(iter(mentioned(_first_words(words), self.reading.categories)), None)
            bracket = sentence.text.rfind("(", 0, match.start())
            if category is None and bracket > sentence.text.rfind(")", 0, match.start()):
                category = nearest_before(sentence.text[:bracket], self.reading.categories)
        if category is None or category.count is not None or category.extra:
            return
        if category.name.lower().endswith("final exam") or category.name.lower() == "final":
            return
        category.count = number
        if (
            category.points is not None
            and category.points_each is None
            and self.reading.basis == "points"
            and self._each_said(sentence, match)
        ):
            category.points_each = category.points / number
        self._clause(sentence.start + match.start(), sentence.start + match.end(), "count", category)

    def _each_said(self, sentence: Sentence, match: re.Match[str]) -> bool:
        return bool(re.search(rf"{NUMBER}{POINTS_WORD} (?:each|apiece)", sentence.text[match.end() :]))

    def _in_row(self, place: int) -> bool:
        """Whether a place lies in a row that has been read as one already."""
        return any(start <= place < end for start, end in self.rows)

    def _drops(self) -> None:
        last: SaidCategory | None = None
        for sentence in self.page.sentences:
            if sentence.section.kind in {"calendar", "rubric"}:
                continue
            named = mentioned(sentence.text, self.reading.categories)
            for drop in find_drops(sentence.text):
                if self._in_row(sentence.start + drop.start):
                    continue
                category = self._dropped_from(sentence, drop.start, drop.end, last)
                if category is not None and not category.drop_lowest and category.keep_best is None:
                    category.drop_lowest, category.keep_best = drop.lowest, drop.best
                    category.count = category.count or drop.of
                    self._clause(sentence.start + drop.start, sentence.start + drop.end, "drop", category)
            last = named[0] if named else last

    def _dropped_from(self, sentence: Sentence, start: int, end: int, last: SaidCategory | None) -> SaidCategory | None:
        """What a drop is of: named in its own words, else beside them, else by the heading or the sentence before."""
        found = [c for c in self.reading.categories if not c.extra]
        text = sentence.text
        left = max(text.rfind(c, 0, start) for c in (",", ";", ":", "("))
        right = min([n for c in (",", ";", ".", ")") if (n := text.find(c, end)) >= 0], default=len(text))
        for piece in (text[start:end], text[end:right], text[left + 1 : start]):
            named = mentioned(piece, found)
            if named:
                return named[0]
        before = nearest_before(text[:start], found)
        if before is not None:
            return before
        named = mentioned(text, found)
        if named:
            return named[0]
        named = mentioned(sentence.section.heading, found)
        return named[0] if named else last

    # --- policies ---

    def _policies(self) -> None:
        rounding = read_rounding(self.page.sentences)
        if rounding is not None:
            self.reading.rounding = rounding[0]
            self._clause(rounding[1].start, rounding[1].end, "rounding")
        for sentence in self.page.sentences:
            if says_zero_for_blanks(sentence.asked) and sentence.section.kind != "calendar":
                self.reading.blanks = "zero"
                self._clause(sentence.start, sentence.end, "blanks")

    def _unread(self) -> None:
        for sentence in self.page.sentences:
            read = any(c.start < sentence.end and sentence.start < c.end for c in self.reading.clauses)
            conditional = is_conditional(sentence.text)
            if holds_no_rule(sentence) and (conditional or not read or "highest" in sentence.text):
                self.reading.unread.append(
                    Unread(sentence.start, sentence.end, self.page.said(sentence.start, sentence.end))
                )


EXTRA_PERCENT = phrase(rf"(?:up to |another |an additional |as much as |at most )?(?P<n>{{number}}){PERCENT_SIGN}")
EXTRA_POINTS = phrase(
    rf"(?:up to |another |an additional |as much as |at most )?(?P<n>{{number}})(?: extra|"
    rf" bonus| additional)?{POINTS_WORD}"
)
COUNT_OF = phrase(
    r"(?<![\d.,/$-])\b(?P<n>{number})(?![\d.,]*\d)(?! ?(?:%|percent|points?\b|pts?\b|marks?\b|"
    r"minutes?|mins?\b|hours?\b|pages?|weeks?|words?|days?|"
    r"a\.m|p\.m|o'clock|credits?|percentage|late|absences?|times?\b|people|students?|to \d|"
    r"or \d|x |:))[ -](?P<what>(?:of (?:them|these)|[a-z][a-z'-]*)(?: [a-z][a-z'-]*){0,3})"
)


# 'Lowest quiz dropped (there are 6)'
COUNT_IN_BRACKETS = phrase(r"\(there (?:are|will be) (?P<n>{number})\)")
# 'Studio projects: four'
COUNT_ALONE = phrase(r"^\W*[a-z][a-z' -]{2,40}: (?P<n>{number})(?: in all| in total)?[.;,]*$")


def _before_count(before: str) -> bool:
    """Whether a number is no count of items: 'the best 8', 'week 3', 'drop two', 'each of the three' is one."""
    return bool(
        re.search(
            r"\b(?:best|top|highest|lowest|worst|week|weeks|chapter|chapters|room|hall|section|unit|"
            r"part|drop|dropped|skip|miss|first|last|next|only|after|within|at most|"
            r"at least|up to|more than|fewer than|about|other|page|problem|exam|quiz|midterm|test|lab|"
            r"grade|than|every|one of|any|between|of your|dome|building)\s*$",
            before,
        )
    )


def _first_words(words: str) -> str:
    """The noun a number stands before, without what follows it."""
    stop = re.search(
        r"\b(?:is|are|will|were|on|in|at|of|for|with|and|or|that|which|due|during|over|to|from|"
        r"per|count|each|worth|make|makes|you|we|i)\b",
        words,
    )
    return words[: stop.start()] if stop and stop.start() else words


def _extra_name(text: str, amount_at: int) -> str:
    """A short name at the start of the sentence, or plain 'Extra credit'."""
    found = re.match(
        r"^(?:\W*)([a-z][a-z' -]{3,40}?) ?\((?:extra credit|bonus)\)|^\W*(?:extra credit|"
        r"bonus)[:,-] ?([a-z][a-z' -]{3,30}?)[:,(-]",
        text,
    )
    name = next((g for g in found.groups() if g), "") if found else ""
    return name[:1].upper() + name[1:] if 0 < len(name.split()) <= 5 else "Extra credit"


def _sum_of(found: Sequence[Said]) -> Fraction:
    return sum((s.whole or Fraction(0) for s in found), Fraction(0))


def _fitting(found: Sequence[Said]) -> list[Said]:
    """The weights that make up 100: those that are sure, all, those of one stretch; else those that are sure."""
    once: list[Said] = []
    for said in found:
        if said.name.lower() not in [s.name.lower() for s in once]:
            once.append(said)
    sure = [s for s in once if s.sure]
    for tried in (sure, once, *_stretches(once)):
        if tried and (
            _sum_of(tried) == HUNDRED or (_sum_of(tried) < HUNDRED and any(s.rest and s.amount is None for s in tried))
        ):
            return list(tried)
    return sure


def _stretches(found: Sequence[Said]) -> list[Sequence[Said]]:
    """Runs of neighbours, the longest first."""
    count = len(found)
    return [found[start : start + length] for length in range(count - 1, 1, -1) for start in range(count - length + 1)]
