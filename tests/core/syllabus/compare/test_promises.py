"""Sentences that promise a rule: a better score, other weights, points for everyone; and whether a plan holds one."""

from dataclasses import replace
from fractions import Fraction

import pytest

from tests.core.syllabus.compare.promised import PLAN, check
from vinemark.core.course.course import Adjustment
from vinemark.core.plan.rules import LateRule, Replacement
from vinemark.core.syllabus.compare.promises import held_by, promise_of


def test_replacements() -> None:
    weakest = "A better score on Final exam replaces the weakest of Midterms, missing ones too"
    check(
        [
            ("If your final exam score is higher than your lowest midterm, it will replace that midterm.", weakest),
            ("The final exam may be used in place of the lowest midterm.", weakest),
            ("Should your final exam be better than your weakest midterm, the final's percentage takes its place.",
             weakest),
            ("A missed midterm is replaced by the score on the final exam.", weakest),
            ("Your final exam grade replaces your two lowest lab scores, but missed labs cannot be replaced.",
             "A better score on Final exam replaces the 2 weakest of Labs, missing ones excepted"),
            ("If your second exam is better than your first, I will use it in place of the first.", "open: into"),
        ]
    )  # fmt: skip


def test_alternative_weights() -> None:
    words = "Alternative weights, The better of two: Labs 20%, Midterms {}%, Field days 10%, Final exam {}%; the better"
    check(
        [
            ("Your grade is the better of two schemes: midterms 40% and final 30%, or midterms 20% and final 50%.",
             f"{words.format(20, 50)} result counts"),
            ("Whichever gives you the higher grade: labs 20%, midterms 40%, field days 10%, final 30%, or labs 20%,"
             " midterms 10%, field days 10%, final 60%.", f"{words.format(10, 60)} result counts"),
            ("The weight of the lowest midterm is moved to the final exam if that helps you.", "open: weight-lab"),
        ]
    )  # fmt: skip


def test_points_for_everyone() -> None:
    check(
        [
            ("I will add 2 points to everyone's course percent as a curve.", "points for everyone: 2"),
            ("All final grades are curved up by 3 percentage points.", "points for everyone: 3"),
            ("The scale may be lowered if the class does badly.", "open: added"),
        ]
    )


def test_a_plan_holds_a_promise_by_a_rule_of_its_kind() -> None:
    assert not any(held_by(PLAN, about) for about in ("late", "replacement", "requirement", "attendance", "curve"))
    late = replace(PLAN.categories[0], late=LateRule(Fraction(10)))
    assert held_by(replace(PLAN, categories=(late,)), "late")
    assert held_by(replace(PLAN, replacements=(Replacement("final0", "mid"),)), "replacement")
    assert held_by(PLAN, "curve", adjusted=bool({"ada": Adjustment(Fraction(1))}))
    assert held_by(replace(PLAN, added=Fraction(2)), "curve")


@pytest.mark.parametrize("text", ["", "late", "x" * 5000, "10% a day " * 900])
def test_any_text_makes_some_form(text: str) -> None:
    for about in ("late", "replacement", "alternative", "requirement", "attendance", "curve"):
        assert promise_of(PLAN, text, about).kind in {"late", "replacement", "alternative", "requirement", "added"}
