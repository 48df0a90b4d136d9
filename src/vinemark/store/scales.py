"""Letter scales kept for reuse, each person's own."""

import json
from collections.abc import Sequence
from dataclasses import dataclass

from vinemark.core.base.number import exact_text, parse_ratio
from vinemark.core.plan.plan import ScaleRow
from vinemark.store.database import Connection
from vinemark.store.history import Act, writing


@dataclass(frozen=True)
class SavedScale:
    """A named scale."""

    id: int
    name: str
    rows: Sequence[ScaleRow]


def scales_of(connection: Connection, person_id: int) -> list[SavedScale]:
    """A person's scales, by name."""
    found = connection.execute("SELECT * FROM saved_scale WHERE person_id = ? ORDER BY name", (person_id,)).fetchall()
    return [SavedScale(row["id"], row["name"], _rows(row["rows"])) for row in found]


def _rows(text: str) -> list[ScaleRow]:
    return [ScaleRow(letter, parse_ratio(cutoff)) for letter, cutoff in json.loads(text)]


def write_scale(connection: Connection, act: Act, name: str, rows: Sequence[ScaleRow]) -> int:
    """Keep a scale under a name, in place of one of the same name; the history entry's id."""
    kept = json.dumps([[row.letter, exact_text(row.cutoff)] for row in rows], ensure_ascii=False)
    with writing(connection, act, "saved scale") as entry:
        connection.execute(
            "INSERT INTO saved_scale (person_id, name, rows) VALUES (?, ?, ?)"
            " ON CONFLICT (person_id, name) DO UPDATE SET rows = excluded.rows",
            (act.person_id, name, kept),
        )
        entry.what = f"letter scale saved as {name}"
    return entry.id


def delete_scale(connection: Connection, act: Act, scale_id: int) -> int:
    """Forget a saved scale of the acting person; plans that use it keep their own rows."""
    with writing(connection, act, "saved scale") as entry:
        row = connection.execute(
            "DELETE FROM saved_scale WHERE id = ? AND person_id = ? RETURNING name", (scale_id, act.person_id)
        ).fetchone()
        entry.what = f"saved letter scale {row['name']} deleted" if row else "a saved letter scale was gone already"
    return entry.id
