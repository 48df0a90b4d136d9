"""Grades out as a file in the registrar's layout, and the registrar's answer file back in, matched row by row."""

import csv
import io
from collections.abc import Mapping, Sequence

from vinemark.core.base.refused import Refused
from vinemark.core.submit.file_layout import FileLayout
from vinemark.core.submit.grade_row import GradeRow
from vinemark.core.submit.receipt import Receipt, RowAnswer
from vinemark.exchange.csv_text import csv_text

ANSWER_HEADINGS = ("Batch", "Receipt", "Received", "Digest", "Student Id", "Grade", "Result", "Reason")
RESULTS = {"taken": True, "refused": False}


def grade_file(layout: FileLayout, key: str, section: str, names: Mapping[str, str], rows: Sequence[GradeRow]) -> str:
    """The file for the registrar; lines end in CRLF (RFC 4180)."""
    return csv_text(layout.headings, (layout.line(key, section, names.get(row.id, ""), row) for row in rows))


def read_answer(data: bytes, key: str, digest: str, rows: Sequence[GradeRow]) -> Receipt:
    """The receipt that an answer file brings for a submission.

    Raises Refused at the line where the file is not the answer to what was signed: another batch, a student who was
    not sent or is there twice, another grade than was sent, somebody who is missing.
    """
    lines = _lines(data)
    sent = {row.id: row for row in rows}
    answers: dict[str, RowAnswer] = {}
    for number, line in enumerate(lines, 2):
        values = _values(number, line)
        _refuse_other(number, values, key, sent, answers)
        student = values["Student Id"]
        answers[student] = RowAnswer(student, values["Grade"], RESULTS[values["Result"]], values["Reason"] or None)
    missing = [student for student in sent if student not in answers]
    if missing:
        raise Refused("the file", f"has no answer for {', '.join(missing[:5])}{' …' if len(missing) > 5 else ''}")
    return _receipt(_values(2, lines[0]), digest, [answers[row.id] for row in rows])


def _lines(data: bytes) -> list[list[str]]:
    try:
        lines = list(csv.reader(io.StringIO(data.decode("utf-8-sig"), newline="")))
    except (UnicodeDecodeError, csv.Error):
        raise Refused("the file", "is not CSV in UTF-8") from None
    if not lines or tuple(lines[0]) != ANSWER_HEADINGS:
        raise Refused("line 1", f"must be {', '.join(ANSWER_HEADINGS)}")
    found = [line for line in lines[1:] if line]
    if not found:
        raise Refused("the file", "has no answers")
    return found


def _values(number: int, line: Sequence[str]) -> dict[str, str]:
    if len(line) != len(ANSWER_HEADINGS):
        raise Refused(f"line {number}", f"has {len(line)} columns instead of {len(ANSWER_HEADINGS)}")
    return dict(zip(ANSWER_HEADINGS, line, strict=True))


def _refuse_other(
    number: int, values: Mapping[str, str], key: str, sent: Mapping[str, GradeRow], answers: Mapping[str, object]
) -> None:
    student, place = values["Student Id"], f"line {number}"
    if values["Batch"] != key:
        raise Refused(place, "answers another batch than the one that was taken out")
    if student not in sent:
        raise Refused(place, f"answers for {student}, who was not sent")
    if student in answers:
        raise Refused(place, f"answers for {student} a second time")
    if values["Grade"] != sent[student].code:
        raise Refused(place, f"says {values['Grade']} for {student}; {sent[student].code} was sent")
    if values["Result"] not in RESULTS:
        raise Refused(place, f"has the result {values['Result']} and not taken or refused")


def _receipt(first: Mapping[str, str], digest: str, rows: Sequence[RowAnswer]) -> Receipt:
    if first["Digest"] != digest:
        raise Refused("the file", "answers other rows than were signed: what the registrar took was changed on the way")
    accepted = sum(row.accepted for row in rows)
    return Receipt(first["Receipt"], first["Received"], accepted, len(rows) - accepted, digest, tuple(rows))
