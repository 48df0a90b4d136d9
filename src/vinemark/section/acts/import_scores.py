"""Importing a file of scores: looked at, matched, then imported in whole or in part."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from hashlib import sha256

from vinemark.core.base.refused import Refused
from vinemark.core.course.cell_text import cell_text
from vinemark.core.scores.typed_cells import CellWrite
from vinemark.exchange.apart import read_apart
from vinemark.exchange.score_file import CellChange, FileTable, ScoreFile, decided, file_changes, read_file
from vinemark.exchange.score_matching import Matching, shape_of
from vinemark.section.outcome import Conflict, Done, Outcome, act
from vinemark.section.state import SectionState
from vinemark.store import files
from vinemark.store.files import LookedAt
from vinemark.store.history import Act

LISTED = 2_000
"""So many changes are listed one by one; further ones are imported with them."""


@dataclass(frozen=True)
class LookedAtFile:
    """A file as it stands against the section: its table, how its shape was matched, what it would change."""

    file: LookedAt
    table: FileTable
    known: Matching
    scores: ScoreFile

    @property
    def listed(self) -> Sequence[CellChange]:
        """The changes that are listed one by one."""
        return self.scores.changes[:LISTED]


def keep_file(section: SectionState, request: Act, name: str, data: bytes) -> int:
    """Keep a file for looking at; nothing of it is in the section yet. Raises Refused for what cannot be read."""
    read_apart(read_file, data)
    short = name.replace("\\", "/").rpartition("/")[2][:120]
    return files.write_file(section.connection, request, short, sha256(data).hexdigest(), data)


def look_at(section: SectionState, file_id: int) -> LookedAtFile | None:
    """A file that this person put into this section."""
    file = files.looked_at(section.connection, section.id, section.person_id, file_id)
    if file is None:
        return None
    table = read_apart(read_file, file.content, file.sheet)
    known = Matching.from_text(files.matching_of(section.connection, section.id, shape_of(table.table)))
    return LookedAtFile(file, table, known, file_changes(table.table, section.course, known))


def choose_sheet(section: SectionState, looked: LookedAtFile, sheet: str) -> None:
    """Read another sheet of the file."""
    files.write_sheet(section.connection, looked.file.id, sheet)


def match_file(
    section: SectionState, looked: LookedAtFile, columns: Mapping[int, str], people: Mapping[int, str]
) -> None:
    """Keep which column is which item and which row which student, for this file and the next of its shape.

    `columns` are what was chosen by a column's index, `people` by a row's line.
    """
    scores, known = looked.scores, looked.known
    chosen = {column.index: columns.get(column.index, column.target) for column in scores.columns}
    # A column left out because nothing was like it is still open; one that somebody left out is decided.
    open_still = {c.index for c in scores.columns if not c.target and c.index not in known.columns}
    targets = {index: target for index, target in chosen.items() if target or index not in open_still}
    said = {match.says: people.get(match.row.line, "") for match in scores.rows}
    named = {**known.people, **{says: student for says, student in said.items() if student}}
    matching = decided(targets, named, section.course).as_text()
    files.remember_matching(section.connection, section.id, shape_of(looked.table.table), matching)


def import_scores(section: SectionState, request: Act, file_id: int, digest: str, ticked: Collection[str]) -> Outcome:
    """Import the ticked changes of those that were listed, and all that were not, in one act with one undo."""
    looked = look_at(section, file_id)
    if looked is None or digest != looked.scores.digest:
        return Conflict("The scores changed meanwhile. These are the changes now; nothing was imported.")
    return _import(section, request, looked, ticked)


@act
def _import(section: SectionState, request: Act, looked: LookedAtFile, ticked: Collection[str]) -> Done:
    listed, rest = looked.listed, looked.scores.changes[LISTED:]
    chosen = [*(change for change in listed if change.key in ticked), *rest]
    if not chosen:
        raise Refused("take", "No change was selected. Nothing was imported.")
    changes = [CellWrite(c.student_id, c.item_id, c.cell, cell_text(c.before)) for c in chosen]
    people = len({change.student_id for change in chosen})
    what = (
        f"{len(chosen)} score{'s' * (len(chosen) > 1)} of {people} student{'s' * (people > 1)}"
        f"  imported from {looked.file.name}"
    )
    entry = files.write_import(section.connection, request, looked.file, changes, what, looked.known.as_text())
    return Done(f"{what}.", entry)
