"""The course file: what it says is read, what it must not say is refused at its place."""

import json
from copy import deepcopy
from datetime import date
from fractions import Fraction
from typing import Any

import pytest

from tests.conftest import CASES, SAMPLES
from vinemark.core.base.refused import Refused
from vinemark.core.grade.results import results
from vinemark.exchange import course_file


@pytest.mark.parametrize("name", SAMPLES)
def test_samples_made_by_an_independent_program(name: str) -> None:
    """Source: sample course files with the results of a program that tries every drop."""
    expected = json.loads((CASES / f"{name}.results.json").read_text(encoding="utf-8"))
    course = course_file.course_of_text((CASES / f"{name}.course.json").read_text(encoding="utf-8"))
    assert results(course, date.fromisoformat(expected["as_of"])) == expected


def test_there_are_samples() -> None:
    assert len(SAMPLES) == 22


SMALL: dict[str, Any] = {
    "format": "vine-mark-course/1",
    "term": {"name": "Fall 2026", "starts": "2026-08-31", "ends": "2026-12-18"},
    "section": {"course": "HYDR 230", "title": "Watershed", "number": "01"},
    "plan": {
        "basis": "weighted",
        "categories": [
            {"id": "q", "name": "Quizzes", "weight": "100/3", "items": [{"id": "q1", "name": "Quiz 1", "points": 10}]}
        ],
    },
    "students": [{"id": "S1", "family_name": "Ode", "given_name": ""}],
    "scores": {"S1": {"q1": 0.1}},
}


def refusal(change: Any) -> str:
    value = deepcopy(SMALL)
    change(value)
    with pytest.raises(Refused) as caught:
        course_file.course_of_text(json.dumps(value))
    return str(caught.value)


def item(value: dict[str, Any]) -> dict[str, Any]:
    found: dict[str, Any] = value["plan"]["categories"][0]["items"][0]
    return found


def category(value: dict[str, Any]) -> dict[str, Any]:
    found: dict[str, Any] = value["plan"]["categories"][0]
    return found


@pytest.mark.parametrize(
    ("change", "place"),
    [
        (lambda v: v.update(color="red"), "color: unknown key"),
        (lambda v: item(v).update(points="0"), "plan.categories[0].items[0].points: must be more than 0"),
        (lambda v: item(v).update(points=-1), "plan.categories[0].items[0].points: must not be negative"),
        (lambda v: item(v).update(points="1e2"), "plan.categories[0].items[0].points: must be a number"),
        (lambda v: item(v).update(counts=None), "plan.categories[0].items[0].counts: must be true or false"),
        (lambda v: item(v).update(due="14.09.2026"), "plan.categories[0].items[0].due: must be a date"),
        (lambda v: item(v).update(due="2026-02-30"), "plan.categories[0].items[0].due: must be a date"),
        (lambda v: category(v).pop("weight"), "plan.categories[0].weight: is missing"),
        (lambda v: category(v).update(drop_lowest="2.0"), "plan.categories[0].drop_lowest: must be a whole number"),
        (lambda v: category(v).update(keep_best=0), "plan.categories[0].keep_best: must be 1 or more"),
        (lambda v: category(v).update(keep_best=1, drop_lowest=1), "plan.categories[0].keep_best: cannot stand"),
        (lambda v: category(v).update(split="own_shares"), "plan.categories[0].items[0].share: is missing"),
        (lambda v: category(v)["items"].append(item(v)), "plan.categories[0].items[1].id: “q1” is there twice"),
        (lambda v: v["scores"].update(S9={}), "scores.S9: unknown student"),
        (lambda v: v["scores"]["S1"].update(q9="1"), "scores.S1.q9: unknown item"),
        (lambda v: v["scores"]["S1"].update(q1=""), "scores.S1.q1: type a number"),
        (lambda v: v["scores"]["S1"].update(q1=True), "scores.S1.q1: must be a number"),
        (lambda v: v["plan"].update(rounding={"decimals": 0}), "plan.rounding.letter_uses: is missing"),
        (lambda v: v.update(extensions=[]), "extensions: must be an object"),
        (lambda v: v.update(extensions={"S9": {}}), "extensions.S9: unknown student"),
        (lambda v: v.update(extensions={"S1": []}), "extensions.S1: must be an object"),
        (lambda v: v.update(extensions={"S1": {"q9": "2026-10-01"}}), "extensions.S1.q9: unknown item"),
        (lambda v: v.update(extensions={"S1": {"q1": "soon"}}), "extensions.S1.q1: must be a date"),
        (lambda v: v.update(settled={"S9": {"grade": "A"}}), "settled.S9: unknown student"),
        (lambda v: v.update(records={"codes": [{"code": "F", "needs": ["luck"]}]}), "records.codes[0].needs[0]: must"),
    ],
)
def test_refusals_name_their_place(change: Any, place: str) -> None:
    assert refusal(change).startswith(place)


def test_json_numbers_keep_every_digit() -> None:
    text = json.dumps(SMALL).replace("0.1", "0.1234567890123456789012345678901234567")
    course = course_file.course_of_text(text)
    assert course.cell("S1", "q1") == Fraction("0.1234567890123456789012345678901234567")
    assert course.plan.categories[0].weight == Fraction(100, 3)


@pytest.mark.parametrize(("spelled", "value"), [("25E-1", "2.5"), ("1e2", "100"), ("-0", "0"), ("0.50", "0.5")])
def test_json_numbers_may_have_an_exponent(spelled: str, value: str) -> None:
    text = json.dumps(SMALL).replace("0.1", spelled)
    assert course_file.course_of_text(text).cell("S1", "q1") == Fraction(value)


@pytest.mark.parametrize("text", ["{", '{"format": 1, "format": 1}', '{"format": NaN}', "[1]", "\x00"])
def test_what_is_not_json_is_refused(text: str) -> None:
    with pytest.raises(Refused):
        course_file.course_of_text(text)
