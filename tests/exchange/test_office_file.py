"""Grades as a file in an office's layout, and the answer file, read back row by row."""

import csv
import io
from typing import Any

import pytest

from vinemark.core.base.refused import Refused
from vinemark.core.submit.compare import ComparedRow
from vinemark.core.submit.file_layout import FileLayout
from vinemark.core.submit.grade_row import GradeRow, digest
from vinemark.core.submit.proof import ProofLine
from vinemark.core.submit.receipt import read_receipt
from vinemark.exchange import office_file
from vinemark.exchange.proof_csv import comparison_csv, proof_csv
from vinemark.office import grade_file
from vinemark.office.schools import LAKESIDE, SAMPLES

KEY = "a-key-of-one-sending"
ROWS = [
    GradeRow("L1", "X", None, True),
    GradeRow("L2", "B-"),
    GradeRow("L3", "INC", None, False, "F", "2027-03-31", "the report, with figures"),
    GradeRow("L4", "NC", "2026-11-02"),
]


def layout_of(school: dict[str, Any]) -> FileLayout:
    found = school["arrangements"]["file"]
    return FileLayout(tuple((heading, holds) for heading, holds in found["columns"]), found["dates"])


def test_the_file_follows_the_layout_it_is_given() -> None:
    text = office_file.grade_file(layout_of(LAKESIDE), KEY, "R1", {"L1": "Ode, Marit"}, ROWS)
    assert text.endswith("\r\n")
    rows = list(csv.reader(io.StringIO(text)))
    assert rows[0] == ["STUDENT", "GRADE", "LDA", "HRS", "DEFAULT", "COMPLETE BY", "REMARK", "CLASS", "REFERENCE"]
    assert rows[1] == ["L1", "X", "", "0.00", "", "", "", "R1", KEY]
    assert rows[3] == ["L3", "INC", "", "", "F", "03/31/2027", "the report, with figures", "R1", KEY]
    assert rows[4][2] == "11/02/2026"


@pytest.mark.parametrize("school", SAMPLES)
def test_what_one_side_writes_the_other_reads_to_the_same_digest(school: str) -> None:
    layout = SAMPLES[school]["arrangements"]["file"]
    text = office_file.grade_file(layout_of(SAMPLES[school]), KEY, "R1", {"L1": "=Ode"}, ROWS)
    body = grade_file.read(text.encode(), layout, "R1")
    assert (body["key"], body["digest"]) == (KEY, digest(ROWS))


def test_a_column_nobody_knows_stays_empty() -> None:
    layout = FileLayout((("Id", "id"), ("Room", "room")), "DD.MM.YYYY")
    assert layout.line(KEY, "R1", "Ode", ROWS[3]) == ["L4", ""]
    assert FileLayout((("D", "last_attended"),), "DD.MM.YYYY").line(KEY, "R1", "", ROWS[3]) == ["02.11.2026"]


def receipt() -> dict[str, Any]:
    answers = [{"id": r.id, "code": r.code, "accepted": r.id != "L2", "reason": None if r.id != "L2" else "why, not"}
               for r in ROWS]  # fmt: skip
    return {"number": "R-2026-00007", "received_at": "2026-12-19T10:20:00", "accepted": 3, "refused": 1,
            "digest": digest(ROWS), "rows": answers}  # fmt: skip


def answer(old: str = "", new: str = "") -> bytes:
    text = grade_file.answer(KEY, receipt())
    return (text.replace(old, new) if old else text).encode()


def test_the_answer_file_is_the_receipt() -> None:
    assert office_file.read_answer(answer(), KEY, digest(ROWS), ROWS) == read_receipt(receipt())
    assert office_file.read_answer(b"\xef\xbb\xbf" + answer(), KEY, digest(ROWS), ROWS) == read_receipt(receipt())


@pytest.mark.parametrize(
    ("data", "place", "words"),
    [
        (b"\xff\xfe\x00", "the file", "is not CSV in UTF-8"),
        (answer("Batch,", "Lot,"), "line 1", "must be Batch, Receipt"),
        (answer().splitlines(True)[0], "the file", "has no answers"),
        (answer(f"{KEY},R-2026-00007,2026-12-19T10:20:00", "other,R-2026-00007,2026-12-19T10:20:00"), "line 2",
         "answers another batch"),
        (answer("L3,INC", "L9,INC"), "line 4", "answers for L9, who was not sent"),
        (answer("L3,INC", "L1,X"), "line 4", "answers for L1 a second time"),
        (answer("L2,B-", "L2,A"), "line 3", "says A for L2; B- was sent"),
        (answer("refused", "lost"), "line 3", "has the result lost and not taken or refused"),
        (answer(",L4,NC,taken,", ",L4,NC,taken"), "line 5", "has 7 columns instead of 8"),
        (b"".join(answer().splitlines(True)[:3]), "the file", "has no answer for L3, L4"),
        (answer(digest(ROWS), "0" * 64), "the file", "answers other rows than were signed"),
    ],
)  # fmt: skip
def test_an_answer_that_is_not_to_what_was_signed_is_refused_at_its_line(data: bytes, place: str, words: str) -> None:
    with pytest.raises(Refused) as refused:
        office_file.read_answer(data, KEY, digest(ROWS), ROWS)
    assert refused.value.field == place
    assert words in refused.value.reason


def test_the_proof_and_the_comparison_as_tables_with_harmless_names() -> None:
    proof = proof_csv([ProofLine("L1", "=Ode", "85.00", "B", "B", "", "ready")])
    assert proof.splitlines()[1] == "L1,'=Ode,85.00,B,B,,ready"
    table = comparison_csv([ComparedRow("L3", ROWS[2], None), ComparedRow("L1", ROWS[0], ROWS[0])], {"L1": "Ode"})
    rows = list(csv.DictReader(io.StringIO(table)))
    assert (rows[0]["agrees"], rows[0]["sent_finish_by"], rows[0]["held_code"]) == ("no", "2027-03-31", "")
    assert (rows[1]["agrees"], rows[1]["held_never_attended"]) == ("yes", "yes")
