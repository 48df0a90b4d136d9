"""Figures from elsewhere that a section keeps, to hold its grades against them again."""

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal, get_args

from vinemark.core.base.moments import moment_of, stamp
from vinemark.store.database import Connection, Row
from vinemark.store.history import Act, writing

Against = Literal["computed", "final", "midterm"]
"""What figures are held against: the grades worked out now, or those settled for a run."""
AGAINST: tuple[Against, ...] = get_args(Against)


@dataclass(frozen=True)
class KeptComparison:
    """A file of figures: its columns by heading, the likely one, and what each says of each student, as it is written.

    `columns` are of the order of `headings`. `unknown` says what its rows of nobody here say.
    """

    number: int
    name: str
    at: datetime
    against: Against
    headings: Sequence[str]
    likely: int
    columns: Sequence[Mapping[str, str]]
    unknown: Sequence[str]


def comparisons_of(connection: Connection, section_id: int) -> list[KeptComparison]:
    """All that a section keeps, the latest first."""
    rows = connection.execute(
        "SELECT * FROM comparison WHERE section_id = ? ORDER BY number DESC", (section_id,)
    ).fetchall()
    return [_kept(connection, row) for row in rows]


def comparison_numbers(connection: Connection, section_id: int) -> list[int]:
    """The numbers of all that a section keeps, the latest first."""
    rows = connection.execute(
        "SELECT number FROM comparison WHERE section_id = ? ORDER BY number DESC", (section_id,)
    ).fetchall()
    return [row["number"] for row in rows]


def comparison_of(connection: Connection, section_id: int, number: int) -> KeptComparison | None:
    """One of them."""
    row = connection.execute(
        "SELECT * FROM comparison WHERE section_id = ? AND number = ?", (section_id, number)
    ).fetchone()
    return _kept(connection, row) if row else None


def _kept(connection: Connection, row: Row) -> KeptComparison:
    headings = json.loads(row["headings"])
    columns: list[dict[str, str]] = [{} for _ in headings]
    for one in connection.execute(
        "SELECT student_id, place, figure FROM comparison_figure WHERE section_id = ? AND number = ?",
        (row["section_id"], row["number"]),
    ):
        if one["place"] < len(columns):
            columns[one["place"]][one["student_id"]] = one["figure"]
    return KeptComparison(
        row["number"], row["name"], moment_of(row["at"]), row["against"], headings,
        min(row["likely"], len(headings) - 1),
        columns, json.loads(row["unknown"]),
    )  # fmt: skip


def write_comparison(connection: Connection, act: Act, found: KeptComparison) -> int:
    """Keep a file of figures under the next number; the entry's id. The number it has is not looked at."""
    assert act.section_id is not None  # noqa: S101
    with writing(connection, act, "comparison") as entry:
        number = int(
            connection.execute(
                "SELECT coalesce(max(number), 0) + 1 AS next FROM comparison WHERE section_id = ?", (act.section_id,)
            ).fetchone()["next"]
        )
        entry.what = f"compared with {found.name}"
        entry.before, entry.after = {str(number): None}, {str(number): _values(found)}
        put_comparisons(connection, act.section_id, entry.after)
    return entry.id


def remove_comparison(connection: Connection, act: Act, number: int) -> int | None:
    """Keep one no longer; the entry's id, None where it is gone already."""
    assert act.section_id is not None  # noqa: S101
    found = comparison_of(connection, act.section_id, number)
    if found is None:
        return None
    with writing(connection, act, "comparison") as entry:
        entry.what = f"comparison with {found.name} removed"
        entry.before, entry.after = {str(number): _values(found)}, {str(number): None}
        put_comparisons(connection, act.section_id, entry.after)
    return entry.id


def kept_comparisons(connection: Connection, section_id: int) -> dict[str, Any]:
    """All of them as an entry of the history has them, by number."""
    return {str(one.number): _values(one) for one in comparisons_of(connection, section_id)}


def _values(found: KeptComparison) -> dict[str, Any]:
    return {
        "name": found.name,
        "at": stamp(found.at),
        "against": found.against,
        "headings": list(found.headings),
        "likely": found.likely,
        "unknown": list(found.unknown),
        "columns": [dict(column) for column in found.columns],
    }


def put_comparisons(connection: Connection, section_id: int, kept: Mapping[str, Any]) -> None:
    """Put comparisons in place by number, None for one that is to go; figures of students who left are left out."""
    there = {
        row["id"] for row in connection.execute("SELECT id FROM student WHERE section_id = ?", (section_id,)).fetchall()
    }
    for number, values in kept.items():
        connection.execute("DELETE FROM comparison WHERE section_id = ? AND number = ?", (section_id, int(number)))
        if values is None:
            continue
        connection.execute(
            "INSERT INTO comparison VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
            (section_id, int(number), values["name"], json.dumps(values["headings"], ensure_ascii=False),
             values["likely"], values["against"], json.dumps(values["unknown"], ensure_ascii=False), values["at"]),
        )  # fmt: skip
        connection.executemany(
            "INSERT INTO comparison_figure VALUES (?, ?, ?, ?, ?)",
            [
                (section_id, int(number), student, place, figure)
                for place, column in enumerate(values["columns"])
                for student, figure in column.items()
                if student in there
            ],
        )
