"""Acts on scores: cells, whole columns, a student who joined late, remarks, and what students see."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from vinemark.core.base.refused import Refused
from vinemark.core.course.cell_text import cell_text
from vinemark.core.course.course import Adjustment, Student
from vinemark.core.plan.plan import Item
from vinemark.core.scores.adjusting import adjustment_words, read_typed_adjustment
from vinemark.core.scores.column import ColumnChange, action_value, column_change, done_words
from vinemark.core.scores.extension import extension
from vinemark.core.scores.late_join import late_join
from vinemark.core.scores.typed_cells import CellWrite, ReadCells, TypedCell, read_typed
from vinemark.core.scores.visibility import VISIBILITY_RULES, VISIBILITY_WORDS
from vinemark.section.meanwhile import fingerprint, refuse_other
from vinemark.section.outcome import Done, act, as_sentence
from vinemark.section.state import SectionState
from vinemark.store import adjustments, remarks, scores, visibility
from vinemark.store.class_list import ClassChange, write_class
from vinemark.store.column_acts import ColumnAct, write_column
from vinemark.store.history import Act, ChangedSinceError
from vinemark.store.scores import Written

LONGEST_REMARK = 500
LONGEST_WHAT = 80


@dataclass(frozen=True)
class Entered:
    """What came of typed cells: how each was read, and what was written or in conflict."""

    read: ReadCells
    written: Written


def enter_scores(section: SectionState, request: Act, typed: Sequence[TypedCell], what: str = "") -> Entered:
    """Write cells in one act with one undo; what is refused, or was changed meanwhile, is said for each.

    Whether a cell was changed since its writer saw it is looked at inside the transaction that writes. What is beyond a
    grader's limit is left out.
    """
    typed = [one for one in typed if section.record.limit.allows(one.student_id, one.item_id)]
    read = read_typed(section.course, typed)
    if not read.cells:
        return Entered(read, Written(None))
    words = what[:LONGEST_WHAT] or read.what
    return Entered(read, scores.write_seen_cells(section.connection, request, read.cells, words))


@act
def save_remark(
    section: SectionState, request: Act, student: Student, item: Item, text: str, was: str | None = None
) -> Done:
    """Keep a few words with a cell; none remove them. `was` is what stood there when they were written over."""
    said = " ".join(text.split())[:LONGEST_REMARK]
    now = section.snapshot.loaded.remarks.get((student.id, item.id), "")
    if was is not None and now not in {was, said}:
        raise ChangedSinceError(now)
    what = f"{student.plain_name}, {item.name}: " + (f"remark “{said}”" if said else "remark removed")
    return Done(entry=remarks.write_remark(section.connection, request, (student.id, item.id), said, what))


@act
def adjust(section: SectionState, request: Act, student: Student, typed: str, reason: str, was: str = "") -> Done:
    """Give a student percentage points, or take some; nothing typed takes the adjustment away.

    `was` stands for what the page showed. Raises Refused at 'percent' or 'reason'.
    """
    adjustment = read_typed_adjustment(typed, reason)
    now = section.course.adjustments.get(student.id)
    if was and was != adjustment_fingerprint(now):
        raise ChangedSinceError("This adjustment was changed meanwhile. Look at it again; nothing was saved.")
    said = f"adjustment {adjustment_words(adjustment)}" if adjustment else "adjustment removed"
    what = f"{student.plain_name}: {said}"
    entry = adjustments.give_adjustment(section.connection, request, student.id, adjustment, what)
    return Done(as_sentence(what), entry) if entry else Done()


def adjustment_fingerprint(adjustment: Adjustment | None) -> str:
    """Stands for an adjustment that was looked at."""
    return fingerprint([adjustment_words(adjustment)] if adjustment else [])


@act
def extend(section: SectionState, request: Act, student: Student, item: Item, typed: str, was: str = "") -> Done:
    """Give a student another due date for an item; nothing typed takes it away. `was` is the day that the page showed.

    Raises Refused at 'due'.
    """
    place = student.id, item.id
    now = section.course.extensions.get(place)
    found = extension(section.course, student, item, typed, section.as_of)
    if (now.isoformat() if now else "") not in {was, found.due.isoformat() if found.due else ""}:
        raise ChangedSinceError("This day was changed meanwhile. Look at it again; nothing was saved.")
    if found.due == now:
        return Done()
    change = ClassChange(extensions={place: found.due}, cells=[found.cell] if found.cell else [])
    return Done(f"{found.words}.", write_class(section.connection, request, change, found.words))


@act
def exempt_before(section: SectionState, request: Act, student: Student, joined: date) -> Done:
    """Exempt a student from everything due before they joined."""
    late = late_join(section.course, student, joined)
    if not late.exempt:
        return Done()
    what = f"{student.plain_name} joined late: exempt from {len(late.exempt)} items due before"
    changes = [CellWrite(student.id, item.id, "exempt") for item in late.exempt]
    return Done(f"{what}.", scores.write_cells(section.connection, request, changes, what))


@act
def change_column(
    section: SectionState, request: Act, item: Item, action: str, value: str, looked_at: str = ""
) -> Done:
    """Change a whole column; `looked_at` stands for the change that was shown."""
    effect = column_change(section.course, item, action, value, section.as_of)
    refuse_other(looked_at, _shown(section, item, effect), "Scores of this column")
    what = f"{item.name}: {done_words(action, value)}, {len(effect.cells)} cells"
    changes = [CellWrite(student, item.id, cell) for student, cell in effect.cells]
    done = ColumnAct(item.id, action, action_value(section.course.plan, item, action, value))
    return Done(f"{what}.", write_column(section.connection, request, done, changes, what))


def column_fingerprint(section: SectionState, item: Item, effect: ColumnChange) -> str:
    """Stands for the cells that a change of a column would write over, and with what."""
    return fingerprint(_shown(section, item, effect))


def _shown(section: SectionState, item: Item, effect: ColumnChange) -> list[str]:
    cells = [(student, section.course.cell(student, item.id), cell) for student, cell in effect.cells]
    return [f"{student} {cell_text(now)} {cell_text(new)}" for student, now, new in cells]


@act
def choose_visibility(section: SectionState, request: Act, item: Item, typed: str, whole_category: bool) -> Done:
    """Hide an item from students, make it visible, or visible once every cell is filled; or its whole category."""
    rule = next((rule for rule in VISIBILITY_RULES if rule == typed), None)
    if rule is None:
        raise Refused("access", "is no choice")
    category = (
        section.course.plan.category_of(item.id)
        if whole_category and not section.course.plan.only_recorded(item.id)
        else None
    )
    items, name = (category.items, category.name) if category else ((item,), item.name)
    what = f"{name}: {VISIBILITY_WORDS[rule]}"
    chosen = {one.id: rule for one in items}
    return Done(as_sentence(what), visibility.write_visibility(section.connection, request, chosen, what))
