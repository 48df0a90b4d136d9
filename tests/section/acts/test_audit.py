"""Acts on findings."""

import pytest

from tests.section.conftest import House
from vinemark.core.audit.codes import fix_of
from vinemark.core.base.refused import Refused
from vinemark.section.acts.audit import accept, finding_of, fix, move_cutoffs, reopen
from vinemark.section.outcome import Done

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
    found = [f for f in section.snapshot.findings if f.code == code and fix_of(section.course, f)]
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
