"""Departments, terms and choices of a college, and what somebody's part in it lets them do."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields
from datetime import date
from typing import Final, Literal, get_args

from vinemark.core.base.limits import NAME_LIMIT, more_than
from vinemark.core.base.refused import Refused, iso_day
from vinemark.core.course.course import SectionName, Term
from vinemark.core.course.databases import department_of

CollegeRole = Literal["administrator", "chair"]
COLLEGE_ROLES: Final[tuple[CollegeRole, ...]] = get_args(CollegeRole)
COLLEGE_ROLE_WORDS: Final[Mapping[CollegeRole, str]] = {
    "administrator": "makes terms, departments and accounts, and gives parts like this one; sees no section by it",
    "chair": "sees how the sections of a department are coming along, and changes nothing",
}
"""What each may do, in one sentence."""


@dataclass(frozen=True)
class Department:
    """A department by its name, with the subjects that its courses begin with, in small letters."""

    name: str
    subjects: frozenset[str]

    def has(self, section: SectionName) -> bool:
        """Whether a section is one of its own."""
        return department_of(section) in self.subjects

    @property
    def subject_words(self) -> str:
        """'HYDR, SOIL'."""
        return ", ".join(sorted(one.upper() for one in self.subjects))


@dataclass(frozen=True)
class CollegePart:
    """What somebody has to do with the college: whether they administer it, and what they chair."""

    administrator: bool = False
    chairs: Sequence[Department] = ()
    opens: bool = False
    """Whether a chair opens sections of the department as a reviewer."""

    @property
    def subjects(self) -> frozenset[str]:
        """The subjects of the departments that they chair."""
        return frozenset(subject for one in self.chairs for subject in one.subjects)


NO_PART: Final = CollegePart()


@dataclass(frozen=True)
class CollegeChoices:
    """What a college decides for all: whether chairs open sections, and how many terms a section is kept."""

    chairs_open: bool = False
    kept_terms: int = 0
    """So many terms after its own a section is archived and removed; 0 for never."""


def read_department(name: str, subjects: str) -> Department:
    """A department as typed: a name, and subjects like 'HYDR, SOIL'. Raises Refused at the field."""
    plain = _name(name, "name")
    found = frozenset(one.casefold() for one in re.split(r"[\s,;]+", subjects.strip()) if one)
    if not found:
        raise Refused("subjects", "must be what its courses begin with, for example HYDR, SOIL")
    wrong = sorted(one for one in found if not re.fullmatch(r"[^\W\d_]{1,20}", one))
    if wrong:
        raise Refused("subjects", f"are letters alone, as courses begin with them: {wrong[0].upper()} is not")
    return Department(plain, found)


def read_term(name: str, starts: str, ends: str) -> Term:
    """A term as typed. Raises Refused at the field."""
    plain = _name(name, "term")
    days: list[date] = []
    for field, typed in (("starts", starts), ("ends", ends)):
        try:
            days.append(iso_day(typed.strip(), field))
        except Refused:
            raise Refused(field, "must be a day") from None
    if days[0] > days[1]:
        raise Refused("ends", "must not be before the first day")
    return Term(plain, days[0], days[1])


def read_choices(chairs_open: bool, kept_terms: str) -> CollegeChoices:
    """The choices as typed. Raises Refused at the field."""
    typed = kept_terms.strip()
    if typed and not re.fullmatch(r"[0-9]{1,3}", typed):
        raise Refused("kept_terms", "must be a number of terms, or nothing for as long as nobody deletes it")
    return CollegeChoices(chairs_open, int(typed or 0))


def choices_of(kept: Mapping[str, object]) -> CollegeChoices:
    """The choices as they are kept; what is missing is as it is by itself."""
    known = {one.name for one in fields(CollegeChoices)}
    found = {name: value for name, value in kept.items() if name in known}
    return CollegeChoices(bool(found.get("chairs_open", False)), _whole(found.get("kept_terms", 0)))


def _whole(value: object) -> int:
    return value if isinstance(value, int) and not isinstance(value, bool) and value >= 0 else 0


def _name(typed: str, field: str) -> str:
    plain = " ".join(typed.split())
    if not plain:
        raise Refused(field, "must have a name")
    if len(plain) > NAME_LIMIT.most:
        raise Refused(field, more_than(NAME_LIMIT))
    return plain


def term_of_day(terms: Sequence[Term], day: date) -> Term | None:
    """The term that runs on a day, or the next one, or the last."""
    ordered = sorted(terms, key=lambda one: one.starts)
    return next((one for one in ordered if one.ends >= day), ordered[-1] if ordered else None)
