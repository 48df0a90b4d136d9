"""When the registrar takes grades. Windows and transfers: common practice, no source."""

from datetime import datetime, time, timedelta

import pytest

from vinemark.core.submit.hours import Gate, OfficeHours, Transfer, Window, dial, gate

NOON = Transfer(time(12), time(12, 20))
NIGHT = Transfer(time(23, 30), time(0, 15))
FINAL = Window(datetime(2026, 12, 14, 8), datetime(2026, 12, 21, 17))
HOURS = OfficeHours({"final": FINAL}, (NOON, NIGHT))


def day(number: int, hour: int, minute: int = 0, second: int = 0) -> datetime:
    return datetime(2026, 12, number, hour, minute, second)


@pytest.mark.parametrize(
    ("now", "state", "until"),
    [
        (day(14, 7, 59, 59), "waits", day(14, 8)),
        (day(14, 8), "open", None),
        (day(19, 11, 59, 59), "open", None),
        (day(19, 12), "waits", day(19, 12, 20)),
        (day(19, 12, 20), "open", None),
        (day(19, 23, 30), "waits", day(20, 0, 15)),
        (day(19, 0, 14, 59), "waits", day(19, 0, 15)),
        (day(19, 0, 15), "open", None),
        (day(21, 17), "open", None),
        (day(21, 17, 0, 1), "closed", None),
    ],
)
def test_the_gate_by_the_second(now: datetime, state: str, until: datetime | None) -> None:
    found = gate(HOURS, "final", now)
    assert (found.state, found.until) == (state, until)


def test_the_gate_says_why() -> None:
    assert gate(HOURS, "midterm", day(19, 9)) == Gate("closed", "the registrar has no midterm run for this section")
    assert gate(HOURS, "final", day(22, 9)).reason == "the final run closed Dec 21, 5:00 PM"
    assert gate(HOURS, "final", day(13, 9)).reason == "the final run opens Dec 14, 8:00 AM"
    assert gate(HOURS, "final", day(19, 12, 5)).reason == "the registrar’s transfer runs until 12:20 PM"


def test_a_wait_that_would_end_after_the_run_is_due_is_no_wait() -> None:
    late = OfficeHours({"final": FINAL}, (Transfer(time(16, 50), time(17, 10)),))
    found = gate(late, "final", day(21, 16, 55))
    assert found.state == "closed"
    assert "transfer runs until 5:10 PM, and the final run closes Dec 21, 5:00 PM, before that" in found.reason
    just = OfficeHours({"final": FINAL}, (Transfer(time(16, 50), time(17)),))
    assert gate(just, "final", day(21, 16, 55)) == Gate(
        "waits", "the registrar’s transfer runs until 5:00 PM", day(21, 17)
    )


def test_a_run_that_opens_inside_a_transfer_opens_after_it_and_transfers_may_touch() -> None:
    hours = OfficeHours({"final": FINAL}, (Transfer(time(7, 30), time(8, 30)), Transfer(time(8, 30), time(9))))
    found = gate(hours, "final", day(13, 10))
    assert (found.state, found.until) == ("waits", day(14, 9))


def test_no_minute_of_a_day_is_both_shut_and_open() -> None:
    """Every minute against the plain definition of a transfer."""
    for minute in range(24 * 60):
        now = day(18, 0) + timedelta(minutes=minute)
        clock = now.time()
        shut = time(12) <= clock < time(12, 20) or clock >= time(23, 30) or clock < time(0, 15)
        assert (gate(HOURS, "final", now).state == "waits") is shut, now


def test_the_dial_splits_a_transfer_at_midnight_and_marks_the_last_day() -> None:
    found = dial(HOURS, "final", day(21, 10, 20))
    assert found.shut == ((0, 15), (720, 740), (1410, 1440))
    assert (found.now, found.due, found.opens) == (620, 1020, None)
    assert dial(HOURS, "final", day(14, 9)).opens == 480
    assert dial(HOURS, "midterm", day(21, 9)).due is None
