"""The plan that is being rehearsed, apart from the one in force."""

from collections.abc import Callable
from dataclasses import dataclass

from vinemark.core.plan.plan import Plan
from vinemark.core.plan.symbols import refuse_lost_symbols
from vinemark.store import plans
from vinemark.store.database import Connection
from vinemark.store.history import Act, ChangedSinceError, writing
from vinemark.store.scores import symbols_used
from vinemark.store.sections import plan_of
from vinemark.store.texts import plan_as_text, plan_from_text


@dataclass(frozen=True)
class Draft:
    """A rehearsed plan and the version of the plan in force that it started from."""

    base_version: int
    plan: Plan


def draft_of(connection: Connection, section_id: int) -> Draft | None:
    """What is being rehearsed, if anything."""
    row = connection.execute("SELECT base_version, plan FROM rehearsal WHERE section_id = ?", (section_id,)).fetchone()
    return Draft(row["base_version"], plan_from_text(row["plan"])) if row else None


def write_draft(connection: Connection, act: Act, edit: Callable[[Plan], tuple[Plan, str]]) -> int:
    """Edit the rehearsed plan, which starts as the one in force; the history entry's id."""
    with writing(connection, act, "rehearsal") as entry:
        assert act.section_id is not None  # noqa: S101
        version = plans.latest_version(connection, act.section_id)
        draft = draft_of(connection, act.section_id) or Draft(version, plan_of(connection, act.section_id, version))
        entry.before = draft_text(connection, act.section_id)
        after, what = edit(draft.plan)
        refuse_lost_symbols(after, sorted(symbols_used(connection, act.section_id)))
        entry.what = f"previewed: {what}"
        entry.after = [draft.base_version, plan_as_text(after)]
        put_draft(connection, act.section_id, entry.after)
    return entry.id


KeptDraft = list[int | str]


def draft_text(connection: Connection, section_id: int) -> KeptDraft | None:
    """The rehearsal as it is kept."""
    row = connection.execute("SELECT base_version, plan FROM rehearsal WHERE section_id = ?", (section_id,)).fetchone()
    return [row["base_version"], row["plan"]] if row else None


def put_draft(connection: Connection, section_id: int, kept: KeptDraft | None) -> None:
    """Put a rehearsal in place; None ends it."""
    connection.execute("DELETE FROM rehearsal WHERE section_id = ?", (section_id,))
    if kept is not None:
        connection.execute("INSERT INTO rehearsal VALUES (?, ?, ?)", (section_id, *kept))


def discard_draft(connection: Connection, act: Act) -> int:
    """End the rehearsal; the plan in force stays as it is. The history entry's id."""
    with writing(connection, act, "rehearsal") as entry:
        assert act.section_id is not None  # noqa: S101
        entry.before = draft_text(connection, act.section_id)
        put_draft(connection, act.section_id, None)
        entry.what = "preview discarded"
    return entry.id


def apply_draft(connection: Connection, act: Act, reason: str) -> int | None:
    """Make the rehearsed plan the plan in force, with a reason; the history entry's id.

    Raises ChangedSinceError where the plan in force is no longer the one the rehearsal started from.
    """

    def edit(now: Plan) -> tuple[Plan, str]:
        assert act.section_id is not None  # noqa: S101
        draft = draft_of(connection, act.section_id)
        if draft is None:
            return now, ""
        if draft.base_version != plans.latest_version(connection, act.section_id):
            raise ChangedSinceError("The plan was changed since. Discard this preview and start again.")
        put_draft(connection, act.section_id, None)
        return draft.plan, f"applied: {reason}"

    return plans.write_plan_version(connection, act, edit)
