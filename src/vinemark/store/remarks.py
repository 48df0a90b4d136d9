"""Remarks: a few words kept with a cell."""

from vinemark.store.database import Connection
from vinemark.store.history import Act, writing


def remarks_of(connection: Connection, section_id: int, student_id: str | None = None) -> dict[tuple[str, str], str]:
    """All remarks of a section, or of one student, by student and item."""
    rows = connection.execute(
        "SELECT student_id, item_id, remark FROM cell_remark"
        " WHERE section_id = ? AND student_id = coalesce(?, student_id)",
        (section_id, student_id),
    )
    return {(row["student_id"], row["item_id"]): row["remark"] for row in rows}


def write_remark(connection: Connection, act: Act, cell: tuple[str, str], remark: str, what: str) -> int | None:
    """Keep a remark with a cell, or take it away with an empty one; the entry's id, None where nothing changed."""
    assert act.section_id is not None  # noqa: S101
    before = remarks_of(connection, act.section_id, cell[0]).get(cell)
    after = remark.strip() or None
    if before == after:
        return None
    with writing(connection, act, "remark") as entry:
        entry.what = what
        entry.before, entry.after = [[*cell, before]], [[*cell, after]]
        put_remarks(connection, act.section_id, entry.after)
    return entry.id


def put_remarks(connection: Connection, section_id: int, remarks: list[list[str | None]]) -> None:
    """Put remarks in cell; None takes one away."""
    for student, item, remark in remarks:
        if remark is None:
            connection.execute(
                "DELETE FROM cell_remark WHERE section_id = ? AND student_id = ? AND item_id = ?",
                (section_id, student, item),
            )
        else:
            connection.execute(
                "INSERT INTO cell_remark VALUES (?, ?, ?, ?) ON CONFLICT DO UPDATE SET remark = excluded.remark",
                (section_id, student, item, remark),
            )
