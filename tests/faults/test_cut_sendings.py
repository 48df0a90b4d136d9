"""The connection is cut at every step of sending, and either side crashes, hundreds of times by a seeded schedule.

Whatever happened: one sending at the registrar for each key, one receipt here, and both sides hold the same.
"""

import json
import random
import threading
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

import pytest

from tests.builders import TERM, category, plan
from tests.faults.cutting import STEPS, TOKEN, CuttingLine, office_on_a_port
from tests.seeds import seed
from vinemark.clock import Clock
from vinemark.core.after.drift import official
from vinemark.core.after.grade_change import GradeChange
from vinemark.core.course.course import SectionName, Settled, Student
from vinemark.core.submit.compare import compared_rows
from vinemark.core.submit.grade_row import GradeRow
from vinemark.core.submit.receipt import read_receipt
from vinemark.core.submit.submission import accepted_rows
from vinemark.office import ledger, ledger_grades
from vinemark.office.client import OfficeClient
from vinemark.office.schools import LARKMOOR
from vinemark.section.delivery.courier import Courier
from vinemark.section.delivery.gateway import Gateway
from vinemark.store import grade_changes, people, sections, submissions
from vinemark.store.database import Connection, connect, migrate
from vinemark.store.history import Act
from vinemark.store.submissions import SignedCopy

pytestmark = pytest.mark.many

NOW = datetime(2026, 12, 19, 9, 30)
REF = "R1"
EMAIL = "maren@larkmoor.example"
STUDENTS = [f"L{n:02d}" for n in range(12)]
TRIES = 60


class CrashError(Exception):
    """The process died here."""


@dataclass
class Both:
    """Both sides of the line, with crashes drawn from the same schedule."""

    here: Connection
    there: Connection
    line: CuttingLine
    draw: random.Random
    act: Act
    database: Path
    client: OfficeClient
    crashes: int = 0

    def courier(self) -> Courier:
        """Goes to the registrar over the line that is cut."""
        return Courier(self.here, Gateway(self.client), self.act, REF)


@pytest.fixture
def both(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Both]:
    draw = random.Random(seed(20261219))
    here, there = connect(tmp_path / "here.sqlite"), connect(tmp_path / "there.sqlite")
    migrate(here)
    with office_on_a_port(tmp_path / "there.sqlite", Clock(NOW.date(), NOW.time())) as port:
        _office(there)
        with CuttingLine(port, draw).open() as line:
            client = OfficeClient(f"http://127.0.0.1:{line.port}", TOKEN)
            found = Both(here, there, line, draw, _section(here), tmp_path / "here.sqlite", client)
            _crash_sometimes(found, monkeypatch)
            yield found
    here.close()
    there.close()


def _office(there: Connection) -> None:
    ledger.set_school(there, {**LARKMOOR, "arrangements": {"transfers": [], "file": None}})
    term = {"code": "T", "name": TERM.name, "starts": "2026-08-31", "ends": "2026-12-18"}
    ledger.add_term(there, term, {"final": ("2026-12-14T08:00:00", "2026-12-21T17:00:00")})
    name = {"ref": REF, "term": "T", "course": "BRYO 110", "title": "Mosses", "number": "01", "instructor": EMAIL}
    person = {"family_name": "Ode", "given_name": "M", "email": None, "status": "enrolled", "basis": "letter"}
    ledger.add_section(there, name, [{"id": student, **person} for student in STUDENTS])


def _section(here: Connection) -> Act:
    owner = people.add_person(here, Act(None, NOW), EMAIL, "Maren", "hash")
    students = [Student(student, "Ode", "M") for student in STUDENTS]
    name = SectionName("BRYO 110", "Mosses", "01")
    section = sections.create_section(here, Act(owner, NOW), TERM, name, students, plan(category("10")))
    return Act(owner, NOW, section)


def _crash_sometimes(both: Both, monkeypatch: pytest.MonkeyPatch) -> None:
    """Either side dies between two of its steps: before it goes out, with the answer in hand, amid taking the rows."""

    def dying(function, likely: float):  # type: ignore[no-untyped-def]
        def wrapped(*args, **kwargs):  # type: ignore[no-untyped-def]
            if both.draw.random() < likely:
                both.crashes += 1
                raise CrashError
            return function(*args, **kwargs)

        return wrapped

    monkeypatch.setattr(OfficeClient, "submit", dying(OfficeClient.submit, 0.1))
    monkeypatch.setattr(OfficeClient, "ask_change", dying(OfficeClient.ask_change, 0.1))
    monkeypatch.setattr(submissions, "write_receipt", dying(submissions.write_receipt, 0.2))
    monkeypatch.setattr(grade_changes, "write_answer", dying(grade_changes.write_answer, 0.2))
    monkeypatch.setattr(ledger_grades, "_hold", dying(ledger_grades._hold, 0.02))


def deliver(both: Both, submission_id: int) -> int:
    """Try until there is a receipt, sometimes from two threads at once; how many tries it took."""
    for tries in range(1, TRIES + 1):
        if both.draw.random() < 0.15:
            _twice_at_once(both, submission_id)
        else:
            _once(both.courier(), submission_id)
        found = submissions.submission_of(both.here, both.act.section_id or 0, submission_id)
        assert found is not None
        assert found.state != "refused", found.trouble
        if found.receipt is not None:
            return tries
    raise AssertionError("it never arrived")


def _once(going: Courier, submission_id: int) -> None:
    found = submissions.submission_of(going.connection, going.section_id, submission_id)
    assert found is not None
    with suppress(CrashError):
        going.deliver(found)


def _twice_at_once(both: Both, submission_id: int) -> None:
    """Two tabs or a double click: two requests, each with a connection of its own."""

    def tab() -> None:
        connection = connect(both.database)
        _once(Courier(connection, Gateway(both.client), both.act, REF), submission_id)
        connection.close()

    tabs = [threading.Thread(target=tab) for _ in range(2)]
    for thread in tabs:
        thread.start()
    for thread in tabs:
        thread.join()


def rows_of(draw: random.Random) -> list[GradeRow]:
    """A sending of some students; now and then one whose row the registrar refuses."""
    chosen = draw.sample(STUDENTS, draw.randint(1, len(STUDENTS)))
    return [GradeRow(student, draw.choice(["A", "B", "C", "D", "F"])) for student in chosen]


def test_whatever_is_cut_there_is_one_receipt_and_both_sides_are_equal(both: Both) -> None:
    section, tries = both.act.section_id or 0, 0
    seen = 0
    for number in range(130):
        key, rows = f"seeded-key-of-sending-{number:04d}", rows_of(both.draw)
        seen = submissions.write_signature(
            both.here, both.act, key, SignedCopy("final", rows, "course", "findings"), seen
        )
        tries += deliver(both, seen)
        kept = submissions.submission_of(both.here, section, seen)
        there = both.there.execute("SELECT receipt FROM sending WHERE key = ?", (key,)).fetchall()
        assert kept is not None
        assert [read_receipt(json.loads(row["receipt"])) for row in there] == [kept.receipt]
        held = {row["id"]: GradeRow(**{**row, "owed": None}) for row in ledger_grades.held(both.there, REF, "final")}
        lines = compared_rows(accepted_rows(submissions.submissions_of(both.here, section)), held)
        assert all(line.agrees for line in lines)
    assert both.there.execute("SELECT count(*) FROM sending").fetchone()[0] == 130
    assert tries + both.crashes > 400
    assert all(both.line.cuts[step] > 20 for step in STEPS), both.line.cuts


def test_whatever_is_cut_a_change_of_grade_is_asked_and_granted_once(both: Both) -> None:
    section = both.act.section_id or 0
    rows = [GradeRow(student, "B") for student in STUDENTS]
    first = submissions.write_signature(
        both.here, both.act, "the-only-sending-of-it", SignedCopy("final", rows, "c", "f"), 0
    )
    deliver(both, first)
    ledger_grades.post(both.there, REF, "final", NOW)
    held = dict.fromkeys(STUDENTS, "B")
    for number in range(40):
        student = both.draw.choice(STUDENTS)
        code = both.draw.choice([c for c in "ABCD" if c != held[student]])
        change = GradeChange(
            0, f"seeded-change-{number:08d}", student, GradeRow(student, held[student]), GradeRow(student, code),
            Settled(code), "found a piece", None, None, "Maren", NOW, "waiting",
        )  # fmt: skip
        made = grade_changes.write_request(both.here, both.act, change, EMAIL, None, "asked")
        granted = both.draw.random() < 0.7
        answer(both, made, granted)
        held[student] = code if granted else held[student]
        there = {row["id"]: row["code"] for row in ledger_grades.held(both.there, REF, "final")}
        kept = grade_changes.changes_of(both.here, section)
        here = official(accepted_rows(submissions.submissions_of(both.here, section)), kept, (), {})
        assert there == held == {s: row.code for s, row in here.items()}
    assert both.there.execute("SELECT count(*) FROM grade_change").fetchone()[0] == 40


def answer(both: Both, change_id: int, granted: bool) -> None:
    """Ask until the registrar has it, answer there, and read back until the answer is here."""
    section = both.act.section_id or 0
    for _ in range(TRIES):
        found = grade_changes.change_of(both.here, section, change_id)
        assert found is not None
        assert found.state != "not taken", found.trouble
        if found.state in {"granted", "refused"}:
            return
        with suppress(CrashError):
            if found.state == "waiting":
                both.courier().ask(found)
            else:
                both.courier().check_copy("final")
        row = both.there.execute("SELECT number FROM grade_change WHERE state = 'pending'").fetchone()
        with suppress(CrashError):
            if row is not None and found.state == "sent":
                ledger_grades.answer_change(both.there, REF, row["number"], granted, "", NOW)
    raise AssertionError("it was never answered")
