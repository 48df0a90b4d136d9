"""The proof sheet and the comparison with the registrar's copy as tables in CSV (RFC 4180)."""

from collections.abc import Mapping, Sequence

from vinemark.core.submit.compare import ComparedRow
from vinemark.core.submit.grade_row import GradeRow
from vinemark.core.submit.proof import ProofLine
from vinemark.exchange.csv_text import csv_text

PROOF = ("id", "name", "percent", "letter", "settled", "beside", "state")
BESIDE = ("code", "last_attended", "never_attended", "fallback_grade", "finish_by", "owed")


def proof_csv(lines: Sequence[ProofLine]) -> str:
    """One row a student, in the roster's order; lines end in CRLF."""
    return csv_text(PROOF, ([x.student_id, x.name, x.percent, x.letter, x.settled, x.beside, x.state] for x in lines))


def comparison_csv(lines: Sequence[ComparedRow], names: Mapping[str, str]) -> str:
    """What was sent and what the registrar has, line by line."""
    heading = ["id", "name", "agrees", *(f"sent_{key}" for key in BESIDE), *(f"held_{key}" for key in BESIDE)]
    rows = ([*_who(line, names), *_side(line.sent), *_side(line.held)] for line in lines)
    return csv_text(heading, rows)


def _who(line: ComparedRow, names: Mapping[str, str]) -> list[str]:
    return [line.student_id, names.get(line.student_id, ""), "yes" if line.agrees else "no"]


def _side(row: GradeRow | None) -> list[str]:
    if row is None:
        return [""] * len(BESIDE)
    values = (getattr(row, key) for key in BESIDE)
    return ["yes" if value is True else str(value) if value else "" for value in values]
