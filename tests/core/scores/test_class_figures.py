"""Averages and medians of categories and grades over the class, against pandas."""

import pandas as pd

from tests.builders import AFTER, category, course, plan
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.scores.class_figures import NO_FIGURE, ClassFigure, percents_of_class

PLAN = plan(category("10", weight="60"), category("20", weight="40", prefix="t", drop_lowest=0))
SCORES: dict[str, list[str | None]] = {"ada": ["8", "17"], "bo": ["10", None], "cy": ["3.5", "20"], "di": [None, None]}


def test_they_are_those_of_the_enrolled_who_have_them() -> None:
    of = course(PLAN, SCORES, aside={"cy": "left"})
    found = percents_of_class(of, grades_of(of, AFTER))
    assert found["0"] == ClassFigure("90.0", "90.0", 2)
    assert found["1"] == ClassFigure("85.0", "85.0", 1)
    assert found["so-far"] == ClassFigure("91.0", "91.0", 2)


def test_they_agree_with_pandas() -> None:
    of = course(PLAN, SCORES)
    grades = grades_of(of, AFTER)
    for name, attribute in (("so-far", "percent"), ("zero", "blanks_zero"), ("full", "blanks_full")):
        known = [float(p) for grade in grades.values() if (p := getattr(grade, attribute)) is not None]
        series, found = pd.Series(known), percents_of_class(of, grades)[name]
        assert found == ClassFigure(f"{series.mean():.1f}", f"{series.median():.1f}", len(known))


def test_a_class_without_students_has_none() -> None:
    of = course(PLAN, {})
    assert percents_of_class(of, {})["so-far"] == NO_FIGURE
