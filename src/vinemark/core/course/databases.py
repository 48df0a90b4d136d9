"""Which of a college's databases a section is kept in: by its term, its department or both; the first that takes it."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from vinemark.core.base.refused import Refused
from vinemark.core.course.course import SectionName, Term

SPAN: Final = 10**9
"""So many ids of sections belong to each database: those of number 2 begin at 2,000,000,001."""
MOST_DATABASES: Final = 1_000
HOME: Final = 0
"""The number of the database that has the people, and every section that no other one takes."""
_FIELDS: Final = {"number", "file", "terms", "departments", "address"}


@dataclass(frozen=True)
class KeptApart:
    """One of several databases: its number, which stays, its file, what it takes, and the address of the machine that
    serves it, as other machines reach it."""

    number: int
    file: str
    terms: frozenset[str] = frozenset()
    departments: frozenset[str] = frozenset()
    address: str = ""

    def takes(self, term: Term, name: SectionName) -> bool:
        """Whether a new section of this term and course is kept here."""
        of_term = not self.terms or plain_words(term.name) in self.terms
        return of_term and (not self.departments or department_of(name) in self.departments)

    @property
    def words(self) -> str:
        """What it has, for people: 'HYDR, SOIL, Fall 2026'."""
        return ", ".join([*sorted(one.upper() for one in self.departments), *sorted(one.title() for one in self.terms)])


@dataclass(frozen=True)
class Databases:
    """All databases of a college, the home one first, and the numbers of those that this machine serves."""

    every: Sequence[KeptApart]
    served: frozenset[int]

    @property
    def here(self) -> Sequence[KeptApart]:
        """Those that this machine serves."""
        return [one for one in self.every if one.number in self.served]

    @property
    def elsewhere(self) -> Sequence[KeptApart]:
        """Those that other machines serve."""
        return [one for one in self.every if one.number not in self.served]

    @property
    def home(self) -> KeptApart:
        """The one with the people."""
        return self.every[0]

    def numbered(self, number: int) -> KeptApart | None:
        """The one of a number; None where there is none."""
        return next((one for one in self.every if one.number == number), None)

    def taking(self, term: Term, name: SectionName) -> KeptApart:
        """Where a new section is kept."""
        return next((one for one in self.every[1:] if one.takes(term, name)), self.home)


def number_of(section_id: int) -> int:
    """The number of the database that a section is in."""
    return section_id // SPAN


def plain_words(text: str) -> str:
    """A term or a department in small letters, with single blanks."""
    return " ".join(text.casefold().split())


def department_of(name: SectionName) -> str:
    """What a course begins with: 'hydr' of HYDR 230."""
    found = re.match(r"[^\W\d_]+", name.course.strip())
    return found[0].casefold() if found else ""


def read_databases(listed: object, home: KeptApart) -> Sequence[KeptApart]:
    """The databases of a list as databases.toml has it. Raises Refused at the field that is wrong."""
    if not isinstance(listed, Mapping) or listed.keys() - {"home", "database"}:
        raise Refused("databases.toml", "has [home] and [[database]] and nothing else")
    found = [_home(listed.get("home", {}), home)]
    entries = listed.get("database", [])
    if not isinstance(entries, list):
        raise Refused("database", "must be a list: [[database]]")
    for entry in entries:
        one = _read(entry)
        if any(one.number == other.number or one.file == other.file for other in found):
            raise Refused(f"database {one.number}", "has a number or a file that another one has")
        found.append(one)
    return found


def _home(said: object, home: KeptApart) -> KeptApart:
    if not isinstance(said, Mapping) or said.keys() - {"address"}:
        raise Refused("home", "has an address and nothing else; its file is VINEMARK_DATABASE")
    return KeptApart(HOME, home.file, address=_address(said, "home"))


def _read(entry: object) -> KeptApart:
    if not isinstance(entry, Mapping):
        raise Refused("database", "must be a list: [[database]]")
    number = entry.get("number")
    if type(number) is not int or not 0 < number < MOST_DATABASES:
        raise Refused("database", f"needs a number from 1 to {MOST_DATABASES - 1}, which never changes")
    place = f"database {number}"
    if entry.keys() - _FIELDS:
        raise Refused(place, f"has {', '.join(sorted(entry.keys() - _FIELDS))}, which is not known")
    file = entry.get("file")
    if not isinstance(file, str) or not file:
        raise Refused(place, "needs a file")
    terms, departments = _texts(entry, "terms", place), _texts(entry, "departments", place)
    if not terms and not departments:
        raise Refused(place, "needs terms or departments: what it takes")
    return KeptApart(number, file, terms, departments, _address(entry, place))


def _texts(entry: Mapping[str, object], key: str, place: str) -> frozenset[str]:
    said = entry.get(key, [])
    if not isinstance(said, list) or not all(isinstance(text, str) and text.strip() for text in said):
        raise Refused(place, f"has {key} that are no list of texts")
    return frozenset(plain_words(text) for text in said)


def _address(entry: Mapping[str, object], place: str) -> str:
    said = entry.get("address", "")
    if not isinstance(said, str) or (said and not re.fullmatch(r"https?://[^\s/]+", said)):
        raise Refused(place, "has an address that is none: http://10.0.0.12:8600")
    return said
