"""The blocks of a category's sheet in which a better score replaces weaker ones, by formulas.

For each rule: s, the source's own score over its points; a block of what orders the candidates; a block of 1 where
the better score stands in. A rule looks only at what is kept and not yet replaced by one before it.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from fractions import Fraction

from xlsxwriter.utility import xl_col_to_name

from vinemark.core.course.recorded import PlainCells
from vinemark.core.plan.plan import Category, Item, Plan
from vinemark.core.plan.rules import Replacement

OUT = 10**9
TIE = Fraction(1, 10**13)
EQUAL = "1E-12"
"""Binary numbers closer than this are the same score."""


@dataclass(frozen=True)
class IntoCategory:
    """A replacement that may do something to a category's regular items."""

    rule: Replacement
    source: Item


def replacements_into(plan: Plan, category: Category) -> list[IntoCategory]:
    """The plan's replacements into a category, those of planned items left out."""
    found = [(rule, plan.item(rule.source)) for rule in plan.replacements if rule.into == category.id]
    return [IntoCategory(rule, item) for rule, item in found if item is not None and item.counts]


class ReplacedBlocks:
    """The blocks of one category: where each stands, its formulas, and their values for a student."""

    def __init__(self, rules: Sequence[IntoCategory], items: Sequence[Item]) -> None:
        self.rules = rules
        self.items = items

    def blocks(self) -> list[str]:
        """Names of the blocks with a column for each item, in order."""
        return [f"{name}{n}" for n in range(len(self.rules)) for name in ("weak", "replaced")] if self.rules else []

    def weak(self, n: int, item: Item, cell: Callable[[str, int], str], kept: str, score: str, better: str) -> str:
        """What orders a candidate of a rule: its own score over its points; OUT where it is none."""
        rule, place = self.rules[n].rule, self.items.index(item)
        ratio = f"{cell('e', place)}/{cell('m', place)}"
        allowed = [f"{kept}=1", *(f"{cell(f'replaced{before}', place)}=0" for before in range(n))]
        allowed += [f"ISNUMBER({score})"] * (not rule.missed)
        if item.id == rule.source:
            return str(OUT)
        weak = f"IF({ratio}<{better}-{EQUAL},{ratio}+{place}*1E-13,{OUT})"
        return f"IF(AND({','.join(allowed)}),{weak},{OUT})"

    def values(
        self, e: Sequence[Fraction], m: Sequence[Fraction], kept: Sequence[bool], cells: PlainCells
    ) -> "ReplacedValues":
        """The blocks' values for a student: e and m of each item, which are kept, and the cells as they count."""
        done: dict[int, Fraction] = {}
        found = list[tuple[Fraction, list[Fraction], list[bool]]]()
        for one in self.rules:
            value = cells.get(one.source.id)
            better = value / one.source.points if isinstance(value, Fraction) else Fraction(0)
            keys = [self._key(one, n, e, m, kept, done, cells, better) for n in range(len(self.items))]
            going = sorted((key, n) for n, key in enumerate(keys) if key < OUT)[: one.rule.count]
            gone = {n for _, n in going}
            done.update(dict.fromkeys(gone, better))
            found.append((better, keys, [n in gone for n in range(len(self.items))]))
        gained = sum((better * m[n] - e[n] for n, better in done.items()), Fraction(0))
        return ReplacedValues(found, gained)

    def _key(
        self, one: IntoCategory, n: int, e: Sequence[Fraction], m: Sequence[Fraction], kept: Sequence[bool],
        done: dict[int, Fraction], cells: PlainCells, better: Fraction,
    ) -> Fraction:  # fmt: skip
        item, out = self.items[n], Fraction(OUT)
        if item.id == one.source.id or not kept[n] or n in done:
            return out
        if not one.rule.missed and not isinstance(cells.get(item.id), Fraction):
            return out
        ratio = e[n] / m[n]
        return ratio + n * TIE if ratio < better else out


@dataclass(frozen=True)
class ReplacedValues:
    """For each rule its s, what orders each item, and which are replaced; `gained` is what it adds to e."""

    rules: Sequence[tuple[Fraction, Sequence[Fraction], Sequence[bool]]]
    gained: Fraction


def span(start: int, count: int, row: str) -> str:
    """A block's cells of a row."""
    return f"{xl_col_to_name(start)}{row}:{xl_col_to_name(start + count - 1)}{row}"
