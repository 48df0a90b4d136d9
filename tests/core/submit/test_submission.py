"""What is known at the registrar from one sending after another."""

from datetime import datetime

from vinemark.core.submit.grade_row import GradeRow
from vinemark.core.submit.receipt import Receipt, RowAnswer
from vinemark.core.submit.submission import (
    RefusedRow,
    RegistrarCopy,
    Submission,
    SubmissionState,
    accepted_rows,
    last_received,
    refusals,
    under_way,
)

AT = datetime(2026, 12, 19, 10, 0)


def row(student: str, code: str) -> GradeRow:
    return GradeRow(student, code)


def sending(number: int, state: SubmissionState, rows: list[GradeRow], taken: set[str] | None = None) -> Submission:
    receipt = None
    if taken is not None:
        answers = tuple(RowAnswer(r.id, r.code, r.id in taken, None if r.id in taken else "closed") for r in rows)
        receipt = Receipt(f"R-{number}", "", len(taken), len(rows) - len(taken), "", answers)
    return Submission(
        number, 1, f"k{number}", "final", rows, "", state, None, receipt, AT, "Maren", "m@x", "", None, False
    )


FIRST = sending(1, "received", [row("ada", "A"), row("bo", "C")], {"ada"})
SECOND = sending(2, "received", [row("ada", "B"), row("bo", "D")], {"bo"})
THIRD = sending(3, "waiting", [row("ada", "C")])


def test_the_latest_accepted_row_of_each_is_held() -> None:
    assert accepted_rows([FIRST]) == {"ada": row("ada", "A")}
    assert accepted_rows([FIRST, SECOND, THIRD]) == {"ada": row("ada", "A"), "bo": row("bo", "D")}


def test_a_refusal_stands_until_a_later_row_is_accepted() -> None:
    assert refusals([FIRST]) == {"bo": RefusedRow(row("bo", "C"), "closed")}
    assert refusals([FIRST, SECOND]) == {"ada": RefusedRow(row("ada", "B"), "closed")}
    assert refusals([THIRD]) == {}


def test_what_is_under_way_and_what_was_received_last() -> None:
    assert [one.under_way for one in (FIRST, THIRD, sending(4, "signed", []), sending(5, "refused", []))] == [
        False, True, True, False,
    ]  # fmt: skip
    assert under_way([FIRST, SECOND]) is None
    assert under_way([FIRST, THIRD]) is THIRD
    assert last_received([FIRST, SECOND, THIRD]) is SECOND
    assert last_received([THIRD]) is None


def test_a_copy_is_the_same_whenever_it_was_read() -> None:
    copy = RegistrarCopy({"ada": row("ada", "A")}, None, AT, {}, 1)
    assert copy.same_as(RegistrarCopy({"ada": row("ada", "A")}, None, datetime(2027, 1, 1), {}, 1))
    assert not copy.same_as(None)
    for rows, posted, fell in (({}, None, {}), (copy.rows, "2026-12-21", {}), (copy.rows, None, copy.rows)):
        assert not copy.same_as(RegistrarCopy(rows, posted, AT, fell, 1))
    assert not copy.same_as(RegistrarCopy(copy.rows, None, AT, {}, 2)), "more was answered since"
