"""How many times each requirement is not met, by formulas on the Grades sheet of the workbook."""

from collections.abc import Mapping, Sequence
from fractions import Fraction

from xlsxwriter.utility import xl_col_to_name

from vinemark.core.course.course import Course
from vinemark.core.course.recorded import PlainCells
from vinemark.core.grade.counted import late_work
from vinemark.core.plan.plan import Category, Item
from vinemark.core.plan.rules import Requirement
from vinemark.exchange.workbook_category import ROW, CategorySheet
from vinemark.exchange.workbook_places import PlanPlaces
from vinemark.exchange.workbook_rounding import steady
from vinemark.exchange.workbook_scores import due_before

POINTS_ROW = 3
"""A row of the Scores sheet, as formulas name it."""
RECORDED = "{v}"
"""Stands for a number that a formula cannot find, because the Scores sheet shows what counts of it."""


class RequirementFormulas:
    """The formulas of a course's requirements."""

    def __init__(self, course: Course, categories: Sequence[CategorySheet], columns: Mapping[str, int]) -> None:
        self.course = course
        self.plan = course.plan
        self.places = PlanPlaces(course.plan)
        self._categories = {sheet.category.id: sheet for sheet in categories}
        self._columns = columns

    def all(self) -> list[str]:
        """One for each requirement: 0 where it is met, else how many times it takes effect."""
        return [self._times(place, one) for place, one in enumerate(self.plan.requirements)]

    def _times(self, place: int, one: Requirement) -> str:
        asked, condition = self.places.requirement(place, "B"), one.condition
        if condition.kind == "missed_at_least":
            times = f"{self._missed(self._categories[condition.category or ''])}-{asked}+1"
            return f"MAX(0,{times})" if one.consequence.for_each else f"IF({times}>0,1,0)"
        if condition.kind == "value_above":
            value = self._value(condition.item or "")
            above = f"INT({steady(f'{value}-{asked}')})" if one.consequence.for_each else "1"
            return f"IF(ISNUMBER({value}),IF({value}>{asked},{above},0),0)"
        if condition.category is not None:
            p = self._categories[condition.category].figure("p")
            return f'IF({p}="",0,IF({steady(f"100*{p}")}<{asked},1,0))'
        return self._below_item(*self.plan.placed[condition.item or ""], asked)

    def _missed(self, sheet: CategorySheet) -> str:
        terms = []
        for item in sheet.items:
            score = self._score(item.id)
            blank = self._blank_counts(sheet.category, item)
            counts = {"0": f'{score}="missing"', "1": f'OR({score}="missing",{score}="")'}
            terms.append(f"IF({counts.get(blank) or self._either(score, blank)},1,0)")
        return "+".join(terms) or "0"

    def _either(self, score: str, blank: str) -> str:
        return f'OR({score}="missing",AND({score}="",{blank}))'

    def _below_item(self, category: Category, item: Item, asked: str) -> str:
        if not item.counts:
            return "0"
        score, points = self._score(item.id), f"Scores!{xl_col_to_name(self._columns[item.id])}${POINTS_ROW}"
        number = f"IF({steady(f'100*{score}/{points}')}<{asked},1,0)"
        regular = category.extra or not item.extra
        blank = self._blank_counts(category, item) if regular else "0"
        zero = f'{score}="missing"' if blank == "0" else self._either(score, "TRUE" if blank == "1" else blank)
        return f"IF(ISNUMBER({score}),{number},IF({zero},IF(0<{asked},1,0),0))"

    def _blank_counts(self, category: Category, item: Item) -> str:
        """Whether a blank counts as 0: '1', '0', or a condition of the day."""
        if category.extra or category.blanks == "zero":
            return "1"
        if category.blanks == "zero_when_due" and item.due is not None:
            return due_before(self._columns[item.id])
        return "0"

    def _score(self, item: str) -> str:
        return f"Scores!{xl_col_to_name(self._columns[item])}{ROW}"

    def _value(self, item: str) -> str:
        return RECORDED if self._lessened(item) else self._score(item)

    def _lessened(self, item: str) -> bool:
        """Whether late days may have taken something of what is recorded."""
        placed = self.plan.placed.get(item)
        return placed is not None and placed[1].counts and placed[0].late is not None


def recorded_number(course: Course, student: str, one: Requirement, recorded: PlainCells) -> str:
    """What stands for RECORDED in a student's row: the number before late days took anything, or no number."""
    work = late_work(course.plan_of(student), course.scores.get(student, {})).get(one.condition.item or "")
    value = work.value if work else recorded.get(one.condition.item or "")
    return f"({value})" if isinstance(value, Fraction) else '""'
