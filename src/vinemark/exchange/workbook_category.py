"""One category's sheet of the workbook: what is in play, what is dropped and why, and the percent, all by formulas.

Each block has one column an item, in plan order: e (earned), m (size), then where the plan drops something h
(dropped as highest), and one block for each step of the search for the drops that help most (W. Dinkelbach,
"On nonlinear fractional programming", Management Science 13, 1967): with a trial ratio q the items with the
smallest e - q * m go, which gives the next q; six steps are ample for the lengths of categories there are.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from fractions import Fraction
from typing import Any, Literal

from xlsxwriter.utility import xl_rowcol_to_cell

from vinemark.core.course.course import Cell
from vinemark.core.plan.amounts import blank_counts, factor, size_of
from vinemark.core.plan.plan import Basis, Category, Item, Split

FIRST_ROW = 8
"""The first student's row on every sheet but Grades, counted from 0."""

DROP_STEPS = 6
# So little sends ties to the item that stands first, and is far below any difference of scores.
TIE = Fraction(1, 10**13)
OUT = 10**9
FIGURE_COLUMNS = ("earned", "size", "p", "counted")


@dataclass
class Figures:
    """A student's sums: e with extra items, m, p under the ceiling (None: no percentage), the e that counts."""

    earned: Fraction = Fraction(0)
    size: Fraction = Fraction(0)
    p: Fraction | None = None
    counted: Fraction = Fraction(0)


@dataclass
class _Line:
    """A student's row while it is written: cell addresses and values of each block."""

    row: int
    cells: Mapping[str, Cell]
    e: list[Fraction] = field(default_factory=list)
    m: list[Fraction] = field(default_factory=list)
    high: list[int] = field(default_factory=list)


class CategorySheet:
    """Writes one category's sheet, row by row; `values` keeps each row's figures."""

    def __init__(
        self, sheet: Any, category: Category, basis: Basis, plan_row: int, columns: Mapping[str, int], as_of: date
    ) -> None:
        self.sheet = sheet
        self.category = category
        self.split: Split = "by_points" if basis == "points" else category.split
        self.plan_row = plan_row
        self.columns = columns
        self.as_of = as_of
        self.items = category.regular
        self.extra = [] if category.extra else [i for i in category.counting if i.extra]
        drops = category.drop_highest or category.drop_lowest or category.keep_best is not None
        self.drops = bool(drops and not category.extra and self.items)
        self.equal = len({size_of(i, self.split) for i in self.items}) <= 1
        self.values: dict[int, Figures] = {}
        self._lay_out()

    def _lay_out(self) -> None:
        """Which column each block starts at."""
        width, self.start = len(self.items), {"e": 1, "m": 1 + len(self.items)}
        place = 1 + 2 * width
        self.single: dict[str, int] = {}
        for name in ("extra", *(("in_play", "droppable", "n_high", "n_low") if self.drops else ())):
            self.single[name] = place
            place += 1
        if self.drops:
            steps = 1 if self.equal or self.category.drop_by == "lowest_percent" else DROP_STEPS
            for name in ("ratio", "high", *(f"gain{n}" for n in range(steps))):
                self.start[name] = place
                place += width
                if name.startswith("gain"):
                    self.single[f"q{name[4:]}"] = place
                    place += 1
            self.steps = steps
        for name in FIGURE_COLUMNS:
            self.single[name] = place
            place += 1

    def heading(self, bold: Any) -> None:
        """What each column holds."""
        self.sheet.write_string(0, 0, self.category.name, bold)
        words = {"e": "earned", "m": "size", "ratio": "score / points", "high": "dropped as highest"}
        for block, start in self.start.items():
            title = words.get(block, f"e - q m, step {block[4:]}" if block.startswith("gain") else block)
            self.sheet.write_string(FIRST_ROW - 3, start, title, bold)
            for n, item in enumerate(self.items):
                self.sheet.write_string(FIRST_ROW - 2, start + n, item.name)
                self.sheet.write_number(FIRST_ROW - 1, start + n, int(item.droppable))
        self.sheet.write_string(FIRST_ROW - 1, 0, "may be dropped (1)", bold)
        for name, column in self.single.items():
            self.sheet.write_string(FIRST_ROW - 3, column, name.replace("_", " "), bold)

    def figure(self, row: int, name: Literal["earned", "size", "p", "counted"]) -> str:
        """Where a student's figure stands, for formulas of other sheets."""
        return f"'{self.sheet.get_name()}'!{xl_rowcol_to_cell(row, self.single[name])}"

    def plan_cell(self, column: str) -> str:
        """A rule of the category on the Plan sheet."""
        return f"Plan!${column}${self.plan_row + 1}"

    def student(self, row: int, cells: Mapping[str, Cell]) -> None:
        """A student's row."""
        line = _Line(row, cells)
        self._in_play(line)
        extra = self._extra(line)
        earned, size = sum(line.e, Fraction(0)), sum(line.m, Fraction(0))
        formulas = (f"SUM({self._span(row, 'e')})", f"SUM({self._span(row, 'm')})")
        if not self.items:
            formulas = ("0", "0")
        if self.drops:
            formulas, (earned, size) = self._after_drops(line, extra)
            final = (f"={formulas[0]}", f"={formulas[1]}")
        else:
            earned += extra
            final = (f"={formulas[0]}+{self._at(row, 'extra')}", f"={formulas[1]}")
        self._figures(row, final, earned, size)

    def _put(self, row: int, column: int, formula: str, value: Any) -> None:
        shown = float(value) if isinstance(value, Fraction | int) else value
        self.sheet.write_formula(row, column, formula, None, shown)

    def _at(self, row: int, name: str) -> str:
        return str(xl_rowcol_to_cell(row, self.single[name], col_abs=True))

    def _cell(self, row: int, block: str, n: int) -> str:
        return str(xl_rowcol_to_cell(row, self.start[block] + n))

    def _span(self, row: int, block: str) -> str:
        return f"{self._cell(row, block, 0)}:{self._cell(row, block, len(self.items) - 1)}"

    def _score(self, row: int, item: Item) -> str:
        return f"Scores!{xl_rowcol_to_cell(row, self.columns[item.id])}"

    def _above(self, item: Item, score_row: int) -> str:
        """An item's points (row 2), share (3) or due date (4) on the Scores sheet."""
        return f"Scores!{xl_rowcol_to_cell(score_row, self.columns[item.id], row_abs=True)}"

    def _times(self, item: Item) -> str:
        """What a score is multiplied by to give e."""
        points = self._above(item, 2)
        return {"by_points": "", "even": f"/{points}", "own_shares": f"*{self._above(item, 3)}/{points}"}[self.split]

    def _in_play(self, line: _Line) -> None:
        """e and m of every regular item."""
        row = line.row
        for n, item in enumerate(self.items):
            score, cell = self._score(row, item), line.cells.get(item.id)
            size = {"by_points": self._above(item, 2), "even": "1", "own_shares": self._above(item, 3)}[self.split]
            line.e.append(cell * factor(item, self.split) if isinstance(cell, Fraction) else Fraction(0))
            there = cell != "exempt" and (cell is not None or blank_counts(self.category, item, self.as_of))
            line.m.append(size_of(item, self.split) if there else Fraction(0))
            self._put(row, self.start["e"] + n, f"=IF(ISNUMBER({score}),{score}{self._times(item)},0)", line.e[-1])
            self._put(row, self.start["m"] + n, f"=IF({self._counts(score, item)},{size},0)", line.m[-1])

    def _counts(self, score: str, item: Item) -> str:
        """Whether an item is in play, as a condition."""
        if self.category.extra or self.category.blanks == "zero":
            return f'{score}<>"exempt"'
        recorded = f'ISNUMBER({score}),{score}="missing"'
        if self.category.blanks == "zero_when_due" and item.due is not None:
            return f'OR({recorded},AND({score}="",{self._above(item, 4)}<Plan!$B$2))'
        return f"OR({recorded})"

    def _extra(self, line: _Line) -> Fraction:
        """The e of extra items together."""
        terms = [f"IF(ISNUMBER({s}),{s}{self._times(i)},0)" for i in self.extra for s in [self._score(line.row, i)]]
        cells = [(line.cells.get(i.id), i) for i in self.extra]
        value = sum((c * factor(i, self.split) for c, i in cells if isinstance(c, Fraction)), Fraction(0))
        self._put(line.row, self.single["extra"], f"={'+'.join(terms) or '0'}", value)
        return value

    def _after_drops(self, line: _Line, extra: Fraction) -> tuple[tuple[str, str], tuple[Fraction, Fraction]]:
        """The sums once the drops are made, as formulas and as values."""
        n_high, n_low = self._counts_of_drops(line)
        self._high(line, n_high)
        row, free = line.row, [self._free(line, n) for n in range(len(self.items))]
        kept_e = sum((e for e, h in zip(line.e, line.high, strict=True) if not h), extra)
        kept_m = sum((m for m, h in zip(line.m, line.high, strict=True) if not h), Fraction(0))
        high, e, m = (self._span(row, block) for block in ("high", "e", "m"))
        all_e, all_m = f"SUMPRODUCT((1-{high})*{e})+{self._at(row, 'extra')}", f"SUMPRODUCT((1-{high})*{m})"
        q_text, q = f"({all_e})/({all_m})", (kept_e / kept_m if kept_m else Fraction(0))
        for step in range(self.steps):
            block = f"gain{step}"
            self._put(row, self.single[f"q{step}"], f"=IF({all_m}=0,0,{q_text})", q)
            gains = self._gains(line, block, self._at(row, f"q{step}"), q, free)
            low = f"({self._span(row, block)}<=SMALL({self._span(row, block)},MAX(1,{self._at(row, 'n_low')})))"
            gone = f"({self._at(row, 'n_low')}>0)*{low}"
            dropped = sorted(range(len(gains)), key=gains.__getitem__)[:n_low]
            new_e, new_m = kept_e - sum(line.e[n] for n in dropped), kept_m - sum(line.m[n] for n in dropped)
            texts = (f"{all_e}-SUMPRODUCT({gone}*{e})", f"{all_m}-SUMPRODUCT({gone}*{m})")
            q_text, q = f"({texts[0]})/({texts[1]})", (new_e / new_m if new_m else Fraction(0))
        return texts, (new_e, new_m)

    def _counts_of_drops(self, line: _Line) -> tuple[int, int]:
        """How many are dropped as highest and as lowest; at least one item always stays."""
        row, m = line.row, self._span(line.row, "m")
        flags = self._flags()
        in_play = sum(size > 0 for size in line.m)
        droppable = sum(size > 0 and item.droppable for size, item in zip(line.m, self.items, strict=True))
        c = self.category
        high = max(0, min(c.drop_highest, droppable, in_play - 1))
        wanted = c.drop_lowest if c.keep_best is None else max(0, in_play - c.keep_best)
        low = max(0, min(wanted, droppable - high, in_play - 1 - high))
        r, d, h = (self._at(row, name) for name in ("in_play", "droppable", "n_high"))
        want = self.plan_cell("F") if c.keep_best is None else f"MAX(0,{r}-{self.plan_cell('G')})"
        self._put(row, self.single["in_play"], f"=SUMPRODUCT(1*({m}>0))", in_play)
        self._put(row, self.single["droppable"], f"=SUMPRODUCT(({m}>0)*{flags})", droppable)
        self._put(row, self.single["n_high"], f"=MAX(0,MIN({self.plan_cell('E')},{d},{r}-1))", high)
        self._put(row, self.single["n_low"], f"=MAX(0,MIN({want},{d}-{h},{r}-1-{h}))", low)
        return high, low

    def _flags(self) -> str:
        """Which items may be dropped, as 1 and 0 above their columns."""
        ends = (self.start["m"], self.start["m"] + len(self.items) - 1)
        return ":".join(str(xl_rowcol_to_cell(FIRST_ROW - 1, end, row_abs=True, col_abs=True)) for end in ends)

    def _high(self, line: _Line, n_high: int) -> None:
        """Which items go as the highest, by score / points; of equal ones the first."""
        row, ratios = line.row, []
        for n, item in enumerate(self.items):
            e, m = self._cell(row, "e", n), self._cell(row, "m", n)
            free = line.m[n] > 0 and item.droppable
            ratios.append(line.e[n] / line.m[n] - n * TIE if free else Fraction(-1))
            allowed = f"AND({m}>0,{self._flag(n)}=1)"
            self._put(row, self.start["ratio"] + n, f"=IF({allowed},{e}/{m}-{n}*1E-13,-1)", ratios[-1])
        top = sorted(range(len(ratios)), key=lambda n: -ratios[n])[:n_high]
        span, count = self._span(row, "ratio"), self._at(row, "n_high")
        for n in range(len(self.items)):
            line.high.append(int(n in top))
            formula = f"=IF({count}=0,0,IF({self._cell(row, 'ratio', n)}>=LARGE({span},MAX(1,{count})),1,0))"
            self._put(row, self.start["high"] + n, formula, line.high[-1])

    def _flag(self, n: int) -> str:
        return str(xl_rowcol_to_cell(FIRST_ROW - 1, self.start["m"] + n, row_abs=True))

    def _free(self, line: _Line, n: int) -> bool:
        return line.m[n] > 0 and self.items[n].droppable and not line.high[n]

    def _gains(self, line: _Line, block: str, q_at: str, q: Fraction, free: Sequence[bool]) -> list[Fraction]:
        """What orders the items for dropping as the lowest: e - q m, or score / points; the smallest go."""
        row, found = line.row, []
        by_ratio = self.category.drop_by == "lowest_percent" or self.equal
        for n in range(len(self.items)):
            e, m = self._cell(row, "e", n), self._cell(row, "m", n)
            worth = f"{e}/{m}" if by_ratio else f"{e}-{q_at}*{m}"
            value = (line.e[n] / line.m[n] if by_ratio else line.e[n] - q * line.m[n]) if free[n] else Fraction(OUT)
            found.append(value + n * TIE if free[n] else value)
            allowed = f"AND({m}>0,{self._flag(n)}=1,{self._cell(row, 'high', n)}=0)"
            self._put(row, self.start[block] + n, f"=IF({allowed},{worth}+{n}*1E-13,{OUT})", found[-1])
        return found

    def _figures(self, row: int, formulas: tuple[str, str], earned: Fraction, size: Fraction) -> None:
        """The sums, p and what counts under the points basis; a ceiling caps both."""
        e, m, at = self._at(row, "earned"), self._at(row, "size"), self.plan_cell("J")
        cap = self.category.cap
        p = None if not size else earned / size if cap is None else min(earned / size, cap / 100)
        counted = earned if cap is None else min(earned, cap / 100 * size)
        self._put(row, self.single["earned"], formulas[0], earned)
        self._put(row, self.single["size"], formulas[1], size)
        capped = f'=IF({m}=0,"",IF({at}="",{e}/{m},MIN({e}/{m},{at}/100)))'
        self._put(row, self.single["p"], capped, "" if p is None else p)
        self._put(row, self.single["counted"], f'=IF({at}="",{e},MIN({e},{at}/100*{m}))', counted)
        self.values[row] = Figures(earned, size, p, counted)
