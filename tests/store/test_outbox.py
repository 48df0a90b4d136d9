"""Letters wait, are sent, recalled or given up; their text goes with that."""

from datetime import datetime, timedelta

from tests.store.conftest import AT, Kept
from vinemark.store import outbox, undo, visibility
from vinemark.store.outbox import Letter

ADA = Letter("ada@larkmoor.example", "Something new", "Read it: http://localhost/secret")
SOON = AT + timedelta(minutes=2)


def due(kept: Kept, at: datetime = AT) -> list[str]:
    return [one.letter.to for one in outbox.due_letters(kept.connection, at, 100)]


def text_of(kept: Kept) -> str | None:
    row = kept.connection.execute("SELECT text FROM letter").fetchone()
    return None if row is None else row["text"]


def test_a_letter_is_due_at_once(kept: Kept) -> None:
    outbox.put_letters(kept.connection, AT, [ADA], kept.section)
    (found,) = outbox.due_letters(kept.connection, AT, 100)
    assert (found.letter, found.made_at, found.tries) == (ADA, AT, 0)
    outbox.note_letter_ended(kept.connection, found.id, AT, "sent")
    assert due(kept, SOON) == []
    assert text_of(kept) is None
    (fate,) = outbox.letter_fates(kept.connection, kept.section)
    assert (fate.to, fate.state, fate.said) == (ADA.to, "sent", "")


def test_what_can_be_undone_waits_and_is_recalled_with_it(kept: Kept) -> None:
    entry = visibility.write_grades_visible(kept.connection, kept.act(), "final", "settled")
    outbox.put_letters(kept.connection, AT, [ADA], kept.section, entry)
    assert due(kept) == []
    assert due(kept, SOON) == [ADA.to]
    undo.undo_entry(kept.connection, kept.act(), entry)
    assert outbox.recall_undone(kept.connection, SOON) == 1
    assert due(kept, SOON) == []
    assert text_of(kept) is None
    assert [one.state for one in outbox.letter_fates(kept.connection, kept.section)] == ["recalled"]


def test_one_that_was_not_taken_is_tried_later(kept: Kept) -> None:
    outbox.put_letters(kept.connection, AT, [ADA], kept.section)
    (found,) = outbox.due_letters(kept.connection, AT, 100)
    outbox.note_letter_later(kept.connection, found.id, SOON, "busy")
    assert due(kept) == []
    (again,) = outbox.due_letters(kept.connection, SOON, 100)
    assert (again.name, again.tries) == (found.name, 1)
    assert [one.said for one in outbox.letter_fates(kept.connection, kept.section)] == ["busy"]


def test_students_are_told_in_the_history(kept: Kept) -> None:
    entry = outbox.write_told(kept.connection, kept.act("k"), [ADA], ["ada"], "1 student told")
    row = kept.connection.execute("SELECT kind, after FROM history WHERE id = ?", (entry,)).fetchone()
    assert tuple(row) == ("told", '{"students": ["ada"]}')
    assert due(kept) == [ADA.to]


def test_how_many_went_to_an_address_is_counted(kept: Kept) -> None:
    outbox.put_letters(kept.connection, AT, [ADA, ADA])
    hour = timedelta(hours=1)
    assert outbox.letters_since(kept.connection, "ADA@larkmoor.example", ADA.subject, AT - hour) == 2
    assert outbox.letters_since(kept.connection, ADA.to, ADA.subject, AT + hour) == 0
    assert outbox.letters_since(kept.connection, ADA.to, "Another", AT - hour) == 0


def test_letters_go_with_their_section_their_address_and_their_time(kept: Kept) -> None:
    outbox.put_letters(kept.connection, AT, [ADA, Letter("bo@larkmoor.example", "x", "y")], kept.section)
    outbox.put_letters(kept.connection, AT, [ADA])
    outbox.forget_letters(kept.connection, kept.section, ADA.to)
    assert due(kept) == ["bo@larkmoor.example", ADA.to]
    kept.connection.execute("DELETE FROM section WHERE id = ?", (kept.section,))
    (left,) = outbox.due_letters(kept.connection, AT, 100)
    outbox.note_letter_ended(kept.connection, left.id, AT, "sent")
    outbox.recall_undone(kept.connection, AT + outbox.KNOWN_FOR + timedelta(days=1))
    assert kept.connection.execute("SELECT count(*) FROM letter").fetchone()[0] == 0
