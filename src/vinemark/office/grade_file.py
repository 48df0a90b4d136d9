"""Grades handed in as a file, in the registrar's layout, and the answer file that goes back."""

import csv
import io
from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime
from typing import Any

from vinemark.core.submit.file_layout import DATES
from vinemark.core.submit.grade_row import GradeRow, digest, row_values

RECEIPTS = ("Receipt", "Run", "Received", "Signed By", "Taken", "Refused", "Digest", "History Seal")
ANSWER = ("Batch", "Receipt", "Received", "Digest", "Student Id", "Grade", "Result", "Reason")


class UnreadableError(Exception):
    """The file is not in the registrar's layout; the message says where."""


def read(data: bytes, layout: Mapping[str, Any], ref: str) -> dict[str, Any]:
    """A file of grades as the body of a sending: key, digest and rows. Raises UnreadableError."""
    try:
        lines = list(csv.reader(io.StringIO(data.decode("utf-8-sig"), newline="")))
    except (UnicodeDecodeError, csv.Error) as error:
        raise UnreadableError("the file is not CSV in UTF-8") from error
    headings = [heading for heading, _ in layout["columns"]]
    if not lines or lines[0] != headings:
        raise UnreadableError(f"the first line must be {', '.join(headings)}")
    holds = [held for _, held in layout["columns"]]
    found = []
    for number, line in enumerate(lines[1:], 2):
        if len(line) != len(holds):
            raise UnreadableError(f"line {number} has {len(line)} columns instead of {len(holds)}")
        found.append((number, dict(zip(holds, line, strict=True))))
    return _body(found, layout, ref)


def _body(found: Sequence[tuple[int, Mapping[str, str]]], layout: Mapping[str, Any], ref: str) -> dict[str, Any]:
    keys = {values["key"] for _, values in found}
    if len(keys) != 1:
        raise UnreadableError("there must be one batch in a file, with rows")
    for number, values in found:
        if values.get("section", ref) != ref:
            raise UnreadableError(f"line {number} is for the section {values['section']}")
    rows = [_row(number, values, layout) for number, values in found]
    return {"key": keys.pop(), "digest": digest(rows), "rows": [row_values(row) for row in rows]}


def _row(number: int, values: Mapping[str, str], layout: Mapping[str, Any]) -> GradeRow:
    return GradeRow(
        values["id"],
        values["code"],
        _date(number, values.get("last_attended", ""), layout),
        values.get("hours", "").strip() in {"0", "0.0", "0.00"},
        values.get("fallback_grade") or None,
        _date(number, values.get("finish_by", ""), layout),
        values.get("owed") or None,
    )


def _date(number: int, typed: str, layout: Mapping[str, Any]) -> str | None:
    if not typed:
        return None
    try:
        return datetime.strptime(typed, DATES[layout["dates"]]).date().isoformat()
    except ValueError:
        raise UnreadableError(f"line {number}: {typed} is not a date as {layout['dates']}") from None


def answer(key: str, receipt: Mapping[str, Any]) -> str:
    """The answer file: one line a row, with the receipt's number and digest on each."""
    made = io.StringIO()
    writer = csv.writer(made, lineterminator="\r\n")
    writer.writerow(ANSWER)
    for row in receipt["rows"]:
        result = "taken" if row["accepted"] else "refused"
        writer.writerow(
            [key, receipt["number"], receipt["received_at"], receipt["digest"], row["id"], row["code"], result,
             row["reason"] or ""]
        )  # fmt: skip
    return made.getvalue()


def receipts(sendings: Iterable[tuple[str, str, Mapping[str, Any]]]) -> str:
    """All receipts of a section, one a line; each with its run and who signed."""
    made = io.StringIO()
    writer = csv.writer(made, lineterminator="\r\n")
    writer.writerow(RECEIPTS)
    for run, signer, receipt in sendings:
        writer.writerow(
            [receipt["number"], run, receipt["received_at"], signer, receipt["accepted"], receipt["refused"],
             receipt["digest"], receipt.get("history_seal", "")]
        )  # fmt: skip
    return made.getvalue()
