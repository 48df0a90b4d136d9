"""`vinemark compute`, from the file to what it prints."""

import csv
import io
import json
from pathlib import Path

import pytest
from click.testing import CliRunner, Result

from vinemark.cli import main

CASES = Path(__file__).parent / "cases"
SAMPLES = sorted(path.name.removesuffix(".course.json") for path in CASES.glob("*.course.json"))


def compute(path: Path, *options: str) -> Result:
    return CliRunner().invoke(main, ["compute", str(path), *options])


@pytest.mark.parametrize("name", SAMPLES)
def test_it_prints_the_results_of_every_sample(name: str) -> None:
    expected = json.loads((CASES / f"{name}.results.json").read_text(encoding="utf-8"))
    found = compute(CASES / f"{name}.course.json", "--as-of", expected["as_of"])
    assert (found.exit_code, found.stderr) == (0, "")
    assert json.loads(found.stdout) == expected


@pytest.mark.parametrize("name", SAMPLES)
def test_the_table_says_the_same(name: str) -> None:
    expected = json.loads((CASES / f"{name}.results.json").read_text(encoding="utf-8"))
    found = compute(CASES / f"{name}.course.json", "--csv", "--as-of", expected["as_of"])
    assert found.stdout_bytes.count(b"\r\n") == len(expected["students"]) + 1
    rows = list(csv.DictReader(io.StringIO(found.stdout_bytes.decode(), newline="")))
    for row, student in zip(rows, expected["students"], strict=True):
        assert row["id"] == student["id"]
        for key in ("percent", "rounded", "letter", "blanks_zero", "blanks_full"):
            assert row[key] == (student[key] or "")
        for category in student["categories"]:
            assert row[category["id"]] == (category["percent"] or "")


def small(tmp_path: Path, **changes: object) -> Path:
    value = {
        "format": "vine-mark-course/1",
        "term": {"name": "Fall 2026", "starts": "2026-08-31", "ends": "2026-12-18"},
        "section": {"course": "HYDR 230", "title": "Watershed", "number": "01"},
        "plan": {"basis": "points", "categories": []},
        "students": [{"id": "S1", "family_name": "=Ode", "given_name": "-1"}],
        **changes,
    }
    path = tmp_path / "course.json"
    path.write_text(json.dumps(value), encoding="utf-8")
    return path


def test_names_are_made_harmless_in_the_table(tmp_path: Path) -> None:
    found = compute(small(tmp_path), "--csv")
    assert found.stdout_bytes.splitlines()[1] == b"S1,'=Ode,'-1,,,,,"


@pytest.mark.parametrize(
    ("changes", "options", "line"),
    [
        ({"colour": 1}, (), "error: colour: unknown key\n"),
        ({"plan": {"basis": "points", "categories": [], "scale": [{"letter": "A", "from": 90}]}}, (),
         "error: plan.scale: the lowest letter must start at 0\n"),
        ({"students": [{"id": "S1", "family_name": "\ud800", "given_name": ""}]}, (),
         "error: students[0].family_name: holds half of a sign (a lone surrogate)\n"),
        ({"plan": {"basis": "points", "categories": [], "rounding": {"decimals": 99, "letter_uses": "exact"}}}, (),
         "error: plan.rounding.decimals: must be 40 or less\n"),
        ({}, ("--as-of", "tomorrow"), "error: --as-of: must be a date as YYYY-MM-DD\n"),
        ({"a\nb": 1}, (), "error: a b: unknown key\n"),
    ],
)  # fmt: skip
def test_what_is_refused_says_its_place_on_one_line(
    tmp_path: Path, changes: dict[str, object], options: tuple[str, ...], line: str
) -> None:
    found = compute(small(tmp_path, **changes), *options)
    assert (found.exit_code, found.stdout, found.stderr) == (2, "", line)


def test_a_file_that_is_not_there_or_not_text(tmp_path: Path) -> None:
    assert compute(tmp_path / "none.json").stderr.endswith("none.json: No such file or directory\n")
    bad = tmp_path / "bad.json"
    bad.write_bytes(b'{\n"a": "\xff"}')
    assert compute(bad).stderr == "error: line 2: is not UTF-8\n"
    bad.write_text('{\n"a": 1,\n}')
    assert compute(bad).stderr.startswith("error: line 3: is not JSON")
