"""Which column of a file is which item, and which row is which student: sure matches, and near ones to propose.

Only an id, an email address or a whole name decides by itself; what is merely alike is proposed to a person.
"""

import hashlib
import json
import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field

from rapidfuzz import fuzz, process

from vinemark.core.base.names import folded
from vinemark.core.course.course import Course, Student
from vinemark.core.scores.paste import items_by_name
from vinemark.exchange.tables import Table, TableRow, cell_at, find_columns

COLUMNS = {
    "id": ("id", "studentid", "studentnumber", "studentno", "sid", "number", "idnumber", "campusid", "personid"),
    "family": ("familyname", "lastname", "surname", "last", "family", "nachname"),
    "given": ("givenname", "firstname", "forename", "first", "given", "givennames", "preferredname"),
    "email": ("email", "emailaddress", "mail", "studentemail"),
    "name": ("name", "student", "studentname", "fullname"),
}  # fmt: skip
"""Headings of what says who a row is."""
NEAR_ITEM = 65
NEAR_NAME = 80
PERSON = ("id", "email", "family", "given", "name")
LATE = "late:"
"""Begins the target of a column of late days; the item's id follows."""
LATE_WORDS = re.compile(r"\b(?:days?[\s_-]+late|late[\s_-]+days?|late(?:ness)?)\b", re.IGNORECASE)
NOBODY = "-"
LEAVE_OUT = ""

# 'Quiz 1 (10)', 'Quiz 1 [out of 10]', 'Quiz 1 /10': the points beside a heading are no part of its name.
POINTS_BESIDE = re.compile(r"(?<!\s)\s*(?:[\(\[][^\(\)\[\]]*\d[^\(\)\[\]]*[\)\]]|/\s*\d+(?:\.\d+)?)\s*$")


@dataclass(frozen=True)
class Matching:
    """What somebody decided for files of one shape: columns by place ('' is left out), people by what rows say."""

    columns: Mapping[int, str] = field(default_factory=dict)
    people: Mapping[str, str] = field(default_factory=dict)

    def as_text(self) -> str:
        """For keeping."""
        columns = {str(index): target for index, target in self.columns.items()}
        return json.dumps({"columns": columns, "people": dict(self.people)}, ensure_ascii=False)

    @classmethod
    def from_text(cls, text: str | None) -> "Matching":
        """As kept; empty where nothing was."""
        kept = json.loads(text) if text else {}
        columns = {int(index): target for index, target in kept.get("columns", {}).items()}
        return cls(columns, kept.get("people", {}))


def shape_of(table: Table) -> str:
    """A name for files with the same headings."""
    return hashlib.sha256("\n".join(folded(heading) for heading in table.heading).encode()).hexdigest()


@dataclass(frozen=True)
class ColumnMatch:
    """One column: its target (a person field, an item id, or '' for left out), why, and an item it is like."""

    index: int
    heading: str
    samples: Sequence[str]
    target: str
    why: str
    near: str = ""

    @property
    def late_item(self) -> str:
        """The item whose late days it holds; empty for any other column."""
        return self.target.removeprefix(LATE) if self.target.startswith(LATE) else ""


@dataclass(frozen=True)
class RowMatch:
    """One row: what it says of a person, the student it is (None for nobody), why, and a student it is like."""

    row: TableRow
    says: str
    student: str | None
    why: str
    near: str = ""


def match_columns(table: Table, course: Course, known: Matching) -> list[ColumnMatch]:
    """Every column of the table; what was decided before holds while the item is still there."""
    people = {index: name for name, index in find_columns(table.heading, COLUMNS).items()}
    by_name = items_by_name(course)
    taken: set[str] = set()
    found = []
    last = LEAVE_OUT
    for index, heading in enumerate(table.heading):
        target, why = _column(index, heading, people, by_name, course, known)
        if target == LEAVE_OUT and not why and LATE_WORDS.search(heading):
            target, why = _late_column(heading, by_name, last)
        last = target if target in course.plan.placed else last
        if target in taken:
            target, why = LEAVE_OUT, "is in the file twice"
        taken |= {target} - {LEAVE_OUT}
        samples = [cell_at(row, index) for row in table.rows[:60]]
        found.append(ColumnMatch(index, heading, [s for s in samples if s][:3], target, why))
    free = {i.name: i.id for i in course.plan.columns.values() if i.id not in taken}
    decided = set(known.columns)
    return [c if c.target or c.index in decided else _with_near(c, free) for c in found]


def _column(
    index: int, heading: str, people: Mapping[int, str], by_name: Mapping[str, str], course: Course, known: Matching
) -> tuple[str, str]:
    if index in known.columns:
        target = known.columns[index]
        late = target.removeprefix(LATE) if target.startswith(LATE) else ""
        if target == LEAVE_OUT or target in PERSON or target in course.plan.columns or late in course.plan.placed:
            return target, "as you matched it"
    if index in people:
        return people[index], "its heading"
    item = by_name.get(folded(heading)) or by_name.get(folded(POINTS_BESIDE.sub("", heading)))
    return (item, "the same name") if item else (LEAVE_OUT, "")


def _late_column(heading: str, by_name: Mapping[str, str], before: str) -> tuple[str, str]:
    """Late days of the item that the heading names, or of the one in the column before."""
    rest = " ".join(LATE_WORDS.sub(" ", heading).strip(" -–_:()[]").split())
    item = by_name.get(folded(rest)) if rest else before
    return (LATE + item, "late days" if rest else "late days of the column before") if item else (LEAVE_OUT, "")


def _with_near(column: ColumnMatch, free: Mapping[str, str]) -> ColumnMatch:
    plain = POINTS_BESIDE.sub("", column.heading)
    best = process.extractOne(plain, free.keys(), scorer=fuzz.WRatio, processor=_words, score_cutoff=NEAR_ITEM)
    if best is None or not column.heading or _numbers(best[0]) != _numbers(plain):
        return column
    return ColumnMatch(column.index, column.heading, column.samples, LEAVE_OUT, column.why, free[best[0]])


def _words(text: str) -> str:
    return " ".join(folded(part) for part in re.split(r"[\s_\-]+|(?<=[a-z])(?=[A-Z0-9])", text))


def _numbers(text: str) -> list[int]:
    """Quiz 1 and Quiz 11 are alike in letters only: the numbers must be the same."""
    return [int(number) for number in re.findall(r"\d+", text)]


def match_rows(table: Table, columns: Iterable[ColumnMatch], course: Course, known: Matching) -> list[RowMatch]:
    """Every row of the table: by id, else by email address, else by the whole name."""
    indices = {column.target: column.index for column in columns if column.target in PERSON}
    index = _PeopleIndex(course.students)
    return [_row(row, indices, index, known) for row in table.rows]


def _row(row: TableRow, indices: Mapping[str, int], index: "_PeopleIndex", known: Matching) -> RowMatch:
    says = {name: cell_at(row, index) for name, index in indices.items()}
    name = says.get("name") or " ".join(filter(None, (says.get("given"), says.get("family"))))
    shown = " · ".join(dict.fromkeys(filter(None, (says.get("id"), name, says.get("email"))))) or "nothing"
    decided = known.people.get(shown)
    if decided is not None and (decided == NOBODY or decided in index.ids):
        return RowMatch(row, shown, None if decided == NOBODY else decided, "as you matched it")
    for kind, value, found in (
        ("id", says.get("id"), index.ids.get(says.get("id") or "")),
        ("email address", says.get("email"), index.emails.get((says.get("email") or "").casefold())),
        ("name", name, index.names.get(folded(name))),
    ):
        if value and found:
            # A row whose id belongs to nobody is not sure by its name alone.
            if kind == "name" and says.get("id"):
                return RowMatch(row, shown, None, "", found)
            return RowMatch(row, shown, found, kind)
    return RowMatch(row, shown, None, "", index.near(name, says.get("id") or ""))


class _PeopleIndex:
    """The students by everything that names only one of them."""

    def __init__(self, students: Sequence[Student]) -> None:
        self.ids = {s.id: s.id for s in students}
        self.emails = _only(((s.email or "").casefold(), s.id) for s in students)
        self.names = _only(
            (folded(text), s.id)
            for s in students
            for text in {f"{s.given_name} {s.family_name}", f"{s.family_name} {s.given_name}"}
        )
        self._spelled = {s.id: s.plain_name for s in students}

    def near(self, name: str, number: str) -> str:
        """A student whose name or id is like this one; '' where none is."""
        if name:
            best = process.extractOne(
                name, self._spelled, scorer=fuzz.token_sort_ratio, processor=_words, score_cutoff=NEAR_NAME
            )
            if best is not None:
                return str(best[2])
        alike = [s for s in self.ids if number and folded(s).lstrip("0") == folded(number).lstrip("0")]
        return alike[0] if len(alike) == 1 else ""


def _only(pairs: Iterable[tuple[str, str]]) -> dict[str, str]:
    """Keys that stand for one student alone."""
    found: dict[str, set[str]] = {}
    for key, student in pairs:
        found.setdefault(key, set()).add(student)
    return {key: next(iter(ids)) for key, ids in found.items() if key and len(ids) == 1}
