"""Who has a part in a section: roles given, changed and taken; there is always somebody who teaches it."""

from collections.abc import Sequence
from datetime import timedelta

from vinemark.core.base.moments import later
from vinemark.core.base.names import is_email_address
from vinemark.core.base.refused import Refused
from vinemark.core.scores.part_limit import typed_part_limit
from vinemark.section.acts.tell import NOBODY_TELLS, Teller
from vinemark.section.letters import part_letter
from vinemark.section.outcome import Done, act
from vinemark.section.state import SectionState
from vinemark.store import outbox
from vinemark.store.history import Act
from vinemark.store.outbox import Letter
from vinemark.store.section_people import SectionPerson, section_people, write_part_limit, write_role
from vinemark.store.sections import Role

AGAIN_AFTER = timedelta(minutes=10)
ROLE_WORDS: dict[Role, str] = {
    "instructor": "does everything: plan, scores, settling, signing, and who has a part",
    "grader": "enters scores, all or those of some items or students, and sees the plan; settles nothing, and sees no"
    " settled grade",
    "reviewer": "reads all of it and leaves remarks; changes nothing",
}
"""What each may do, in one sentence."""


@act
def give_role(section: SectionState, request: Act, email: str, role: str, teller: Teller = NOBODY_TELLS) -> Done:
    """Give somebody a part by their email address; without an account it waits for one.

    Where letters go they are told by email; an account is made by the link where there is none.
    """
    address = email.strip()
    if not is_email_address(address):
        raise Refused("email", "must be an email address")
    known, wanted = _known(section, address), _role(role)
    if known is not None:
        raise Refused("email", f"has a part already: {known.name} is {known.role}")
    if any((student.email or "").casefold() == address.casefold() for student in section.course.students):
        raise Refused("email", "is a student’s of this class")
    what = f"{address} is {wanted} from now on"
    entry = write_role(section.connection, request, address, wanted, what)
    given = _known(section, address)
    waits = "" if given is not None and given.id is not None else ", once an account has this address"
    if teller.link is None:
        return Done(f"{what}{waits}.", entry)
    outbox.put_letters(section.connection, request.at, [_letter(section, address, wanted, teller)], section.id)
    return Done(f"{what}{waits}. A letter is on its way.", entry)


def _letter(section: SectionState, address: str, role: Role, teller: Teller) -> Letter:
    link = teller.link(address) if teller.link else ""
    return part_letter(address, teller.name, section.record.name, role, link)


@act
def invite_again(section: SectionState, request: Act, email: str, teller: Teller) -> Done:
    """Send the letter once more to somebody who has no account yet."""
    known = _known(section, email)
    if known is None or known.id is not None:
        raise Refused("email", "needs no invitation")
    letter = _letter(section, known.email, known.role, teller)
    if outbox.letters_since(section.connection, letter.to, letter.subject, later(request.at, -AGAIN_AFTER)):
        raise Refused("email", "was sent a letter minutes ago; wait a little before another one")
    outbox.put_letters(section.connection, request.at, [letter], section.id)
    return Done(f"Another letter to {known.email} is on its way.")


@act
def change_role(section: SectionState, request: Act, email: str, role: str) -> Done:
    """Another role for somebody, or with an empty one none any more."""
    known = _known(section, email)
    if known is None:
        raise Refused("email", "has no part any more")
    wanted = _role(role) if role else None
    if wanted == known.role:
        return Done()
    _refuse_without_instructor(section, known, wanted)
    what = f"{known.name} is {wanted} from now on" if wanted else f"{known.name} has no part any more"
    return Done(f"{what}.", write_role(section.connection, request, known.email, wanted, what))


@act
def limit_grader(
    section: SectionState, request: Act, email: str, items: Sequence[str] | None, students: Sequence[str] | None
) -> Done:
    """Limit a grader to some items, some students or both; None leaves nothing out. Raises Refused at the field."""
    known = _known(section, email)
    if known is None or known.role != "grader":
        raise Refused("email", "is no grader")
    limit = typed_part_limit(section.course, items, students)
    if limit == known.limit:
        return Done()
    what = f"{known.name} enters scores of {limit.words(section.course)}"
    return Done(f"{what}.", write_part_limit(section.connection, request, known, limit, what))


def _known(section: SectionState, email: str) -> SectionPerson | None:
    people = section_people(section.connection, section.id)
    return next((one for one in people if one.email.casefold() == email.strip().casefold()), None)


def _role(typed: str) -> Role:
    found = next((role for role in ROLE_WORDS if role == typed), None)
    if found is None:
        raise Refused("role", "must be chosen")
    return found


def _refuse_without_instructor(section: SectionState, known: SectionPerson, wanted: Role | None) -> None:
    teaching = [one for one in section_people(section.connection, section.id) if one.role == "instructor" and one.id]
    if wanted != "instructor" and [one.email for one in teaching] == [known.email]:
        raise Refused("email", "is the only instructor: give somebody else that part first")
