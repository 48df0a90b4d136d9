"""Grades out as a file in the office's layout, and the office's answer file back in, matched row by row."""

import csv
import io
from collections.abc import Mapping, Sequence
from typing import Any

from vinemark.core.base.refused import Refused
from vinemark.core.submit.file_layout import FileLayout
from vinemark.core.submit.grade_row import HeldRow
from vinemark.exchange.results_csv import harmless

ANSWER = ("Batch", "Receipt", "Received", "Digest", "Student Id", "Grade", "Result", "Reason")
RESULTS = {"taken": True, "refused": False}


def write(layout: FileLayout, key: str, section: str, names: Mapping[str, str], rows: Sequence[HeldRow]) -> str:
    """The file for the office; lines end in CRLF (RFC 4180). Only names are made harmless."""
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(layout.headings)
    for row in rows:
        writer.writerow(layout.line(key, section, harmless(names.get(row.id, "")), row))
    return out.getvalue()


def read_answer(data: bytes, key: str, digest: str, rows: Sequence[HeldRow]) -> dict[str, Any]:
    """The receipt that an answer file brings for a sending.

    Raises Refused at the line where the file is not the answer to what was signed: another batch, a student who was
    not sent or stands twice, another grade than was sent, somebody who is missing.
    """
    lines = _lines(data)
    sent = {row.id: row for row in rows}
    answers: dict[str, dict[str, Any]] = {}
    for number, line in enumerate(lines, 2):
        values = _values(number, line)
        _refuse_other(number, values, key, sent, answers)
        answers[values["Student Id"]] = {
            "id": values["Student Id"],
            "code": values["Grade"],
            "accepted": RESULTS[values["Result"]],
            "reason": values["Reason"] or None,
        }
    missing = [student for student in sent if student not in answers]
    if missing:
        raise Refused("the file", f"has no answer for {', '.join(missing[:5])}{' …' if len(missing) > 5 else ''}")
    return _receipt(_values(2, lines[0]), digest, [answers[row.id] for row in rows])


def _lines(data: bytes) -> list[list[str]]:
    try:
        lines = list(csv.reader(io.StringIO(data.decode("utf-8-sig"), newline="")))
    except (UnicodeDecodeError, csv.Error):
        raise Refused("the file", "is not CSV in UTF-8") from None
    if not lines or tuple(lines[0]) != ANSWER:
        raise Refused("line 1", f"must be {', '.join(ANSWER)}")
    found = [line for line in lines[1:] if line]
    if not found:
        raise Refused("the file", "has no answers")
    return found


def _values(number: int, line: Sequence[str]) -> dict[str, str]:
    if len(line) != len(ANSWER):
        raise Refused(f"line {number}", f"has {len(line)} columns and not {len(ANSWER)}")
    return dict(zip(ANSWER, line, strict=True))


def _refuse_other(
    number: int, values: Mapping[str, str], key: str, sent: Mapping[str, HeldRow], answers: Mapping[str, object]
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


def _receipt(first: Mapping[str, str], digest: str, rows: list[dict[str, Any]]) -> dict[str, Any]:
    if first["Digest"] != digest:
        raise Refused("the file", "answers other rows than were signed: what the office took was changed on the way")
    accepted = sum(row["accepted"] for row in rows)
    return {
        "number": first["Receipt"],
        "received_at": first["Received"],
        "accepted": accepted,
        "refused": len(rows) - accepted,
        "digest": digest,
        "rows": rows,
    }
