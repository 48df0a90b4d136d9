"""A reading of a table as the format `vine-mark-table/1` spells it."""

from collections.abc import Mapping
from fractions import Fraction
from typing import Any

from vinemark.core.base.number import exact_text
from vinemark.core.table.grid import FoundCell
from vinemark.core.table.read import TableColumn, TableReading

TABLE_FORMAT = "vine-mark-table/1"


def table_json(reading: TableReading) -> dict[str, Any]:
    """The reading as JSON values."""
    return {
        "format": TABLE_FORMAT,
        "sheet": reading.sheet,
        "students": [vars(student).copy() for student in reading.students],
        "columns": [_column(one) for one in reading.columns],
        "groups": [{"name": name, "weight": _number(weight)} for name, weight in reading.groups],
        "cells": {str(row): {str(c): _cell(cell) for c, cell in cells.items()} for row, cells in reading.cells.items()},
        "values": {str(row): {str(c): text for c, text in texts.items()} for row, texts in reading.values.items()},
        "left_out": [{"row": row, "why": kind} for row, kind in reading.left_out],
        "unsure": [{"column": column, "roles": list(roles)} for column, roles in reading.unsure],
    }


def _column(one: TableColumn) -> Mapping[str, Any]:
    if one.role == "total":
        return {"column": one.column, "role": one.role, "unit": one.unit, "points": _number(one.points)}
    if one.role != "item":
        return {"column": one.column, "role": one.role}
    return {
        "column": one.column,
        "role": one.role,
        "name": one.name,
        "points": _number(one.points),
        "points_from": one.points_from,
        "group": one.group,
        "weight": _number(one.weight),
        "extra": one.extra,
        "due": one.due.isoformat() if one.due else None,
    }


def _number(value: Fraction | None) -> str | None:
    return None if value is None else exact_text(value)


def _cell(cell: FoundCell) -> str | dict[str, str]:
    if cell.number is not None:
        return exact_text(cell.number)
    return cell.text if cell.text in {"missing", "exempt"} else {"text": cell.text}
