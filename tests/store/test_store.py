"""What is kept: transactions, history, undo, and whose section it is."""

import sqlite3
from dataclasses import replace
from datetime import time, timedelta
from fractions import Fraction
from importlib.resources import files as files_of
from pathlib import Path

import pytest

from tests.builders import plan, roster
from tests.store.conftest import AT, Kept
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Settled
from vinemark.core.plan.plan import Plan
from vinemark.core.submit.grade_row import GradeRow, digest
from vinemark.core.submit.hours import OfficeHours, Transfer, Window
from vinemark.core.submit.receipt import Receipt, RowAnswer
from vinemark.core.submit.submission import accepted_rows, refusals
from vinemark.store import (
    history,
    people,
    plans,
    registrar,
    scores,
    sections,
    settled,
    submissions,
)
from vinemark.store.database import connect, migrate, transaction
from vinemark.store.history import Act, AlreadyDoneError, ChangedSinceError
from vinemark.store.scores import Change
from vinemark.store.submissions import SignedCopy
from vinemark.store.undo import NothingToUndoError, undo_entry

HOURS = OfficeHours({"final": Window(AT, AT)}, (Transfer(time(23, 30), time(0, 15)),))
NINE, SEVEN = Fraction(9), Fraction(7)


def test_migrations_run_once_and_pragmas_hold(tmp_path: Path) -> None:
    connection = connect(tmp_path / "a.sqlite")
    files = sorted(
        path.name for path in (files_of("vinemark.store") / "schema").iterdir() if path.name.endswith(".sql")
    )
    assert migrate(connection) == files
    assert files[0] == "0001_start.sql"
    assert migrate(connection) == []
    assert connection.execute("PRAGMA foreign_keys").fetchone()[0] == 1
    assert connection.execute("PRAGMA journal_mode").fetchone()[0] == "wal"
    with pytest.raises(sqlite3.IntegrityError):
        connection.execute("INSERT INTO score VALUES (1, 'nobody', 'i', '5')")
    connection.close()


def test_a_transaction_is_all_or_nothing_and_nests(kept: Kept) -> None:
    def names() -> list[str]:
        return [row["name"] for row in people.everybody(kept.connection)]

    def add(email: str) -> None:
        people.add_person(kept.connection, Act(None, AT), email, email, "hash")

    with pytest.raises(RuntimeError), transaction(kept.connection):
        add("x@y")
        raise RuntimeError
    assert names() == ["Maren"]
    with transaction(kept.connection):
        add("x@y")
        with pytest.raises(people.EmailTakenError):
            add("X@Y")
    assert names() == ["Maren", "x@y"]


def test_cells_keep_every_digit_and_blanks_are_absent(kept: Kept) -> None:
    exact = Fraction("0.1234567890123456789")
    scores.write_cells(kept.connection, kept.act(), [Change("ada", "i0", exact), Change("bo", "i0", "exempt")], "x")
    assert kept.course().scores == {"ada": {"i0": exact}, "bo": {"i0": "exempt"}}
    scores.write_cells(kept.connection, kept.act(), [Change("ada", "i0", None)], "x")
    assert kept.course().scores == {"bo": {"i0": "exempt"}}


def test_a_retried_request_is_the_same_write(kept: Kept) -> None:
    scores.write_cells(kept.connection, kept.act("k1"), [Change("ada", "i0", NINE)], "first")
    scores.write_cells(kept.connection, kept.act("k2"), [Change("ada", "i0", SEVEN)], "second")
    with pytest.raises(AlreadyDoneError):
        scores.write_cells(kept.connection, kept.act("k1"), [Change("ada", "i0", NINE)], "first again")
    assert kept.course().cell("ada", "i0") == 7
    assert [e["what"] for e in history.entries_of(kept.connection, kept.section)][:2] == ["second", "first"]


def test_every_write_leaves_who_when_before_and_after(kept: Kept) -> None:
    scores.write_cells(kept.connection, kept.act(), [Change("ada", "i0", NINE)], "nine")
    scores.write_cells(kept.connection, kept.act(), [Change("ada", "i0", "missing")], "missing")
    entry = history.entries_of(kept.connection, kept.section)[0]
    assert (entry["person_name"], entry["at"], entry["kind"]) == ("Maren", "2026-12-19T10:00:00", "scores")
    assert (entry["before"], entry["after"]) == ('[["ada", "i0", "9"]]', '[["ada", "i0", "missing"]]')


def test_a_refused_write_leaves_nothing(kept: Kept) -> None:
    with pytest.raises(sqlite3.IntegrityError):
        scores.write_cells(kept.connection, kept.act(), [Change("ada", "i0", NINE), Change("nobody", "i0", NINE)], "x")
    assert kept.course().scores == {}
    assert [e["kind"] for e in history.entries_of(kept.connection, kept.section)] == ["section"]


def test_undo_of_an_import_puts_every_cell_back_and_can_be_undone(kept: Kept) -> None:
    scores.write_cells(kept.connection, kept.act(), [Change("ada", "i0", NINE)], "typed")
    changes = [Change("ada", "i0", SEVEN), Change("bo", "i1", SEVEN)]
    entry = scores.write_cells(kept.connection, kept.act(), changes, "taken", "import")
    assert undo_entry(kept.connection, kept.act(), entry).what == "taken"
    assert kept.course().scores == {"ada": {"i0": NINE}}
    with pytest.raises(NothingToUndoError):
        undo_entry(kept.connection, kept.act(), entry)
    latest = history.entries_of(kept.connection, kept.section)[0]
    undo_entry(kept.connection, kept.act(), latest["id"])
    assert kept.course().scores == {"ada": {"i0": SEVEN}, "bo": {"i1": SEVEN}}


def test_undo_never_overwrites_a_later_change(kept: Kept) -> None:
    entry = scores.write_cells(kept.connection, kept.act(), [Change("ada", "i0", NINE)], "nine")
    scores.write_cells(kept.connection, kept.act(), [Change("ada", "i0", SEVEN)], "seven")
    with pytest.raises(ChangedSinceError):
        undo_entry(kept.connection, kept.act(), entry)
    assert kept.course().cell("ada", "i0") == 7


def edit(kept: Kept, changed: Plan, what: str = "changed") -> int | None:
    return plans.write_plan_version(kept.connection, kept.act(), lambda _: (changed, what))


def test_a_deleted_category_comes_back_with_its_scores(kept: Kept) -> None:
    scores.write_cells(kept.connection, kept.act(), [Change("ada", "i0", NINE)], "x")
    before = kept.course()
    entry = edit(kept, plan())
    assert kept.course().scores == {}
    assert entry is not None
    undo_entry(kept.connection, kept.act(), entry)
    assert kept.course() == before


def test_plan_versions_stay_and_nothing_changed_is_no_version(kept: Kept) -> None:
    first = kept.course().plan
    assert edit(kept, first) is None
    edit(kept, replace(first, basis="points"))
    assert plans.latest_version(kept.connection, kept.section) == 2
    assert sections.plan_of(kept.connection, kept.section, 1) == first


def test_a_refused_edit_changes_nothing(kept: Kept) -> None:
    def refuse(_: Plan) -> tuple[Plan, str]:
        raise Refused("weight", "no")

    with pytest.raises(Refused):
        plans.write_plan_version(kept.connection, kept.act(), refuse)
    assert plans.latest_version(kept.connection, kept.section) == 1


def test_settling_and_its_undo(kept: Kept) -> None:
    one = {"ada": Settled("A", "raised"), "bo": Settled("F", never_attended=True)}
    entry = settled.write_grades(kept.connection, kept.act(), one, "two settled")
    assert kept.course().settled == one
    undo_entry(kept.connection, kept.act(), entry)
    assert kept.course().settled == {}
    aside = settled.write_set_aside(kept.connection, kept.act(), "bo", "sits in", "aside")
    assert kept.course().students[1].set_aside == "sits in"
    undo_entry(kept.connection, kept.act(), aside)
    assert kept.course().students[1].set_aside is None


def test_another_persons_section_is_not_there(kept: Kept) -> None:
    other = people.add_person(kept.connection, Act(None, AT), "idris@larkmoor.example", "Idris", "hash")
    assert sections.section_of(kept.connection, other, kept.section) is None
    assert sections.sections_of(kept.connection, other) == []
    assert history.entry_of(kept.connection, kept.section + 1, 2) is None


def test_a_receipt_is_kept_for_good(kept: Kept) -> None:
    rows = [GradeRow("ada", "A"), GradeRow("bo", "B")]
    signed = SignedCopy("final", rows, "the course", "the findings")
    made = submissions.write_signature(kept.connection, kept.act(), "key-1", signed, 0)
    with pytest.raises(ChangedSinceError, match="signed in another window"):
        submissions.write_signature(kept.connection, kept.act(), "key-2", signed, 0)
    answers = (RowAnswer("ada", "A", True, None), RowAnswer("bo", "B", False, "no"))
    first, second = Receipt("R-1", "now", 1, 1, digest(rows), answers), Receipt("R-2", "later", 0, 0, digest(rows), ())
    assert submissions.write_receipt(kept.connection, kept.act(), made, first)
    assert not submissions.write_receipt(kept.connection, kept.act(), made, second)
    found = submissions.submissions_of(kept.connection, kept.section)
    assert [(s.state, s.receipt and s.receipt.number) for s in found] == [("received", "R-1")]
    assert accepted_rows(found) == {"ada": GradeRow("ada", "A")}
    assert refusals(found) == {"bo": "no"}
    with pytest.raises(ChangedSinceError, match="went out already"):
        submissions.write_withdrawal(kept.connection, kept.act(), made)
    assert len(submissions.submissions_of(kept.connection, kept.section)) == 1


def test_the_offices_records_replace_the_earlier_ones(kept: Kept) -> None:
    for records in (roster("ada"), roster("ada", "bo")):
        pulled = registrar.Pulled("R1", records, HOURS, None)
        registrar.save_registrar_answer(kept.connection, kept.act(), pulled, "pulled")
    assert kept.course().records == roster("ada", "bo")
    assert registrar.hours_of(kept.connection, kept.section) == HOURS


def test_a_pull_with_nothing_new_moves_the_time_and_writes_no_history(kept: Kept) -> None:
    pulled = registrar.Pulled("R1", roster("ada"), HOURS, None)
    registrar.save_registrar_answer(kept.connection, kept.act(), pulled, "pulled")
    later = replace(kept.act(), at=AT + timedelta(minutes=5))
    registrar.save_registrar_answer(kept.connection, later, pulled, "pulled")
    entries = [e["what"] for e in history.entries_of(kept.connection, kept.section)]
    assert entries.count("pulled") == 1
    row = kept.connection.execute("SELECT pulled_at FROM office_records").fetchone()
    assert row["pulled_at"] == (AT + timedelta(minutes=5)).isoformat()


def test_tries_are_slowed_down_after_five_failures(kept: Kept) -> None:
    for n in range(5):
        assert people.seconds_to_wait(kept.connection, "a@b", "here", 100.0 + n) == 0
        people.note_failure(kept.connection, "A@b", "here", 100.0 + n)
    assert people.seconds_to_wait(kept.connection, "a@b", "elsewhere", 105.0) > 0
    assert people.seconds_to_wait(kept.connection, "other@b", "here", 105.0) == 0
    assert people.seconds_to_wait(kept.connection, "a@b", "here", 105.0 + people.WINDOW_SECONDS) == 0
    people.clear_failures(kept.connection, "a@b")
    assert people.seconds_to_wait(kept.connection, "a@b", "here", 105.0) == 0
