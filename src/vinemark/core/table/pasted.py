"""Students pasted as text, one a line: names, or numbers and names, or whole rows of a list."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from vinemark.core.table.people import split_name

_COUNTED = re.compile(r"(\d{1,4})[.)] ?(?=[^\d])")
_GIVEN_FIRST = re.compile(r"(?:first|given|full)[^\n]{0,20}(?:last|family|surname)", re.IGNORECASE)
_BULLET = re.compile(r"^[-–—•*] ?")
_EMAIL = re.compile(r"[^\s@,;<>()]{1,64}@[^\s@,;<>()]{1,120}")
_NUMBER = re.compile(r"(?=[A-Za-z]{0,6}[-.]?\d)[A-Za-z0-9][A-Za-z0-9.-]{1,31}")
_HEADINGS = frozenset(
    {"name", "names", "student", "students", "family", "given", "last", "first", "surname", "id", "number", "email",
     "mail", "full", "no", "title"}
)  # fmt: skip


@dataclass(frozen=True)
class PastedPerson:
    """A student as pasted, with the line, counted from 1; `id` is None where none stands there."""

    line: int
    id: str | None
    family_name: str
    given_name: str
    email: str | None


@dataclass(frozen=True)
class PastedPeople:
    """The students of a text, and the lines that name nobody."""

    people: Sequence[PastedPerson]
    unread: Sequence[str]


def read_pasted_people(text: str) -> PastedPeople:
    """The students of a text, a line each. Numbers of lines, bullets and a line of headings are no part of it."""
    lines = [(n, _line(line)) for n, line in enumerate(text.splitlines(), 1) if line.strip()]
    given_first = False
    if lines and _is_heading(lines[0][1]):
        given_first = bool(_GIVEN_FIRST.search(lines[0][1]))
        lines = lines[1:]
    counted = len(lines) > 1 and all(_COUNTED.match(line) for _, line in lines)
    people: list[PastedPerson] = []
    unread: list[str] = []
    for number, line in lines:
        plain = _BULLET.sub("", _COUNTED.sub("", line, count=1) if counted else line, count=1)
        person = _person(number, plain, given_first)
        if person is None:
            unread.append(f"line {number}: “{line[:60]}” names nobody")
        else:
            people.append(person)
    return PastedPeople(people, unread)


def _line(text: str) -> str:
    """A line with single blanks; tabs and semicolons part like commas where no comma does, as cells of a sheet do."""
    cells = [" ".join(cell.split()) for cell in re.split(r"[\t;]", text)]
    filled = [cell for cell in cells if cell]
    return (" " if "," in text or len(filled) < 2 else ", ").join(filled)


def _is_heading(line: str) -> bool:
    words = [word for word in re.split(r"[^a-z]+", line.lower()) if word]
    return bool(words) and all(word in _HEADINGS for word in words)


def _person(line: int, text: str, given_first: bool) -> PastedPerson | None:
    found = _EMAIL.search(text)
    email = found[0] if found else None
    rest = text.replace(email, " ") if email else text
    words = [word for word in re.split(r"[ ;<>()]+", rest.replace(",", " , ")) if word]
    numbers = [word for word in words if _is_number(word)]
    number = numbers[0] if numbers else None
    names = _between([word for word in words if word != number])
    family, given = split_name(names)
    if given_first and "," in names and given:
        family, given = given, family
    if not any(sign.isalpha() for sign in family) or not text.isprintable():
        return None
    return PastedPerson(line, number, family, given, email)


def _is_number(word: str) -> bool:
    return bool(_NUMBER.fullmatch(word))


def _between(words: Sequence[str]) -> str:
    """The words of a name, with the one comma that parts it; commas at its ends are those of a list."""
    kept = [word for n, word in enumerate(words) if word != "," or words[n - 1 : n] != [","]]
    while kept and kept[0] == ",":
        kept = kept[1:]
    while kept and kept[-1] == ",":
        kept = kept[:-1]
    return " ".join(kept).replace(" ,", ",")
