"""What is not read surely raises no alarm: seen on syllabuses that were read wrongly (invented ones, no source)."""

from dataclasses import replace
from fractions import Fraction

import pytest

from tests.builders import category, plan
from vinemark.core.syllabus.compare.match import compare_rules
from vinemark.core.syllabus.compare.sure import sure_category, sure_count, sure_weight, sure_weights
from vinemark.core.syllabus.facts import Clause, Reading, SaidCategory


def said(name: str, weight: str | None = None, **more: object) -> SaidCategory:
    return SaidCategory(name, Fraction(weight) if weight else None, **more)  # type: ignore[arg-type]


def reading(*categories: SaidCategory, **clauses: str) -> Reading:
    found = [Clause(0, 1, "count", name.replace("_", " "), text) for name, text in clauses.items()]
    return Reading("weighted", list(categories), clauses=found)


@pytest.mark.parametrize(
    ("weights", "sure"),
    [(["60", "40"], True), (["16.67"] * 6, True), (["60", "40", "30"], False), (["60"], False), ([None], True)],
)
def test_weights_are_sure_where_they_make_a_whole(weights: list[str | None], sure: bool) -> None:
    assert sure_weights(reading(*(said(f"W{n}", w) for n, w in enumerate(weights)))) is sure


def test_extra_credit_and_points_do_not_count_into_the_whole() -> None:
    assert sure_weights(reading(said("Exam", "100"), said("Bonus", "5", extra=True)))
    assert sure_weights(Reading("points", [said("Exam", "30")]))


@pytest.mark.parametrize(
    ("text", "sure"),
    [
        ("Map quizzes: 15%", True),
        ("Map quizzes (15 percent).", True),
        ("| Map quizzes | 15% |", False),
        ("Map quizzes | 15%", True),
        ("Map quizzes: 15% of 20%", False),
        ("Map quizzes, best 8 of 10: 15%", False),
        ("A map of 15% slopes", False),
    ],
)
def test_a_plain_line_is_sure_in_weights_that_make_no_whole(text: str, sure: bool) -> None:
    quizzes = said("Map quizzes", "15")
    other = said("Exam", "90")
    found = Reading("weighted", [quizzes, other], clauses=[Clause(0, 1, "weight", "Map quizzes", text)])
    assert sure_weight(quizzes, found) is sure
    assert not sure_weight(other, found)


@pytest.mark.parametrize(
    ("text", "sure"),
    [
        ("There are 8 map quizzes.", True),
        ("eight short quizzes, each on one map", True),
        ("Map quizzes (8), 15%", True),
        ("Map quizzes | 8 | 15%", True),
        ("Quizzes: 8 x 10 points", True),
        ("Each quiz takes 8 minutes.", False),
        ("Quizzes start in week 8 of the term.", False),
        ("A paper of 8 pages on the bones of the hand", False),
        ("Map quizzes | 18 | 15%", False),
    ],
)
def test_a_count_stands_by_what_it_counts(text: str, sure: bool) -> None:
    quizzes = said("Map quizzes", count=8)
    assert sure_count(quizzes, reading(quizzes, Map_quizzes=text)) is sure
    assert not sure_count(said("Map quizzes"), reading(quizzes, Map_quizzes=text))


def test_a_count_that_adds_up_is_sure_and_one_that_does_not_is_not() -> None:
    good = said("Labs", count=4, points=Fraction(100), points_each=Fraction(25))
    assert sure_count(good, reading(good))
    assert not sure_count(replace(good, count=14), reading(good, Labs="14 labs"))


def test_a_sentence_about_a_bonus_is_no_category() -> None:
    bonus = said("Bonus work", extra=True)
    assert not sure_category(bonus, reading(bonus))
    assert sure_category(replace(bonus, weight=Fraction(5)), reading(bonus))
    assert not sure_category(said("", "30"), reading(said("", "100")))
    assert not sure_category(said("You", "20"), reading(said("Exam", "100"), said("You", "20")))


def rules(of: object, read: Reading) -> list[tuple[str, str]]:
    return [(rule.name, rule.state) for rule in compare_rules(of, read) if rule.state != "agrees"]  # type: ignore[arg-type]


def test_what_is_not_sure_is_not_compared() -> None:
    of = plan(
        replace(category("10", "10", weight="60"), name="Labs"),
        replace(category("50", weight="40", prefix="j"), name="Exam"),
    )
    wrong = reading(said("Labs", "45"), said("Exam", "40"), said("You", "30"))
    assert rules(of, wrong) == []
    right = reading(said("Labs", "45"), said("Exam", "55"))
    assert rules(of, right) == [("weight", "differs"), ("weight", "differs")]


@pytest.mark.parametrize(
    ("has", "says", "same"),
    [
        ({"keep_best": 6}, {"keep_best": 6, "count": 40}, True),
        ({"keep_best": 6}, {"keep_best": 6}, True),
        ({"keep_best": 5}, {"keep_best": 6}, False),
        ({"drop_lowest": 2}, {"keep_best": 6, "count": 8}, True),
        ({"drop_lowest": 2}, {"keep_best": 6}, True),
        ({"drop_lowest": 2}, {"keep_best": 6, "count": 40}, True),
        ({"drop_lowest": 1}, {"keep_best": 6}, False),
        ({"keep_best": 6}, {"drop_lowest": 2}, True),
        ({"keep_best": 6}, {"drop_lowest": 2, "count": 8}, True),
        ({"keep_best": 6}, {"drop_lowest": 3}, False),
        ({"drop_lowest": 2}, {"drop_lowest": 2, "count": 40}, True),
        ({"drop_lowest": 2}, {"drop_lowest": 1}, False),
    ],
)
def test_a_rule_that_is_the_same_is_the_same_whatever_is_beside_it(
    has: dict[str, int], says: dict[str, int], same: bool
) -> None:
    of = plan(replace(category(*["10"] * 8), name="Quizzes", **has))  # type: ignore[arg-type]
    drops = [state for name, state in rules(of, reading(said("Quizzes", "100", **says))) if name == "drop"]
    assert (drops == []) is same
