"""Due dates of single students, kept, undone, and carried with their student."""

from dataclasses import replace
from datetime import date

import pytest

from tests.store.conftest import Kept
from vinemark.core.plan.plan import with_due_dates
from vinemark.core.scores.typed_cells import CellWrite
from vinemark.exchange.course_file import course_of_text, course_text
from vinemark.store.class_list import ClassChange, write_class
from vinemark.store.extensions import extensions_of
from vinemark.store.history import ChangedSinceError
from vinemark.store.undo import undo_entry

PLACE = ("ada", "i0")
DAY, OTHER = date(2026, 10, 4), date(2026, 10, 9)


def extend(kept: Kept, day: date | None) -> int:
    change = ClassChange(extensions={PLACE: day}, cells=[CellWrite(*PLACE, "missing")])
    return write_class(kept.connection, kept.act(), change, "extension")


def test_it_is_kept_and_undone_with_its_cell(kept: Kept) -> None:
    first = extend(kept, DAY)
    assert kept.course().extensions == {PLACE: DAY}
    assert kept.course().cell(*PLACE) == "missing"
    undo_entry(kept.connection, kept.act(), first)
    assert (kept.course().extensions, kept.course().cell(*PLACE)) == ({}, None)


def test_an_undoing_stops_at_a_later_day(kept: Kept) -> None:
    first = extend(kept, DAY)
    second = extend(kept, OTHER)
    with pytest.raises(ChangedSinceError):
        undo_entry(kept.connection, kept.act(), first)
    undo_entry(kept.connection, kept.act(), second)
    assert kept.course().extensions == {PLACE: DAY}
    extend(kept, None)
    assert extensions_of(kept.connection, kept.section) == {}


def test_another_number_keeps_it(kept: Kept) -> None:
    extend(kept, DAY)
    write_class(kept.connection, kept.act(), ClassChange(ids={"ada": "L1"}), "number")
    assert kept.course().extensions == {("L1", "i0"): DAY}


def test_a_course_file_carries_it_and_leaves_the_key_out_without_any(kept: Kept) -> None:
    extend(kept, DAY)
    dated = replace(kept.course(), plan=with_due_dates(kept.course().plan, {"i0": date(2026, 10, 1)}))
    assert course_of_text(course_text(dated)).extended == {"ada": {"i0": DAY}}
    assert "extensions" not in course_text(replace(dated, extensions={}))
