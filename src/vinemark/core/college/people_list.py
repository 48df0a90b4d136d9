"""People of a college from a table: who is invited, with which part."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from vinemark.core.base.limits import NAME_LIMIT
from vinemark.core.base.names import is_email_address
from vinemark.core.college.college import COLLEGE_ROLES, CollegeRole

PEOPLE_HEADINGS: Final[Mapping[str, Sequence[str]]] = {
    "email": ("email", "mail", "emailaddress"),
    "name": ("name", "fullname", "person"),
    "given": ("givenname", "firstname", "given"),
    "family": ("familyname", "lastname", "surname", "family"),
    "role": ("role", "part"),
    "department": ("department", "chairof"),
}
"""Headings with letters alone."""
MOST_LISTED: Final = 5_000


@dataclass(frozen=True)
class ListedPerson:
    """A line of a list: who, and the part; `wrong` says why it is left out, nothing where it is right."""

    line: int
    email: str
    name: str
    role: CollegeRole | None = None
    department: str = ""
    wrong: str = ""


def listed_people(lines: Iterable[tuple[int, Mapping[str, str]]], departments: Sequence[str]) -> Sequence[ListedPerson]:
    """The people of a table's lines, by what its columns are; each address once."""
    found: list[ListedPerson] = []
    seen: set[str] = set()
    for number, values in lines:
        one = _listed(number, values, departments)
        address = one.email.casefold()
        if not one.wrong and address in seen:
            one = ListedPerson(number, one.email, one.name, wrong="stands in the list above")
        seen.add(address)
        found.append(one)
    return found


def _listed(number: int, values: Mapping[str, str], departments: Sequence[str]) -> ListedPerson:
    email = values.get("email", "").strip()
    joined = f"{values.get('given', '')} {values.get('family', '')}"
    name = " ".join((values.get("name") or joined).split())
    role, department = values.get("role", "").strip().casefold(), " ".join(values.get("department", "").split())
    known = next((one for one in departments if one.casefold() == department.casefold()), "")
    kind = next((one for one in COLLEGE_ROLES if one == role), None)
    return ListedPerson(number, email, name, kind, known, _wrong(email, name, role, department, known))


def _wrong(email: str, name: str, role: str, department: str, known: str) -> str:
    if not is_email_address(email):
        return "has no email address"
    if len(name) > NAME_LIMIT.most:
        return "has a name that is too long"
    if role not in {"", "instructor", *COLLEGE_ROLES}:
        return f"has the part {role}; it can be administrator, chair, or nothing"
    if role == "chair" and not known:
        return f"is chair of {department or 'no department'}, which is no department here"
    return ""
