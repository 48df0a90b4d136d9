"""Entries of the history in words: each kind, with names and dates, and never as JSON."""

import json
import re

import pytest

from tests.section.conftest import House
from vinemark.section.history_words import GROUPS, TOLD, entry_detail
from vinemark.section.state import SectionState
from vinemark.store.history import entries_of


def entries(section: SectionState) -> dict[str, int]:
    """The latest entry of each kind."""
    found: dict[str, int] = {}
    for row in entries_of(section.connection, section.id, limit=10_000):
        found.setdefault(row["kind"], row["id"])
    return found


def test_every_kind_of_the_demo_is_told_in_words(house: House) -> None:
    seen = set()
    for short in ("HYDR 230-01", "HYDR 410-01", "FIBR 120-01"):
        section = house.section(short)
        for kind, entry in entries(section).items():
            detail = entry_detail(section, entry)
            assert detail is not None
            words = " ".join(f"{line.what} {line.before} {line.after}" for line in detail.lines)
            assert not re.search(r'[{\[]"|\d{4}-\d\d-\d\d|null', words), (kind, words[:200])
            assert not re.search(r"\bL0\d{4}\b", words) or kind == "office"
            if detail.lines:
                seen.add(kind)
    assert {"import", "settled-final", "settled-midterm", "access", "signed", "grades-opened", "section"} <= seen


def test_a_changed_cell_says_whose_which_and_how(house: House) -> None:
    section = house.section("HYDR 230-01")
    detail = entry_detail(section, entries(section)["import"])
    assert detail is not None
    first = detail.lines[0]
    assert (first.what, first.before, first.after) == ("Alcott, Maël, Notebook 1", "blank", "18")
    assert detail.more > 0


def test_an_entry_of_another_shape_tells_nothing_more(house: House) -> None:
    section = house.section("HYDR 230-01")
    entry = entries(section)["settled-midterm"]
    house.connection.execute("UPDATE history SET after = ? WHERE id = ?", (json.dumps({"L01644": "no grade"}), entry))
    detail = entry_detail(section, entry)
    assert detail is not None
    assert detail.lines == []


def test_an_entry_of_another_section_is_not_there(house: House) -> None:
    entry = entries(house.section("FIBR 120-01"))["section"]
    assert entry_detail(house.section("HYDR 230-01"), entry) is None


@pytest.mark.parametrize("group", GROUPS)
def test_a_group_has_kinds_and_no_kind_is_in_two(group: str) -> None:
    others = {kind for name, kinds in GROUPS.items() if name != group for kind in kinds}
    assert GROUPS[group]
    assert not others & set(GROUPS[group])


def test_what_is_told_belongs_to_a_group() -> None:
    assert {kind for kinds in GROUPS.values() for kind in kinds} >= TOLD
