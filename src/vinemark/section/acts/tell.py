"""Students are told by email that there is something new on their statement; what it is they read there."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from vinemark.core.base.limits import NOTE_LIMIT, more_than
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Student
from vinemark.section.letters import told_letter
from vinemark.section.outcome import Done, act
from vinemark.section.state import SectionState
from vinemark.store import outbox
from vinemark.store.history import Act
from vinemark.store.outbox import Letter


@dataclass(frozen=True)
class Teller:
    """Who tells, by name, and what makes a link to the statement for an email address; None where no letters go."""

    name: str
    link: Callable[[str], str] | None


NOBODY_TELLS = Teller("", None)
"""Where no letters go."""


@act
def tell_students(section: SectionState, request: Act, student_id: str, typed: str, teller: Teller) -> Done:
    """Tell one student, or all without an id, with a few words of one's own."""
    more = "\n".join(line.rstrip() for line in typed.strip().splitlines())
    if len(more) > NOTE_LIMIT.most:
        raise Refused("more", more_than(NOTE_LIMIT))
    told = [one for one in with_address(section) if student_id in ("", one.id)]
    if not told:
        raise Refused("student", "has no email address in the class list")
    who = told[0].plain_name if student_id else f"{len(told)} student{'' if len(told) == 1 else 's'}"
    what = f"{who} told by email that there is something new"
    letters = letters_to(section, told, teller, more)
    return Done(f"{what}.", outbox.write_told(section.connection, request, letters, [one.id for one in told], what))


def with_address(section: SectionState) -> Sequence[Student]:
    """The students who can be told."""
    return [one for one in section.course.students if one.email and not one.set_aside]


def letters_to(section: SectionState, students: Sequence[Student], teller: Teller, more: str = "") -> list[Letter]:
    """A letter for each student; none where no letters go."""
    name, link = section.record.name, teller.link
    if link is None:
        return []
    return [told_letter(one.email or "", teller.name, name, link(one.email or ""), more) for one in students]
