"""Texts in files that leave are texts for every spreadsheet (the signs: common practice; wide forms too)."""

import csv
import io

import pytest

from vinemark.exchange.csv_text import FORMULA_SIGNS, csv_text, harmless


@pytest.mark.parametrize("sign", FORMULA_SIGNS)
def test_a_sign_that_begins_a_formula_gets_an_apostrophe(sign: str) -> None:
    assert harmless(f"{sign}1+1").startswith("'")
    assert harmless(f"a{sign}1")[0] == "a"


def test_tabs_and_returns_within_become_blanks() -> None:
    assert harmless("owed:\r\n=1+1\tmore") == "owed: =1+1 more"


def test_every_text_of_a_table_is_made_harmless_and_numbers_stay() -> None:
    text = csv_text(["id", "=h"], [["-1", 7], [None, "a,b"]])
    assert list(csv.reader(io.StringIO(text))) == [["id", "'=h"], ["'-1", "7"], ["", "a,b"]]
    assert text.count("\r\n") == 3
