"""The Grades sheet of the workbook: from the categories' percents to the letter, by formulas.

Where a plan has further rules, their working stands behind the letter: the percent by each set of weights, the percent
before anything is added or taken, the adjustment, and how many times each requirement is not met.
"""

from collections.abc import Sequence
from datetime import date
from fractions import Fraction
from typing import Any

from xlsxwriter.utility import xl_col_to_name

from vinemark.core.course.course import Course
from vinemark.core.course.recorded import recorded_cells
from vinemark.core.grade.calculation import Grade
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.grade.weighting import Weighting, weightings_of
from vinemark.exchange.workbook_category import ROW, CategorySheet, Figures
from vinemark.exchange.workbook_cells import CellWriter
from vinemark.exchange.workbook_places import PlanPlaces
from vinemark.exchange.workbook_requirements import RECORDED, RequirementFormulas, recorded_number
from vinemark.exchange.workbook_rounding import rounding_formula, steady
from vinemark.exchange.workbook_scores import FIRST_ROW, FIXED, score_columns, with_own_dates

MINE = "{m}"
"""Stands in a formula for the number of a row on the Grades sheet."""
NO_CAP = "1E+9"
RowValue = float | str


class GradesSheet:
    """Writes the sheet."""

    def __init__(
        self, sheet: Any, course: Course, as_of: date, categories: Sequence[CategorySheet], write: CellWriter
    ) -> None:
        self.sheet = sheet
        self.course = course
        self.plan = course.plan
        self.categories = categories
        self.write = write
        self.places = PlanPlaces(course.plan)
        self.points = self.plan.basis == "points"
        self.grades = grades_of(course, as_of)
        self.weightings = weightings_of(self.plan)
        self.adjusted = bool(course.adjustments)
        self.ruled = bool(self.plan.alternatives or self.plan.added or self.adjusted or self.plan.requirements)
        self._lay_out()

    def _lay_out(self) -> None:
        columns = self._columns()
        self._at = {name: f"{xl_col_to_name(n)}{MINE}" for n, (name, _) in enumerate(columns)}
        self._heading = [title for _, title in columns]

    def _columns(self) -> list[tuple[str, str]]:
        """Every column, by the name that formulas are made with, and its heading."""
        plan = self.plan
        found = [("id", "id"), ("family", "family_name"), ("given", "given_name")]
        found += [(f"category {n}", c.name) for n, c in enumerate(plan.categories)]
        found += [("whole", "Points possible" if self.points else "Weight now")]
        found += [(name, name) for name in ("percent", "rounded", "letter")]
        if plan.alternatives:
            names = ["Percent by the plan's weights", *(f"Percent by {alt.name}" for alt in plan.alternatives)]
            found += [(f"weighting {n}", name) for n, name in enumerate(names)]
        if self.ruled:
            found.append(("before", "Percent before"))
        if self.adjusted:
            found.append(("adjustment", "Adjustment"))
        found += [(f"requirement {n}", _requirement_title(n, one.text)) for n, one in enumerate(plan.requirements)]
        return found

    def build(self) -> None:
        """The whole sheet."""
        self.write.row(self.sheet, 0, self._heading, self.write.bold)
        formulas = [text.split(ROW) for text in self._formulas()]
        for row, student in enumerate(self.course.students, FIRST_ROW):
            mine, number = row - FIRST_ROW + 1, str(row + 1)
            values = self._values(student.id, [category.figures[row] for category in self.categories])
            names = (student.id, student.family_name, student.given_name)
            texts = [number.join(text).replace(MINE, str(mine + 1)) for text in formulas]
            for column, (text, value) in enumerate(zip(self._own(student.id, texts), (*names, *values), strict=True)):
                if text:
                    self.sheet.put_formula(mine, column, text, value)
            if self.adjusted:
                place = self._heading.index("Adjustment")
                self.write.cell(self.sheet, mine, place, self.course.adjustment(student.id))
        self.sheet.freeze_panes(1, FIXED)
        self.sheet.set_column(1, 2, 16)
        self.sheet.set_column(FIXED, len(self._heading) - 1, 13)

    def _own(self, student: str, texts: list[str]) -> list[str]:
        """A row's formulas with the numbers and dates that only this student has."""
        if own := self.course.extended.get(student):
            texts = [with_own_dates(text, own, score_columns(self.course)) for text in texts]
        if not any(RECORDED in text for text in texts):
            return texts
        cells = recorded_cells(self.plan, self.course.scores.get(student, {}))
        first = len(texts) - len(self.plan.requirements)
        numbers = [recorded_number(self.course, student, one, cells) for one in self.plan.requirements]
        return texts[:first] + [t.replace(RECORDED, n) for t, n in zip(texts[first:], numbers, strict=True)]

    # --- the formulas of a row ---------------------------------------------------------------------------------------

    def _formulas(self) -> list[str]:
        """A row; MINE stands for its own number, ROW for that of the student everywhere else."""
        whole, percent = self._at["whole"], self._at["percent"]
        found = [f'Scores!{xl_col_to_name(n)}{ROW}&""' for n in range(FIXED)]
        found += [f'IF({p}="","",100*{p})' for p in (category.figure("p") for category in self.categories)]
        wholes, sums = self._by_points(whole) if self.points else self._by_weight(whole, 0)
        found.append(wholes)
        if self.ruled:
            found.append(self._percent_formula())
        else:
            found.append(f'IF({whole}=0,"",IF(Plan!$B$4="",{sums},MIN(Plan!$B$4,{sums})))')
        way = self.plan.rounding.way if self.plan.rounding else "nearest"
        rounded = rounding_formula(percent, "Plan!$B$5", way)
        found.append(f'IF({percent}="","",IF(Plan!$B$5="",{percent},{rounded}))')
        found.append(self._letter_formula() if self.places.scale else '""')
        return [*found, *self._further_formulas(whole, sums)]

    def _further_formulas(self, whole: str, sums: str) -> list[str]:
        found = []
        if self.plan.alternatives:
            found.append(f'IF({whole}=0,"",{sums})')
            for n in range(1, len(self.weightings)):
                other, percent = self._by_weight("", n)
                found.append(f'IF(({other})=0,"",{percent})')
            first, last = self._at["weighting 0"], self._at[f"weighting {len(self.weightings) - 1}"]
            found.append(f'IF(COUNT({first}:{last})=0,"",MAX({first}:{last}))')
        elif self.ruled:
            found.append(f'IF({whole}=0,"",{sums})')
        found += [""] * self.adjusted
        times = RequirementFormulas(self.course, self.categories, score_columns(self.course)).all()
        return found + [f'IF({self._at["before"]}="",0,{text})' for text in times]

    def _percent_formula(self) -> str:
        """Everything after the percent of the categories: added, adjusted, taken off, capped, not below 0."""
        percent, caps = self._at["before"], [f'IF(Plan!$B$4="",{NO_CAP},Plan!$B$4)']
        if self.plan.added:
            percent += "+Plan!$B$7"
        if self.adjusted:
            percent += f"+{self._at['adjustment']}"
        for n, one in enumerate(self.plan.requirements):
            times, does = self._at[f"requirement {n}"], self.places.requirement(n, "D")
            if one.consequence.kind == "percent_down":
                percent += f"-{times}*{does}"
            elif one.consequence.kind == "percent_at_most":
                caps.append(f"IF({times}>0,{does},{NO_CAP})")
        return f'IF({self._at["before"]}="","",MAX(0,MIN({",".join(caps)},{percent})))'

    def _letter_formula(self) -> str:
        percent, cutoffs, letters = self._at["percent"], self.places.letters("A"), self.places.letters("B")
        used = f'IF(Plan!$B$6="rounded",{self._at["rounded"]},{steady(percent)})'
        kinds = {one.consequence.kind for one in self.plan.requirements}
        if not kinds & {"letters_down", "letter_at_most"}:
            return f'IF({percent}="","",LOOKUP({used},{cutoffs},{letters}))'
        place, most = f"MATCH({used},{cutoffs},1)", []
        for n, one in enumerate(self.plan.requirements):
            times, does = self._at[f"requirement {n}"], self.places.requirement(n, "D")
            if one.consequence.kind == "letters_down":
                place += f"-{times}*{does}"
            elif one.consequence.kind == "letter_at_most":
                most.append(f"IF({times}>0,MATCH({does},{letters},0),{NO_CAP})")
        lowered = ",".join([f"MAX(1,{place})", *most])
        return f'IF({percent}="","",INDEX({letters},MIN({lowered})))'

    def _by_weight(self, whole: str, which: int) -> tuple[str, str]:
        """The sum of the weights in play, and the percent, by one of the sets of weights; without a cell that holds
        the sum (`whole`) it stands in the percent itself."""
        pairs = [(c, self._weight(c, which)) for c in self.categories]
        ordinary = [(c, weight) for c, weight in pairs if not c.category.extra]
        present = [f'IF({c.figure("p")}="",0,{weight})' for c, weight in ordinary]
        parts = [f'IF({c.figure("p")}="",0,{weight}*{c.figure("p")})' for c, weight in pairs]
        regular = "+".join(p for p, (c, _) in zip(parts, pairs, strict=True) if not c.category.extra) or "0"
        extra = "".join(f"+{p}" for p, (c, _) in zip(parts, pairs, strict=True) if c.category.extra)
        sums = "+".join(present) or "0"
        return sums, f"100*({regular})/{whole or f'({sums})'}{extra}"

    def _weight(self, category: CategorySheet, which: int) -> str:
        if which == 0 or category.category.extra:
            return category.plan_cell("B")
        return self.places.alternative(category.place, which - 1)

    def _by_points(self, whole: str) -> tuple[str, str]:
        sizes = [c.figure("size") for c in self.categories if not c.category.extra]
        earned = "+".join(c.figure("counted") for c in self.categories) or "0"
        return "+".join(sizes) or "0", f"100*({earned})/{whole}"

    # --- the values of a row -----------------------------------------------------------------------------------------

    def _values(self, student: str, figures: Sequence[Figures]) -> list[RowValue]:
        grade = self.grades[student]
        rounded = grade.percent if self.plan.rounding is None else grade.rounded
        ordinary = [one for c, one in zip(self.categories, figures, strict=True) if not c.category.extra]
        found: list[RowValue] = ["" if one.p is None else 100 * one.p[0] / one.p[1] for one in figures]
        if self.points:
            found.append(float(sum((one.size for one in ordinary), Fraction(0))))
        else:
            found.append(float(self._whole(self.weightings[0], figures)))
        letter = grade.letter or ""
        found += [_value(grade.percent), _value(rounded), letter if self.places.scale else ""]
        if self.plan.alternatives:
            found += [_value(self._percent_by(weighting, figures)) for weighting in self.weightings]
        if self.ruled:
            found.append(_value(grade.uncapped))
        found += [0.0] * self.adjusted
        return found + self._times(grade)

    def _times(self, grade: Grade) -> list[RowValue]:
        times = {one.requirement.id: one.times for one in grade.not_met}
        return [float(times.get(one.id, 0)) for one in self.plan.requirements]

    def _whole(self, weighting: Weighting, figures: Sequence[Figures]) -> Fraction:
        return weighting.whole([one.p is not None for one in figures]) or Fraction(0)

    def _percent_by(self, weighting: Weighting, figures: Sequence[Figures]) -> Fraction | None:
        whole, percent = self._whole(weighting, figures), Fraction(0)
        if not whole:
            return None
        for category, weight, one in zip(self.categories, weighting.weights, figures, strict=True):
            if one.p is not None:
                percent += weight * Fraction(*one.p) * (1 if category.category.extra else 100 / whole)
        return percent


def _requirement_title(place: int, text: str) -> str:
    return f"Not met {place + 1}: {text}" if text else f"Not met {place + 1}"


def _value(percent: Fraction | None) -> RowValue:
    return "" if percent is None else float(percent)
