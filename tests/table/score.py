"""A reading of a table held against its gold: every stated fact right, wrong, missed or invented."""

from collections.abc import Mapping, Sequence
from typing import Any

from tests.syllabus.gold import Score


def facts_of(table: Mapping[str, Any]) -> dict[str, Any]:
    """Each fact by its place; what is null, empty, not extra or merely enrolled states nothing."""
    found = {f"student {s['row']} {key}": value for s in table["students"] for key, value in s.items() if key != "row"}
    found |= {f"column {c['column']} {key}": v for c in table["columns"] for key, v in c.items() if key != "column"}
    found |= {f"row {one['row']} left out": one["why"] for one in table["left_out"]}
    works = [str(c["column"]) for c in table["columns"] if c["role"] == "item"]
    found |= {f"cells {c}": {row: cells[c] for row, cells in table["cells"].items() if c in cells} for c in works}
    return {place: value for place, value in found.items() if value not in (None, "", False, "enrolled")}


def scored_tables(pairs: Sequence[tuple[Mapping[str, Any], Mapping[str, Any]]]) -> Score:
    """All facts of some tables, each given as read and as gold."""
    total = Score()
    for number, (mine, gold) in enumerate(pairs):
        total.compare(f"table {number}", facts_of(gold), facts_of(mine))
    return total
