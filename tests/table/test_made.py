"""The reader on tables made from seeds: what it was built on, and apart from it what it is judged on."""

from dataclasses import fields
from fractions import Fraction
from typing import Any

import pytest

from tests.syllabus.gold import Score
from tests.table.made import made
from tests.table.score import scored_tables
from tests.table.vocabulary import SEEN, UNSEEN, Half
from vinemark.core.base.refused import Refused
from vinemark.core.table.written import table_json
from vinemark.exchange.readers import table_of_file

pytestmark = pytest.mark.many
NOTHING: dict[str, Any] = {"students": [], "columns": [], "left_out": [], "cells": {}}
TABLES = 60


def of_half(half: Half, tables: int = TABLES) -> Score:
    pairs = []
    for table in (made(seed, half) for seed in range(tables)):
        try:
            pairs.append((table_json(table_of_file(table.data)), table.gold))
        except Refused:
            pairs.append((NOTHING, table.gold))
    return scored_tables(pairs)


def test_no_word_is_in_both_halves() -> None:
    for one in fields(SEEN):
        assert not {*getattr(SEEN, one.name)} & {*getattr(UNSEEN, one.name)}, one.name


@pytest.mark.parametrize(("half", "precision", "recall"), [("seen", "0.99", "0.99"), ("unseen", "0.98", "0.97")])
def test_a_half_reaches_its_aim(half: Half, precision: str, recall: str) -> None:
    total = of_half(half)
    assert total.precision >= Fraction(precision), total.amiss
    assert total.recall >= Fraction(recall), total.amiss


def test_the_score_itself_sees_what_is_amiss() -> None:
    table = made(1, "seen")
    wrong = {**table.gold, "left_out": [], "columns": [{"column": 1, "role": "letter"}, *table.gold["columns"][1:]]}
    assert not scored_tables([(table.gold, table.gold)]).amiss
    seen = scored_tables([(wrong, table.gold)])
    assert seen.facts["missed"] == len(table.gold["left_out"])
    assert seen.facts["wrong"] == 1
