"""Who has a part in a section: roles given, changed and taken; there is always somebody who teaches it."""

import re

from vinemark.core.base.limits import NAME_LIMIT
from vinemark.core.base.refused import Refused
from vinemark.section.outcome import Done, act
from vinemark.section.state import SectionState
from vinemark.store.history import Act
from vinemark.store.section_people import SectionPerson, section_people, write_role
from vinemark.store.sections import Role

ROLE_WORDS: dict[Role, str] = {
    "instructor": "does everything: plan, scores, settling, signing, and who has a part",
    "grader": "enters scores and sees the plan; settles nothing, and sees no settled grade",
    "reviewer": "reads all of it and leaves remarks; changes nothing",
}
"""What each may do, in one sentence."""


@act
def give_role(section: SectionState, request: Act, email: str, role: str) -> Done:
    """Give somebody a part by their email address; without an account it waits for one."""
    address = email.strip()
    if len(address) > NAME_LIMIT.most or not re.fullmatch(r"[^@\s]+@[^@\s]+", address):
        raise Refused("email", "type an email address")
    known, wanted = _known(section, address), _role(role)
    if known is not None:
        raise Refused("email", f"has a part already: {known.name} is {known.role}")
    if any((student.email or "").casefold() == address.casefold() for student in section.course.students):
        raise Refused("email", "is a student’s of this class")
    what = f"{address} is {wanted} from now on"
    entry = write_role(section.connection, request, address, wanted, what)
    given = _known(section, address)
    waits = "" if given is not None and given.id is not None else ", once an account has this address"
    return Done(f"{what}{waits}.", entry)


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
