"""The plans of the demo's sections."""

from datetime import date, timedelta
from fractions import Fraction

from vinemark.core.plan.plan import Category, Item, Plan, Rounding, ScaleRow
from vinemark.core.plan.rules import Alternative, LateRule, RecordedItem, Symbol

PLUS_MINUS = tuple(
    ScaleRow(letter, Fraction(cutoff))
    for letter, cutoff in zip(
        ("A", "A-", "B+", "B", "B-", "C+", "C", "C-", "D", "F"), (93, 90, 87, 83, 80, 77, 73, 70, 60, 0), strict=True
    )
)
CHECKS = tuple(Symbol(sign, Fraction(percent)) for sign, percent in (("check+", 95), ("check", 80), ("check-", 65)))
TEN_STEPS = tuple(ScaleRow(x, Fraction(from_)) for x, from_ in zip("ABCDF", (90, 80, 70, 60, 0), strict=True))


def series(prefix: str, name: str, points: int, first: date, count: int, days: int = 7) -> tuple[Item, ...]:
    """Items at even distances: 'Map quiz 1', 'Map quiz 2' …"""
    return tuple(
        Item(f"{prefix}{i + 1}", f"{name} {i + 1}", Fraction(points), due=first + timedelta(days=days * i))
        for i in range(count)
    )


def one(item_id: str, name: str, points: int, due: date) -> Item:
    """A single item."""
    return Item(item_id, name, Fraction(points), due=due)


def watershed() -> Plan:
    """HYDR 230: five categories whose weights add to 95 only (the syllabus gives the report 30)."""
    return Plan(
        "weighted",
        (
            Category("c1", "Field notebooks", Fraction(20), split="even", drop_lowest=1,
                     items=series("n", "Notebook", 20, date(2026, 9, 18), 6, 14)),
            Category("c2", "Map quizzes", Fraction(15), drop_lowest=2,
                     items=series("q", "Map quiz", 10, date(2026, 9, 14), 8, 10)),
            Category("c3", "Lab practicals", Fraction(25),
                     items=(one("p1", "Flow gauging", 50, date(2026, 10, 23)),
                            one("p2", "Sediment core", 80, date(2026, 12, 4)))),
            Category("c4", "Seminar", Fraction(10), split="even", blanks="zero",
                     items=series("r", "Response", 5, date(2026, 9, 9), 8, 11)),
            Category("c5", "Survey report", Fraction(25), items=(one("s1", "Survey report", 200, date(2026, 12, 11)),)),
        ),
        PLUS_MINUS,
        Rounding(2, "rounded"),
        recorded=(RecordedItem("fd", "Field days missed", date(2026, 12, 11)),),
    )  # fmt: skip


def orchard() -> Plan:
    """BOTN 105: 500 points."""
    return Plan(
        "points",
        (
            Category("c1", "Twig quizzes", items=series("q", "Twig quiz", 10, date(2026, 9, 8), 10, 9),
                     blanks="zero_when_due"),
            Category("c2", "Midterms", items=series("m", "Midterm", 75, date(2026, 10, 6), 2, 35)),
            Category("c3", "Herbarium", items=(one("h1", "Herbarium", 100, date(2026, 11, 24)),),
                     late=LateRule(Fraction(5), last_day=7, free_days=2)),
            Category("c4", "Orchard log", items=(one("o1", "Orchard log", 50, date(2026, 12, 4)),)),
            Category("c5", "Final exam", items=(one("f1", "Final exam", 100, date(2026, 12, 16)),)),
        ),
        TEN_STEPS,
        Rounding(0, "rounded"),
    )  # fmt: skip


def loom() -> Plan:
    """FIBR 120: studio pieces."""
    return Plan(
        "weighted",
        (
            Category("c1", "Studio pieces", Fraction(60), split="even",
                     items=series("w", "Piece", 50, date(2026, 9, 21), 4, 24)),
            Category("c2", "Sample book", Fraction(25), items=(one("b1", "Sample book", 40, date(2026, 12, 7)),)),
            Category("c3", "Critiques", Fraction(15), split="even", blanks="zero",
                     items=series("k", "Critique", 10, date(2026, 10, 2), 3, 28), symbols=CHECKS),
        ),
        PLUS_MINUS,
        Rounding(0, "rounded"),
    )  # fmt: skip


def groundwater() -> Plan:
    """HYDR 410: a seminar."""
    return Plan(
        "weighted",
        (
            Category("c1", "Presentations", Fraction(40), split="even",
                     items=series("t", "Presentation", 25, date(2026, 10, 1), 2, 42)),
            Category("c2", "Paper", Fraction(45), items=(one("a1", "Aquifer paper", 100, date(2026, 12, 3)),)),
            Category("c3", "Discussion", Fraction(15), split="even", drop_lowest=1, blanks="zero",
                     items=series("d", "Discussion", 4, date(2026, 9, 10), 6, 14)),
        ),
        PLUS_MINUS,
        Rounding(1, "rounded"),
        alternatives=(
            Alternative("a1", "The paper counts more",
                        {"c1": Fraction(25), "c2": Fraction(60), "c3": Fraction(15)}),
        ),
    )  # fmt: skip


def soil() -> Plan:
    """SOIL 210, of the second instructor."""
    return Plan(
        "weighted",
        (
            Category("c1", "Pit reports", Fraction(50), split="even", drop_lowest=1,
                     items=series("p", "Pit report", 30, date(2026, 9, 25), 5, 14)),
            Category("c2", "Exams", Fraction(50), items=series("e", "Exam", 80, date(2026, 10, 15), 2, 56)),
        ),
        TEN_STEPS,
        Rounding(0, "rounded"),
    )  # fmt: skip
