"""Plans: every change is a new version; the old ones stay."""

import json

from vinemark.core.course_format import write_plan
from vinemark.core.plan import Plan
from vinemark.store.database import Connection
from vinemark.store.history import Act, ChangedSinceError, writing


def save(connection: Connection, act: Act, seen_version: int, plan: Plan, what: str) -> int:
    """Put a changed plan in force as the next version; its number.

    Raises ChangedSinceError where another change came in between.
    """
    with writing(connection, act, "plan") as entry:
        assert act.section_id is not None  # noqa: S101
        version = latest(connection, act.section_id)
        if version != seen_version:
            raise ChangedSinceError("The plan was changed elsewhere in the meantime. Look at it and try again.")
        connection.execute(
            "INSERT INTO plan_version VALUES (?, ?, ?, NULL)",
            (act.section_id, version + 1, json.dumps(write_plan(plan), ensure_ascii=False)),
        )
        entry.what = what
        entry.before, entry.after = {"version": version}, {"version": version + 1}
    return version + 1


def latest(connection: Connection, section_id: int) -> int:
    """The number of the version in force."""
    row = connection.execute(
        "SELECT max(version) AS v FROM plan_version WHERE section_id = ?", (section_id,)
    ).fetchone()
    return int(row["v"])
