"""Plans: every change is a new version; the old ones stay."""

from collections.abc import Callable, Sequence

from vinemark.core.plan.plan import Plan
from vinemark.core.plan.symbols import refuse_lost_symbols
from vinemark.store.database import Connection, Row
from vinemark.store.history import Act, LaterEntry, writing
from vinemark.store.scores import symbols_used
from vinemark.store.sections import plan_of
from vinemark.store.texts import plan_as_text, plan_from_text

PLAN_ENTRIES = frozenset({"plan", "class-list"})
"""The kinds of entries that say from which version of the plan to which they went."""


def write_plan_version(connection: Connection, act: Act, edit: Callable[[Plan], tuple[Plan, str]]) -> int | None:
    """Edit the plan that is in force and keep the result as the next version; the history entry's id.

    `edit` gives the changed plan and what was done, and is called inside the transaction, so that
    two edits at once both hold. What it raises changes nothing. None where nothing changed.
    """
    assert act.section_id is not None  # noqa: S101
    try:
        with writing(connection, act, "plan") as entry:
            version = latest_version(connection, act.section_id)
            before = plan_of(connection, act.section_id, version)
            after, entry.what = edit(before)
            if after == before:
                raise _NothingChangedError
            made = put_plan_version(connection, act.section_id, after)
            entry.before, entry.after = {"version": version}, {"version": made}
    except _NothingChangedError:
        return None
    return entry.id


def put_plan_version(connection: Connection, section_id: int, plan: Plan) -> int:
    """Keep a plan as the next version, inside a write; its number. Raises Refused for one that cells do not fit."""
    refuse_lost_symbols(plan, sorted(symbols_used(connection, section_id)))
    version = latest_version(connection, section_id) + 1
    connection.execute("INSERT INTO plan_version VALUES (?, ?, ?, NULL)", (section_id, version, _as_kept(plan)))
    return version


def _as_kept(plan: Plan) -> str:
    """A plan as text that can be read back: one that cannot would shut its section for good. Raises Refused."""
    text = plan_as_text(plan)
    plan_from_text(text)
    return text


class _NothingChangedError(Exception):
    pass


def latest_version(connection: Connection, section_id: int) -> int:
    """The number of the version in force."""
    row = connection.execute(
        "SELECT max(version) AS v FROM plan_version WHERE section_id = ?", (section_id,)
    ).fetchone()
    return int(row["v"])


def plan_versions(connection: Connection, section_id: int) -> Sequence[Row]:
    """All versions, newest first: number, when, who and what was done (none for the first)."""
    return connection.execute(
        "SELECT v.version, h.at, h.what, p.name AS person_name FROM plan_version v"
        " LEFT JOIN history h ON h.section_id = v.section_id AND h.kind IN ('plan', 'class-list')"
        " AND json_extract(h.after, '$.version') = v.version"
        " AND json_extract(h.before, '$.version') <> v.version"
        " LEFT JOIN person p ON p.id = h.person_id WHERE v.section_id = ? ORDER BY v.version DESC",
        (section_id,),
    ).fetchall()


def used_ids(connection: Connection, section_id: int) -> set[str]:
    """Every id that a category or item of the section ever had: kept scores may still stand under it."""
    rows = connection.execute(
        "WITH plans AS (SELECT plan FROM plan_version WHERE section_id = :id"
        " UNION ALL SELECT plan FROM rehearsal WHERE section_id = :id),"
        " categories AS (SELECT c.value AS category FROM plans, json_each(plan, '$.categories') c)"
        " SELECT json_extract(category, '$.id') AS id FROM categories"
        " UNION SELECT json_extract(i.value, '$.id') FROM categories, json_each(category, '$.items') i"
        " UNION SELECT json_extract(r.value, '$.id') FROM plans, json_each(plan, '$.recorded') r"
        " UNION SELECT item_id FROM score WHERE section_id = :id",
        {"id": section_id},
    ).fetchall()
    return {row["id"] for row in rows}


def plans_of_entry(connection: Connection, section_id: int, entry: LaterEntry) -> tuple[Plan, Plan]:
    """The plan that was worked on before and after an entry of kind 'plan' or 'rehearsal'."""
    if entry.kind in PLAN_ENTRIES:
        first, second = (plan_of(connection, section_id, state["version"]) for state in (entry.before, entry.after))
        return first, second
    base = (entry.before or entry.after)[0]
    first, second = (
        plan_from_text(state[1]) if state else plan_of(connection, section_id, base)
        for state in (entry.before, entry.after)
    )
    return first, second
