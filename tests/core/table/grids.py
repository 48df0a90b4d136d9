"""Grids of a text, for the tests of this room."""

import csv
import io

from vinemark.core.table.columns import ReadColumn, read_columns
from vinemark.core.table.figures import with_figures
from vinemark.core.table.grid import Grid, text_cell
from vinemark.core.table.lines import Lines, find_heading, read_lines
from vinemark.core.table.read import TableReading, read_grid

SMALL = """Name,Lab 1,Lab 2
Points,10,20
"Ode, Marit",9,18
"Quist, Jon",7,
"Ray, Sol",10,20
"""


def grid_of(text: str) -> Grid:
    """A grid of comma separated text; empty lines keep their number."""
    rows = enumerate(csv.reader(io.StringIO(text)), 1)
    return Grid(None, {number: [text_cell(cell) for cell in row] for number, row in rows if any(row)})


def lines_of(grid: Grid) -> Lines:
    """Its rows told apart."""
    heading = find_heading(grid)
    assert heading is not None
    return read_lines(grid, heading)


def columns_of(text: str) -> list[ReadColumn]:
    """What its columns are."""
    grid = grid_of(text)
    lines = lines_of(grid)
    return with_figures(grid, lines, read_columns(grid, lines))


def roles_of(text: str) -> list[str]:
    """The roles of its columns, in order."""
    return [one.role for one in columns_of(text)]


def reading_of(text: str) -> TableReading:
    """All of it."""
    reading = read_grid(grid_of(text))
    assert reading is not None
    return reading
