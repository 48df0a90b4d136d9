"""A better score that replaces weaker ones: after the drops, rule by rule in the order of the plan."""

from collections.abc import Mapping, Sequence
from fractions import Fraction
from math import lcm
from typing import NamedTuple

from vinemark.core.course.cell import PlainCell
from vinemark.core.grade.category import BlanksAs, CategorySums, CategoryWork, Numbers, Replaced
from vinemark.core.plan.plan import Plan


class ReplacementWork(NamedTuple):
    """A rule made ready: where its source stands and where it goes, by places among the categories' regular items."""

    source: str
    source_category: int
    source_index: int
    source_full: int
    into: int
    most: int
    missed: bool


def replacement_works(plan: Plan, works: Sequence[CategoryWork]) -> list[ReplacementWork]:
    """The plan's rules whose source counts; one of a planned item does nothing yet."""
    places = {work.category.id: place for place, work in enumerate(works)}
    found = []
    for rule in plan.replacements:
        category, item = plan.placed[rule.source]
        place = places[category.id]
        index = works[place].indices.get(rule.source)
        if item.counts and index is not None:
            full = works[place].full[index]
            found.append(ReplacementWork(rule.source, place, index, full, places[rule.into], rule.count, rule.missed))
    return found


def widen(rules: Sequence[ReplacementWork], works: Sequence[CategoryWork]) -> None:
    """Make the unit of each category whole for s * m of every source that may come into it."""
    for place, work in enumerate(works):
        work.widened = lcm(*(rule.source_full for rule in rules if rule.into == place))


class Replacing:
    """The rules at work on one student under one way of reading blanks."""

    def __init__(
        self,
        works: Sequence[CategoryWork],
        cells: Mapping[str, PlainCell],
        numbers: Numbers,
        blanks: BlanksAs,
        outcomes: Sequence[CategorySums],
    ) -> None:
        self._works = works
        self._cells = cells
        self._numbers = numbers
        self._blanks = blanks
        self._outcomes = outcomes
        self._gone: dict[int, dict[int, Replaced]] = {}

    def after(self, rules: Sequence[ReplacementWork]) -> list[CategorySums]:
        """The categories' sums once all rules are carried out, in the widened unit."""
        for rule in rules:
            self._carry_out(rule)
        return [self._summed(place, outcome) for place, outcome in enumerate(self._outcomes)]

    def _carry_out(self, rule: ReplacementWork) -> None:
        value = self._works[rule.source_category].value_at(rule.source_index, self._numbers, self._blanks)
        if not value or value < 0:
            return
        work, done = self._works[rule.into], self._gone.setdefault(rule.into, {})
        weak = [
            (Fraction(now, work.full[index]), index)
            for index, now in self._kept(rule.into)
            if index not in done
            and not (rule.into == rule.source_category and index == rule.source_index)
            and now * rule.source_full < value * work.full[index]
            and (rule.missed or self._is_number(work.ids[index]))
        ]
        for _, index in sorted(weak)[: rule.most]:
            done[index] = Replaced(index, value, rule.source_full, rule.source)

    def _kept(self, place: int) -> list[tuple[int, int]]:
        """Places and values of the kept regular items of a category."""
        work, drops = self._works[place], self._outcomes[place].drops
        gone = {*drops.highest, *drops.lowest}
        values = work.values(self._numbers, self._blanks)
        return [(i, v) for i, v in enumerate(values) if v is not None and v >= 0 and i not in gone]

    def _is_number(self, item: str) -> bool:
        cell = self._cells.get(item)
        return isinstance(cell, Fraction) or (cell is None and self._blanks == "full")

    def _summed(self, place: int, outcome: CategorySums) -> CategorySums:
        work, done = self._works[place], self._gone.get(place)
        wide = work.widened
        if wide == 1 and not done:
            return outcome
        earned = outcome.earned * wide
        for one in (done or {}).values():
            earned += one.value * (work.sizes[one.place] * wide // one.full)
            earned -= (self._now(work, one.place) * work.factors[one.place]) * wide
        replaced = tuple(sorted((done or {}).values()))
        return outcome._replace(earned=earned, size=outcome.size * wide, replaced=replaced)

    def _now(self, work: CategoryWork, index: int) -> int:
        return work.value_at(index, self._numbers, self._blanks) or 0
