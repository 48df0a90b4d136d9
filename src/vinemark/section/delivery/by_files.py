"""A registrar that is spoken to by files in folders, with the columns that its own system has: no program is needed on
its side. It answers like the one over HTTP, so that nothing else differs.

What went out is kept under its key in a folder of its own, so that a key never goes out twice or for something else.
"""

import copy
import fcntl
import json
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from pathlib import Path
from typing import Any, Final

from vinemark.clock import Clock
from vinemark.core.base.moments import college_time, stamp
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import RosterEntry, Run, SectionName, Student
from vinemark.core.course.read_records import read_roster_entry
from vinemark.core.submit.grade_row import GradeRow, read_grade_row, row_values
from vinemark.core.submit.hours import OfficeHours, Window, gate
from vinemark.core.submit.receipt import Receipt, RowAnswer
from vinemark.core.submit.submission import Submission
from vinemark.exchange.file_map import FileMap, Incoming, read_file_map
from vinemark.office.answers import ChangeAnswer, HeldGrades, OfficeRoster, OfficeSection
from vinemark.office.client import AnswerAwaitedError, OfficeBusyError, OfficeDownError, OfficeRefusedError
from vinemark.store.copying import write_whole

MAP: Final = "registrar.toml"
OUT, IN, KEPT = "to-registrar", "from-registrar", "kept"
SHORT_KEY: Final = 8


@dataclass(frozen=True)
class Line:
    """A line of a file that came in, and when the file came."""

    values: Mapping[str, str]
    came: datetime


@dataclass(frozen=True)
class Answered:
    """What became of a row, and when it was said."""

    answer: RowAnswer
    came: datetime


class FileOffice:
    """The registrar by files in a folder, asked for one instructor."""

    def __init__(self, folder: Path, clock: Clock) -> None:
        self._folder, self._clock, self._instructor = folder, clock, ""

    def for_instructor(self, email: str) -> "FileOffice":
        """The same registrar, asked for one instructor."""
        bound = copy.copy(self)
        bound._instructor = email.casefold()
        return bound

    # --- what came in ---------------------------------------------------------------------------

    def sections(self) -> list[OfficeSection]:
        """The sections of the instructor."""
        found = self._map()
        return [_section(found, ref, lines) for ref, lines in self._rosters(found).items()]

    def roster(self, ref: str) -> OfficeRoster:
        """One section with its roster, and what is set for all. Nobody has to carry files: none is offered."""
        found = self._map()
        lines = self._rosters(found).get(ref)
        if lines is None:
            raise OfficeDownError(f"no roster of {ref} came for {self._instructor}", reached=False)
        section = _section(found, ref, lines)
        students = [
            Student(v["id"], v["family_name"], v["given_name"], v.get("email") or None)
            for v in (one.values for one in lines)
        ]
        records = replace(found.rules, roster=tuple(_entry(one) for one in lines))
        return OfficeRoster(section, students, records, OfficeHours(section.windows), None)

    def held(self, ref: str, run: Run) -> HeldGrades:
        """What the registrar took by its answers, and what stands on the record by its files of posted grades."""
        found = self._map()
        taken: dict[str, GradeRow] = {}
        answers = self._answers(found)
        for kept in self._kept("grades"):
            if (kept["section"], kept["run"]) == (ref, run):
                said = answers.get(kept["key"], {})
                sent = map(read_grade_row, kept["rows"])
                taken |= {row.id: row for row in sent if row.id in said and said[row.id].answer.accepted}
        posted = [one for one in self._lines(found, found.posted, "posted*.csv") if _is_of(one, ref, run)]
        for one in posted:
            student, code = one.values["id"], one.values["code"]
            if student not in taken or taken[student].code != code:
                taken[student] = GradeRow(student, code)
        at = stamp(max(one.came for one in posted)) if posted else None
        changes = [self._change(found, kept) for kept in self._kept("change") if kept["section"] == ref]
        return HeldGrades(sorted(taken.values(), key=lambda row: row.id), at, (), changes if run == "final" else ())

    # --- what goes out --------------------------------------------------------------------------

    def submit(self, ref: str, submission: Submission) -> Receipt:
        """The file goes out once; the receipt once every row of it is answered."""
        found = self._map()
        with self._alone():
            kept = self._out("grades", submission.key) or self._send_grades(found, ref, submission)
        if (kept["section"], kept["run"], kept["digest"]) != (ref, submission.run, submission.digest):
            raise OfficeRefusedError("this key was used for another submission")
        return self._receipt(found, kept, submission)

    def _send_grades(self, found: FileMap, ref: str, submission: Submission) -> dict[str, Any]:
        roster = self.roster(ref)
        self._refuse_time(roster.hours, submission.run)
        names = {student.id: student.name for student in roster.students}
        lines = [found.grades.line(submission.key, ref, names.get(row.id, ""), row) for row in submission.rows]
        written = _written(found, found.grades.columns, lines)
        return self._send("grades", submission.key, written, {
            "section": ref, "run": submission.run, "digest": submission.digest,
            "rows": [row_values(row) for row in submission.rows],
        })  # fmt: skip

    def ask_change(self, ref: str, key: str, signed_by: str, request: Mapping[str, Any]) -> ChangeAnswer:
        """The request goes out once; its answer is there once it came."""
        found = self._map()
        with self._alone():
            kept = self._out("change", key) or self._send_change(found, ref, key, signed_by, request)
        return self._change(found, kept)

    def _send_change(
        self, found: FileMap, ref: str, key: str, signed_by: str, request: Mapping[str, Any]
    ) -> dict[str, Any]:
        new, old, evidence = request["new"], request.get("old") or {}, request.get("evidence") or {}
        values = {
            "key": key, "section": ref, "id": str(request["student"]), "code": str(new["code"]),
            "old_code": str(old.get("code") or ""), "reason": str(request.get("reason") or ""),
            "signed_by": signed_by, "evidence": str(evidence.get("note") or evidence.get("file") or ""),
        }  # fmt: skip
        line = [values.get(holds, "") for _, holds in found.change_columns]
        return self._send("change", key, _written(found, found.change_columns, [line]), {"section": ref})

    # --- folders --------------------------------------------------------------------------------

    def _map(self) -> FileMap:
        try:
            return read_file_map((self._folder / MAP).read_bytes())
        except OSError as error:
            raise OfficeDownError(f"{self._folder / MAP}: {error.strerror}", reached=False) from error
        except Refused as error:
            raise OfficeDownError(str(error), reached=False) from error

    def _lines(self, found: FileMap, kind: Incoming, pattern: str) -> Iterator[Line]:
        """The lines of all files of a kind, the oldest file first."""
        try:
            files = sorted((path.stat().st_mtime, path) for path in (self._folder / IN).glob(pattern))
            for at, path in files:
                came = college_time(datetime.fromtimestamp(at, UTC))
                yield from (Line(values, came) for values in found.lines(path.read_bytes(), kind, path.name))
        except (OSError, Refused) as error:
            raise OfficeDownError(f"its file cannot be read: {error}") from error

    def _rosters(self, found: FileMap) -> dict[str, list[Line]]:
        """The lines of each section of the instructor, from the newest file that has it."""
        by_section: dict[str, dict[datetime, list[Line]]] = {}
        for line in self._lines(found, found.roster, "roster*.csv"):
            if line.values["instructor"].casefold() == self._instructor:
                by_section.setdefault(line.values["section"], {}).setdefault(line.came, []).append(line)
        return {ref: files[max(files)] for ref, files in by_section.items()}

    def _answers(self, found: FileMap) -> dict[str, dict[str, Answered]]:
        """What became of each student's row, by the key it went out under; the latest word counts."""
        answers: dict[str, dict[str, Answered]] = {}
        for line in self._lines(found, found.answers, "answers*.csv"):
            values = line.values
            if values["result"] not in {"taken", "refused"}:
                raise OfficeDownError(f"its answer has the result {values['result']}, which {MAP} does not name")
            accepted = values["result"] == "taken"
            reason = None if accepted else values.get("reason") or "no reason was given"
            answer = RowAnswer(values["id"], values["code"], accepted, reason)
            answers.setdefault(values["key"], {})[values["id"]] = Answered(answer, line.came)
        return answers

    def _receipt(self, found: FileMap, kept: Mapping[str, Any], submission: Submission) -> Receipt:
        answers = self._answers(found).get(submission.key, {})
        missing = [row.id for row in submission.rows if row.id not in answers]
        if missing:
            part = f"{len(missing)} of {len(submission.rows)} rows are not answered yet"
            waiting = part if answers else "no answer came yet"
            raise AnswerAwaitedError(f"{_file_name('grades', submission.key)} is there for it, and {waiting}")
        rows = tuple(answers[row.id].answer for row in submission.rows)
        came = max(answers[row.id].came for row in submission.rows)
        accepted = sum(row.accepted for row in rows)
        number = f"{kept['section']}-{submission.key[:SHORT_KEY]}"
        return Receipt(number, stamp(came), accepted, len(rows) - accepted, submission.digest, rows)

    def _change(self, found: FileMap, kept: Mapping[str, Any]) -> ChangeAnswer:
        key, state, word, at = str(kept["key"]), "pending", None, None
        for line in self._lines(found, found.change_answers, "change-answers*.csv"):
            if line.values["key"] == key:
                state, word, at = line.values["state"], line.values.get("word") or None, stamp(line.came)
        if state not in {"pending", "granted", "refused"}:
            raise OfficeDownError(f"its answer has the result {state}, which {MAP} does not name")
        return ChangeAnswer(key, key[:SHORT_KEY], state, word, kept["at"], at)  # type: ignore[arg-type]

    def _refuse_time(self, hours: OfficeHours, run: Run) -> None:
        now = gate(hours, run, self._clock.now())
        if now.state == "closed":
            raise OfficeRefusedError(now.reason)
        if now.until is not None:
            raise OfficeBusyError(now.reason, now.until)

    def _kept(self, kind: str) -> list[dict[str, Any]]:
        """What went out, in the order in which it did."""
        files = (self._folder / KEPT).glob(f"{kind}-*.json")
        found = [json.loads(path.read_text(encoding="utf-8")) for path in files]
        return sorted(found, key=lambda kept: (kept["number"], kept["key"]))

    def _out(self, kind: str, key: str) -> dict[str, Any] | None:
        """What went out under a key; the file is put there again where a crash kept it from its place."""
        path = self._folder / KEPT / f"{kind}-{key}.json"
        if not path.exists():
            return None
        kept: dict[str, Any] = json.loads(path.read_text(encoding="utf-8"))
        waiting = path.with_suffix(".csv")
        if waiting.exists():
            waiting.replace(self._folder / OUT / _file_name(kind, key))
        return kept

    def _send(self, kind: str, key: str, written: bytes, more: Mapping[str, Any]) -> dict[str, Any]:
        """First the file and what it says are kept, then it goes to its place: once, whenever it breaks off."""
        kept = {"key": key, "at": stamp(self._clock.now()), "number": len(self._kept(kind)) + 1, **more}
        path = self._folder / KEPT / f"{kind}-{key}.json"
        write_whole(path.with_suffix(".csv"), written)
        write_whole(path, json.dumps(kept, ensure_ascii=False).encode())
        path.with_suffix(".csv").replace(self._folder / OUT / _file_name(kind, key))
        return kept

    @contextmanager
    def _alone(self) -> Iterator[None]:
        """Of all processes one looks at a time whether a key went out, and sends it."""
        try:
            for folder in (OUT, KEPT):
                (self._folder / folder).mkdir(exist_ok=True)
            with (self._folder / KEPT / "lock").open("w") as lock:
                fcntl.flock(lock, fcntl.LOCK_EX)
                yield
        except (OSError, ValueError) as error:
            raise OfficeDownError(f"{self._folder}: {error}", reached=False) from error


def _written(found: FileMap, columns: Sequence[tuple[str, str]], lines: Sequence[Sequence[str]]) -> bytes:
    try:
        return found.written(columns, lines)
    except Refused as error:
        raise OfficeDownError(str(error), reached=False) from error


def _file_name(kind: str, key: str) -> str:
    return f"{kind}-{key}.csv"


def _section(found: FileMap, ref: str, lines: Sequence[Line]) -> OfficeSection:
    values = lines[0].values
    mapped = found.terms.get(values["term"])
    if mapped is None:
        raise OfficeDownError(f"{MAP} has no term {values['term']}", reached=False)
    people = sum(one.values.get("status", "enrolled") == "enrolled" for one in lines)
    name = SectionName(values["course"], values.get("title") or values["course"], values.get("number", ""))
    windows: Mapping[Run, Window] = mapped.windows
    return OfficeSection(ref, mapped.term, name, windows, people)


def _entry(line: Line) -> RosterEntry:
    wanted = ("id", "family_name", "given_name", "status", "basis")
    kept = {key: line.values[key] for key in wanted if key in line.values}
    try:
        return read_roster_entry(kept, "roster")
    except Refused as error:
        raise OfficeDownError(f"its roster cannot be read: {error}") from error


def _is_of(line: Line, ref: str, run: Run) -> bool:
    return line.values["section"] == ref and line.values.get("run", "final") == run


def file_folder(address: str) -> Path | None:
    """The folder that an address like files:/srv/registrar names; None for an address of another kind."""
    return Path(address.removeprefix("files:")) if address.startswith("files:") else None
