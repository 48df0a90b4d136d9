"""What later entries of the history changed, where that is cells, remarks and settled grades alone."""

import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

from vinemark.core.audit.finding import Touched
from vinemark.core.course.cell import Cell
from vinemark.core.course.cell_text import kept_cell
from vinemark.core.course.course import Course, Settled
from vinemark.core.course.read_records import read_settled
from vinemark.core.course.tally import Place
from vinemark.store.database import Row
from vinemark.store.texts import parsed

CELL_ENTRIES = frozenset({"scores", "import"})
RUN_OF_ENTRY = {"settled-final": "final", "settled-midterm": "midterm"}


@dataclass(frozen=True)
class Edits:
    """Cells, remarks and settled grades as they stand after all of the entries."""

    cells: dict[Place, Cell] = field(default_factory=dict)
    remarks: dict[Place, str | None] = field(default_factory=dict)
    final: dict[str, Settled | None] = field(default_factory=dict)
    midterm: dict[str, Settled | None] = field(default_factory=dict)

    @property
    def touched(self) -> Touched:
        """What of the final run's audit and grades hangs on them."""
        students = {student for student, _ in self.cells} | set(self.final)
        return Touched(frozenset(students), frozenset(item for _, item in self.cells), bool(self.final))

    def made_in(self, course: Course) -> Course:
        """The course after them."""
        cells = self._cells_of(course)
        found = course.with_cells(cells) if cells else course
        found = found.with_settled(self.final) if self.final else found
        if not self.midterm:
            return found
        return found.for_run("midterm").with_settled(self.midterm).for_run("final")

    def _cells_of(self, course: Course) -> Mapping[Place, Cell]:
        """Those of items that the plan still has."""
        return {place: cell for place, cell in self.cells.items() if place[1] in course.plan.columns}

    def remarked(self, remarks: Mapping[Place, str]) -> Mapping[Place, str]:
        """The remarks after them."""
        if not self.remarks:
            return remarks
        return {place: text for place, text in {**remarks, **self.remarks}.items() if text is not None}


def edits_of(entries: Iterable[Row]) -> Edits | None:
    """What some entries did, oldest first; None where one of them is of another kind, or acted on a whole column."""
    found = Edits()
    for entry in entries:
        if entry["on_column"]:
            return None
        after = json.loads(entry["after"]) if entry["after"] is not None else []
        if entry["kind"] in CELL_ENTRIES:
            found.cells.update({(student, item): kept_cell(text) for student, item, text in after})
        elif entry["kind"] == "remark":
            found.remarks.update({(student, item): text for student, item, text in after})
        elif entry["kind"] in RUN_OF_ENTRY:
            into = found.final if RUN_OF_ENTRY[entry["kind"]] == "final" else found.midterm
            into.update({s: read_settled(parsed(text), "settled") if text else None for s, text in dict(after).items()})
        else:
            return None
    return found
