"""Which items students can see: what was chosen for each."""

from collections.abc import Mapping
from typing import cast

from vinemark.core.scores.visibility import Access
from vinemark.store.database import Connection
from vinemark.store.history import Act, writing


def access_of(connection: Connection, section_id: int) -> dict[str, Access]:
    """What was chosen, by item; an item nothing was chosen for is absent."""
    rows = connection.execute("SELECT item_id, access FROM item_access WHERE section_id = ?", (section_id,))
    return {row["item_id"]: cast(Access, row["access"]) for row in rows}


def choose_access(connection: Connection, act: Act, chosen: Mapping[str, Access], what: str) -> int:
    """Hold items back or open them, in one act; the entry's id."""
    assert act.section_id is not None  # noqa: S101
    with writing(connection, act, "access") as entry:
        now = access_of(connection, act.section_id)
        entry.what = what
        entry.before, entry.after = {item: now.get(item) for item in chosen}, dict(chosen)
        put_access(connection, act.section_id, entry.after)
    return entry.id


def put_access(connection: Connection, section_id: int, chosen: Mapping[str, str | None]) -> None:
    """Put choices in place; None is as if nothing had been chosen."""
    for item, access in chosen.items():
        connection.execute("DELETE FROM item_access WHERE section_id = ? AND item_id = ?", (section_id, item))
        if access is not None:
            connection.execute("INSERT INTO item_access VALUES (?, ?, ?)", (section_id, item, access))
