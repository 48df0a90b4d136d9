"""What in an archive says two things of one matter: rows and receipts, signed copies, history, changes of grade.

Every digest may fit and an archive still contradict itself, where somebody altered a part and mended the digests along
the way. Here each thing is held against all others that speak of it.
"""

import json
from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from vinemark.core.base.chain import ERASING, REWRITTEN, SealedEntry, chain_faults
from vinemark.core.base.moments import moment_of
from vinemark.core.course.cell_text import kept_cell, shown_text
from vinemark.core.course.course import Course, Run
from vinemark.core.course.read_plan import read_plan
from vinemark.core.course.read_records import read_settled
from vinemark.core.submit.grade_row import GradeRow, grade_row, read_grade_row
from vinemark.exchange import course_file
from vinemark.exchange.archive import Archive

Entry = Mapping[str, Any]
KINDS_OF_CELLS = frozenset({"scores", "import"})
RUNS_OF_KIND: Mapping[str, Run] = {"settled-final": "final", "settled-midterm": "midterm"}
ANSWERED = frozenset({"granted", "refused"})
RECEIPT_PARTS = ("received_at", "accepted", "refused", "digest")
ANSWER_PARTS = ("state", "word", "answered_at")


def contradictions(archive: Archive, course: Course) -> list[str]:
    """Every contradiction in words, with its place; the archive is one whose values were all read before."""
    parts = (
        _submissions, _signed_in_history, _chain, _order_of_history, _cells, _settled, _changes, _twice_said,
    )  # fmt: skip
    return [words for part in parts for words in part(archive, course)]


def _is_erased(archive: Archive) -> bool:
    """Whether a student was deleted with all traces: the history then says less than was signed."""
    return any(entry["kind"] == "student-deleted" for entry in archive.history)


# --- submissions, their rows and receipts ---


def _submissions(archive: Archive, _: Course) -> Iterator[str]:
    numbers = Counter(one["receipt"]["number"] for one in archive.submissions if one["receipt"])
    yield from (f"receipt {number}: stands for {count} submissions" for number, count in numbers.items() if count > 1)
    for number, submission in enumerate(archive.submissions, 1):
        place = f"submission {number}"
        rows = [read_grade_row(row) for row in submission["rows"]]
        yield from (f"{place}: {words}" for words in _state(submission))
        yield from (f"{place}: {words}" for words in _receipt(rows, submission["receipt"]))
        yield from (f"{place}: {words}" for words in _signed_copy(submission, rows))


def _state(submission: Mapping[str, Any]) -> Iterator[str]:
    state, receipt = submission["state"], submission["receipt"]
    if (state == "received") != (receipt is not None):
        yield f"is {state}, and {'has a' if receipt else 'has no'} receipt"
    if receipt is not None and submission["withdrawn_at"] is not None:
        yield "was taken back, and has a receipt"
    if state == "signed" and submission["answered_at"] is not None:
        yield "never went out, and was answered"


def _receipt(rows: Sequence[GradeRow], receipt: Mapping[str, Any] | None) -> Iterator[str]:
    if receipt is None:
        return
    answers = {answer["id"]: answer for answer in receipt["rows"]}
    for row in rows:
        answer = answers.pop(row.id, None)
        if answer is None:
            yield f"the receipt does not name {row.id}"
        elif answer.get("code", row.code) not in {row.code, ""}:
            yield f"the receipt names {answer['code']} for {row.id}, sent was {row.code}"
        elif answer["accepted"] and answer.get("reason"):
            yield f"{row.id} is accepted, with a reason why not"
        elif not answer["accepted"] and not answer.get("reason"):
            yield f"{row.id} is refused without a reason"
    yield from (f"the receipt names {student}, who was not sent" for student in answers)
    accepted = sum(answer["accepted"] for answer in receipt["rows"])
    if (receipt["accepted"], receipt["refused"]) != (accepted, len(receipt["rows"]) - accepted):
        yield "the receipt's counts are not those of its rows"


def _signed_copy(submission: Mapping[str, Any], rows: Sequence[GradeRow]) -> Iterator[str]:
    signed = course_file.course_of_text(submission["course"]).for_run(submission["run"])
    for row in rows:
        settled = signed.settled.get(row.id)
        if settled is None:
            yield f"{row.id} was sent, and is not settled in the signed copy"
        elif grade_row(signed, row.id, settled) != row:
            yield f"{row.id} was sent with {row.code}; the signed copy says {settled.grade}"


def _signed_in_history(archive: Archive, _: Course) -> Iterator[str]:
    """Each submission stands in the history, signed with its rows and answered with its receipt, and each the history
    tells of is there."""
    told = [_signing(one["after"]["rows"], one["at"], one["person"]) for one in archive.history if _is_signing(one)]
    there = [_signing(one["rows"], one["signed_at"], one["signed_by"]) for one in archive.submissions]
    if not _is_erased(archive):
        for number, signing in enumerate(there, 1):
            if signing not in told:
                yield f"submission {number}: the history tells of no such signing, with these rows, then and by them"
        gone = sum(signing not in there for signing in told)
        if gone:
            yield f"history: {gone} signing{'' if gone == 1 else 's'} that no submission has"
    heard = {one["after"]["number"]: one["after"] for one in archive.history if _is_receipt(one)}
    have = {one["receipt"]["number"]: one["receipt"] for one in archive.submissions if one["receipt"]}
    for number in sorted(have.keys() ^ heard.keys()):
        told_only = "the history tells of it, no submission has it"
        yield f"receipt {number}: {told_only if number in heard else 'the history does not tell of it'}"
    for number in sorted(heard.keys() & have.keys()):
        if any(heard[number].get(part) != have[number].get(part) for part in RECEIPT_PARTS):
            yield f"receipt {number}: is another than the history tells of"


def _signing(rows: Sequence[object], at: str, person: str | None) -> tuple[list[GradeRow], str, str | None]:
    return [read_grade_row(row) for row in rows], at, person


def _is_signing(entry: Entry) -> bool:
    return entry["kind"] == "signed" and isinstance(entry["after"], Mapping) and "rows" in entry["after"]


def _is_receipt(entry: Entry) -> bool:
    after = entry["after"]
    return entry["kind"] == "sending" and isinstance(after, Mapping) and "number" in after and "digest" in after


# --- the history by itself, and against what stands now ---


def _chain(archive: Archive, _: Course) -> Iterator[str]:
    """The seals follow from each other, and each submission went out with that of its own signature."""
    for entry, words in chain_faults(_sealed(one) for one in archive.history):
        yield f"history, entry {entry}: {words}"
    signed = [(one["after"].get("signed"), one.get("seal", "")) for one in archive.history if _is_signing(one)]
    for number, submission in enumerate(archive.submissions, 1):
        seal = submission.get("history_seal", "")
        of_copy = [sealed for copy, sealed in signed if copy == submission["course_digest"]]
        if seal and of_copy and seal not in of_copy:
            yield f"submission {number}: was sent with another history than stands here"
        receipt = submission["receipt"] or {}
        if receipt.get("history_seal", "") not in {"", seal}:
            yield f"submission {number}: the receipt is for another history"


def _sealed(entry: Entry) -> SealedEntry:
    """An entry as its seal was worked out: values as the texts that are kept of them."""
    before, after = (
        None if value is None else json.dumps(value, ensure_ascii=False) for value in (entry["before"], entry["after"])
    )
    said = [entry["at"], entry["kind"], entry["what"], before, after, entry["person"]]
    rewrote = entry["after"].get(REWRITTEN) if entry["kind"] == ERASING and isinstance(entry["after"], dict) else None
    salt, seal, first_digest = (str(entry.get(name, "")) for name in ("salt", "seal", "first_digest"))
    return SealedEntry(entry["id"], said, entry["undoes"], salt, seal, first_digest, rewrote)


def _order_of_history(archive: Archive, _: Course) -> Iterator[str]:
    seen: dict[int, Entry] = {}
    last = 0
    for entry in archive.history:
        place = f"history, entry {entry['id']}"
        if entry["id"] <= last:
            yield f"{place}: stands after entry {last}"
        last = entry["id"]
        undone = seen.get(entry["undoes"] or 0)
        if entry["undoes"] is not None and undone is None:
            yield f"{place}: undoes entry {entry['undoes']}, which is not there before it"
        elif undone is not None and undone["kind"] != entry["kind"]:
            yield f"{place}: undoes an entry of another kind"
        elif (
            undone is not None
            and entry["kind"] in KINDS_OF_CELLS
            and _is_other(entry, undone)
            and not _is_erased(archive)
        ):
            yield f"{place}: does not put back what entry {undone['id']} changed"
        seen[entry["id"]] = entry


def _is_other(entry: Entry, undone: Entry) -> bool:
    """Whether an undoing of cells puts something else back than what was changed."""
    back = (entry["before"], entry["after"]) == (undone["after"], undone["before"])
    return entry["kind"] in KINDS_OF_CELLS and not back


def _cell_changes(entry: Entry) -> tuple[Sequence[Any], Sequence[Any]] | None:
    """The cells that an entry changed, before and after; None for one of another kind."""
    before, after = entry["before"], entry["after"]
    if entry["kind"] in KINDS_OF_CELLS:
        return before or (), after or ()
    if entry["kind"] == "class-list" and isinstance(before, Mapping) and isinstance(after, Mapping):
        return before.get("cells", ()), after.get("cells", ())
    return None


def _cells(archive: Archive, course: Course) -> Iterator[str]:
    """Each entry began with what the one before it left, and the last one left what stands there now."""
    stands: dict[tuple[str, str], str | None] = {}
    for entry in archive.history:
        changes = _cell_changes(entry)
        if changes is None:
            if entry["kind"] in {"student-id", "student-deleted"}:
                stands.clear()
            continue
        for (student, item, was), (_, _, now) in zip(*changes, strict=False):
            place = (student, item)
            if place in stands and not _same_cell(stands[place], was):
                yield (f"history, entry {entry['id']}: begins with {_cell(was)} at {student}, {item},"
                       f" where {_cell(stands[place])} stood")  # fmt: skip
            stands[place] = now
    for (student, item), text in stands.items():
        known = course.student(student) is not None and item in course.plan.columns
        if known and kept_cell(text) != course.cell(student, item):
            yield (f"course.json: {student} has another score at {item} than the history left:"
                   f" {_cell(text)}")  # fmt: skip


def _same_cell(one: str | None, other: str | None) -> bool:
    return one == other or kept_cell(one) == kept_cell(other)


def _cell(text: str | None) -> str:
    return f"“{shown_text(text)}”" if text is not None else "a blank"


def _settled(archive: Archive, course: Course) -> Iterator[str]:
    """The same of settled grades."""
    for kind, run in RUNS_OF_KIND.items():
        stands: dict[str, str | None] = {}
        for entry in archive.history:
            if entry["kind"] in {"student-id", "student-deleted", "roster", "set-aside"}:
                stands.clear()
            elif entry["kind"] == kind:
                yield from _settled_by(entry, stands)
            elif entry["kind"] == "grade-change" and isinstance(entry["before"], Mapping):
                # A change that is granted settles the grade anew.
                for student in entry["before"]:
                    stands.pop(student, None)
        now = course.for_run(run).settled
        for student, text in stands.items():
            left = read_settled(course_file.parse_json(text), "settled") if text else None
            if course.student(student) is not None and left != now.get(student):
                yield f"course.json: the {run} grade of {student} is another than the history left"


def _settled_by(entry: Entry, stands: dict[str, str | None]) -> Iterator[str]:
    before, after = (dict(value) if isinstance(value, Mapping) else {} for value in (entry["before"], entry["after"]))
    for student, was in before.items():
        if student in stands and stands[student] != was:
            yield f"history, entry {entry['id']}: begins with another grade of {student} than was left"
    stands.update(after)


# --- changes of grade ---


def _changes(archive: Archive, _: Course) -> Iterator[str]:
    entries = [one["after"] for one in archive.history if _is_of_change(one)]
    asked = [(one["old"], one["new"]) for one in entries if "new" in one]
    told = {one["number"]: one for one in entries if one.get("number") and one.get("state") in ANSWERED}
    numbers = [change["number"] for change in archive.changes if change["number"]]
    yield from (f"change of grade {number}: stands twice" for number, n in Counter(numbers).items() if n > 1)
    gone = sum(one not in [(change["old"], change["new"]) for change in archive.changes] for one in asked)
    if gone and not _is_erased(archive):
        yield f"history: {gone} change{'' if gone == 1 else 's'} of grade that the archive does not have"
    for change in archive.changes:
        for words in _change(change, asked, told.get(change["number"] or "")):
            yield f"change of grade {change['number'] or change['key']}: {words}"
    yield from _granted(archive)


def _is_of_change(entry: Entry) -> bool:
    return entry["kind"] == "grade-change" and isinstance(entry["after"], Mapping)


def _change(change: Entry, asked: Sequence[tuple[object, object]], told: Entry | None) -> Iterator[str]:
    """One request against the history: what was asked for, and what was answered."""
    if (change["old"], change["new"]) not in asked:
        yield "the history tells of no such request"
    if (change["state"] in ANSWERED) != (told is not None):
        yield f"is {change['state']}; the history says {told['state'] if told else 'nothing of an answer'}"
    elif told is not None and any(told.get(part) != change[part] for part in ANSWER_PARTS):
        yield "was answered otherwise, by the history"
    if {row["id"] for row in (change["old"], change["new"]) if row} != {change["student_id"]}:
        yield f"is of {change['student_id']}, and its rows are of somebody else"
    if change["settled"]["grade"] != change["new"]["code"]:
        yield "asks for another grade than it settles"


def _granted(archive: Archive) -> Iterator[str]:
    """What the registrar was seen to have after it granted a change shows it."""
    for seen in archive.beside["read_back"]:
        rows, fell_back = (_read_rows(seen[name]) for name in ("rows", "fell_back"))
        last = {one["student_id"]: one for one in archive.changes if one["state"] == "granted"}
        for student, change in last.items() if seen["run"] == "final" else ():
            later = change["answered_at"] is not None and moment_of(change["answered_at"]) <= moment_of(seen["read_at"])
            if later and student not in fell_back and rows.get(student) != read_grade_row(change["new"]):
                yield (f"change of grade {change['number']}: was granted, and the registrar was seen with another grade"
                       f" of {student} after it")  # fmt: skip


def _read_rows(text: str) -> dict[str, GradeRow]:
    found = [read_grade_row(row) for row in json.loads(text)]
    return {row.id: row for row in found}


# --- what is said in two places ---


def _twice_said(archive: Archive, course: Course) -> Iterator[str]:
    if archive.syllabus != course.syllabus:
        yield "syllabus.txt: is another text than the syllabus of the course file"
    for cell in archive.beside["scores"]:
        student, item = cell["student_id"], cell["item_id"]
        known = course.student(student) is not None and item in course.plan.columns
        if known and kept_cell(cell["cell"]) != course.cell(student, item):
            yield f"beside.json: the score of {student} at {item} is not the course file's"
    stored = {(cell["student_id"], cell["item_id"]) for cell in archive.beside["scores"]}
    for student, row in course.scores.items():
        for item, one in row.items():
            if one is not None and (student, item) not in stored:
                yield f"course.json: the score of {student} at {item} is nowhere else"
    plans = archive.beside["plans"]
    if plans:
        latest = course_file.parse_json(max(plans, key=lambda plan: plan["version"])["plan"])
        # Versions of old have the labels of their items beside them.
        if isinstance(latest, dict) and not latest.pop("labels", None) and read_plan(latest) != course.plan:
            yield "course.json: the plan is not the latest version of it"
