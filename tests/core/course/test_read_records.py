"""The registrar's records and settled grades of a course file."""

from datetime import date
from typing import Any

import pytest

from vinemark.core.base.refused import Keys, NumberText, Refused
from vinemark.core.course.course import CodeRule, Records, RosterEntry, Settled
from vinemark.core.course.read_records import read_all_settled, read_records, read_settled

PERSON = {"id": "L1", "family_name": "Ode", "given_name": ""}


def test_what_the_office_says_is_read_with_its_defaults() -> None:
    assert read_records({}) == Records()
    found = read_records({
        "roster": [PERSON, {**PERSON, "id": "L2", "status": "auditing", "basis": "pass"}],
        "codes": [{"code": "F", "basis": ["letter"], "needs": ["last_attended"]}, {"code": "W", "office_only": True}],
        "incomplete_limit_days": NumberText("30"), "incomplete_fallback": "F", "incomplete_finish_by": "2027-02-01",
        "never_attended": "zero_hours", "pass_from": "C-",
    })  # fmt: skip
    assert found.roster == (RosterEntry("L1", "Ode"), RosterEntry("L2", "Ode", "", "auditing", "pass"))
    assert found.codes == (CodeRule("F", ("letter",), ("last_attended",)), CodeRule("W", office_only=True))
    assert (found.incomplete_limit_days, found.incomplete_fallback) == (30, "F")
    assert (found.incomplete_finish_by, found.never_attended, found.pass_from) == (date(2027, 2, 1), "zero_hours", "C-")


@pytest.mark.parametrize(
    ("value", "place"),
    [
        ({"roster": [PERSON, PERSON]}, "records.roster[1].id"),
        ({"codes": [{"code": "A"}, {"code": "A"}]}, "records.codes[1].code"),
        ({"roster": [{**PERSON, "status": "gone"}]}, "records.roster[0].status"),
        ({"incomplete_limit_days": "-1"}, "records.incomplete_limit_days"),
        ({"never_attended": "hours"}, "records.never_attended"),
        ({"color": 1}, "records.color"),
    ],
)
def test_what_is_wrong_is_refused_at_its_place(value: dict[str, Any], place: str) -> None:
    with pytest.raises(Refused) as caught:
        read_records(value)
    assert caught.value.field == place


def test_settled_grades_are_those_of_known_students() -> None:
    full = {"grade": "I", "reason": "", "last_attended": "2026-11-02", "fallback_grade": "D", "finish_by": "2027-02-01",
            "never_attended": True, "owed": "the report"}  # fmt: skip
    found = read_settled(full, "settled.L1")
    assert found == Settled("I", "", date(2026, 11, 2), "D", date(2027, 2, 1), True, "the report")

    def read(value: object) -> dict[str, Settled]:
        return read_all_settled(Keys({"settled": value}, "", None), "settled", {"L1"})

    assert read({"L1": {"grade": "A"}}) == {"L1": Settled("A")}
    assert read_all_settled(Keys({}, "", None), "settled", set()) == {}
    for value, place in (({"L9": {"grade": "A"}}, "settled.L9"), ([], "settled"), ({"L1": {}}, "settled.L1.grade")):
        with pytest.raises(Refused) as caught:
            read(value)
        assert caught.value.field == place
