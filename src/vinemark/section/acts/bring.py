"""Bringing a file in: kept to be looked at, said what it holds, taken whole in one act."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from hashlib import sha256

from vinemark.core.base.refused import Refused
from vinemark.core.bring.bring import Bringing, Brought, UntakenCell, brought
from vinemark.core.bring.columns import roles_said
from vinemark.core.course.bounds import refuse_oversized
from vinemark.core.course.detail import NO_DETAIL, StudentDetail
from vinemark.core.course.tally import Place
from vinemark.core.plan.bounds import refuse_beyond_limits
from vinemark.core.table.read import TableReading
from vinemark.exchange.apart import read_apart
from vinemark.exchange.readers import table_of_file
from vinemark.section.meanwhile import fingerprint
from vinemark.section.outcome import Conflict, Done, Outcome, act
from vinemark.section.state import SectionState
from vinemark.store import class_list, files, plans
from vinemark.store.class_list import ClassChange
from vinemark.store.files import LookedAt
from vinemark.store.history import Act

LONGEST_FROM_FILE = 500


@dataclass(frozen=True)
class OpenFile:
    """A file that is looked at, and what it holds."""

    file: LookedAt
    reading: TableReading


def keep_table(section: SectionState, request: Act, name: str, data: bytes) -> int:
    """Keep a file for looking at; nothing of it is in the section yet. Raises Refused for what holds no students."""
    read_apart(table_of_file, data)
    return keep_read_table(section, request, name, data)


def keep_read_table(section: SectionState, request: Act, name: str, data: bytes) -> int:
    """The same for a file that was read already."""
    short = name.replace("\\", "/").rpartition("/")[2][:120]
    return files.write_file(section.connection, request, short, sha256(data).hexdigest(), data)


def open_file(section: SectionState, file_id: int, said: Bringing, sheet: str = "") -> OpenFile | None:
    """A file that this person put into this section, read as they say; None where there is none.

    Raises Refused where it can no longer be read so.
    """
    file = files.looked_at(section.connection, section.id, section.person_id, file_id)
    if file is None:
        return None
    if sheet and sheet != file.sheet:
        files.write_sheet(section.connection, file.id, sheet)
        file = replace(file, sheet=sheet)
    return OpenFile(file, read_apart(table_of_file, file.content, file.sheet, roles_said(said.columns)))


def what_it_brings(section: SectionState, opened: OpenFile, said: Bringing) -> Brought:
    """What bringing the file in would change now. Raises Refused at the field of a choice."""
    used = plans.used_ids(section.connection, section.id)
    return brought(opened.reading, section.course, said, section.as_of, used)


def brought_fingerprint(found: Brought) -> str:
    """Stands for what a page showed that a file brings."""
    people = [f"{student.id} {student.name}" for student in found.people.new]
    cells = [f"{one.student_id} {one.item_id} {one.was} {one.cell}" for one in found.cells]
    return fingerprint([*people, *cells, repr(found.drafted.plan)])


def bring_in(section: SectionState, request: Act, file_id: int, said: Bringing, seen: str) -> Outcome:
    """Take a file as it was looked at: students, plan, scores and remarks, in one act with one undo."""
    try:
        opened = open_file(section, file_id, said)
    except Refused as refused:
        return refused
    if opened is None:
        return Conflict("This file is no longer here. Import it again.")
    return _bring_in(section, request, opened, said, seen)


@act
def _bring_in(section: SectionState, request: Act, opened: OpenFile, said: Bringing, seen: str) -> Done:
    if section.snapshot.loaded.draft is not None:
        raise Refused("file", "waits: the plan is in preview. Apply or discard that first")
    found = what_it_brings(section, opened, said)
    if seen != brought_fingerprint(found):
        raise Refused("file", "would change other things than this page showed. These are the changes now")
    refuse_beyond_limits(found.drafted.plan, before=section.course.plan)
    refuse_oversized(found.course)
    change = ClassChange(
        people={student.id: student for student in found.people.new},
        details=_details(section, found.remarks),
        cells=found.cells,
        remarks=_cell_remarks(section, found.refused),
        plan=found.drafted.plan if found.drafted.plan != section.course.plan else None,
        ids=found.people.ids,
    )
    if change == ClassChange():
        raise Refused("file", "changes nothing: all of it is here already")
    what = f"{brought_words(found)}  imported from {opened.file.name}"
    entry = files.write_brought(section.connection, request, opened.file, change, what)
    return Done(f"{what}.", entry)


def _details(section: SectionState, remarks: Mapping[str, str]) -> dict[str, StudentDetail]:
    now = class_list.details_of(section.connection, section.id)
    found = {}
    for student, text in remarks.items():
        before = now.get(student, NO_DETAIL)
        said = text[:LONGEST_FROM_FILE]
        if said not in before.remark:
            joined = f"{before.remark}; {said}" if before.remark else said
            found[student] = replace(before, remark=joined[:LONGEST_FROM_FILE])
    return found


def _cell_remarks(section: SectionState, untaken: Sequence[UntakenCell]) -> dict[Place, str]:
    """What stands in cells that are no scores is kept beside them, as remarks."""
    now, found = section.snapshot.loaded.remarks, dict[Place, str]()
    for one in untaken:
        before, said = now.get(one.place, ""), " ".join(one.text.split())
        if said and said not in before:
            found[one.place] = (f"{before}; {said}" if before else said)[:LONGEST_FROM_FILE]
    return found


def brought_words(found: Brought) -> str:
    """What a file brings, counted: '22 students, 7 items, 154 scores'."""
    counts = (
        (len(found.people.new), "student"),
        (len(found.people.ids), "ID"),
        (len(found.new_items), "item"),
        (len(found.cells), "score"),
    )
    return ", ".join(f"{n} {word}{'s' * (n != 1)}" for n, word in counts if n) or "remarks"
