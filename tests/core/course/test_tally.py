"""Counts over the cells: brought forward they are what counting again gives."""

import random
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.strategies import CELLS, courses
from tests.seeds import seed
from vinemark.core.course.course import Course
from vinemark.core.course.tally import Tally, tally_of


def by_hand(course: Course) -> Tally:
    """The counts by the plainest loops."""
    ids = [item.id for _, item in course.plan.items()]
    enrolled = [student.id for student in course.enrolled()]
    numbers = {i: sum(not isinstance(course.cell(s, i), str | None) for s in enrolled) for i in ids}
    recorded = {i: sum(course.cell(s, i) is not None for s in enrolled) for i in ids}
    cells = [(s, cell) for s, row in course.scores.items() for cell in row.values() if isinstance(cell, Fraction)]
    return Tally(numbers, recorded, frozenset(s for s, cell in cells if cell > 0), len(cells))


def same(one: Tally, other: Tally) -> bool:
    """Equal, an item that nobody has anything on being none."""
    counts = [[{i: n for i, n in found.items() if n} for found in (t.numbers, t.recorded)] for t in (one, other)]
    return counts[0] == counts[1] and (one.at_work, one.scored) == (other.at_work, other.scored)


@given(courses())
def test_counted_as_by_hand(course: Course) -> None:
    assert same(course.tally, by_hand(course))


@given(courses(), st.data())
def test_brought_forward_it_is_as_if_counted_again(course: Course, data: st.DataObject) -> None:
    ids = [item.id for _, item in course.plan.items()]
    if not ids:
        return
    places = st.tuples(st.sampled_from([s.id for s in course.students]), st.sampled_from(ids))
    changed = data.draw(st.dictionaries(places, CELLS, max_size=6))
    after = course.with_cells(changed)
    again = tally_of(after.values, {student.id for student in after.enrolled()})
    assert same(after.tally, again)
    assert same(after.tally, by_hand(after))
    for (student, item), cell in changed.items():
        assert after.cell(student, item) == cell


@pytest.mark.parametrize("place", [("nobody", "no-item"), ("nobody", "c0-0")])
def test_a_cell_of_nobody_counts_among_the_numbers_alone(place: tuple[str, str]) -> None:
    draw = random.Random(seed(3))
    found = tally_of({}, set()).brought_forward({}, {place[0]: {place[1]: draw.choice([None, "missing"])}}, [place], ())
    assert (found.numbers, found.recorded, found.scored) == ({}, {}, 0)
