"""Results as JSON (`vine-mark-results/1`), made of pieces that many students share.

It is what `json.dumps` makes of `core.grade.results.results`; an item with the same cell in the same state is spelled
once for the whole class.
"""

import json
from collections.abc import Iterator, Mapping
from datetime import date
from fractions import Fraction
from math import gcd
from typing import Any

from vinemark.core.base.number import exact_text, fixed, fixed_ratio
from vinemark.core.course.cell import Cell, DetailedScore
from vinemark.core.course.course import Course
from vinemark.core.grade.calculation import CategoryResult, Grade, ItemState
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.grade.results import RESULTS_FORMAT, category_head, grade_head, item_values, rules_of
from vinemark.core.plan.plan import Plan


def results_json(course: Course, as_of: date) -> str:
    """Every student's grade, in the order of the file."""
    head = _opened({"format": RESULTS_FORMAT, "as_of": as_of.isoformat()})
    spelled, beside = _Spelled(course.plan), rules_of(course)
    students = (
        f"{_opened({'id': student, **grade_head(course.plan, grade, beside)})}, {spelled.categories(grade)}}}"
        for student, grade in grades_of(course, as_of).items()
    )
    return f'{head}, "students": [{", ".join(students)}]}}'


class _Spelled:
    """The items of a plan as they are spelled, each kind of result once."""

    def __init__(self, plan: Plan) -> None:
        self._plan = plan
        self._items: dict[str, dict[tuple[int, ItemState], str]] = {item.id: {} for _, item in plan.items()}
        # A cell is known by the object it is: a class has few of them, and they live as long as the course.
        self._cells: list[Cell] = []
        self._heads = {one.id: _opened({"id": one.id}) for one in plan.categories}
        self._forces: dict[str, dict[tuple[Fraction, Fraction], tuple[Fraction, str]]] = {}

    def categories(self, grade: Grade) -> str:
        """The categories of one student; their working is not kept with the grade."""
        return f'"categories": [{", ".join([self._category(result) for result in grade.work()])}]'

    def _category(self, result: CategoryResult) -> str:
        items = ", ".join(self._items_of(result))
        whole, ratio = result.whole, result.ratio
        other = self._plan.basis == "points" or result.category.extra or result.rounds
        if other or whole is None or ratio is None:
            return f'{_opened(category_head(self._plan, result))}, "items": [{items}]}}'
        part, of = 100 * ratio[0], ratio[1]
        shared = gcd(part, of)
        exact = f"{part // shared}" if of == shared else f"{part // shared}/{of // shared}"
        head, (force, text) = self._heads[result.category.id], self._force(result, whole)
        contributes = fixed_ratio(force.numerator * ratio[0], force.denominator * of, 6)
        return (
            f'{head}, "percent": "{fixed_ratio(part, of, 6)}", "exact": "{exact}", "weight": {text},'
            f' "contributes": "{contributes}", "items": [{items}]}}'
        )

    def _force(self, result: CategoryResult, whole: Fraction) -> tuple[Fraction, str]:
        """The weight in force, the same for all whose weights in play add to the same; and both weights spelled."""
        known = self._forces.setdefault(result.category.id, {})
        found = known.get((whole, result.weight))
        if found is None:
            force, weight = result.weight_now or Fraction(0), result.weight
            found = known[whole, result.weight] = (
                force,
                f'"{exact_text(weight)}", "weight_in_force": "{fixed(force, 6)}"',
            )
        return found

    def _items_of(self, result: CategoryResult) -> Iterator[str]:
        for item, cell, state in result.states():
            if state == "replaced" or isinstance(cell, DetailedScore):
                yield json.dumps(item_values(result.item_result(item, cell, state)), ensure_ascii=False)
                continue
            known = self._items[item.id]
            found = known.get((id(cell), state))
            if found is None:
                self._cells.append(cell)
                values = item_values(result.item_result(item, cell, state))
                found = known[id(cell), state] = json.dumps(values, ensure_ascii=False)
            yield found


def _opened(values: Mapping[str, Any]) -> str:
    """An object without its end."""
    return json.dumps(values, ensure_ascii=False)[:-1]
