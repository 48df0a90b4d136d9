"""Extensions: due dates of single students."""

from collections.abc import Collection, Mapping, Sequence
from datetime import date

from vinemark.core.course.tally import Place
from vinemark.store.database import Connection

KeptExtensions = Sequence[Sequence[str | None]]
"""Student, item and day, as an entry keeps them; None for no day of one's own."""


def extensions_of(connection: Connection, section_id: int) -> dict[Place, date]:
    """The own due dates of a section's students, by student and item."""
    rows = connection.execute(
        "SELECT student_id, item_id, due FROM extension WHERE section_id = ? ORDER BY student_id, item_id",
        (section_id,),
    )
    return {(row["student_id"], row["item_id"]): date.fromisoformat(row["due"]) for row in rows}


def kept_extensions(connection: Connection, section_id: int, places: Collection[Place]) -> KeptExtensions:
    """What some places have now, as an entry keeps it."""
    now = extensions_of(connection, section_id)
    return [[*place, now[place].isoformat() if place in now else None] for place in places]


def extension_rows(extensions: Mapping[Place, date | None]) -> KeptExtensions:
    """Extensions as an entry keeps them."""
    return [[*place, due.isoformat() if due else None] for place, due in extensions.items()]


def put_extensions(connection: Connection, section_id: int, extensions: KeptExtensions) -> None:
    """Put extensions in place; one without a day goes."""
    for student, item, due in extensions:
        connection.execute(
            "DELETE FROM extension WHERE section_id = ? AND student_id = ? AND item_id = ?", (section_id, student, item)
        )
        if due is not None:
            connection.execute("INSERT INTO extension VALUES (?, ?, ?, ?)", (section_id, student, item, due))
