"""Acts on findings."""

from collections import Counter

import pytest

from tests.section.conftest import House
from vinemark.core.audit.codes import fixes_of
from vinemark.core.base.refused import Refused
from vinemark.section.acts.audit import accept, accept_all, finding_of, fix, listed_fingerprint, move_cutoffs, reopen
from vinemark.section.outcome import Conflict, Done
from vinemark.store.undo import undo_entry

SHORT = "HYDR 230-01"


def test_one_is_accepted_with_a_reason_and_taken_up_again(house: House) -> None:
    section = house.section(SHORT)
    finding = next(f for f in section.snapshot.findings if f.level == "look")
    refused = accept(section, house.act(section), finding.key, " ")
    assert isinstance(refused, Refused)
    accept(section, house.act(section), finding.key, "asked both")
    assert finding.key not in {f.key for f in section.fresh().snapshot.open_findings}
    assert finding.key in {f.key for f in section.fresh().snapshot.findings}
    reopen(section, house.act(section), finding.key)
    assert finding.key in {f.key for f in section.fresh().snapshot.open_findings}


def test_a_stop_is_not_accepted_and_what_is_not_found_says_so(house: House) -> None:
    section = house.section(SHORT)
    stop = next(f for f in section.snapshot.findings if f.level == "stop")
    for outcome in (
        accept(section, house.act(section), stop.key, "fine"),
        accept(section, house.act(section), "twin|nobody||", "fine"),
        reopen(section, house.act(section), "twin|nobody||"),
    ):
        assert isinstance(outcome, Refused)
    assert fix(section, house.act(section), "twin|nobody||") is None
    assert finding_of(section, "twin|nobody||") is None


@pytest.mark.parametrize("code", ["weights-off", "not-in-section", "slipped-key", "blank-waits"])
def test_the_one_act_that_mends_a_finding_mends_it(house: House, code: str) -> None:
    section = house.section(SHORT)
    found = [f for f in section.snapshot.findings if f.code == code and fixes_of(section.course, f)]
    if not found:
        assert code == "weights-off"
        return
    done = fix(section, house.act(section), found[0].key)
    assert done is not None
    assert isinstance(done[1], Done)
    after = section.fresh()
    if after.snapshot.loaded.draft is None:
        assert finding_of(after, found[0].key) is None


def test_moved_cutoffs_are_tried_first(house: House) -> None:
    section = house.section(SHORT)
    top = section.course.plan.scale[0].letter
    refused = move_cutoffs(section, house.act(section), {f"from-{top}": "1"})
    assert isinstance(refused, Refused)
    assert isinstance(move_cutoffs(section, house.act(section), {f"from-{top}": "99.5"}), Done)
    assert section.fresh().snapshot.loaded.draft is not None
    assert section.fresh().course.plan == section.course.plan


def test_all_of_a_code_are_accepted_in_one_act_with_one_undo(house: House) -> None:
    section = house.section("HYDR 230-01")
    code = Counter(f.code for f in section.snapshot.open_findings if f.level != "stop").most_common(1)[0][0]
    before = [f.key for f in section.snapshot.open_findings if f.code == code]
    assert len(before) > 3
    assert isinstance(accept_all(section, house.act(section), code, "  "), Refused)
    other = listed_fingerprint(section.snapshot.open_findings[:1])
    assert isinstance(accept_all(section, house.act(section), code, "looked at", other), Conflict)
    seen = listed_fingerprint(f for f in section.snapshot.open_findings if f.code == code)
    done = accept_all(section, house.act(section), code, "looked at", seen)
    assert isinstance(done, Done)
    section = section.fresh()
    assert not [f for f in section.snapshot.open_findings if f.code == code]
    assert {one.acceptance.reason for one in section.snapshot.reviewed if one.acceptance} == {"looked at"}
    assert done.entry is not None
    undo_entry(house.connection, house.act(section), done.entry)
    assert [f.key for f in section.fresh().snapshot.open_findings if f.code == code] == before


def test_what_must_be_fixed_is_not_accepted_together_either(house: House) -> None:
    section = house.section("HYDR 230-01")
    stop = next(f.code for f in section.snapshot.open_findings if f.level == "stop")
    for code in (stop, "no-such-code"):
        assert isinstance(accept_all(section, house.act(section), code, "looked at"), Refused)
