"""The cells of a course file, and the adjustments and extensions of its students, from parsed JSON values."""

from collections.abc import Mapping
from datetime import date

from vinemark.core.base.refused import Keys, Refused, any_text, count, iso_day, number, signed, text
from vinemark.core.course.cell import Cell, DetailedScore, scored
from vinemark.core.course.course import Adjustment
from vinemark.core.plan.plan import Plan
from vinemark.core.plan.rules import MOST_LATE_DAYS

_Known = dict[tuple[type, object], Cell]


def read_scores(keys: Keys, students: set[str], plan: Plan) -> dict[str, dict[str, Cell]]:
    """All cells, by student and item; blanks are left out."""
    value = keys.value.get("scores", {})
    if not isinstance(value, Mapping):
        raise Refused("scores", "must be an object")
    symbols = symbols_of_items(plan)
    scores: dict[str, dict[str, Cell]] = {}
    known: _Known = {}
    for student, cells in value.items():
        field = f"scores.{student}"
        if student not in students:
            raise Refused(field, "unknown student")
        if not isinstance(cells, Mapping):
            raise Refused(field, "must be an object")
        row = _read_row(cells, field, symbols, known)
        if row:
            scores[student] = row
    return scores


def symbols_of_items(plan: Plan) -> dict[str, frozenset[str]]:
    """Every item by its id, and the symbols that its cells may hold."""
    found: dict[str, frozenset[str]] = {one.id: frozenset() for one in plan.recorded}
    for category in plan.categories:
        found |= dict.fromkeys([i.id for i in category.items], frozenset(s.symbol for s in category.symbols))
    return found


def _read_row(
    cells: Mapping[str, object], field: str, items: Mapping[str, frozenset[str]], known: _Known
) -> dict[str, Cell]:
    """A student's cells; `known` are those that were read, by what stood there: a class has few different ones."""
    row: dict[str, Cell] = {}
    for item, cell in cells.items():
        if item not in items:
            raise Refused(f"{field}.{item}", "unknown item")
        if not isinstance(cell, str):
            if cell is not None:
                row[item] = _read_detailed(cell, f"{field}.{item}", items[item])
            continue
        found = known.get((type(cell), cell))
        if found is None:
            found = known[type(cell), cell] = read_cell(cell, f"{field}.{item}")
        row[item] = found
    return row


def _read_detailed(value: object, field: str, symbols: frozenset[str]) -> Cell:
    found = read_cell(value, field)
    if isinstance(found, DetailedScore) and found.symbol is not None and found.symbol not in symbols:
        raise Refused(field, f"“{found.symbol}” is no symbol of the category")
    return found


def read_cell(value: object, field: str) -> Cell:
    """One cell: a number, 'missing', 'exempt', null, or an object with late days or a symbol of any category."""
    if value is None:
        return None
    if value == "missing":
        return "missing"
    if value == "exempt":
        return "exempt"
    return _read_object(value, field) if isinstance(value, Mapping) else number(value, field)


def _read_object(value: object, field: str) -> Cell:
    keys = Keys(value, field, ("score", "symbol", "late"))
    late = keys.given("late", _late_days, 0)
    if ("score" in keys.value) == ("symbol" in keys.value):
        raise Refused(field, "needs one of score and symbol")
    if "score" in keys.value:
        return scored(keys.needed("score", number), late)
    return DetailedScore(None, keys.needed("symbol", text), late)


def _late_days(value: object, field: str) -> int:
    found = count(value, field)
    if found > MOST_LATE_DAYS:
        raise Refused(field, f"must be {MOST_LATE_DAYS} or less")
    return found


def read_adjustments(keys: Keys, students: set[str]) -> dict[str, Adjustment]:
    """Percentage points given to or taken from single students."""
    value = keys.value.get("adjustments", {})
    if not isinstance(value, Mapping):
        raise Refused("adjustments", "must be an object")
    for student in value:
        if student not in students:
            raise Refused(f"adjustments.{student}", "unknown student")
    return {student: read_adjustment(one, f"adjustments.{student}") for student, one in value.items()}


def read_adjustment(value: object, field: str) -> Adjustment:
    """One student's adjustment, which alone of all numbers may be negative."""
    keys = Keys(value, field, ("percent", "reason"))
    return Adjustment(keys.needed("percent", signed), keys.maybe("reason", any_text) or "")


def read_extensions(keys: Keys, students: set[str], plan: Plan) -> dict[tuple[str, str], date]:
    """Due dates of single students, by student and item."""
    value = keys.value.get("extensions", {})
    if not isinstance(value, Mapping):
        raise Refused("extensions", "must be an object")
    found: dict[tuple[str, str], date] = {}
    for student, dates in value.items():
        if student not in students:
            raise Refused(f"extensions.{student}", "unknown student")
        if not isinstance(dates, Mapping):
            raise Refused(f"extensions.{student}", "must be an object")
        for item, due in dates.items():
            field = f"extensions.{student}.{item}"
            if item not in plan.placed:
                raise Refused(field, "unknown item")
            found[student, item] = iso_day(due, field)
    return found
