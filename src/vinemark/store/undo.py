"""Undo: an entry's state before it is put back, where nothing has changed it since."""

import json
from collections.abc import Callable
from typing import Any, NamedTuple

from vinemark.core.base.refused import Refused
from vinemark.core.course.cell_text import kept_cell
from vinemark.core.course.course import Student
from vinemark.core.plan.symbols import refuse_lost_symbols
from vinemark.core.scores.typed_cells import CellWrite
from vinemark.store.acceptances import acceptance_text, put_acceptances
from vinemark.store.adjustments import kept_adjustments, put_adjustments
from vinemark.store.class_list import put_class_back
from vinemark.store.comparisons import kept_comparisons, put_comparisons
from vinemark.store.database import Connection, Row
from vinemark.store.groups import groups_of, put_groups
from vinemark.store.history import Act, ChangedSinceError, HistoryEntry, writing
from vinemark.store.history import entry_of as find_entry
from vinemark.store.plans import latest_version
from vinemark.store.previews import draft_text, put_draft
from vinemark.store.registrar import followed_state, only_these, put_followed
from vinemark.store.remarks import put_remarks, remarks_of
from vinemark.store.scores import current_cells, replace_cells, symbols_used
from vinemark.store.sections import insert_students, plan_of
from vinemark.store.settled import aside_text, put_aside, put_settled, settled_text
from vinemark.store.students_see import kept_students_see, put_students_see
from vinemark.store.visibility import grades_visible_value, put_grades_visible, put_visibility, visibility_of

UNDOABLE = frozenset(
    {
        "plan",
        "rehearsal",
        "scores",
        "import",
        "remark",
        "adjustment",
        "access",
        "finding",
        "settled-final",
        "settled-midterm",
        "set-aside",
        "roster",
        "grades-opened",
        "class-list",
        "groups",
        "comparison",
        "students-see",
    }
)


class NothingToUndoError(Exception):
    """There is no such entry, it cannot be undone, or it was undone before."""


def can_undo(entry: Row) -> bool:
    """Whether an entry is of a kind that can be undone and stands still."""
    return entry["kind"] in UNDOABLE and entry["undone_by"] is None


class Undone(NamedTuple):
    """What was undone, and the entry of the undoing, which can be undone in turn."""

    what: str
    entry: int


def undo_entry(connection: Connection, act: Act, entry_id: int) -> Undone:
    """Undo one entry as a write of its own.

    Raises NothingToUndoError, or ChangedSinceError where a later change stands in the way.
    """
    assert act.section_id is not None  # noqa: S101
    found = find_entry(connection, act.section_id, entry_id)
    if found is None or not can_undo(found):
        raise NothingToUndoError("This cannot be undone, or has been already.")
    with writing(connection, act, found["kind"]) as entry:
        # Asked again inside the transaction: two people may press undo at once.
        again = find_entry(connection, act.section_id, entry_id)
        if again is None or not can_undo(again):
            raise NothingToUndoError("This has been undone already.")
        entry.undoes = entry_id
        entry.what = f"undone: {found['what']}"
        entry.before, entry.after = _state(found["after"]), _state(found["before"])
        _HANDLERS[found["kind"]](connection, act.section_id, entry)
    return Undone(str(found["what"]), entry.id)


def _state(text: str | None) -> Any:
    return None if text is None else json.loads(text)


def _rehearsal(connection: Connection, section_id: int, entry: HistoryEntry) -> None:
    if draft_text(connection, section_id) != entry.before:
        raise ChangedSinceError("The preview was changed since. Undo the later change first.")
    if entry.after is not None and entry.after[0] != latest_version(connection, section_id):
        raise ChangedSinceError("The plan was changed since. Start a new preview.")
    put_draft(connection, section_id, entry.after)


def _plan(connection: Connection, section_id: int, entry: HistoryEntry) -> None:
    version = latest_version(connection, section_id)
    if version != entry.before["version"]:
        raise ChangedSinceError("The plan was changed again since; undo the later change first.")
    try:
        earlier = plan_of(connection, section_id, entry.after["version"])
        refuse_lost_symbols(earlier, sorted(symbols_used(connection, section_id)))
    except Refused as error:
        raise ChangedSinceError(f"{error.reason[:1].upper()}{error.reason[1:]}. Nothing was undone.") from None
    connection.execute(
        "INSERT INTO plan_version SELECT section_id, ?, plan, ? FROM plan_version WHERE section_id = ? AND version = ?",
        (version + 1, version, section_id, entry.after["version"]),
    )
    entry.before, entry.after = {"version": version}, {"version": version + 1}


def _scores(connection: Connection, section_id: int, entry: HistoryEntry) -> None:
    now = current_cells(connection, section_id, [(s, i) for s, i, _ in entry.before])
    changed = [s for s, i, text in entry.before if now[f"{s} {i}"] != text]
    if changed:
        raise ChangedSinceError(f"{len(changed)} of these cells were changed again since. Nothing was undone.")
    replace_cells(connection, section_id, [CellWrite(s, i, kept_cell(text)) for s, i, text in entry.after])


def _remark(connection: Connection, section_id: int, entry: HistoryEntry) -> None:
    now = remarks_of(connection, section_id)
    if any(now.get((s, i)) != text for s, i, text in entry.before):
        raise ChangedSinceError("The remark was changed again since. Nothing was undone.")
    put_remarks(connection, section_id, entry.after)


def _adjustment(connection: Connection, section_id: int, entry: HistoryEntry) -> None:
    now = kept_adjustments(connection, section_id)
    if any(now.get(student) != kept for student, kept in entry.before.items()):
        raise ChangedSinceError("The adjustment was changed again since. Nothing was undone.")
    put_adjustments(connection, section_id, entry.after)


def _visibility(connection: Connection, section_id: int, entry: HistoryEntry) -> None:
    now = visibility_of(connection, section_id)
    if any(now.get(item) != access for item, access in entry.before.items()):
        raise ChangedSinceError("What students can see was changed again since. Nothing was undone.")
    put_visibility(connection, section_id, entry.after)


def _finding(connection: Connection, section_id: int, entry: HistoryEntry) -> None:
    if any(acceptance_text(connection, section_id, place) != stand for place, stand in entry.before.items()):
        raise ChangedSinceError("This finding was let stand or reopened since; nothing was undone.")
    put_acceptances(connection, section_id, entry.after)


def _settled(run: str) -> Callable[[Connection, int, HistoryEntry], None]:
    def handler(connection: Connection, section_id: int, entry: HistoryEntry) -> None:
        _refuse_changed(entry.before, lambda s: settled_text(connection, section_id, run, s))
        put_settled(connection, section_id, run, entry.after)

    return handler


def _aside(connection: Connection, section_id: int, entry: HistoryEntry) -> None:
    _refuse_changed(entry.before, lambda s: aside_text(connection, section_id, s))
    put_aside(connection, section_id, entry.after)


def _roster(connection: Connection, section_id: int, entry: HistoryEntry) -> None:
    if followed_state(connection, section_id, entry.before) != entry.before:
        raise ChangedSinceError("Something of this was changed again since. Nothing was undone.")
    leaving = [student for student, values in entry.after["added"].items() if values is None]
    if only_these(connection, section_id, leaving):
        raise ChangedSinceError("Somebody who was added has scores or a settled grade by now; nothing was undone.")
    coming = [Student(s, values[0], values[1], values[2]) for s, values in entry.after["added"].items() if values]
    insert_students(connection, section_id, coming)
    put_followed(connection, section_id, entry.after)


def _grades_visible(connection: Connection, section_id: int, entry: HistoryEntry) -> None:
    _refuse_changed(entry.before, lambda run: grades_visible_value(connection, section_id, run))
    put_grades_visible(connection, section_id, entry.after)


def _class_list(connection: Connection, section_id: int, entry: HistoryEntry) -> None:
    put_class_back(connection, section_id, entry.before, entry.after)


def _groups(connection: Connection, section_id: int, entry: HistoryEntry) -> None:
    if any(groups_of(connection, section_id, item) != members for item, members in entry.before.items()):
        raise ChangedSinceError("The groups were changed again since. Nothing was undone.")
    put_groups(connection, section_id, entry.after)


def _comparison(connection: Connection, section_id: int, entry: HistoryEntry) -> None:
    now = kept_comparisons(connection, section_id)
    if any(now.get(number) != values for number, values in entry.before.items()):
        raise ChangedSinceError("This comparison was removed or put back since. Nothing was undone.")
    put_comparisons(connection, section_id, entry.after)


def _students_see(connection: Connection, section_id: int, entry: HistoryEntry) -> None:
    if kept_students_see(connection, section_id) != entry.before:
        raise ChangedSinceError("What students see was chosen again since. Undo the later change first.")
    put_students_see(connection, section_id, entry.after)


def _refuse_changed(expected: dict[str, Any], now: Callable[[str], Any]) -> None:
    changed = [student for student, text in expected.items() if now(student) != text]
    if changed:
        raise ChangedSinceError(f"{len(changed)} of these students were changed again since. Nothing was undone.")


_HANDLERS: dict[str, Callable[[Connection, int, HistoryEntry], None]] = {
    "plan": _plan,
    "rehearsal": _rehearsal,
    "scores": _scores,
    "import": _scores,
    "remark": _remark,
    "adjustment": _adjustment,
    "access": _visibility,
    "finding": _finding,
    "settled-final": _settled("final"),
    "settled-midterm": _settled("midterm"),
    "set-aside": _aside,
    "roster": _roster,
    "grades-opened": _grades_visible,
    "class-list": _class_list,
    "groups": _groups,
    "comparison": _comparison,
    "students-see": _students_see,
}
