"""A block pasted into the sheet: where it goes, by its own headings and names where it has them."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from vinemark.core.base.names import folded
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Course, Student
from vinemark.core.scores.typed_score import read_plan_score

NAMES_TOLD = 5
_IDENTITY = frozenset(
    {"id", "studentid", "number", "email", "emailaddress", "name", "student", "studentname", "lastname", "firstname",
     "familyname", "givenname", "surname", "last", "first"}
)  # fmt: skip
PastedRows = Sequence[Sequence[str]]


@dataclass(frozen=True)
class PasteTarget:
    """The sheet as it is shown: students and items in order, where the block begins, how many students are hidden."""

    students: Sequence[str]
    items: Sequence[str]
    row: int
    column: int
    hidden: int = 0


@dataclass(frozen=True)
class PastedCell:
    """One cell of the block at its place."""

    student: str
    item: str
    typed: str


@dataclass(frozen=True)
class ReadPaste:
    """The cells at their places, what there is to be said before anything is done, and how many cells are left out.

    Nothing to be said: the block is what it looks like.
    """

    cells: Sequence[PastedCell]
    said: Sequence[str]
    left_out: int


def read_paste(course: Course, rows: PastedRows, target: PasteTarget) -> ReadPaste:
    """A block read against the class and the plan: a first row of headings and first columns of names or IDs say where
    it goes; without them it lies over the sheet as it is shown."""
    reading = _Block(course, [[cell.strip() for cell in row] for row in rows], target)
    return reading.read()


class _Block:
    def __init__(self, course: Course, rows: list[list[str]], target: PasteTarget) -> None:
        self.course = course
        self.target = target
        self.width = max((len(row) for row in rows), default=0)
        self.headings = rows[0] if self._is_heading(rows) else []
        self.body = rows[1:] if self.headings else rows
        self.people = _people(course)
        self.identity = self._identity_columns()
        self.said: list[str] = []

    def read(self) -> ReadPaste:
        items = self._items()
        students = self._students()
        if self.headings:
            self.said.insert(0, f"The first row is a heading and is not pasted: {_some(self.headings)}.")
        cells: list[PastedCell] = []
        left_out = 0
        for row, student in zip(self.body, students, strict=True):
            for column, typed in enumerate(row):
                if column in self.identity or (self.identity and not typed):
                    continue
                item = items.get(column, "")
                if student and item:
                    cells.append(PastedCell(student, item, typed))
                else:
                    left_out += bool(typed)
        if left_out:
            self.said.append(f"{left_out} cell{'s' * (left_out > 1)} would not be pasted.")
        if self.target.hidden and not self.identity and len(self.body) > 1:
            self.said.append(f"{self.target.hidden} students are hidden: the block goes to those that are shown.")
        return ReadPaste(cells, self.said, left_out)

    def _is_heading(self, rows: Sequence[Sequence[str]]) -> bool:
        """Whether the first row names columns: items, what says who a row is, or words over numbers."""
        if len(rows) < 2:
            return False
        names = items_by_name(self.course)
        first = [cell for cell in rows[0] if cell]
        known = sum(folded(cell) in names or folded(cell) in _IDENTITY for cell in first)
        over = [column for column, cell in enumerate(rows[0]) if cell and not self._scores([cell])]
        under = [row[column] for row in rows[1:] for column in over if column < len(row) and row[column]]
        words_over_scores = bool(over) and len(over) == len(first) and self._scores(under)
        return bool(first) and (2 * known >= len(first) or words_over_scores)

    def _scores(self, texts: Sequence[str]) -> bool:
        """Whether nearly all texts are what a cell may hold."""
        read = sum(self._is_score(text) for text in texts)
        return bool(texts) and 10 * read >= 9 * len(texts)

    def _is_score(self, text: str) -> bool:
        item = self.course.plan.columns.get(self.target.items[self.target.column] if self.target.items else "")
        if item is None:
            return False
        try:
            read_plan_score(self.course.plan, item, text)
        except Refused:
            return False
        return True

    def _identity_columns(self) -> list[int]:
        """The first columns that say who a row is: most of their cells name somebody, or a part of a name."""
        found: list[int] = []
        parts = {folded(part) for s in self.course.students for part in (s.family_name, s.given_name)} - {""}
        for column in range(self.width):
            texts = [row[column] for row in self.body if column < len(row) and row[column]]
            said = column < len(self.headings) and folded(self.headings[column]) in _IDENTITY
            naming = sum(_key(text) in self.people or folded(text) in parts for text in texts)
            if not texts or not (said or (2 * naming >= len(texts) and not self._scores(texts))
                                 or (2 * naming > len(texts) and column == 0 and self.width > 1)):  # fmt: skip
                break
            found.append(column)
        return found

    def _items(self) -> dict[int, str]:
        """The item of each column of scores: by the headings, else the columns of the sheet one after the other."""
        scored = [column for column in range(self.width) if column not in self.identity]
        names = items_by_name(self.course)
        by_name = {c: names[folded(h)] for c, h in enumerate(self.headings) if c in scored and folded(h) in names}
        if by_name:
            unknown = [self.headings[c] for c in scored if c < len(self.headings) and c not in by_name]
            if unknown:
                self.said.append(f"Not items of the plan, left out: {_some(unknown)}.")
            return by_name
        shown = self.target.items[self.target.column :]
        return dict(zip(scored, shown, strict=False))

    def _students(self) -> list[str]:
        """Whose each row is: by its names or numbers, else the rows of the sheet one after the other."""
        shown = [*self.target.students[self.target.row :], *([""] * len(self.body))]
        if not self.identity:
            return shown[: len(self.body)]
        found = [self._whose(row) for row in self.body]
        known = [student for student in found if student]
        unknown = [self._says(row) for row, student in zip(self.body, found, strict=True) if not student]
        self.said.append(f"{len(known)} of {len(self.body)} rows are found by name or ID.")
        if unknown:
            self.said.append(f"Nobody here, left out: {_some(unknown)}.")
        if known != [student for student in shown if student][: len(known)]:
            self.said.append("The order is not that of the sheet: each row goes to its own student.")
        return found

    def _says(self, row: Sequence[str]) -> str:
        return " ".join(row[column] for column in self.identity if column < len(row) and row[column])

    def _whose(self, row: Sequence[str]) -> str:
        texts = [row[column] for column in self.identity if column < len(row) and row[column]]
        tries = [*texts, *(f"{one} {other}" for one in texts for other in texts if one != other)]
        return next((self.people[_key(text)] for text in tries if _key(text) in self.people), "")


def _key(text: str) -> str:
    return folded(text.replace("@", " at "))


def _people(course: Course) -> Mapping[str, str]:
    """Students by number, address and whole name, where these name one of them alone."""
    found: dict[str, set[str]] = {}
    for student in course.students:
        for text in _names(student):
            found.setdefault(_key(text), set()).add(student.id)
    return {key: next(iter(ids)) for key, ids in found.items() if key and len(ids) == 1}


def _names(student: Student) -> list[str]:
    both = (student.given_name, student.family_name)
    return [student.id, student.email or "", " ".join(both), " ".join(reversed(both))]


def items_by_name(course: Course) -> Mapping[str, str]:
    """Items by name and by the short label above their column, folded, where only one has it."""
    found: dict[str, set[str]] = {}
    for item in course.plan.columns.values():
        for text in {folded(item.name), folded(item.heading)} - {""}:
            found.setdefault(text, set()).add(item.id)
    return {text: next(iter(ids)) for text, ids in found.items() if len(ids) == 1}


def _some(texts: Sequence[str]) -> str:
    named = [text for text in texts if text]
    more = f" and {len(named) - NAMES_TOLD} more" if len(named) > NAMES_TOLD else ""
    return ", ".join(named[:NAMES_TOLD]) + more
