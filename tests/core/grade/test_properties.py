"""Laws that hold for every plan and every class, tried on random ones."""

from dataclasses import replace
from fractions import Fraction

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.builders import DURING, category, grade, items, plan
from tests.core.strategies import CELLS, courses, plain_plans
from vinemark.core.course.cell import Cell
from vinemark.core.course.course import Course
from vinemark.core.grade.calculation import Calculator, Grade, work_out
from vinemark.core.grade.category import common_denominator
from vinemark.core.grade.class_columns import grades_of, together
from vinemark.core.plan.plan import Category, Item, Plan

pytestmark = pytest.mark.many

FEW = settings(deadline=None, max_examples=60)
MANY = settings(deadline=None, max_examples=250)


def figures(found: Grade) -> tuple[object, ...]:
    return found.percent, found.uncapped, found.rounded, found.letter, found.blanks_zero, found.blanks_full


@MANY
@given(courses())
def test_the_class_at_once_and_one_student_at_a_time_agree(course: Course) -> None:
    """Two ways to the same exact numbers: columns of whole numbers, and one student's sums."""
    at_once = grades_of(course, DURING)
    for student in course.students:
        alone = work_out(course.plan_of(student.id), course.scores[student.id], DURING)
        assert figures(at_once[student.id]) == figures(alone)


@FEW
@given(courses())
def test_contributions_add_up_to_the_percent_exactly(course: Course) -> None:
    for found in grades_of(course, DURING).values():
        parts = [c.contributes for c in found.categories if c.contributes is not None]
        assert found.uncapped is None or sum(parts) == found.uncapped


def test_numbers_too_large_for_64_bits_are_worked_out_one_at_a_time() -> None:
    wide = Fraction(10**39 - 1)
    of = Plan("weighted", (Category("c", "C", Fraction(100), items=(Item("a", "A", wide), Item("b", "B", wide / 3))),))
    rows = [{"a": wide, "b": Fraction(n)} for n in range(5)]
    calculator = Calculator(of, DURING, common_denominator([i for _, i in of.items()], rows))
    assert together(calculator, [calculator.row(row) for row in rows]) is None
    assert calculator.grade(rows[0]).percent == 75


@FEW
@given(plain_plans(), st.data(), st.integers(2, 9))
def test_scaling_points_and_scores_of_an_evenly_split_item_changes_nothing(
    of: Plan, data: st.DataObject, by: int
) -> None:
    cells = {item.id: data.draw(CELLS) for _, item in of.items()}
    chosen = data.draw(st.sampled_from([item for _, item in of.items()]))
    wider = tuple(
        replace(c, items=tuple(replace(i, points=i.points * by) if i is chosen else i for i in c.items))
        for c in of.categories
    )
    cell = cells[chosen.id]
    scaled: dict[str, Cell] = {**cells, chosen.id: cell * by if isinstance(cell, Fraction) else cell}
    assert figures(work_out(of, cells, DURING)) == figures(work_out(replace(of, categories=wider), scaled, DURING))


@FEW
@given(courses(), st.data())
def test_a_blank_extra_item_changes_nobodys_grade_so_far(course: Course, data: st.DataObject) -> None:
    ordinary = [c for c in course.plan.categories if not c.extra]
    if not ordinary:
        return
    chosen = data.draw(st.sampled_from(ordinary))
    bonus = Item("bonus", "Field trip report", Fraction(7), extra=True, share=Fraction(5))
    more = tuple(replace(c, items=(*c.items, bonus)) if c is chosen else c for c in course.plan.categories)
    after = grades_of(replace(course, plan=replace(course.plan, categories=more)), DURING)
    for student, before in grades_of(course, DURING).items():
        assert after[student].percent == before.percent
        assert after[student].letter == before.letter


@FEW
@given(plain_plans(), st.data())
def test_the_weighted_final_lies_between_the_lowest_and_highest_category(of: Plan, data: st.DataObject) -> None:
    found = work_out(of, {item.id: data.draw(CELLS) for _, item in of.items()}, DURING)
    parts = [c.fraction for c in found.categories if c.fraction is not None]
    assert (found.percent is None) == (not parts)
    if found.percent is not None:
        assert 100 * min(parts) <= found.percent <= 100 * max(parts)


@FEW
@given(courses(), st.randoms())
def test_renaming_and_reordering_categories_change_nothing(course: Course, chance: object) -> None:
    renamed = [
        replace(c, name=f"{c.name} anew", items=tuple(replace(i, name=f"{i.name}!") for i in c.items))
        for c in course.plan.categories
    ]
    chance.shuffle(renamed)  # type: ignore[attr-defined]
    after = grades_of(replace(course, plan=replace(course.plan, categories=tuple(renamed))), DURING)
    for student, before in grades_of(course, DURING).items():
        assert figures(after[student]) == figures(before)


@FEW
@given(courses(), st.randoms())
def test_reordering_items_changes_nothing_where_no_highest_or_lowest_percent_ties(
    course: Course, chance: object
) -> None:
    """A tie may send another item away, and with a highest one of other points the percent moves: left out here."""
    tieless = [replace(c, drop_highest=0, drop_by="helps_most") for c in course.plan.categories]
    turned = [replace(c, items=tuple(chance.sample(c.items, len(c.items)))) for c in tieless]  # type: ignore[attr-defined]
    if course.plan.basis == "points":
        return
    before = grades_of(replace(course, plan=replace(course.plan, categories=tuple(tieless))), DURING)
    after = grades_of(replace(course, plan=replace(course.plan, categories=tuple(turned))), DURING)
    assert [figures(g) for g in after.values()] == [figures(g) for g in before.values()]


@FEW
@given(plain_plans(), st.data(), st.integers(2, 6))
def test_the_average_grade_is_the_grade_of_the_averages(of: Plan, data: st.DataObject, count: int) -> None:
    """Linear where nothing is dropped, blank, exempt or capped."""
    numbers = st.fractions(0, 30, max_denominator=4)
    rows = [{i.id: data.draw(numbers) for _, i in of.items()} for _ in range(count)]
    average = {item: sum((row[item] for row in rows), Fraction(0)) / count for item in rows[0]}
    percents = [work_out(of, row, DURING).percent for row in rows]
    assert work_out(of, average, DURING).percent == sum(p for p in percents if p is not None) / count


@FEW
@given(courses(), st.data())
def test_raising_a_score_never_lowers_a_category_where_nothing_is_dropped_as_highest(
    course: Course, data: st.DataObject
) -> None:
    tame = tuple(replace(c, drop_highest=0, drop_by="helps_most") for c in course.plan.categories)
    of = replace(course.plan, categories=tame)
    cells = dict(course.scores["s0"])
    scored = sorted(i for i, c in cells.items() if isinstance(c, Fraction))
    if not scored:
        return
    chosen = data.draw(st.sampled_from(scored))
    raised: dict[str, Cell] = {**cells, chosen: cells[chosen] + data.draw(st.integers(1, 9))}  # type: ignore[operator,dict-item]
    pairs = zip(work_out(of, cells, DURING).categories, work_out(of, raised, DURING).categories, strict=True)
    for before, after in pairs:
        if before.fraction is not None and after.fraction is not None:
            assert after.fraction >= before.fraction


def test_under_the_points_basis_a_raised_score_can_lower_the_course() -> None:
    """Arithmetic: 5.1/10 and 50/100, drop one, beside 100/100 elsewhere: 95.545455; the 50 raised to 52: 76."""
    of = plan(category("10", "100", drop_lowest=1), category("100", prefix="j"), basis="points")
    assert grade(of, "5.1", "50", "100").percent == Fraction("105.1") / 110 * 100
    assert grade(of, "5.1", "52", "100").percent == 76


def test_shares_typed_with_two_decimals() -> None:
    """Arithmetic: sums of rounded equal shares for 3, 7 and 9 items are 99.99, 100.03 and 99.99; full is 100."""
    for share, count, total in (("33.33", 3, "99.99"), ("14.29", 7, "100.03"), ("11.11", 9, "99.99")):
        made = tuple(replace(i, share=Fraction(share)) for i in items(*["10"] * count))
        assert sum(i.share or 0 for i in made) == Fraction(total)
        of = Plan("weighted", (Category("c", "C", Fraction(100), split="own_shares", items=made),))
        assert grade(of, *["10"] * count).percent == 100


def test_one_category_of_a_single_item_homework_four_quizzes_and_two_tests() -> None:
    """Common practice, arithmetic: 20, 4 x 10, 2 x 20 are 100; the tests forgotten, 60 in force."""
    weights = ["20", *["10"] * 4, *["20"] * 2]
    of = plan(*(category("100", weight=w, prefix=f"k{n}") for n, w in enumerate(weights)))
    found = grade(of, "50", *["100"] * 4)
    assert found.percent == Fraction(20 * 50 + 40 * 100, 60)


def test_a_category_of_15_with_items_of_5_and_10_points() -> None:
    """Arithmetic: 5/5 and 0/10 are by points 5 of 15 points of the final grade, evenly 7.5."""
    for split, points in (("by_points", Fraction(5)), ("even", Fraction(15, 2))):
        of = plan(category("5", "10", weight="15", split=split), category("100", weight="85", prefix="r"))
        assert grade(of, "5", "0", "100").categories[0].contributes == points
