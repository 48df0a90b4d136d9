"""The sheet as rows of plain cells, and the figures of a column."""

import statistics
from dataclasses import replace
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.builders import AFTER, category, course, plan, roster
from vinemark.core.course.cell import DetailedScore
from vinemark.core.course.course import Course, RosterEntry
from vinemark.core.grade.calculation import grade_of
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.plan.plan import Rounding
from vinemark.core.plan.rules import LateRule, RecordedItem, Symbol
from vinemark.core.scores.sheet import (
    Remarks,
    SheetRow,
    column,
    histogram,
    sheet_bands,
    sheet_cell,
    sheet_row,
    sheet_rows,
    shown_percent,
)

PLAN = plan(category("10", "50", split="even"))
ITEM, OTHER = PLAN.categories[0].items
CLASS: Course = course(
    PLAN, {"ada": ["8", "40"], "bo": [None, "30"], "cy": ["missing", "20"], "out": ["1", "1"]}, aside={"out": "sits in"}
)


def row(*cells: str | None, **rules: object) -> SheetRow:
    of = course(plan(replace(category("10", "10", "10"), **rules)), {"ada": list(cells)})  # type: ignore[arg-type]
    return alone(of, of.students[0].id)


def alone(of: Course, student: str, remarks: Remarks | None = None) -> SheetRow:
    """One row, worked out by itself."""
    who = next(one for one in of.students if one.id == student)
    return sheet_row(of, who, grade_of(of, student, AFTER), remarks or {})


def states(found: SheetRow) -> list[tuple[str, str, str]]:
    return [(c.text, c.state, c.said) for c in found.groups[0][0]]


def test_what_stands_in_a_cell_and_what_is_heard() -> None:
    assert states(row("12", None, "missing")) == [
        ("12", "kept over", "above the item's points"),
        ("", "waiting", "blank, not counted yet"),
        ("missing", "kept missing", ""),
    ]
    assert states(row("exempt", "10", None, blanks="zero")) == [
        ("exempt", "exempt exempt", ""), ("10", "kept", ""), ("", "kept zero", "blank, counts as 0"),
    ]  # fmt: skip
    assert states(row("9", "8", None, blanks="zero", drop_lowest=1))[2] == (
        "", "dropped-lowest zero", "blank, counts as 0, dropped",
    )  # fmt: skip
    assert states(row("9", "8", "7", drop_highest=1, drop_lowest=1)) == [
        ("9", "dropped-highest", "dropped as highest"), ("8", "kept", ""), ("7", "dropped-lowest", "dropped as lowest"),
    ]  # fmt: skip


def test_a_remark_is_marked_on_its_cell() -> None:
    found = alone(CLASS, "ada", {("ada", "i0"): "late"})
    assert (found.cell("i0").remark, found.cell("i0").state) == ("late", "kept remarked")
    assert found.cell("i1").remark == ""


def test_the_figures_of_a_row_alone_are_those_of_the_whole_sheet() -> None:
    assert [vars(alone(CLASS, s.id)) | {"grade": 0} for s in CLASS.students] == [
        vars(found) | {"grade": 0} for found in sheet_rows(CLASS, grades_of(CLASS, AFTER))
    ]


def test_percents_letters_and_what_is_not_there_yet() -> None:
    found = row("9", None, None)
    assert (found.so_far.percent, found.so_far.letter) == ("90.00", "A")
    assert (found.blanks_zero.percent, found.blanks_zero.letter) == ("30.00", "F")
    assert (found.blanks_full.percent, found.blanks_full.letter) == ("96.67", "A")
    assert found.groups[0][1] == "90.0"
    none = row(None, None, None)
    assert (none.so_far.percent, none.so_far.letter, none.groups[0][1], none.near) == ("–", "–", "–", False)


@pytest.mark.parametrize(("score", "near"), [("8.96", True), ("8.95", False), ("9", False)])
def test_near_a_letter(score: str, near: bool) -> None:
    assert row(score, "exempt", "exempt").near is near


def test_where_a_student_stands() -> None:
    records = roster("ada", "bo", bo=RosterEntry("bo", "Bo", "Mai", status="withdrawn"))
    assert [r.status for r in sheet_rows(replace(CLASS, records=records), grades_of(CLASS, AFTER))] == [
        "enrolled", "withdrawn", "not on the roster", "set aside",
    ]  # fmt: skip


def test_a_column_counts_numbers_of_the_enrolled_alone() -> None:
    found = column(CLASS, OTHER)
    assert (found.average, found.median, found.lowest, found.highest, found.scored) == ("30.0", "30", "20", "40", 3)
    assert column(CLASS, ITEM).scored == 1
    assert column(course(PLAN, {"ada": [None]}), ITEM) == type(found)("", "", "", "", 0)


@given(st.lists(st.fractions(0, 50, max_denominator=8), min_size=1, max_size=9))
def test_average_and_median_agree_with_the_statistics_module(scores: list[Fraction]) -> None:
    """Source: Python's statistics module, on fractions."""
    of = course(PLAN, {f"s{n}": [None, str(score)] for n, score in enumerate(scores)})
    found = column(of, OTHER)
    assert abs(Fraction(found.average) - statistics.mean(scores)) <= Fraction(1, 20)
    assert abs(Fraction(found.median) - statistics.median(scores)) <= Fraction(1, 200)
    assert (Fraction(found.lowest) <= Fraction(found.highest), found.scored) == (True, len(scores))


def test_the_spread_of_scores() -> None:
    assert histogram(CLASS, OTHER) == [0, 0, 0, 0, 1, 0, 1, 0, 1, 0, 0]
    assert histogram(course(PLAN, {"ada": []}), OTHER) == []
    edges = course(PLAN, {"ada": ["0", "0"], "bo": ["10", "50"], "cy": ["12", "49.9"]})
    assert histogram(edges, OTHER) == [1, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1]
    assert histogram(edges, ITEM)[10] == 2


def test_late_work_and_symbols_show_what_counts() -> None:
    labs = replace(category("10", "10"), late=LateRule(Fraction(10)), symbols=(Symbol("ok", Fraction(80)),))
    of = course(plan(labs), {"ada": []})
    late = of.with_cells(
        {("ada", "i0"): DetailedScore(Fraction(17, 2), None, 2), ("ada", "i1"): DetailedScore(None, "ok")}
    )
    assert [(c.text, c.counts, c.state, c.said) for c in alone(late, "ada").groups[0][0]] == [
        ("8.5 late 2", "6.5", "kept detailed wide", "counts as 6.5"),
        ("ok", "8", "kept detailed wide", "counts as 8"),
    ]
    assert column(late, labs.items[0]).average == "8.5"
    assert histogram(late, labs.items[1])[8] == 1


def test_what_is_only_recorded_stands_in_a_band_of_its_own() -> None:
    of = course(replace(PLAN, recorded=(RecordedItem("abs", "Absences"),)), {"ada": ["8", "40"]})
    of = of.with_cells({("ada", "abs"): Fraction(4)})
    assert [(b.name, b.percent, [i.name for i in b.items]) for b in sheet_bands(of.plan)][1:] == [
        ("Recorded only", False, ["Absences"])
    ]
    assert len(sheet_bands(PLAN)) == 1
    found = alone(of, "ada", {("ada", "abs"): "by email"})
    assert (found.cell("abs").text, found.cell("abs").remark) == ("4", "by email")
    item = of.plan.columns["abs"]
    assert sheet_cell(of, of.students[0], grade_of(of, "ada", AFTER), item).said == "recorded only"
    assert column(of, item).highest == "4"


@pytest.mark.parametrize(
    ("percent", "rounding", "shown"),
    [
        ("59.97", None, "59.97"),
        ("59.997", None, "59.997"),
        ("59.9999", None, "59.9999"),
        ("60", None, "60.00"),
        ("59.4996", Rounding(0), "59"),
        ("59.5", Rounding(0), "60"),
        ("89.95", Rounding(1), "90.0"),
        ("89.996", Rounding(0, "exact"), "89.996"),
    ],
)
def test_a_percent_is_shown_so_that_its_letter_explains_itself(
    percent: str, rounding: Rounding | None, shown: str
) -> None:
    assert shown_percent(replace(plan(category("10")), rounding=rounding), Fraction(percent)) == shown
