"""A cell as text: as people type and read it, and as it is kept, which no symbol can be mistaken in."""

import json

from vinemark.core.base.number import exact_text
from vinemark.core.base.refused import NumberText
from vinemark.core.course.cell import Cell, DetailedScore
from vinemark.core.course.read_cells import read_cell
from vinemark.core.course.write import write_cell


def cell_text(cell: Cell) -> str:
    """As people read it: '8.5', '8.5 late 2', 'check+', 'missing'; empty for blank."""
    if not isinstance(cell, DetailedScore):
        return kept_text(cell) or ""
    what = cell.symbol if cell.score is None else exact_text(cell.score)
    return f"{what} late {cell.late}" if cell.late else f"{what}"


def kept_text(cell: Cell) -> str | None:
    """As it is kept: the text of a plain cell, JSON for one with late days or a symbol; None for blank."""
    value = write_cell(cell)
    return value if value is None or isinstance(value, str) else json.dumps(value, ensure_ascii=False)


def kept_cell(text: str | None, field: str = "score") -> Cell:
    """A cell from its kept text. Raises Refused at the field."""
    if text is None or not text.startswith("{"):
        return read_cell(text, field)
    return read_cell(json.loads(text, parse_int=NumberText, parse_float=NumberText), field)


def shown_text(text: str | None) -> str:
    """What people read of a kept text."""
    return cell_text(kept_cell(text)) if text else ""
