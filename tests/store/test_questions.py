"""A question and its answer stay with the cell, go with its student, and follow another ID."""

from dataclasses import replace

from tests.store.conftest import AT, Kept
from vinemark.store.class_list import put_ids
from vinemark.store.questions import questions_of, write_question, write_question_answer


def test_a_question_is_kept_and_answered(kept: Kept) -> None:
    write_question(kept.connection, kept.act("1"), "ada", "i0", "Why 5?", "Ada asked")
    (asked,) = questions_of(kept.connection, kept.section)
    assert (asked.student_id, asked.item_id, asked.text, asked.answer) == ("ada", "i0", "Why 5?", None)
    write_question_answer(kept.connection, kept.act("2"), asked, "Two steps were missing.", "Maren", "answered")
    (answered,) = questions_of(kept.connection, kept.section)
    assert replace(answered, answered_at=None, asked_at=AT) == replace(
        asked, asked_at=AT, answer="Two steps were missing.", answered_by="Maren"
    )
    entry = kept.connection.execute("SELECT kind, before, after FROM history ORDER BY id DESC").fetchone()
    assert tuple(entry) == ("question", '[["ada", "i0", null]]', '[["ada", "i0", "Two steps were missing."]]')


def test_an_answer_to_a_question_that_is_gone_changes_no_other(kept: Kept) -> None:
    write_question(kept.connection, kept.act("1"), "ada", "i0", "Why 5?", "Ada asked")
    (asked,) = questions_of(kept.connection, kept.section)
    write_question_answer(
        kept.connection, replace(kept.act("2"), section_id=kept.section), replace(asked, id=99), "x", "M", "a"
    )
    assert questions_of(kept.connection, kept.section) == [asked]


def test_it_goes_with_its_student(kept: Kept) -> None:
    write_question(kept.connection, kept.act("1"), "ada", "i0", "Why 5?", "Ada asked")
    kept.connection.execute("DELETE FROM student WHERE id = 'ada'")
    assert questions_of(kept.connection, kept.section) == []


def test_it_follows_another_id(kept: Kept) -> None:
    write_question(kept.connection, kept.act("1"), "ada", "i0", "Why 5?", "Ada asked")
    put_ids(kept.connection, kept.section, {"ada": "L00001"})
    assert [one.student_id for one in questions_of(kept.connection, kept.section)] == ["L00001"]
