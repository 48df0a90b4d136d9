"""Groups of an item: who works together, by the name of the group."""

from collections.abc import Mapping

from vinemark.store.database import Connection
from vinemark.store.history import Act, writing

Groups = Mapping[str, str]
"""The group of each student who is in one, by student."""


def groups_of(connection: Connection, section_id: int, item_id: str) -> dict[str, str]:
    """The groups of an item."""
    rows = connection.execute(
        "SELECT student_id, name FROM item_group WHERE section_id = ? AND item_id = ?", (section_id, item_id)
    )
    return {row["student_id"]: row["name"] for row in rows}


def grouped_items(connection: Connection, section_id: int) -> list[str]:
    """The items that have groups."""
    rows = connection.execute(
        "SELECT DISTINCT item_id FROM item_group WHERE section_id = ? ORDER BY item_id", (section_id,)
    )
    return [row["item_id"] for row in rows]


def write_groups(connection: Connection, act: Act, item_id: str, groups: Groups, what: str) -> int | None:
    """The groups of an item in place of those before; the entry's id, None where nothing changed."""
    assert act.section_id is not None  # noqa: S101
    before = groups_of(connection, act.section_id, item_id)
    after = dict(groups)
    if before == after:
        return None
    with writing(connection, act, "groups") as entry:
        entry.what = what
        entry.before, entry.after = {item_id: before}, {item_id: after}
        put_groups(connection, act.section_id, entry.after)
    return entry.id


def put_groups(connection: Connection, section_id: int, groups: Mapping[str, Groups]) -> None:
    """Put the groups of items in place."""
    for item, members in groups.items():
        connection.execute("DELETE FROM item_group WHERE section_id = ? AND item_id = ?", (section_id, item))
        connection.executemany(
            "INSERT INTO item_group VALUES (?, ?, ?, ?)",
            [(section_id, item, student, name) for student, name in members.items()],
        )
