"""Scores in the order of the class, each check at its limit."""

import random
from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction

import pytest

from tests.builders import category, course, plan
from tests.core.audit.looked_at import of_code
from vinemark.core.course.course import Course

ITEMS = 6
POINTS = "50"


def abilities(count: int) -> list[int]:
    draw = random.Random(5)
    return [draw.randint(50, 95) for _ in range(count)]


def scored(count: int = 24, noise: int = 2, first: Sequence[str | None] | None = None, points: str = POINTS) -> Course:
    """A class whose scores hang together; `first` are those of the first item."""
    draw = random.Random(7)
    grid: list[list[str | None]] = [
        [str(Fraction(able + draw.randint(-noise, noise), 2)) for _ in range(ITEMS)] for able in abilities(count)
    ]
    for row, cell in zip(grid, first or (), strict=False):
        row[0] = cell
    cells = {f"s{n:03}": [str(Fraction(c)) if c else None for c in row] for n, row in enumerate(grid)}
    made = course(plan(category(*[POINTS] * ITEMS)), cells)
    items = made.plan.categories[0].items
    changed = replace(made.plan.categories[0], items=(replace(items[0], points=Fraction(points)), *items[1:]))
    return replace(made, plan=replace(made.plan, categories=(changed,)))


def firsts(course_: Course) -> list[Fraction]:
    return [cell for s in course_.students if isinstance(cell := course_.cell(s.id, "i0"), Fraction)]


CODES = ("points-off", "column-sorted", "column-unlike", "column-parted", "filled-down", "part-copied", "value-often",
         "row-copied", "row-moved", "tail-blank", "zeros-of-one", "slips-many")  # fmt: skip


@pytest.mark.parametrize("count", [6, 14, 24, 80])
def test_a_class_that_hangs_together_draws_none(count: int) -> None:
    assert [f.message for code in CODES for f in of_code(scored(count), code)] == []


@pytest.mark.parametrize(("points", "words"), [("20", "above its points"), ("500", "read as out of 50")])
def test_a_column_in_another_base(points: str, words: str) -> None:
    (finding,) = of_code(scored(points=points), "points-off")
    assert (finding.item, words in finding.message) == ("i0", True)


def test_scores_in_order_of_size_and_one_out_of_order() -> None:
    rising = sorted(firsts(scored()))
    one_apart = [*rising[:5], rising[20], *rising[5:20], *rising[21:]]
    for numbers in (rising, rising[::-1], one_apart):
        (finding,) = of_code(scored(first=[str(n) for n in numbers]), "column-sorted")
        assert finding.item == "i0"
    two_apart = [rising[23], rising[22], rising[21], *rising[:21]]
    assert of_code(scored(first=[str(n) for n in two_apart]), "column-sorted") == []


def test_scores_that_go_with_nothing_else() -> None:
    mixed = firsts(scored(40))
    random.Random(3).shuffle(mixed)
    (finding,) = of_code(scored(40, first=[str(n) for n in mixed]), "column-unlike")
    assert finding.item == "i0"
    assert of_code(scored(40, first=[str(n) for n in mixed]), "column-sorted") == []


@pytest.mark.parametrize(("by", "due"), [(10, True), (4, False)])
def test_one_part_of_the_class_adjusted(by: int, due: bool) -> None:
    numbers = firsts(scored(30))
    moved = [*numbers[:18], *(n - by for n in numbers[18:])]
    findings = of_code(scored(30, first=[str(n) for n in moved]), "column-parted")
    assert bool(findings) == due
    assert not due or findings[0].message.startswith("From S018 ") or "S018" in findings[0].message


@pytest.mark.parametrize(("length", "due"), [(9, True), (5, False)])
def test_a_score_filled_down(length: int, due: bool) -> None:
    numbers = [str(n) for n in firsts(scored())]
    assert (
        bool(of_code(scored(first=[*numbers[:4], *["37.25"] * length, *numbers[4 + length :]]), "filled-down")) == due
    )


def test_full_marks_in_a_row_are_no_filling_down_and_missing_is() -> None:
    numbers = [str(n) for n in firsts(scored())]
    assert of_code(scored(first=[*numbers[:4], *[POINTS] * 12, *numbers[16:]]), "filled-down") == []
    (finding,) = of_code(words_in(scored(), "missing", 6), "filled-down")
    assert "have missing on" in finding.message


def words_in(made: Course, word: str, length: int) -> Course:
    scores = {s: dict(row) for s, row in made.scores.items()}
    for student in list(scores)[4 : 4 + length]:
        scores[student]["i0"] = word  # type: ignore[assignment]
    return replace(made, scores=scores)


@pytest.mark.parametrize(("differ", "due"), [(0, True), (1, True), (2, False)])
def test_a_row_copied_but_for_one_score(differ: int, due: bool) -> None:
    made = scored()
    first = made.scores["s002"]
    copied = {**first, **{item: Fraction(1) for item in list(first)[:differ]}}
    findings = of_code(replace(made, scores={**made.scores, "s010": copied}), "row-copied")
    assert [f.student for f in findings] == (["s010"] if due else [])


@pytest.mark.parametrize(("blanks", "due"), [(2, False), (3, True), (12, True), (14, False)])
def test_the_end_of_the_list_is_blank(blanks: int, due: bool) -> None:
    numbers: list[str | None] = [str(n) for n in firsts(scored())]
    findings = of_code(scored(first=[*numbers[:-blanks], *[None] * blanks]), "tail-blank")
    assert [f.item for f in findings] == (["i0"] if due else [])


def test_three_scores_ten_times_too_low() -> None:
    made = scored()
    best = max(made.scores, key=lambda s: sum(c for c in made.scores[s].values() if isinstance(c, Fraction)))
    row = {item: c / 10 if item in {"i0", "i1"} and isinstance(c, Fraction) else c
           for item, c in made.scores[best].items()}  # fmt: skip
    assert of_code(replace(made, scores={**made.scores, best: row}), "slips-many") == []


def test_one_score_very_often() -> None:
    numbers = [str(n) for n in firsts(scored(30))]
    often = ["41.3" if n % 2 == 0 else score for n, score in enumerate(numbers)]
    (finding,) = of_code(scored(30, first=often), "value-often")
    assert "15 of 30 scores" in finding.message
    full = [POINTS if n % 3 == 0 else score for n, score in enumerate(numbers)]
    assert of_code(scored(30, first=full), "value-often") == []
