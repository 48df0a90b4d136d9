"""What the registrar said."""

from dataclasses import replace
from datetime import time, timedelta

from tests.builders import roster
from tests.store.conftest import AT, Kept
from vinemark.core.base.moments import stamp
from vinemark.core.submit.hours import OfficeHours, Transfer, Window
from vinemark.store import (
    history,
    registrar,
)

HOURS = OfficeHours({"final": Window(AT, AT)}, (Transfer(time(23, 30), time(0, 15)),))


def test_the_offices_records_replace_the_earlier_ones(kept: Kept) -> None:
    for records in (roster("ada"), roster("ada", "bo")):
        pulled = registrar.Pulled("R1", records, HOURS, None)
        registrar.save_registrar_answer(kept.connection, kept.act(), pulled, "pulled")
    assert kept.course().records == roster("ada", "bo")
    assert registrar.hours_of(kept.connection, kept.section) == HOURS


def test_a_pull_with_nothing_new_moves_the_time_and_writes_no_history(kept: Kept) -> None:
    pulled = registrar.Pulled("R1", roster("ada"), HOURS, None)
    registrar.save_registrar_answer(kept.connection, kept.act(), pulled, "pulled")
    later = replace(kept.act(), at=AT + timedelta(minutes=5))
    registrar.save_registrar_answer(kept.connection, later, pulled, "pulled")
    entries = [e["what"] for e in history.entries_of(kept.connection, kept.section)]
    assert entries.count("pulled") == 1
    row = kept.connection.execute("SELECT pulled_at FROM office_records").fetchone()
    assert row["pulled_at"] == stamp(AT + timedelta(minutes=5))
