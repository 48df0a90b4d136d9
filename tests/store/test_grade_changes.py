"""Changes of grade: asked once, answered once."""

from datetime import timedelta
from typing import Any

import pytest

from tests.store.conftest import AT, Kept
from vinemark.core.after.grade_change import GradeChange
from vinemark.core.course.course import Settled
from vinemark.core.submit.grade_row import GradeRow
from vinemark.store import grade_changes, history, settled
from vinemark.store.grade_changes import RegistrarWord
from vinemark.store.history import ChangedSinceError


def wanted(student: str = "ada", key: str = "k1", **options: Any) -> GradeChange:
    old, new = GradeRow(student, "C"), GradeRow(student, "B")
    return GradeChange(0, key, student, old, new, Settled("B", "regraded"), "regraded", "the exam", "exam.pdf",
                       "Maren", AT, "waiting", **options)  # fmt: skip


def ask(kept: Kept, change: GradeChange | None = None) -> GradeChange:
    made = grade_changes.write_request(
        kept.connection, kept.act(), change or wanted(), "maren@larkmoor.example", b"%PDF", "asked"
    )
    found = grade_changes.change_of(kept.connection, kept.section, made)
    assert found is not None
    return found


def test_it_is_kept_as_it_was_asked_with_its_evidence(kept: Kept) -> None:
    found = ask(kept)
    assert (found.old, found.new, found.settled) == (wanted().old, wanted().new, wanted().settled)
    assert (found.state, found.reason, found.evidence_note, found.asked_at) == ("waiting", "regraded", "the exam", AT)
    evidence = grade_changes.evidence_of(kept.connection, kept.section, found.id)
    assert evidence == ("exam.pdf", b"%PDF")
    assert grade_changes.evidence_of(kept.connection, kept.section + 1, found.id) is None
    assert grade_changes.asker_email(kept.connection, kept.section, found.id) == "maren@larkmoor.example"


def test_a_second_request_waits_until_the_first_is_answered(kept: Kept) -> None:
    first = ask(kept)
    with pytest.raises(ChangedSinceError):
        ask(kept, wanted(key="k2"))
    ask(kept, wanted("bo", "k3"))
    grade_changes.write_answer(kept.connection, kept.act(), first, RegistrarWord("sent", "C-1"), "the registrar has it")
    with pytest.raises(ChangedSinceError):
        ask(kept, wanted(key="k2"))
    grade_changes.write_answer(kept.connection, kept.act(), first, RegistrarWord("refused", "C-1", "no"), "refused")
    assert ask(kept, wanted(key="k2")).state == "waiting"


def test_granted_it_settles_the_grade_and_a_second_answer_is_nothing_new(kept: Kept) -> None:
    settled.write_grades(kept.connection, kept.act(), {"ada": Settled("C")}, "settled")
    change = ask(kept)
    granted = RegistrarWord("granted", "C-1", "fine", "2026-12-21")
    assert grade_changes.write_answer(kept.connection, kept.act(), change, granted, "granted")
    assert kept.course().settled == {"ada": Settled("B", "regraded")}
    count = len(history.entries_of(kept.connection, kept.section))
    for word in (granted, RegistrarWord("refused", "C-1")):
        assert not grade_changes.write_answer(kept.connection, kept.act(), change, word, "again")
    assert len(history.entries_of(kept.connection, kept.section)) == count
    found = grade_changes.change_of(kept.connection, kept.section, change.id)
    assert found is not None
    assert (found.state, found.number, found.word, found.answered_at) == ("granted", "C-1", "fine", "2026-12-21")


def test_refused_it_settles_nothing(kept: Kept) -> None:
    settled.write_grades(kept.connection, kept.act(), {"ada": Settled("C")}, "settled")
    grade_changes.write_answer(kept.connection, kept.act(), ask(kept), RegistrarWord("refused"), "refused")
    assert kept.course().settled == {"ada": Settled("C")}


def test_what_waits_is_due_again_once_it_was_not_tried_just_now(kept: Kept) -> None:
    change = ask(kept)
    assert [d.id for d in grade_changes.due_changes(kept.connection, AT, timedelta())] == [change.id]
    grade_changes.note_change_waiting(kept.connection, kept.act(), change.id, "the registrar is down")
    assert grade_changes.due_changes(kept.connection, AT, timedelta(seconds=1)) == []
    assert [d.person_id for d in grade_changes.due_changes(kept.connection, AT, timedelta())] == [kept.owner]
    grade_changes.write_answer(kept.connection, kept.act(), change, RegistrarWord("sent"), "the registrar has it")
    assert grade_changes.due_changes(kept.connection, AT, timedelta()) == []
