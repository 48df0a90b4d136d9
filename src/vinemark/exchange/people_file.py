"""A college's people from a file: CSV, TSV, XLSX or ODS with a heading row."""

from collections.abc import Sequence

from vinemark.core.base.refused import Refused
from vinemark.core.college.people_list import MOST_LISTED, PEOPLE_HEADINGS, ListedPerson, listed_people
from vinemark.exchange.spreadsheet_file import is_spreadsheet, read_sheets
from vinemark.exchange.tables import Table, TableRow, cell_at, decode, find_columns, read_table, table_of


def people_of_file(data: bytes, departments: Sequence[str]) -> Sequence[ListedPerson]:
    """The people of a file, each with what is wrong. Raises Refused where no column has email addresses."""
    table = _table(data)
    columns = find_columns(table.heading, PEOPLE_HEADINGS)
    if "email" not in columns:
        raise Refused("file", "needs a heading row with a column “email”; “name”, “role” and “department” may follow")
    if len(table.rows) > MOST_LISTED:
        raise Refused("file", f"has more than {MOST_LISTED:,} lines; import it in parts")
    lines = ((row.line, {name: cell_at(row, column) for name, column in columns.items()}) for row in table.rows)
    return listed_people(lines, departments)


def _table(data: bytes) -> Table:
    if not is_spreadsheet(data):
        return read_table(decode(data))
    sheets = read_sheets(data)
    if not sheets:
        raise Refused("file", "has no sheet")
    rows = [TableRow(number, cells) for number, cells in enumerate(sheets[0].rows, 1) if any(cells)]
    return table_of(rows)
