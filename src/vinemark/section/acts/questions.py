"""A student asks about a score, the instructor answers there."""

from vinemark.core.base.limits import NOTE_LIMIT, more_than
from vinemark.core.base.refused import Refused
from vinemark.section.acts.tell import Teller
from vinemark.section.letters import answered_letter
from vinemark.section.outcome import Done, Outcome, act
from vinemark.section.state import SectionState
from vinemark.section.statement import StudentsSection
from vinemark.store import outbox
from vinemark.store.database import Connection, transaction
from vinemark.store.history import Act, AlreadyDoneError, refuse_repeated
from vinemark.store.questions import Question, write_question, write_question_answer

MOST_QUESTIONS = 100
"""Of one student in one section."""


def ask_about_score(connection: Connection, found: StudentsSection, request: Act, item_id: str, typed: str) -> Outcome:
    """Ask about one's own visible score; another question about it waits for the answer to the last."""
    text, item = _text(typed), found.statement.whole.columns.get(item_id)
    if isinstance(text, Refused):
        return text
    if item is None or not found.may_ask(item_id):
        return Refused("question", "can be asked about a score that you see")
    if any(one.answer is None for one in found.questions.get(item_id, ())):
        return Refused("question", "waits for the answer to the one before")
    if sum(len(asked) for asked in found.questions.values()) >= MOST_QUESTIONS:
        return Refused("question", "is one too many; talk to your instructor")
    what = f"{found.student.plain_name} asked about {item.name}"
    try:
        with transaction(connection):
            refuse_repeated(connection, request)
            return Done("Asked.", write_question(connection, request, found.student.id, item_id, text, what))
    except AlreadyDoneError as done:
        return Done("Asked.", done.entry)


@act
def answer(section: SectionState, request: Act, question: Question, typed: str, teller: Teller) -> Done:
    """Answer a question, or say it in other words; the student reads it at the score, and is told by email the first
    time, where letters can be sent."""
    text = _text(typed)
    if isinstance(text, Refused):
        raise text
    if text == question.answer:
        return Done()
    student = section.course.student(question.student_id)
    item = section.course.plan.columns.get(question.item_id)
    about = f"{student.plain_name if student else question.student_id} about {item.name if item else question.item_id}"
    entry = write_question_answer(section.connection, request, question, text, teller.name, f"answered {about}")
    if teller.link and question.answer is None and student and student.email:
        link = teller.link(student.email)
        letter = answered_letter(student.email, section.record.name, item.name if item else question.item_id, link)
        outbox.put_letters(section.connection, request.at, [letter], section.id)
    return Done(f"Answered {about}.", entry)


def _text(typed: str) -> str | Refused:
    text = "\n".join(line.rstrip() for line in typed.strip().splitlines())
    if not text:
        return Refused("question", "is empty")
    return text if len(text) <= NOTE_LIMIT.most else Refused("question", more_than(NOTE_LIMIT))
