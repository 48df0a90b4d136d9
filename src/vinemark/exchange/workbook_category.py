"""One category's sheet of the workbook: what is in play, what is dropped and why, and the percent, all by formulas.

Each block has one column an item, in plan order: e (earned), m (size), then where the plan drops something h
(dropped as highest), and one block for each step of the search for the drops that help most (W. Dinkelbach,
"On nonlinear fractional programming", Management Science 13, 1967): with a trial ratio q the items with the
smallest e - q * m go, which gives the next q; six steps are ample for the lengths of categories there are.

A student's formulas are the same in every row but for its number: they are made once, and each row puts its number
in. The values beside them are worked out in whole numbers of the category's unit (see core.grade.category); one
division at the end gives the nearest float.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from fractions import Fraction
from math import lcm
from typing import Any, Literal

from xlsxwriter.utility import xl_col_to_name

from vinemark.core.course.recorded import PlainCells
from vinemark.core.grade.category import EXEMPT, CategoryWork, numbers_of, rounded_ratio
from vinemark.core.plan.amounts import blank_counts, size_of
from vinemark.core.plan.plan import Category, Item, Plan, Split
from vinemark.exchange.workbook_places import PlanPlaces
from vinemark.exchange.workbook_replaced import OUT, ReplacedBlocks, replacements_into, span
from vinemark.exchange.workbook_rounding import rounding_formula
from vinemark.exchange.workbook_scores import FIRST_ROW, due_before, with_own_dates

DROP_STEPS = 6
# So little sends ties to the item that stands first, and is far below any difference of scores: 1 of so many.
TIES = 10**13
FIGURE_COLUMNS = ("earned", "size", "p", "counted")
ROW = "{r}"
"""Stands in a formula for the number of the student's row."""

Calculated = float | str


@dataclass(frozen=True)
class Figures:
    """A student's sum of m, and p under the ceiling as a numerator and a denominator (None: no percentage)."""

    size: Fraction
    p: tuple[int, int] | None


class CategorySheet:
    """Writes one category's sheet, row by row; `figures` keeps what each row comes to."""

    def __init__(
        self,
        sheet: Any,
        plan: Plan,
        place: int,
        columns: Mapping[str, int],
        as_of: date,
        denominator: int,
    ) -> None:
        """The category at a place of the plan. `columns` are those of the items on the Scores sheet; `denominator` is
        common to all scores and points."""
        self.sheet = sheet
        self.category: Category = plan.categories[place]
        category, points = self.category, plan.basis == "points"
        self.split: Split = "by_points" if points else category.split
        self.round_to = None if points else category.rounding
        self.work = CategoryWork(category, self.split, as_of, denominator)
        self.place = place
        self.places = PlanPlaces(plan)
        self.columns = columns
        self.items = category.regular
        self.extra = [] if category.extra else [i for i in category.counting if i.extra]
        drops = category.drop_highest or category.drop_lowest or category.keep_best is not None
        self.drops = bool(drops and not category.extra and self.items)
        self.by_ratio = category.drop_by == "lowest_percent" or len({size_of(i, self.split) for i in self.items}) <= 1
        self.replaced = ReplacedBlocks([] if category.extra else replacements_into(plan, category), self.items)
        self.figures: dict[int, Figures] = {}
        # For a size m this times e orders items by e / m.
        self._common = lcm(*self.work.sizes) if self.items else 1
        self._lay_out()
        self._places: list[int] = []
        self._texts: list[list[str]] = []
        self._write_formulas()

    def _lay_out(self) -> None:
        """Which column each block starts at."""
        width, self.start = len(self.items), {"e": 1, "m": 1 + len(self.items)}
        place = 1 + 2 * width
        self.single: dict[str, int] = {}
        for name in ("extra", *(("in_play", "droppable", "n_high", "n_low") if self.drops else ())):
            self.single[name] = place
            place += 1
        self.steps = (1 if self.by_ratio else DROP_STEPS) if self.drops else 0
        for name in ("ratio", "high", *(f"gain{n}" for n in range(self.steps))) if self.drops else ():
            self.start[name] = place
            place += width
            if name.startswith("gain"):
                self.single[f"q{name[4:]}"] = place
                place += 1
        place = self._lay_out_replaced(place, width)
        for name in FIGURE_COLUMNS:
            self.single[name] = place
            place += 1

    def _lay_out_replaced(self, place: int, width: int) -> int:
        for name in ("kept", *self.replaced.blocks()) if self.replaced.rules else ():
            if name.startswith("weak"):
                self.single[f"better{name[4:]}"] = place
                place += 1
            self.start[name] = place
            place += width
        return place

    def heading(self, bold: Any) -> None:
        """What each column holds."""
        self.sheet.write_string(0, 0, self.category.name, bold)
        for block, start in self.start.items():
            self.sheet.write_string(FIRST_ROW - 3, start, self._title(block), bold)
            for n, item in enumerate(self.items):
                self.sheet.write_string(FIRST_ROW - 2, start + n, item.name)
                self.sheet.write_number(FIRST_ROW - 1, start + n, int(item.droppable))
        self.sheet.write_string(FIRST_ROW - 1, 0, "may be dropped (1)", bold)
        for name, column in self.single.items():
            self.sheet.write_string(FIRST_ROW - 3, column, name.replace("_", " "), bold)

    def _title(self, block: str) -> str:
        words = {"e": "earned", "m": "size", "ratio": "score / points", "high": "dropped as highest", "kept": "kept"}
        for start, title in (("gain", "e - q m, step"), ("weak", "weaker, rule"), ("replaced", "replaced, rule")):
            if block.startswith(start):
                return f"{title} {block[len(start) :]}"
        return words.get(block, block)

    def figure(self, name: Literal["earned", "size", "p", "counted"]) -> str:
        """Where a student's figure stands, for formulas of other sheets."""
        return f"'{self.sheet.get_name()}'!{xl_col_to_name(self.single[name])}{ROW}"

    def plan_cell(self, column: str) -> str:
        """A rule of the category on the Plan sheet."""
        return self.places.category(self.place, column)

    def student(self, row: int, cells: PlainCells, own: Mapping[str, date]) -> None:
        """A student's row; `own` are the due dates of this student alone, by item."""
        number = str(row + 1)
        for place, text, value in zip(self._places, self._texts, self._values(row, cells, own), strict=True):
            formula = number.join(text)
            self.sheet.put_formula(row, place, with_own_dates(formula, own, self.columns) if own else formula, value)

    # --- the formulas of a row, in the order of their values ---------------------------------------------------------

    def _write_formulas(self) -> None:
        for n, item in enumerate(self.items):
            score = self._score(item)
            size = {"by_points": self._above(item, 2), "even": "1", "own_shares": self._above(item, 3)}[self.split]
            self._put(self.start["e"] + n, f"IF(ISNUMBER({score}),{score}{self._times(item)},0)")
            self._put(self.start["m"] + n, f"IF({self._counts(score, item)},{size},0)")
        terms = [f"IF(ISNUMBER({s}),{s}{self._times(i)},0)" for i in self.extra for s in [self._score(i)]]
        self._put(self.single["extra"], "+".join(terms) or "0")
        if self.drops:
            earned, size = self._write_drops()
        elif self.items:
            earned, size = f"SUM({self._span('e')})+{self._at('extra')}", f"SUM({self._span('m')})"
        else:
            earned, size = f"0+{self._at('extra')}", "0"
        self._write_figures(earned + self._write_replaced(), size)

    def _write_replaced(self) -> str:
        """The blocks of each replacement into the category; what they add to the sum of e."""
        if not (self.replaced.rules and self.items):
            return ""
        for n in range(len(self.items)):
            self._put(self.start["kept"] + n, self._kept_formula(n))
        added = ""
        for k, one in enumerate(self.replaced.rules):
            source, better, weak = self._score(one.source), self._at(f"better{k}"), self._span(f"weak{k}")
            self._put(self.single[f"better{k}"], f"IF(ISNUMBER({source}),{source}/{self._above(one.source, 2)},0)")
            for n, item in enumerate(self.items):
                score, kept = self._score(item), self._cell("kept", n)
                self._put(self.start[f"weak{k}"] + n, self.replaced.weak(k, item, self._cell, kept, score, better))
            for n in range(len(self.items)):
                mine = self._cell(f"weak{k}", n)
                at_most = f"{mine}<=SMALL({weak},{min(one.rule.count, len(self.items))})"
                self._put(self.start[f"replaced{k}"] + n, f"IF(AND({mine}<{OUT},{at_most}),1,0)")
            added += f"+SUMPRODUCT({self._span(f'replaced{k}')}*({better}*{self._span('m')}-{self._span('e')}))"
        return added

    def _kept_formula(self, n: int) -> str:
        size = self._cell("m", n)
        if not self.drops:
            return f"IF({size}>0,1,0)"
        last = f"gain{self.steps - 1}"
        low = f"{self._cell(last, n)}<=SMALL({self._span(last)},MAX(1,{self._at('n_low')}))"
        return f"IF(AND({size}>0,{self._cell('high', n)}=0,NOT(AND({self._at('n_low')}>0,{low}))),1,0)"

    def _put(self, place: int, formula: str) -> None:
        self._places.append(place)
        self._texts.append(formula.split(ROW))

    def _at(self, name: str) -> str:
        return f"${xl_col_to_name(self.single[name])}{ROW}"

    def _cell(self, block: str, n: int) -> str:
        return f"{xl_col_to_name(self.start[block] + n)}{ROW}"

    def _span(self, block: str) -> str:
        return span(self.start[block], len(self.items), ROW)

    def _score(self, item: Item) -> str:
        return f"Scores!{xl_col_to_name(self.columns[item.id])}{ROW}"

    def _above(self, item: Item, score_row: int) -> str:
        """An item's points (row 2), share (3) or due date (4) on the Scores sheet."""
        return f"Scores!{xl_col_to_name(self.columns[item.id])}${score_row + 1}"

    def _times(self, item: Item) -> str:
        """What a score is multiplied by to give e."""
        points = self._above(item, 2)
        return {"by_points": "", "even": f"/{points}", "own_shares": f"*{self._above(item, 3)}/{points}"}[self.split]

    def _counts(self, score: str, item: Item) -> str:
        """Whether an item is in play, as a condition."""
        if self.category.extra or self.category.blanks == "zero":
            return f'{score}<>"exempt"'
        recorded = f'ISNUMBER({score}),{score}="missing"'
        if self.category.blanks == "zero_when_due" and item.due is not None:
            return f'OR({recorded},AND({score}="",{due_before(self.columns[item.id])}))'
        return f"OR({recorded})"

    def _write_drops(self) -> tuple[str, str]:
        """How many go, which as the highest, and step by step which as the lowest; the sums once they are gone."""
        self._write_counts_of_drops()
        self._write_highest()
        high, e, m = (self._span(block) for block in ("high", "e", "m"))
        all_e, all_m = f"SUMPRODUCT((1-{high})*{e})+{self._at('extra')}", f"SUMPRODUCT((1-{high})*{m})"
        sums, q = (all_e, all_m), f"({all_e})/({all_m})"
        for step in range(self.steps):
            block = f"gain{step}"
            self._put(self.single[f"q{step}"], f"IF({all_m}=0,0,{q})")
            for n in range(len(self.items)):
                one_e, one_m = self._cell("e", n), self._cell("m", n)
                worth = f"{one_e}/{one_m}" if self.by_ratio else f"{one_e}-{self._at(f'q{step}')}*{one_m}"
                allowed = f"AND({one_m}>0,{self._flag(n)}=1,{self._cell('high', n)}=0)"
                self._put(self.start[block] + n, f"IF({allowed},{worth}+{n}*1E-13,{OUT})")
            low = f"({self._span(block)}<=SMALL({self._span(block)},MAX(1,{self._at('n_low')})))"
            gone = f"({self._at('n_low')}>0)*{low}"
            sums = (f"{all_e}-SUMPRODUCT({gone}*{e})", f"{all_m}-SUMPRODUCT({gone}*{m})")
            q = f"({sums[0]})/({sums[1]})"
        return sums

    def _write_counts_of_drops(self) -> None:
        """How many are dropped as highest and as lowest; at least one item always stays."""
        m, c = self._span("m"), self.category
        r, d, h = (self._at(name) for name in ("in_play", "droppable", "n_high"))
        want = self.plan_cell("F") if c.keep_best is None else f"MAX(0,{r}-{self.plan_cell('G')})"
        self._put(self.single["in_play"], f"SUMPRODUCT(1*({m}>0))")
        self._put(self.single["droppable"], f"SUMPRODUCT(({m}>0)*{self._flags()})")
        self._put(self.single["n_high"], f"MAX(0,MIN({self.plan_cell('E')},{d},{r}-1))")
        self._put(self.single["n_low"], f"MAX(0,MIN({want},{d}-{h},{r}-1-{h}))")

    def _write_highest(self) -> None:
        """Which items go as the highest, by score / points; of equal ones the first."""
        for n in range(len(self.items)):
            e, m = self._cell("e", n), self._cell("m", n)
            self._put(self.start["ratio"] + n, f"IF(AND({m}>0,{self._flag(n)}=1),{e}/{m}-{n}*1E-13,-1)")
        span, count = self._span("ratio"), self._at("n_high")
        for n in range(len(self.items)):
            at_top = f"{self._cell('ratio', n)}>=LARGE({span},MAX(1,{count}))"
            self._put(self.start["high"] + n, f"IF({count}=0,0,IF({at_top},1,0))")

    def _flag(self, n: int) -> str:
        return f"{xl_col_to_name(self.start['m'] + n)}${FIRST_ROW}"

    def _flags(self) -> str:
        """Which items may be dropped, as 1 and 0 above their columns."""
        ends = (self.start["m"], self.start["m"] + len(self.items) - 1)
        return ":".join(f"${xl_col_to_name(end)}${FIRST_ROW}" for end in ends)

    def _write_figures(self, earned: str, size: str) -> None:
        """The sums, p and what counts under the points basis; a ceiling caps both."""
        e, m, at = self._at("earned"), self._at("size"), self.plan_cell("J")
        self._put(self.single["earned"], earned)
        self._put(self.single["size"], size)
        p = f'IF({at}="",{e}/{m},MIN({e}/{m},{at}/100))'
        if self.round_to:
            p = f"{rounding_formula(f'100*{p}', str(self.round_to.decimals), self.round_to.way)}/100"
        self._put(self.single["p"], f'IF({m}=0,"",{p})')
        self._put(self.single["counted"], f'IF({at}="",{e},MIN({e},{at}/100*{m}))')

    # --- the values of a row -----------------------------------------------------------------------------------------

    def _values(self, row: int, cells: PlainCells, own: Mapping[str, date]) -> list[Calculated]:
        work, numbers, found = self.work, numbers_of(cells, self.work.denominator), list[Calculated]()
        unit, e, m = work.unit, list[int](), list[int]()
        for item, times, size, zero in zip(work.ids, work.factors, work.sizes, self._blanks(own), strict=True):
            number = numbers.get(item)
            e.append(number * times if number is not None and number != EXEMPT else 0)
            m.append(size if number != EXEMPT and (number is not None or zero) else 0)
            found += (e[-1] / unit, m[-1] / unit)
        extra = sum(number * times for item, times, _ in work.extra if (number := numbers.get(item, EXEMPT)) != EXEMPT)
        found.append(extra / unit)
        earned, size, gone = sum(e) + extra, sum(m), set[int]()
        if self.drops:
            earned, size, gone = self._values_of_drops(found, e, m, extra)
        if self.replaced.rules and self.items:
            earned_now = self._values_of_replaced(found, e, m, gone, cells) * unit + earned
            # Both in a unit in which the sum is whole again.
            earned, size = earned_now.numerator, size * earned_now.denominator
            unit *= earned_now.denominator
        self._values_of_figures(found, row, earned, size, unit)
        return found

    def _blanks(self, own: Mapping[str, date]) -> Sequence[bool]:
        """Whether a blank counts, item by item, for a student with due dates of their own."""
        work = self.work
        if not own:
            return work.blank_counts
        items = (replace(item, due=own.get(item.id, item.due)) for item in self.items)
        return [blank_counts(self.category, item, work.as_of) for item in items]

    def _values_of_replaced(
        self, found: list[Calculated], e: Sequence[int], m: Sequence[int], gone: set[int], cells: PlainCells
    ) -> Fraction:
        """The values of the blocks of replacements; what they add."""
        unit, kept = self.work.unit, [size > 0 and n not in gone for n, size in enumerate(m)]
        found += [float(one) for one in kept]
        made = self.replaced.values([Fraction(x, unit) for x in e], [Fraction(x, unit) for x in m], kept, cells)
        for better, keys, replaced in made.rules:
            found.append(float(better))
            found += [float(key) for key in keys]
            found += [float(one) for one in replaced]
        return made.gained

    def _values_of_drops(
        self, found: list[Calculated], e: list[int], m: list[int], extra: int
    ) -> tuple[int, int, set[int]]:
        """The values of the drops; the sums once they are made, and which items are gone."""
        places = range(len(self.items))
        droppable = [m[n] > 0 and self.items[n].droppable for n in places]
        n_high, n_low = self._numbers_of_drops(sum(size > 0 for size in m), sum(droppable))
        found += (float(sum(size > 0 for size in m)), float(sum(droppable)), float(n_high), float(n_low))
        high = self._values_of_highest(found, e, m, droppable, n_high)
        kept_e = sum(e) - sum(e[n] for n in high) + extra
        kept_m = sum(m) - sum(m[n] for n in high)
        sums, free, gone = (kept_e, kept_m), [droppable[n] and n not in high for n in places], list[int]()
        for _ in range(self.steps):
            q_e, q_m = sums if sums[1] else (0, self.work.unit)
            found.append(q_e / q_m)
            keys, per = self._gains(e, m, q_e, q_m)
            keys = [key if free[n] else OUT * per for n, key in enumerate(keys)]
            found += [key / per for key in keys]
            gone = sorted(places, key=keys.__getitem__)[:n_low]
            sums = (kept_e - sum(e[n] for n in gone), kept_m - sum(m[n] for n in gone))
        return *sums, {*high, *gone}

    def _numbers_of_drops(self, in_play: int, droppable: int) -> tuple[int, int]:
        c = self.category
        high = max(0, min(c.drop_highest, droppable, in_play - 1))
        wanted = c.drop_lowest if c.keep_best is None else max(0, in_play - c.keep_best)
        return high, max(0, min(wanted, droppable - high, in_play - 1 - high))

    def _values_of_highest(
        self, found: list[Calculated], e: list[int], m: list[int], droppable: Sequence[bool], n_high: int
    ) -> set[int]:
        """The values of what orders the items for dropping as the highest; which go."""
        common, places = self._common, range(len(self.items))
        per = common * TIES
        keys = [e[n] * (common // m[n]) * TIES - n * common if droppable[n] else -per for n in places]
        found += [key / per for key in keys]
        high = set(sorted(places, key=lambda n: -keys[n])[:n_high])
        found += [float(n in high) for n in places]
        return high

    def _gains(self, e: list[int], m: list[int], q_e: int, q_m: int) -> tuple[list[int], int]:
        """What orders the items for dropping as the lowest, as whole numbers, and of how many: e - q m, or e / m; so
        much is added for each place that the first of equal ones goes."""
        if self.by_ratio:
            common = self._common
            keys = [(e[n] * (common // m[n]) if m[n] else 0) * TIES + n * common for n in range(len(e))]
            return keys, common * TIES
        whole = q_m * self.work.unit
        return [(e[n] * q_m - q_e * m[n]) * TIES + n * whole for n in range(len(e))], whole * TIES

    def _values_of_figures(self, found: list[Calculated], row: int, earned: int, size: int, unit: int) -> None:
        cap = self.category.cap
        ratio, counted = (earned, size), (earned, unit)
        if cap is not None and earned * 100 * cap.denominator > cap.numerator * size:
            ratio = (cap.numerator, 100 * cap.denominator)
            counted = (cap.numerator * size, 100 * cap.denominator * unit)
        if self.round_to and size:
            ratio = rounded_ratio(*ratio, self.round_to)
        found += (earned / unit, size / unit, ratio[0] / ratio[1] if size else "", counted[0] / counted[1])
        self.figures[row] = Figures(Fraction(size, unit), ratio if size else None)
