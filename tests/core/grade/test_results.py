"""Grades as the results format spells them."""

from tests.builders import AFTER, category, course, plan
from vinemark.core.grade.results import RESULTS_FORMAT, results

CLASS: dict[str, list[str | None]] = {"ada": ["1", "2", None], "bo": [None, None, None]}


def test_every_figure_is_text_and_nothing_is_rounded_but_what_says_so() -> None:
    of = course(plan(category("3", "3", "3"), decimals=1), CLASS)
    found = results(of, AFTER)
    ada, bo = found["students"]
    assert (found["format"], found["as_of"]) == (RESULTS_FORMAT, "2026-12-19")
    assert (ada["percent"], ada["exact"], ada["rounded"], ada["letter"]) == ("50.000000", "50", "50.0", "F")
    assert (ada["blanks_zero"], ada["blanks_full"]) == ("33.333333", "66.666667")
    assert (bo["percent"], bo["exact"], bo["rounded"], bo["letter"]) == (None, None, None, None)
    part = ada["categories"][0]
    assert (part["percent"], part["weight"], part["weight_in_force"], part["contributes"]) == (
        "50.000000", "100", "100.000000", "50.000000",
    )  # fmt: skip
    assert [i["state"] for i in part["items"]] == ["kept", "kept", "waiting"]
    assert [(i["earned"], i["of"]) for i in part["items"]] == [("1", "3"), ("2", "3"), (None, None)]


def test_under_the_points_basis_nothing_has_a_weight() -> None:
    found = results(course(plan(category("3", "3", "3"), basis="points"), CLASS), AFTER)["students"][0]
    assert found["rounded"] is None or found["rounded"] == "50"
    assert found["categories"][0]["weight"] is None
    assert (
        results(course(plan(category("3", weight=None)), {"ada": ["1"]}), AFTER)["students"][0]["categories"][0][
            "weight"
        ]
        is None
    )
