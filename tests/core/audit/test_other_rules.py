"""Rules that others may have worked with: what they leave alone, and that two at once are found on courses at random.

The courses are made from seeds; the pairs planted are drawn from the rules that are tried, so this says how well the
search finds what is there, not how much of the world is in its list.
"""

import random
from dataclasses import replace
from fractions import Fraction

from tests.builders import AFTER, TENS, category, course, plan
from tests.core.audit.audit_courses import clean
from tests.seeds import seed
from vinemark.core.audit.other_rules import OtherRule, other_rules
from vinemark.core.audit.outside_totals import OutsideFigure, compare_totals
from vinemark.core.base.number import round_half_up
from vinemark.core.course.course import Course
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.plan.plan import HUNDRED, Plan, ScaleRow
from vinemark.core.plan.rules import Condition, Consequence, Requirement

TWO = plan(category("10", "20", weight="60"), category("10", "10", weight="40", prefix="j"))


def words_of(of: Plan) -> set[str]:
    return {rule.words for rule in other_rules(of)}


def only(of: Plan, words: str) -> Plan:
    return next(rule.plan for rule in other_rules(of) if rule.words == words)


def test_weights_are_moved_exchanged_and_made_alike_and_still_make_a_hundred() -> None:
    found = [rule for rule in other_rules(TWO) if rule.kind == "weights"]
    assert {
        "every category has the same weight",
        "Category i counts 40% and Category j 60%",
        "Category i counts 55% and Category j 45%",
        "Category j counts 30% and Category i 70%",
    } <= {rule.words for rule in found}
    assert all(sum((c.weight or Fraction(0) for c in rule.plan.categories), Fraction(0)) == HUNDRED for rule in found)


def test_an_item_left_out_counts_no_more_and_takes_its_rules_along() -> None:
    low = Requirement("r", Condition("percent_below", HUNDRED, item="j0"), Consequence("percent_down", Fraction(2)))
    ruled = replace(TWO, requirements=(low,))
    without = only(ruled, "without J 0")
    assert [item.id for _, item in without.items() if item.counts] == ["i0", "i1", "j1"]
    assert without.requirements == ()
    assert only(ruled, "without I 0").requirements == ruled.requirements


def test_a_category_of_one_item_is_left_out_as_a_category_alone() -> None:
    words = words_of(plan(category("10", weight="60"), category("10", "10", weight="40", prefix="j")))
    assert "without Category i (60%)" in words
    assert "without I 0" not in words


def test_extra_credit_is_left_out_or_taken_for_regular_work() -> None:
    extra = replace(TWO.categories[1], extra=True)
    assert {"without extra credit", "extra credit counts as regular work"} <= words_of(
        replace(TWO, categories=(TWO.categories[0], extra))
    )
    assert not {"without extra credit", "extra credit counts as regular work"} & words_of(TWO)


def test_scales_with_signs_may_have_none_elsewhere() -> None:
    rows = (("A", 93), ("A-", 90), ("B+", 87), ("B", 83), ("F", 0))
    of = replace(TWO, scale=tuple(ScaleRow(letter, Fraction(cutoff)) for letter, cutoff in rows))
    assert only(of, "letters have no plus and minus").scale == (
        ScaleRow("A", Fraction(90)), ScaleRow("B", Fraction(83)), ScaleRow("F", Fraction(0)),
    )  # fmt: skip
    assert "letters have no plus and minus" not in words_of(TWO)
    curved = replace(TWO, scale=tuple(replace(row, cutoff=max(Fraction(0), row.cutoff - 3)) for row in TENS))
    assert only(curved, "the cutoffs are 90, 80, 70 and 60").scale == TENS
    assert "the cutoffs are 90, 80, 70 and 60" not in words_of(TWO)


def test_plain_letters_agree_with_a_scale_of_signs_by_that_rule() -> None:
    rows = (("A", 93), ("A-", 90), ("B+", 87), ("B", 83), ("F", 0))
    of = course(
        replace(TWO, scale=tuple(ScaleRow(letter, Fraction(cutoff)) for letter, cutoff in rows)),
        {"ada": ["9", "18", "9", "9"], "bo": ["9", "18", "8", "8"], "cy": ["1", "1", "1", "1"]},
    )
    theirs = {"ada": OutsideFigure("A"), "bo": OutsideFigure("B"), "cy": OutsideFigure("F")}
    found = compare_totals(of, theirs, AFTER)
    assert found.agree < 3
    assert (found.explanations[0].words, found.explanations[0].agree) == ("letters have no plus and minus", 3)


def figures(of: Course, other: Plan, how: str) -> dict[str, OutsideFigure]:
    """What somebody with another plan writes down: percents of so many decimals, or letters."""
    grades = {s: g for s, g in grades_of(replace(of, plan=other), AFTER).items() if g.percent is not None}
    if how == "letters":
        return {student: OutsideFigure(grade.letter or "") for student, grade in grades.items()}
    decimals = int(how)
    return {
        student: OutsideFigure("", round_half_up(grade.percent or Fraction(0), decimals), decimals)
        for student, grade in grades.items()
    }


def planted(rng: random.Random, of: Course) -> Plan:
    """Two rules of different kinds at once."""
    first = rng.choice(other_rules(of.plan))
    more: list[OtherRule] = [rule for rule in other_rules(first.plan) if rule.kind != first.kind]
    return rng.choice(more).plan


def test_two_rules_at_once_are_found_on_courses_at_random() -> None:
    """About two in three are (docs/audit.md); so few courses are drawn here that a third is asked for."""
    explained = tried = 0
    for number, how in enumerate(("2", "1", "letters") * 3):
        rng = random.Random(seed(4100) + number)
        of = clean(rng.randrange(10**6))
        found = compare_totals(of, figures(of, planted(rng, of), how), AFTER)
        if found.agree < len(found.lines):
            tried += 1
            explained += bool(found.explanations) and found.explanations[0].agree == len(found.lines)
    assert explained * 3 > tried


def test_a_single_rule_is_found_and_said_first() -> None:
    rng = random.Random(seed(4200))
    of = clean(rng.randrange(10**6))
    for rule in rng.sample(other_rules(of.plan), 4):
        found = compare_totals(of, figures(of, rule.plan, "3"), AFTER)
        if found.agree < len(found.lines):
            assert found.explanations[0].agree == len(found.lines), rule.words
            assert len(found.explanations[0].rules) == 1
