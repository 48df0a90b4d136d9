"""Checks of whole columns: found where it is due, silent where it is not."""

import random
from collections.abc import Sequence
from dataclasses import replace
from datetime import date, timedelta
from fractions import Fraction

import pytest

from tests.builders import AFTER, DURING, category, course, plan
from tests.core.audit.audit_courses import Planted, clean, column, ordinary, with_column
from tests.core.audit.looked_at import found, of_code, only
from tests.seeds import seed
from vinemark.core.audit import Finding
from vinemark.core.audit.codes import fixes_of
from vinemark.core.course.course import Course
from vinemark.core.plan.plan import Category, Plan
from vinemark.core.plan.worth import heaviest_item, item_share

TEN = plan(category("10", "10", "10"))


def class_of(*columns: Sequence[str | None], of: Plan = TEN) -> Course:
    """Students by rows, items by columns."""
    return course(of, {f"s{n:02}": list(row) for n, row in enumerate(zip(*columns, strict=True))})


def shifted(down: bool) -> Planted:
    """A column whose scores stand a row too low from the fifth student on, or a row too high."""
    rng = random.Random(seed(31))
    of = clean(7, shape="wide")
    home = ordinary(rng, of)
    item = home.items[1]
    cells = column(of, item)
    moved = [*cells[:4], None, *cells[4:-1]] if down else [*cells[:4], *cells[5:], None]
    return Planted(with_column(of, item, moved), category=home.id, item=item.id)


@pytest.mark.parametrize("down", [True, False])
def test_a_displaced_column_is_named_with_its_row_and_moved_back_in_one_act(down: bool) -> None:
    planted = shifted(down)
    (finding,) = of_code(planted.course, "column-shifted")
    assert (finding.student, finding.category, finding.item) == (None, planted.category, planted.item)
    assert ("one row higher" if down else "one row lower") in finding.message
    (fix,) = fixes_of(planted.course, finding)
    fixed = planted.course.with_cells(fix.cells)
    assert of_code(fixed, "column-shifted") == []
    before = column(clean(7, shape="wide"), planted.course.plan.columns[planted.item or ""])
    right = sum(a == b for a, b in zip(column(fixed, planted.course.plan.columns[planted.item or ""]), before,
                                       strict=True))  # fmt: skip
    assert right >= len(before) - 2


def test_a_column_is_not_moved_over_a_score() -> None:
    planted = shifted(down=False)
    item = planted.course.plan.columns[planted.item or ""]
    cells = column(planted.course, item)
    full = with_column(planted.course, item, [*cells[:-1], Fraction(3)])
    (finding,) = of_code(full, "column-shifted")
    assert fixes_of(full, finding) == []


def test_two_neighbours_are_exchanged() -> None:
    of = plan(category(*["20"] * 6))
    able = {"able": ["19"] * 6, "weak": ["9"] * 6}
    others = {f"s{n}": [str(12 + n % 5)] * 6 for n in range(8)}
    right = course(of, {**others, **able})
    assert of_code(right, "column-shifted") == []
    wrong = right.with_cells({("able", "i2"): Fraction(9), ("weak", "i2"): Fraction(19)})
    finding = only(wrong, "column-shifted")
    assert (finding.student, finding.item) == ("able", "i2")
    assert "Mai Able has 9 and Mai Weak 19 of 20 on I 2" in finding.message
    (fix,) = fixes_of(wrong, finding)
    assert wrong.with_cells(fix.cells).scores == right.scores


VARIED = ["1", "2", "3", "4", "5", "6", "7", "8"]


def test_a_copied_column_is_found_at_the_later_item() -> None:
    twice = plan(category("10", "20", "10"))
    doubled = [str(2 * int(cell)) for cell in VARIED]
    finding = only(class_of(VARIED, doubled, VARIED[::-1], of=twice), "column-copied")
    assert (finding.item, finding.message) == ("i1", "I 1 has the same scores as I 0.")
    one_off = [*doubled[:-1], "3"]
    assert of_code(class_of(VARIED, one_off, VARIED[::-1], of=twice), "column-copied")
    two_off = [*doubled[:-2], "3", "3"]
    assert not of_code(class_of(VARIED, two_off, VARIED[::-1], of=twice), "column-copied")


def test_seven_students_or_full_marks_are_no_copy() -> None:
    assert not of_code(class_of(VARIED[:7], VARIED[:7], ["5"] * 7), "column-copied")
    full = [*["10"] * 8, "1", "2", "3", "4"]
    assert not of_code(class_of(full, full, ["5"] * 12), "column-copied")
    assert of_code(class_of([*full, "6"], [*full, "6"], ["5"] * 13), "column-copied")


def test_a_copy_has_most_of_those_with_either() -> None:
    part: list[str | None] = [*VARIED, None]
    assert of_code(class_of([*VARIED, "7"], part, ["5"] * 9), "column-copied") is not False
    half: list[str | None] = [*VARIED, None, None]
    assert not of_code(class_of([*VARIED, "7", "6"], half, ["5"] * 10), "column-copied")


def with_blanks(count: int, of: Plan = TEN) -> Course:
    """Eight students, the last of whom are blank on the first item."""
    cells: list[str | None] = [*VARIED[: 8 - count], *[None] * count]
    return class_of(cells, VARIED[::-1], ["5", "6"] * 4, of=of)


def test_half_entered_takes_three_blanks_and_a_quarter_and_leaves_blank_waits_alone() -> None:
    assert [f.item for f in of_code(with_blanks(3), "half-entered")] == ["i0"]
    assert of_code(with_blanks(3), "blank-waits") == []
    assert of_code(with_blanks(2), "half-entered") == []
    assert len(of_code(with_blanks(2), "blank-waits")) == 2
    assert of_code(with_blanks(8), "half-entered") == []


def test_half_entered_is_due_once_blanks_count_or_the_day_is_long_over() -> None:
    home = TEN.categories[0]

    def dated(due: date | None, blanks: str) -> Plan:
        first, *rest = home.items
        return plan(replace(home, blanks=blanks, items=(replace(first, due=due), *rest)))  # type: ignore[arg-type]

    def is_due(of: Plan, as_of: date = DURING) -> bool:
        return bool(of_code(with_blanks(4, of), "half-entered", as_of))

    assert is_due(dated(None, "zero"))
    assert not is_due(dated(None, "wait"))
    assert is_due(dated(None, "wait"), AFTER)
    assert not is_due(dated(DURING - timedelta(days=14), "wait"))
    assert is_due(dated(DURING - timedelta(days=15), "wait"))
    assert is_due(dated(DURING - timedelta(days=1), "zero_when_due"))


def test_most_of_a_class_exempt_is_found_and_a_choice_of_two_is_not() -> None:
    exempt: list[str | None] = ["9", "8", *["exempt"] * 6]
    finding = only(class_of(exempt, VARIED, VARIED[::-1]), "exempt-many")
    assert (finding.item, finding.message) == ("i0", "6 of 8 students are exempt from I 0.")
    choice: list[str | None] = [*VARIED[:4], *["exempt"] * 4]
    assert not of_code(class_of(choice, [*["exempt"] * 4, *VARIED[4:]], VARIED), "exempt-many")


def test_a_student_exempt_from_most_of_a_category() -> None:
    four = plan(category(*["10"] * 4, weight="50"), category(*["10"] * 4, weight="50", prefix="t"))
    rest = {f"s{n}": ["8"] * 8 for n in range(4)}
    finding = only(course(four, {**rest, "ada": ["exempt"] * 3 + ["8"] * 5}), "exempt-many")
    assert (finding.student, finding.category, finding.item) == ("ada", "c-i", None)
    assert not of_code(course(four, {**rest, "ada": ["exempt"] * 2 + ["8"] * 6}), "exempt-many")


def test_a_student_exempt_from_the_heaviest_item() -> None:
    exam = plan(category("10", "10", weight="60"), category("100", weight="40", prefix="e"))
    rest = {f"s{n}": ["8", "7", "80"] for n in range(4)}
    finding = only(course(exam, {**rest, "ada": ["8", "7", "exempt"]}), "exempt-many")
    assert (finding.student, finding.category, finding.item) == ("ada", "c-e", "e0")
    assert not of_code(course(exam, {**rest, "ada": ["exempt", "7", "80"]}), "exempt-many")


def test_shares_are_before_drops_and_as_much_twice_is_not_heaviest() -> None:
    def made(*categories: Category, basis: str = "weighted") -> Plan:
        return plan(*categories, basis=basis)

    three = category("10", "10", "20", weight="100", drop_lowest=1)
    assert item_share(made(three), three, three.items[2]) == 50
    assert heaviest_item(made(three)) == three.items[2]
    even = replace(three, split="even")
    assert heaviest_item(made(even)) is None
    small = category(*["10"] * 7, "11", weight="100")
    assert heaviest_item(made(small)) is None
    points = category("30", "70", weight=None)
    assert item_share(made(points, basis="points"), points, points.items[0]) == 30


def test_nearly_everybody_missing() -> None:
    def missing(count: int) -> list[Finding]:
        cells: list[str | None] = [*["missing"] * count, *VARIED[count:]]
        return of_code(class_of(cells, VARIED, VARIED[::-1]), "all-missing")

    assert [f.message for f in missing(7)] == ["I 0 is missing for 7 of 8 students."]
    assert missing(6) == []


def test_zeros_where_there_are_few_elsewhere() -> None:
    zeros: list[str | None] = [*["0"] * 5, *VARIED[5:]]
    assert [f.item for f in of_code(class_of(zeros, VARIED, VARIED[::-1]), "zeros-many")] == ["i0"]
    few: list[str | None] = [*["0"] * 4, *VARIED[4:]]
    assert not of_code(class_of(few, VARIED, VARIED[::-1]), "zeros-many")
    assert not of_code(class_of(zeros, zeros, VARIED), "zeros-many")
    alone = class_of(["0"] * 8, ["0"] * 8, VARIED)
    assert [f.item for f in of_code(alone, "zeros-many")] == ["i0", "i1"]


def test_only_the_enrolled_count() -> None:
    of = class_of([*["missing"] * 7, "3"], VARIED, VARIED[::-1])
    aside = replace(of, students=tuple(replace(s, set_aside="left" if n < 3 else None)
                                       for n, s in enumerate(of.students)))  # fmt: skip
    assert ("all-missing", "c-i") in found(of)
    assert of_code(aside, "all-missing") == []
