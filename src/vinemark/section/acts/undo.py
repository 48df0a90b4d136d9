"""Undoing an entry of the history, where nothing has changed it since."""

from vinemark.core.base.refused import Refused
from vinemark.section.outcome import Done, act
from vinemark.section.state import SectionState
from vinemark.store import history
from vinemark.store import undo as store
from vinemark.store.history import Act


@act
def undo(section: SectionState, request: Act, entry_id: int) -> Done:
    """Undo one entry as a write of its own; what was undone, and the entry of the undoing."""
    if section.role != "instructor":
        raise Refused("entry", "Only the instructor can undo this.")
    undone = store.undo_entry(section.connection, request, entry_id)
    return Done(f"Undone: {undone.what}.", undone.entry)


@act
def undo_cells(section: SectionState, request: Act, entry_id: int) -> Done:
    """Undo an entry of cells, or an undoing of one: that is redo."""
    entry = history.entry_of(section.connection, section.id, entry_id)
    if entry is None or entry["kind"] not in {"scores", "import", "remark"}:
        raise Refused("entry", "There is nothing to undo.")
    undone = store.undo_entry(section.connection, request, entry_id)
    return Done(undone.what, undone.entry)
