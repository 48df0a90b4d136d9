"""A whole file brought in, its own totals held against what is worked out."""

from dataclasses import replace
from fractions import Fraction

import pytest

from tests.builders import AFTER, TERM, items, plan
from tests.core.bring.files import GRADEBOOK, reading
from tests.table.made import made
from tests.table.vocabulary import Half
from vinemark.core.bring.bring import Bringing, Brought, brought
from vinemark.core.bring.columns import ColumnChoice
from vinemark.core.course.course import Course, SectionName, Student
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.plan.edit import empty_plan
from vinemark.core.plan.plan import Category
from vinemark.exchange.readers import table_of_file

NEW = Course(TERM, SectionName("FIBR 120", "Loom", "01"), empty_plan(), ())


def bring(text: str = GRADEBOOK, course: Course = NEW, said: Bringing | None = None) -> Brought:
    return brought(reading(text), course, said or Bringing(), AFTER)


def test_students_items_and_scores_come_in_and_the_totals_agree() -> None:
    found = bring()
    assert [s.name for s in found.people.new] == ["Ode, Marit", "Pell, Jonas", "Quist, Ana", "Rask, Bo"]
    assert len(found.cells) == 10
    assert [(r.row, r.heading, r.text) for r in found.refused] == [(7, "Model", "see note")]
    total, letter = found.held
    assert (total.comparison.agree, letter.comparison.agree) == (4, 2)
    grades = grades_of(found.course, AFTER)
    assert grades["L2"].percent == 100
    assert found.new_items[0].name == "Sketch 1"


def test_a_rule_that_explains_the_file_can_be_used() -> None:
    text = GRADEBOOK.replace('L3,"Quist, Ana",5,,30,35,D', 'L3,"Quist, Ana",5,,30,35,F')
    explained = [e.words for e in bring(text).held[1].comparison.explanations]
    assert explained[0] == "blanks count as 0"
    used = bring(text, said=Bringing(rules=["blanks count as 0"]))
    assert used.held[1].comparison.agree == 4
    assert {c.blanks for c in used.drafted.plan.categories} == {"zero"}


def test_the_same_file_again_changes_nothing() -> None:
    first = bring()
    again = bring(course=first.course)
    assert (again.cells, again.people.new, again.new_items, again.same) == ([], [], [], 10)


def test_scores_that_would_change_are_counted_with_what_is_there() -> None:
    first = bring()
    cells = first.course.with_cells({("L1", "i1"): Fraction(3), ("L1", "i2"): None})
    found = bring(course=cells)
    assert [(c.was, c.cell) for c in found.cells] == [("3", 8), ("", 9)]
    assert found.overwritten == 1


def test_a_file_for_a_class_that_is_there_leaves_strangers_out() -> None:
    here = replace(NEW, students=(Student("L1", "Ode", "Marit"),), plan=plan(
        Category("c1", "Sketches", Fraction(100), items=items("10", prefix="s"))
    ))  # fmt: skip
    found = bring(course=here)
    assert [one.id for one in found.people.strangers] == ["L2", "L3", "L4"]
    assert {c.student_id for c in found.cells} == {"L1"}


def test_remarks_are_kept_with_the_student() -> None:
    text = "Name,Quiz 1,Comments\nOde,8,came late to class\nPell,9,\n"
    assert bring(text, said=Bringing({3: ColumnChoice("remark")})).remarks == {"no-id-1": "came late to class"}


def test_withdrawn_students_are_set_aside_and_not_compared() -> None:
    text = "Name,Quiz 1,Quiz 2,Status,Total\nOde,8,9,,17\nPell,7,,withdrawn,7\nLi,5,5,,10\n"
    found = bring(text)
    assert [s.set_aside for s in found.people.new] == [None, "withdrawn", None]
    assert len(found.held[0].comparison.lines) == 2


@pytest.mark.parametrize("half", ["seen", "unseen"])
def test_totals_of_made_tables_agree_with_ours(half: Half) -> None:
    """Tables whose totals are the plain sum, or the weighted one, of what stands in them."""
    agree = explained = lines = 0
    for seed in range(40):
        found = brought(table_of_file(made(seed, half).data), NEW, Bringing(), AFTER)
        for held in found.held:
            if held.column.use == "total":
                agree += held.comparison.agree
                explained += max([held.comparison.agree, *(e.agree for e in held.comparison.explanations)])
                lines += len(held.comparison.lines)
    print(f"totals of made tables, {half}: {agree} of {lines} agree, {explained} with other rules")
    assert lines > 200
    assert explained > lines * 0.95
