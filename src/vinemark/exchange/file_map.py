"""How a college's registrar writes its files: which heading holds what, its words for ours; set once, in TOML."""

import csv
import io
import tomllib
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any, Final

from vinemark.core.base.moments import college_time
from vinemark.core.base.refused import Keys, Refused, one_of, rows, text
from vinemark.core.course.course import RUNS, Records, Run, Term
from vinemark.core.course.read_records import as_texts, read_records
from vinemark.core.submit.file_layout import DATES, FileLayout, read_column
from vinemark.core.submit.hours import Window
from vinemark.exchange.csv_text import harmless

ENCODINGS: Final = ("utf-8", "utf-8-sig", "cp1252", "iso-8859-1", "utf-16")
SEPARATORS: Final = (",", ";", "\t", "|")
ROSTER: Final = (
    "section", "term", "course", "title", "number", "instructor", "id", "family_name", "given_name", "email", "status",
    "basis",
)  # fmt: skip
MAY_BE_LEFT_OUT: Final = frozenset({"email", "title", "number", "status", "basis", "reason", "word", "run"})


@dataclass(frozen=True)
class Incoming:
    """A kind of file that comes in: the heading of each value, and the registrar's words for ours."""

    headings: Mapping[str, str]
    words: Mapping[str, str]


@dataclass(frozen=True)
class MappedTerm:
    """A term, and when its runs open and are due."""

    term: Term
    windows: Mapping[Run, Window]


@dataclass(frozen=True)
class FileMap:
    """Everything that is set."""

    encoding: str
    delimiter: str
    grades: FileLayout
    change_columns: Sequence[tuple[str, str]]
    roster: Incoming
    answers: Incoming
    posted: Incoming
    change_answers: Incoming
    terms: Mapping[str, MappedTerm]
    rules: Records

    def lines(self, data: bytes, kind: Incoming, name: str) -> list[dict[str, str]]:
        """The lines of a file that came in, by what they hold. Raises Refused at the file and line."""
        try:
            table = list(
                csv.reader(io.StringIO(data.decode(_reading(self.encoding)), newline=""), delimiter=self.delimiter)
            )
        except (UnicodeDecodeError, csv.Error):
            raise Refused(name, f"is not CSV in {self.encoding}") from None
        if not table:
            raise Refused(name, "is empty")
        at = _places(table[0], kind, name)
        found = []
        for number, line in enumerate(table[1:], 2):
            if any(cell.strip() for cell in line):
                found.append(_values(line, at, kind, len(table[0]), f"{name}, line {number}"))
        return found

    def written(self, columns: Sequence[tuple[str, str]], lines: Iterable[Sequence[str]]) -> bytes:
        """A file that goes out; no text of it is a formula for a spreadsheet. Raises Refused for signs that the
        encoding does not have."""
        out = io.StringIO(newline="")
        writer = csv.writer(out, delimiter=self.delimiter, lineterminator="\r\n")
        writer.writerow([heading for heading, _ in columns])
        writer.writerows([harmless(cell) for cell in line] for line in lines)
        try:
            return out.getvalue().encode(self.encoding)
        except UnicodeEncodeError as error:
            raise Refused(
                "registrar.toml", f"{error.object[error.start]} cannot be written in {self.encoding}"
            ) from None


def read_file_map(data: bytes) -> FileMap:
    """The map as it is set. Raises Refused at its place."""
    try:
        found: Any = tomllib.loads(data.decode("utf-8"))
    except (UnicodeDecodeError, tomllib.TOMLDecodeError) as error:
        raise Refused("registrar.toml", f"is not TOML: {error}") from None
    keys = Keys(found, "registrar.toml", None)
    dates = keys.given("dates", one_of(tuple(DATES)), "YYYY-MM-DD")
    terms = keys.needed("terms", rows(_term))
    return FileMap(
        keys.given("encoding", one_of(ENCODINGS), "utf-8"),
        keys.given("delimiter", one_of(SEPARATORS), ","),
        FileLayout(keys.needed("grades", _columns), dates),
        keys.needed("changes", _columns),
        keys.needed("roster", _incoming(ROSTER)),
        keys.needed("answers", _incoming(("key", "id", "code", "result", "reason"), result=("taken", "refused"))),
        keys.needed("posted", _incoming(("section", "run", "id", "code"))),
        keys.needed("change_answers", _incoming(("key", "state", "word"), state=("granted", "refused"))),
        {one.term.name: one for one in terms},
        read_records(as_texts(found.get("rules", {})), "registrar.toml.rules"),
    )


def _reading(encoding: str) -> str:
    return "utf-8-sig" if encoding == "utf-8" else encoding


def _places(heading: Sequence[str], kind: Incoming, name: str) -> dict[str, int]:
    there = {cell.strip(): place for place, cell in enumerate(heading)}
    missing = [said for said in kind.headings.values() if said not in there]
    if missing:
        raise Refused(f"{name}, line 1", f"has no column {missing[0]}")
    return {holds: there[said] for holds, said in kind.headings.items()}


def _values(line: Sequence[str], at: Mapping[str, int], kind: Incoming, width: int, place: str) -> dict[str, str]:
    if len(line) != width:
        raise Refused(place, f"has {len(line)} columns instead of {width}")
    return {holds: kind.words.get(line[number].strip(), line[number].strip()) for holds, number in at.items()}


def _columns(value: object, field: str) -> tuple[tuple[str, str], ...]:
    keys = Keys(value, field, ("columns",))
    return tuple(keys.needed("columns", rows(read_column)))


class _incoming:  # noqa: N801
    """Reads one kind of file: headings, and words; `listed` are values whose words stand in lists of their own."""

    def __init__(self, holds: Sequence[str], **listed: Sequence[str]) -> None:
        self._holds, self._listed = holds, listed

    def __call__(self, value: object, field: str) -> Incoming:
        ours = [word for words in self._listed.values() for word in words]
        keys = Keys(value, field, (*self._holds, "words", *ours))
        headings = {one: heading for one in self._holds if (heading := self._heading(keys, one))}
        words = dict(keys.maybe("words", _words) or {})
        for ours_word in ours:
            words |= dict.fromkeys(keys.needed(ours_word, rows(text)), ours_word)
        return Incoming(headings, words)

    def _heading(self, keys: Keys, one: str) -> str | None:
        return keys.maybe(one, text) if one in MAY_BE_LEFT_OUT else keys.needed(one, text)


def _words(value: object, field: str) -> Mapping[str, str]:
    keys = Keys(value, field, None)
    return {theirs: keys.needed(theirs, text) for theirs in keys.value}


def _term(value: object, field: str) -> MappedTerm:
    keys = Keys(value, field, ("name", "starts", "ends", *RUNS))
    term = Term(keys.needed("name", text), keys.needed("starts", _day), keys.needed("ends", _day))
    return MappedTerm(term, {run: keys.needed(run, _window) for run in RUNS if run in keys.value})


def _window(value: object, field: str) -> Window:
    keys = Keys(value, field, ("opens", "due"))
    return Window(keys.needed("opens", _moment), keys.needed("due", _moment))


def _day(value: object, field: str) -> date:
    if not isinstance(value, date) or isinstance(value, datetime):
        raise Refused(field, "must be a day, like 2026-08-31")
    return value


def _moment(value: object, field: str) -> datetime:
    if not isinstance(value, datetime):
        raise Refused(field, "must be a day with a time, like 2026-12-21T17:00:00")
    return college_time(value)
