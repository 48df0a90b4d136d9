"""What is recorded, as numbers: symbols turned into points (v of the contract), late days taking nothing yet."""

from collections.abc import Mapping

from vinemark.core.course.cell import Cell, DetailedScore, PlainCell
from vinemark.core.plan.plan import Category, Item, Plan
from vinemark.core.plan.symbols import symbol_value

PlainCells = Mapping[str, PlainCell]


def has_details(cells: Mapping[str, Cell]) -> bool:
    """Whether any cell of a row is more than a number, a word or blank."""
    return DetailedScore in map(type, cells.values())


def recorded_value(category: Category | None, item: Item | None, cell: Cell) -> PlainCell:
    """A cell with v for a number or a symbol; late days take nothing yet.

    A symbol that the category does not have is nothing: readers refuse it, and no plan that lacks it is kept.
    """
    if not isinstance(cell, DetailedScore):
        return cell
    if cell.score is not None:
        return cell.score
    return symbol_value(category, item, cell.symbol) if category and item and cell.symbol else None


def recorded_cells(plan: Plan, cells: Mapping[str, Cell]) -> PlainCells:
    """A student's cells as recorded: v of everything."""
    if not has_details(cells):
        return cells  # type: ignore[return-value]
    placed, found = plan.placed, dict(cells)
    found.update(
        {item: _value_in(placed.get(item), cell) for item, cell in cells.items() if type(cell) is DetailedScore}
    )
    return found  # type: ignore[return-value]


def _value_in(placed: tuple[Category, Item] | None, cell: Cell) -> PlainCell:
    return recorded_value(placed[0], placed[1], cell) if placed else recorded_value(None, None, cell)


def recorded_rows(plan: Plan, rows: Mapping[str, Mapping[str, Cell]]) -> Mapping[str, PlainCells]:
    """The cells of a class as recorded; the very same rows where none is more than plain."""
    if not any(has_details(row) for row in rows.values()):
        return rows  # type: ignore[return-value]
    return {student: recorded_cells(plan, row) for student, row in rows.items()}
