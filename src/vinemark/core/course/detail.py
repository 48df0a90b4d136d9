"""What an instructor keeps about a student beside the scores."""

from dataclasses import dataclass, replace
from datetime import date

from vinemark.core.base.limits import FIRST_DAY, LAST_DAY, NAME_LIMIT, OTHER_CENTURY, more_than
from vinemark.core.base.refused import Refused, iso_day, short_note
from vinemark.core.course.course import Student


@dataclass(frozen=True)
class StudentDetail:
    """The name a student goes by, how it is said, a remark, and the day they joined where that was late."""

    preferred: str = ""
    pronunciation: str = ""
    remark: str = ""
    joined: date | None = None


NO_DETAIL = StudentDetail()


@dataclass(frozen=True)
class TypedStudent:
    """A row of the class list as typed."""

    id: str = ""
    family_name: str = ""
    given_name: str = ""
    email: str = ""
    preferred: str = ""
    pronunciation: str = ""
    remark: str = ""
    joined: str = ""


def typed_student(typed: TypedStudent, before: Student) -> Student:
    """A student as corrected. Raises Refused at 'id', 'family_name', 'given_name' or 'email'."""
    family = _name(typed.family_name, "family_name")
    if not family:
        raise Refused("family_name", "type a name")
    number = _name(typed.id, "id") or before.id
    if not number.isprintable():
        raise Refused("id", "holds a sign that cannot be seen")
    email = _name(typed.email, "email")
    if email and ("@" not in email or " " in email):
        raise Refused("email", "is no email address")
    return replace(
        before, id=number, family_name=family, given_name=_name(typed.given_name, "given_name"), email=email or None
    )


def typed_detail(typed: TypedStudent) -> StudentDetail:
    """What is kept beside. Raises Refused at 'preferred', 'pronunciation', 'remark' or 'joined'."""
    joined = iso_day(typed.joined, "joined") if typed.joined else None
    if joined and not FIRST_DAY <= joined <= LAST_DAY:
        raise Refused("joined", OTHER_CENTURY)
    return StudentDetail(
        _name(typed.preferred, "preferred"),
        _name(typed.pronunciation, "pronunciation"),
        short_note(" ".join(typed.remark.split()), "remark"),
        joined,
    )


def _name(typed: str, field: str) -> str:
    found = " ".join(typed.split())
    if len(found) > NAME_LIMIT.most:
        raise Refused(field, more_than(NAME_LIMIT))
    return found
