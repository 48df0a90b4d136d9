"""The format `vine-mark-table/1`, and samples held to it whole."""

import json
from pathlib import Path
from typing import Any

import pytest

from tests.conftest import CASES
from tests.core.table.grids import reading_of
from vinemark.core.table.written import TABLE_FORMAT, table_json
from vinemark.exchange.readers import table_of_file

FOLDER = CASES / "table"
TABLES = sorted(path for path in FOLDER.iterdir() if path.suffix != ".json")


def written(path: Path) -> dict[str, Any]:
    made: dict[str, Any] = json.loads(json.dumps(table_json(table_of_file(path.read_bytes()))))
    return made


def test_there_are_samples() -> None:
    assert len(TABLES) == 12
    assert {path.suffix for path in TABLES} == {".csv", ".tsv", ".txt", ".xlsx", ".ods"}


@pytest.mark.parametrize("path", TABLES, ids=[path.name for path in TABLES])
def test_a_sample_is_read_as_a_person_reads_it(path: Path) -> None:
    gold = json.loads(path.with_name(f"{path.stem}.gold.json").read_text(encoding="utf-8"))
    made = written(path)
    assert {key: made[key] for key in gold} == gold


def test_all_that_is_stated_of_a_table() -> None:
    text = ",,Labs (40%),,,\nID,Name,Lab 1 (9/14/26),Poster (EC),Total,Grade\n,Points,10,5.50,15.5,\n"
    made = table_json(reading_of(f'{text}A1,"Ode, Marit",9.50,see me,9.5,B\nA2,"Quist, Jon",,EX,,F\n'))
    assert made["format"] == TABLE_FORMAT == "vine-mark-table/1"
    assert made["students"][0] == {
        "row": 4, "id": "A1", "family_name": "Ode", "given_name": "Marit", "email": None, "status": "enrolled",
    }  # fmt: skip
    assert made["columns"][2] == {
        "column": 3, "role": "item", "name": "Lab 1", "points": "10", "points_from": "row", "group": "Labs",
        "weight": None, "extra": False, "due": "2026-09-14",
    }  # fmt: skip
    assert made["columns"][3]["extra"] is True
    assert made["columns"][4:] == [
        {"column": 5, "role": "total", "unit": "points", "points": "15.5"}, {"column": 6, "role": "letter"},
    ]  # fmt: skip
    assert made["groups"] == [{"name": "Labs", "weight": "40"}]
    assert made["cells"] == {"4": {"3": "9.5", "4": {"text": "see me"}}, "5": {"4": "exempt"}}
    assert made["values"] == {"4": {"5": "9.5", "6": "B"}, "5": {"6": "F"}}
    assert [one["why"] for one in made["left_out"]] == ["group", "heading", "points"]
    assert made["unsure"] == []
