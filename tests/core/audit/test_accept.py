"""Findings accepted as they are: the reason, and that they come back when their facts change."""

from dataclasses import replace

import pytest

from vinemark.core.audit.accept import LONGEST_ACCEPT_REASON, Acceptance, facts_digest, reason_to_accept, review
from vinemark.core.audit.finding import Finding
from vinemark.core.base.refused import Refused

LOOK = Finding(
    "Ada has 1 blank.", student="ada", evidence=["so far 80"], code="blank-waits", level="look", step="scores"
)
STOP = replace(LOOK, level="stop")


def kept(finding: Finding) -> dict[str, Acceptance]:
    return {finding.key: Acceptance(facts_digest(finding), "make-up", "Maren", "2026-12-19")}


def test_it_stands_while_its_facts_do() -> None:
    (same,) = review([LOOK], kept(LOOK))
    assert same.acceptance is not None
    assert (same.acceptance.reason, same.lapsed) == ("make-up", None)
    for changed in (replace(LOOK, message="Ada has 2 blanks."), replace(LOOK, evidence=["so far 81"])):
        (back,) = review([changed], kept(LOOK))
        assert (back.acceptance, back.lapsed) == (None, kept(LOOK)[LOOK.key])
    (other,) = review([replace(LOOK, student="bo")], kept(LOOK))
    assert (other.acceptance, other.lapsed) == (None, None)


def test_a_stop_is_never_accepted() -> None:
    (stop,) = review([STOP], kept(STOP))
    assert (stop.acceptance, stop.lapsed) == (None, None)
    with pytest.raises(Refused, match="must be fixed"):
        reason_to_accept(STOP, "it is fine")


def test_a_reason_is_written_on_one_line_and_has_its_length() -> None:
    assert reason_to_accept(LOOK, "  make-up\n on  Monday ") == "make-up on Monday"
    assert LONGEST_ACCEPT_REASON == 500
    assert reason_to_accept(LOOK, "x" * 500)
    for typed in ("  ", "x" * (LONGEST_ACCEPT_REASON + 1)):
        with pytest.raises(Refused) as caught:
            reason_to_accept(LOOK, typed)
        assert caught.value.field == "reason"
