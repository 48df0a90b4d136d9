"""Questions that students ask about a score, and their answers."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from vinemark.core.base.moments import moment_of, stamp
from vinemark.store.database import Connection, Row
from vinemark.store.history import Act, writing


@dataclass(frozen=True)
class Question:
    """A question about one cell; the last three are None until it is answered."""

    id: int
    student_id: str
    item_id: str
    text: str
    asked_at: datetime
    answer: str | None = None
    answered_by: str | None = None
    answered_at: datetime | None = None


def questions_of(connection: Connection, section_id: int) -> Sequence[Question]:
    """All questions of a section, in the order they were asked."""
    rows = connection.execute(
        "SELECT id, student_id, item_id, question, asked_at, answer, answered_by, answered_at FROM question"
        " WHERE section_id = ? ORDER BY id",
        (section_id,),
    ).fetchall()
    return [_question(row) for row in rows]


def _question(row: Row) -> Question:
    answered = moment_of(row["answered_at"]) if row["answered_at"] else None
    return Question(
        row["id"],
        row["student_id"],
        row["item_id"],
        row["question"],
        moment_of(row["asked_at"]),
        row["answer"],
        row["answered_by"],
        answered,
    )


def write_question(connection: Connection, act: Act, student_id: str, item_id: str, text: str, what: str) -> int:
    """Ask; the entry's id."""
    assert act.section_id is not None  # noqa: S101
    with writing(connection, act, "question") as entry:
        entry.what, entry.after = what, [[student_id, item_id, text]]
        connection.execute(
            "INSERT INTO question (section_id, student_id, item_id, question, asked_at) VALUES (?, ?, ?, ?, ?)",
            (act.section_id, student_id, item_id, text, stamp(act.at)),
        )
    return entry.id


def write_question_answer(connection: Connection, act: Act, question: Question, text: str, name: str, what: str) -> int:
    """Answer, or answer in other words; the entry's id."""
    with writing(connection, act, "question") as entry:
        place = [question.student_id, question.item_id]
        entry.what, entry.before, entry.after = what, [[*place, question.answer]], [[*place, text]]
        connection.execute(
            "UPDATE question SET answer = ?, answered_by = ?, answered_at = ? WHERE id = ? AND section_id = ?",
            (text, name, stamp(act.at), question.id, act.section_id),
        )
    return entry.id
