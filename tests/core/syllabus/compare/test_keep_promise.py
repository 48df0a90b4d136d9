"""A sentence becomes a rule in one act."""

from dataclasses import replace
from fractions import Fraction

import pytest

from tests.core.syllabus.compare.promised import PLAN
from vinemark.core.base.refused import Refused
from vinemark.core.plan.rules import RecordedItem
from vinemark.core.syllabus.compare.keep_promise import kept_promise
from vinemark.core.syllabus.compare.promise_words import Promise
from vinemark.core.syllabus.compare.promises import promise_of

FOUR = "More than four absences will lower your grade by a full letter grade."


def test_what_is_counted_is_recorded_first_where_the_plan_has_nothing_like_it() -> None:
    plan, done = kept_promise(PLAN, promise_of(PLAN, FOUR, "attendance"), used=["i7"])
    assert plan.recorded == (RecordedItem("i8", "Absences"),)
    assert plan.requirements[0].condition.item == "i8"
    assert (plan.requirements[0].text, plan.requirements[0].consequence.amount) == (FOUR, 3)
    assert done == "If Absences is above 4, the letter goes down 3 steps of the scale"
    of = replace(PLAN, recorded=(RecordedItem("i9", "Days absent"),))
    promise = promise_of(of, FOUR, "attendance")
    plan, _ = kept_promise(of, promise)
    assert (plan.recorded, plan.requirements[0].condition.item) == (of.recorded, "i9")


def test_a_sentence_without_its_numbers_makes_no_rule() -> None:
    with pytest.raises(Refused) as caught:
        kept_promise(PLAN, promise_of(PLAN, "Late work loses points.", "late"))
    assert caught.value.field == "per_day"
    with pytest.raises(Refused) as caught:
        kept_promise(PLAN, Promise("added", {"added": ""}))
    assert caught.value.field == "added"
    own = {f"weight-{c.id}": str(c.weight) for c in PLAN.categories}
    with pytest.raises(Refused, match="other weights"):
        kept_promise(PLAN, Promise("alternative", {"name": "Same", **own}))
    assert kept_promise(PLAN, Promise("added", {"added": "1.5"}))[0].added == Fraction(3, 2)
