"""Small builders: a course in a few words, so that a test's figures stand beside its assertion."""

from collections.abc import Mapping, Sequence
from datetime import date
from fractions import Fraction
from typing import Any

from vinemark.core.course.cell import Cell, PlainCell
from vinemark.core.course.course import CodeRule, Course, Records, RosterEntry, SectionName, Settled, Student, Term
from vinemark.core.grade.calculation import Grade, work_out
from vinemark.core.plan.plan import Category, Item, Plan, Rounding, ScaleRow

TERM = Term("Fall 2026", date(2026, 8, 31), date(2026, 12, 18))
AFTER = date(2026, 12, 19)
DURING = date(2026, 11, 1)
TENS = tuple(ScaleRow(letter, Fraction(cutoff)) for letter, cutoff in zip("ABCDF", (90, 80, 70, 60, 0), strict=True))
CODES = (
    *(CodeRule(letter, ("letter",)) for letter in "ABCD"),
    CodeRule("F", ("letter",), ("last_attended",)),
    CodeRule("P", ("pass",)),
    CodeRule("NP", ("pass",), ("last_attended",)),
    CodeRule("I", ("letter", "pass"), ("fallback_grade", "finish_by")),
    CodeRule("W", office_only=True),
)


def plain(text: str | None) -> PlainCell:
    """'8.5', 'missing', 'exempt', or None."""
    if text is None or text in {"missing", "exempt"}:
        return text  # type: ignore[return-value]
    return Fraction(text)


def cell(text: str | None) -> Cell:
    """The same, as any cell."""
    return plain(text)


def items(*points: str, prefix: str = "i", **options: Any) -> tuple[Item, ...]:
    """Items with these points."""
    return tuple(Item(f"{prefix}{n}", f"{prefix.upper()} {n}", Fraction(p), **options) for n, p in enumerate(points))


def category(*points: str, weight: str | None = "100", prefix: str = "i", **options: Any) -> Category:
    """A category of items with these points."""
    worth = None if weight is None else Fraction(weight)
    return Category(f"c-{prefix}", f"Category {prefix}", worth, items=items(*points, prefix=prefix), **options)


def plan(*categories: Category, basis: Any = "weighted", decimals: int | None = None, **options: Any) -> Plan:
    """A plan with the scale 90, 80, 70, 60, 0."""
    rounding = None if decimals is None else Rounding(decimals)
    return Plan(basis, categories, options.pop("scale", TENS), rounding, **options)


def grade(of: Plan, *cells: str | None, as_of: date = AFTER) -> Grade:
    """The grade of one student, cells given in plan order."""
    ids = [item.id for _, item in of.items()]
    return work_out(of, dict(zip(ids, map(cell, cells), strict=False)), as_of)


def course(
    of: Plan,
    scores: Mapping[str, Sequence[str | None]],
    records: Records | None = None,
    settled: Mapping[str, Settled] | None = None,
    aside: Mapping[str, str] | None = None,
) -> Course:
    """A course of students named by their ids, cells in plan order."""
    ids = [item.id for _, item in of.items()]
    students = tuple(Student(s, s.capitalize(), "Mai", set_aside=(aside or {}).get(s)) for s in scores)
    cells = {s: {i: cell(t) for i, t in zip(ids, row, strict=False) if t is not None} for s, row in scores.items()}
    return Course(TERM, SectionName("HYDR 230", "Watershed Field Methods", "01"), of, students, cells,
                  records=records, settled=settled or {})  # fmt: skip


def roster(*ids: str, **others: RosterEntry) -> Records:
    """Records with these students enrolled on the letter basis, and other entries."""
    entries = [others.get(s) or RosterEntry(s, s.capitalize(), "Mai") for s in ids]
    return Records(tuple(entries), CODES, incomplete_limit_days=365)
