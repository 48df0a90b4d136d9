"""A snapshot that was brought forward over the history is the one that a fresh reading of the database gives."""

import random
from collections.abc import Callable, Sequence
from dataclasses import replace

import pytest

from tests.section.conftest import NOW, House
from tests.seeds import seed
from vinemark.core.course.cell import Cell
from vinemark.core.course.course import Settled
from vinemark.core.course.read_cells import read_cell
from vinemark.core.scores.typed_cells import CellWrite
from vinemark.section.edits import edits_of
from vinemark.section.snapshot import Snapshot, Snapshots
from vinemark.section.state import SectionState, state_of
from vinemark.store import history, remarks, scores, settled, undo, visibility
from vinemark.store.database import Row

WRITES = 60
SHORTS = ("HYDR 230-01", "FIBR 120-01", "HYDR 410-01")


class Writer:
    """Writes what people write, through the store, and undoes some of it."""

    def __init__(self, house: House, short: str, draw: random.Random) -> None:
        self.house, self.draw, self.short = house, draw, short
        self.written: list[int] = []

    def write(self) -> None:
        section = self.house.section(self.short)
        kinds: Sequence[Callable[[SectionState], int | None]] = [
            self.cells, self.cells, self.cells, self.column, self.remark, self.settle, self.undo,
        ]  # fmt: skip
        entry = self.draw.choice(kinds)(section)
        if entry is not None:
            self.written.append(entry)

    def cells(self, section: SectionState) -> int:
        items = [item for _, item in section.course.plan.items()]
        places = [(self.draw.choice(section.course.students).id, self.draw.choice(items).id) for _ in range(2)]
        changes = [CellWrite(*place, self.cell()) for place in places[: self.draw.randint(1, 2)]]
        return scores.write_cells(section.connection, self.house.act(section), changes, "typed")

    def cell(self) -> Cell:
        return read_cell(self.draw.choice(["7", "8.5", "0", "missing", "exempt", None, "85", "0.9"]), "score")

    def column(self, section: SectionState) -> int:
        item = self.draw.choice([item for _, item in section.course.plan.items()]).id
        changes = [CellWrite(s.id, item, self.cell()) for s in section.course.students]
        return scores.write_cells(section.connection, self.house.act(section), changes, "a file", "import")

    def remark(self, section: SectionState) -> int | None:
        item = self.draw.choice([item for _, item in section.course.plan.items()]).id
        place = (self.draw.choice(section.course.students).id, item)
        text = self.draw.choice(["late", ""])
        return remarks.write_remark(section.connection, self.house.act(section), place, text, "remark")

    def settle(self, section: SectionState) -> int:
        grade = self.draw.choice([Settled("A"), Settled("F", never_attended=True), None])
        chosen = dict.fromkeys([s.id for s in self.draw.sample(section.course.students, 2)], grade)
        run = self.draw.choice(["final", "midterm"])
        return settled.write_grades(section.connection, self.house.act(section), chosen, "settled", run)

    def undo(self, section: SectionState) -> int | None:
        if not self.written:
            return None
        entry = self.written.pop()
        try:
            return undo.undo_entry(section.connection, self.house.act(section), entry).entry
        except (undo.NothingToUndoError, history.ChangedSinceError):
            return None


def seen(snapshot: Snapshot) -> dict[str, object]:
    """What pages and acts take from a snapshot."""
    course = snapshot.course
    grades = {s: (g.percent, g.letter, g.rounded, g.uncapped, g.blanks_zero, g.blanks_full)
              for s, g in snapshot.grades.items()}  # fmt: skip
    return {
        "students": course.students, "scores": course.scores, "settled": course.settled, "midterm": course.midterm,
        "tally": {name: {k: n for k, n in dict(getattr(course.tally, name)).items() if n}
                  for name in ("numbers", "recorded")},
        "at work": course.tally.at_work, "scored": course.tally.scored,
        "grades": grades, "findings": snapshot.findings, "open": snapshot.open_findings, "nodes": snapshot.stem.nodes,
        "remarks": dict(snapshot.loaded.remarks), "match": snapshot.match,
        "drifts": snapshot.run("final").drifts, "held": snapshot.run("final").held,
        "midterm findings": snapshot.run("midterm").findings,
    }  # fmt: skip


@pytest.mark.parametrize("short", SHORTS)
@pytest.mark.parametrize("looks", [1, 3])
def test_it_is_what_a_fresh_reading_gives(house: House, short: str, looks: int) -> None:
    draw = random.Random(seed(170 + looks))
    writer = Writer(house, short, draw)
    forward = 0
    record = house.section(short).record
    before = state_of(house.connection, house.snapshots, record, NOW, house.person).snapshot
    for number in range(WRITES):
        writer.write()
        if number % looks:
            continue
        now = state_of(house.connection, house.snapshots, record, NOW, house.person).snapshot
        forward += now is not before and now._earlier is not None
        fresh = state_of(house.connection, Snapshots(), record, NOW, house.person).snapshot
        assert fresh._earlier is None
        assert seen(now) == seen(fresh)
        before = now
    assert forward > WRITES // looks // 2


def test_an_entry_of_another_kind_is_no_edit(house: House) -> None:
    section = house.section("HYDR 230-01")
    item = next(i for _, i in section.course.plan.items())
    visibility.write_visibility(section.connection, house.act(section), {item.id: "open"}, "opened")
    entries: list[Row] = list(history.entries_after(section.connection, section.id, section.snapshot.version, 9))
    assert edits_of(entries) is None
    assert house.section("HYDR 230-01").snapshot.loaded.visibility[item.id] == "open"


def test_cells_of_an_item_that_left_the_plan_are_left_out(house: House) -> None:
    section = house.section("HYDR 230-01")
    student = section.course.students[0].id
    entry = {"kind": "scores", "on_column": 0, "after": f'[["{student}", "gone", "7"]]'}
    edits = edits_of([entry])  # type: ignore[list-item]
    assert edits is not None
    assert edits.made_in(section.course).scores == section.course.scores
    assert replace(section.course).tally == section.course.tally
