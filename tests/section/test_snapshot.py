"""What is worked out about a section is worked out once for each state of it."""

import sys
import threading
from collections.abc import Iterator
from datetime import timedelta
from fractions import Fraction

import pytest

from tests.section.conftest import NOW, House
from vinemark.core.audit import run as audit_run
from vinemark.core.audit.finding import Facts
from vinemark.core.course.course import Settled
from vinemark.core.scores.typed_cells import CellWrite
from vinemark.section import snapshot
from vinemark.section.edits import Edits
from vinemark.section.snapshot import LOOKED_EVERY, Snapshots
from vinemark.section.state import state_of
from vinemark.store import scores, sections, settled
from vinemark.store.history import Act


def write_something(house: House, short: str = "HYDR 230-01") -> None:
    section = house.section(short)
    student, (_, item) = section.course.students[0], next(iter(section.course.plan.items()))
    cell = section.course.cell(student.id, item.id)
    changed = Fraction(1) if cell != 1 else Fraction(2)
    scores.write_cells(house.connection, house.act(section), [CellWrite(student.id, item.id, changed)], "typed")


def test_it_is_the_same_object_until_something_is_written(house: House) -> None:
    first = house.section("HYDR 230-01").snapshot
    assert house.section("HYDR 230-01", "midterm").snapshot is first
    write_something(house, "FIBR 120-01")
    assert house.section("HYDR 230-01").snapshot is first
    write_something(house)
    second = house.section("HYDR 230-01").snapshot
    assert second is not first
    assert second.grades != first.grades


def test_another_day_is_another_snapshot(house: House) -> None:
    today, tomorrow = (house.section("HYDR 230-01", now=NOW + timedelta(n)).snapshot for n in (0, 1))
    assert tomorrow is not today


def test_only_so_many_are_kept_and_the_one_used_last_stays(house: House) -> None:
    records = sections.sections_of(house.connection, house.person)[:3]
    sizes = [state_of(house.connection, house.snapshots, one, NOW, house.person).snapshot.size for one in records]
    kept = Snapshots(most=sum(sizes) - 1)

    def of(n: int) -> object:
        return state_of(house.connection, kept, records[n], NOW, house.person).snapshot

    first, second = of(0), of(1)
    assert of(0) is first
    of(2)
    assert of(0) is first
    assert of(1) is not second


def test_the_audit_runs_once_however_often_it_is_asked(house: House, monkeypatch: pytest.MonkeyPatch) -> None:
    ran: list[object] = []

    def counting(facts: Facts) -> audit_run.Audit:
        ran.append(facts)
        return audit_run.whole_audit(facts)

    monkeypatch.setattr(snapshot, "whole_audit", counting)
    for _ in range(3):
        section = house.section("HYDR 230-01")
        assert section.snapshot.findings is section.snapshot.findings
        assert section.snapshot.open_findings is not None
    assert len(ran) == 1


def test_each_run_has_its_own_settled_grades(house: House) -> None:
    section = house.section("HYDR 230-01")
    student = section.course.enrolled()[0]
    act = Act(house.person, NOW, section.id)
    settled.write_grades(house.connection, act, {student.id: Settled("C")}, "settled", "midterm")
    assert house.section("HYDR 230-01", "midterm").of_run.course.settled[student.id] == Settled("C")
    final = house.section("HYDR 230-01").of_run.course.settled.get(student.id)
    assert final != Settled("C")


def test_while_scores_are_typed_a_class_is_looked_at_now_and_then(house: House) -> None:
    before = house.section("HYDR 230-01").snapshot
    first = before.stem
    assert first.audited == before.version
    assert before.stem_while_typing(0.0) == first
    write_something(house)
    now = house.section("HYDR 230-01").snapshot
    typing = now.stem_while_typing(LOOKED_EVERY - 1)
    assert typing.audited == before.version
    assert typing.nodes[2] == first.nodes[2]
    assert [n for n in typing.nodes if n.step != "audit"] == [n for n in now.stem.nodes if n.step != "audit"]
    write_something(house)
    later = house.section("HYDR 230-01").snapshot
    assert later.stem_while_typing(LOOKED_EVERY) == later.stem
    assert later.stem.audited == later.version


def test_the_first_page_that_was_loaded_lets_the_first_cell_be_looked_at_at_once(house: House) -> None:
    before = house.section("HYDR 230-01").snapshot
    assert before.stem.audited == before.version
    write_something(house)
    now = house.section("HYDR 230-01").snapshot
    assert now.stem_while_typing(7.0).audited == now.version


def test_where_nobody_has_looked_at_a_class_yet_no_cell_waits_for_it(house: House) -> None:
    before = house.section("HYDR 230-01").snapshot
    waiting = before.stem_while_typing(6.0)
    assert (waiting.nodes[2].words, waiting.audited) == ("being looked at", 0)
    assert before.stem_while_typing(6.0 + LOOKED_EVERY).audited == before.version


@pytest.fixture
def hasty() -> Iterator[None]:
    """Threads that take turns after each few steps."""
    before = sys.getswitchinterval()
    sys.setswitchinterval(1e-6)
    yield
    sys.setswitchinterval(before)


@pytest.mark.usefixtures("hasty")
def test_a_snapshot_is_brought_forward_while_others_add_to_it(house: House) -> None:
    before = house.section("HYDR 230-01").snapshot
    ended = threading.Event()

    def adding() -> None:
        number = 0
        while not ended.is_set():
            number += 1
            before.row_texts[f"S{number % 5000}"] = "row"
            if number % 5000 == 0:
                before.row_texts.clear()

    other = threading.Thread(target=adding)
    other.start()
    try:
        for version in range(300):
            before.brought_forward(Edits(), before.version + version)
    finally:
        ended.set()
        other.join()
