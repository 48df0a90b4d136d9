"""Where the numbers of the rules stand on the Plan sheet of the workbook, for the sheet and for formulas elsewhere."""

from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from xlsxwriter.utility import xl_col_to_name

from vinemark.core.plan.plan import Category, Plan, ScaleRow
from vinemark.core.plan.rules import Symbol
from vinemark.core.plan.scale import scale_faults, sorted_scale

PLAN_TOP = 10
"""The first category's row on the Plan sheet, counted from 0."""

CATEGORY_HEADING = (
    "Category", "Weight", "Extra credit", "Split", "Drop highest", "Drop lowest", "Keep best", "Drops by", "Blanks",
    "Ceiling",
)  # fmt: skip
LATE_HEADING = ("A late day costs", "of", "At most", "Grace days", "Last day", "Free days")
LateColumn = Literal["per_day", "of", "at_most", "grace_days", "last_day", "free_days"]
LATE_COLUMNS: tuple[LateColumn, ...] = ("per_day", "of", "at_most", "grace_days", "last_day", "free_days")


@dataclass(frozen=True)
class PlanPlaces:
    """A plan laid out on its sheet. Rows and columns are counted from 0; cells are named as formulas name them."""

    plan: Plan

    @cached_property
    def has_late(self) -> bool:
        """Whether any category has a rule for late work."""
        return any(category.late for category in self.plan.categories)

    @property
    def late_column(self) -> int:
        """Where the columns of late work begin."""
        return len(CATEGORY_HEADING)

    @property
    def alternative_column(self) -> int:
        """Where the columns of alternative weights begin."""
        return self.late_column + (len(LATE_HEADING) if self.has_late else 0)

    @property
    def scale_top(self) -> int:
        """The first row of the scale."""
        return PLAN_TOP + len(self.plan.categories) + 2

    @cached_property
    def scale(self) -> list[ScaleRow]:
        """The scale from its lowest letter up; empty where it is missing or broken."""
        return [] if scale_faults(self.plan.scale) else sorted_scale(self.plan.scale)[::-1]

    @property
    def requirement_top(self) -> int:
        """The first row of the requirements."""
        return self.scale_top + len(self.scale) + 2

    @property
    def symbol_top(self) -> int:
        """The first row of the symbols."""
        return self.requirement_top + (len(self.plan.requirements) + 2 if self.plan.requirements else 0)

    @cached_property
    def symbols(self) -> list[tuple[Category, Symbol]]:
        """Every symbol with its category, in plan order."""
        return [(category, symbol) for category in self.plan.categories for symbol in category.symbols]

    def category(self, place: int, column: str) -> str:
        """A rule of a category, by the letter of its column."""
        return f"Plan!${column}${PLAN_TOP + place + 1}"

    def late(self, place: int, column: LateColumn) -> str:
        """A number of a category's rule for late work."""
        return self.category(place, xl_col_to_name(self.late_column + LATE_COLUMNS.index(column)))

    def alternative(self, place: int, which: int) -> str:
        """The weight of a category in an alternative."""
        return self.category(place, xl_col_to_name(self.alternative_column + which))

    def letters(self, column: Literal["A", "B"]) -> str:
        """The cutoffs (A) or the letters (B) of the scale, from the lowest up."""
        return f"Plan!${column}${self.scale_top + 1}:${column}${self.scale_top + len(self.scale)}"

    def requirement(self, place: int, column: Literal["B", "D"]) -> str:
        """What a requirement asks for (B), or what it does where it is not met (D)."""
        return f"Plan!${column}${self.requirement_top + place + 1}"

    def symbol(self, category: Category, symbol: str) -> str:
        """The percent of a symbol."""
        named = [(one.id, sign.symbol) for one, sign in self.symbols]
        return f"Plan!$C${self.symbol_top + named.index((category.id, symbol)) + 1}"
