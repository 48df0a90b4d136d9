"""Signing: what is frozen, and that nothing is signed twice."""

import json

from tests.section.conftest import House
from tests.section.delivery.test_worker import ready
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Settled
from vinemark.core.grade.codes import computed_code
from vinemark.core.scores.typed_cells import TypedCell
from vinemark.section.acts.audit import accept
from vinemark.section.acts.scores import enter_scores
from vinemark.section.acts.submit import frozen_findings, send, sign, withdraw_signature
from vinemark.section.outcome import Conflict, Done
from vinemark.section.state import SectionState
from vinemark.section.submit_state import SubmitState
from vinemark.store import settled, submissions


def test_signed_twice_from_two_windows_it_is_signed_once(house: House) -> None:
    section = ready(house)
    count = len(section.of_run.submissions)
    assert isinstance(sign(section, house.act(section), reason="looked at"), Done)
    assert isinstance(sign(section, house.act(section), reason="looked at"), Refused)
    assert len(section.fresh().of_run.submissions) == count + 1


def test_what_the_signer_saw_is_what_is_frozen(house: House) -> None:
    section = ready(house)
    expected = frozen_findings(section, "looked at")
    rows = SubmitState(section).submittable
    sign(section, house.act(section), reason="looked at")
    made = section.fresh().of_run.submissions[-1]
    assert list(made.rows) == list(rows)
    text = submissions.signed_text(house.connection, section.id, made.id)
    assert text is not None
    assert text.endswith(expected)


def test_a_midterm_signature_freezes_the_midterms_findings(house: House) -> None:
    section = house.section("HYDR 230-01", "midterm")
    final = house.section("HYDR 230-01")
    frozen = json.loads(frozen_findings(section))
    assert [f["message"] for f in frozen["findings"]] == [f.message for f in section.of_run.findings]
    assert set(frozen["let_stand"]) <= {f.key for f in section.of_run.findings}
    assert frozen["findings"] != json.loads(frozen_findings(final))["findings"]


def test_a_signature_is_withdrawn_until_it_went_out(house: House) -> None:
    section = ready(house)
    sign(section, house.act(section), reason="looked at")
    made = section.fresh().of_run.submissions[-1]
    assert isinstance(withdraw_signature(section, house.act(section), made.id), Done)
    sign(section, house.act(section), reason="looked at")
    sent = section.fresh().of_run.submissions[-1]
    assert sent.key != made.key
    house.weather.now = "lost"
    send(section, house.act(section), house.gateway, sent)
    assert isinstance(withdraw_signature(section, house.act(section), sent.id), Conflict)


def test_sent_again_after_a_lost_answer_the_office_has_it_once(house: House) -> None:
    section = ready(house)
    sign(section, house.act(section), reason="looked at")
    made = section.fresh().of_run.submissions[-1]
    house.weather.now = "lost"
    send(section, house.act(section), house.gateway, made)
    assert section.fresh().of_run.submissions[-1].state == "waiting"
    house.weather.now = "fine"
    send(section, house.act(section), house.gateway, section.fresh().of_run.submissions[-1])
    received = section.fresh().of_run.submissions[-1]
    assert received.state == "received"
    assert received.receipt is not None
    assert received.receipt.digest == made.digest
    assert send(section, house.act(section), house.gateway, received) == Done()


def test_what_is_open_to_check_is_not_signed_without_a_reason(house: House) -> None:
    section = with_an_open_check(house)
    state = SubmitState(section)
    assert state.open_checks
    refused = sign(section, house.act(section))
    assert isinstance(refused, Refused)
    assert (refused.field, refused.reason[:42]) == ("reason", "say why you sign with findings open, or ac")
    assert isinstance(sign(section, house.act(section), reason="   "), Refused)
    assert section.fresh().of_run.submissions == section.of_run.submissions
    assert isinstance(sign(section, house.act(section), reason=" looked  at "), Done)
    made = section.fresh().of_run.submissions[-1]
    text = submissions.signed_text(house.connection, section.id, made.id) or ""
    frozen = json.loads(text[text.rindex('{\n "format": "vine-mark-findings/1"') :])
    assert frozen["signed_with_open"] == {"reason": "looked at", "findings": [f.key for f in state.open_checks]}


def test_accepted_one_by_one_it_is_signed_without_a_reason(house: House) -> None:
    section = with_an_open_check(house)
    for finding in SubmitState(section).open_checks:
        assert isinstance(accept(section, house.act(section), finding.key, "meant so"), Done)
    section = section.fresh()
    assert SubmitState(section).open_checks == []
    assert "signed_with_open" not in json.loads(frozen_findings(section))
    assert isinstance(sign(section, house.act(section)), Done)


def with_an_open_check(house: House) -> SectionState:
    """The section that is ready, with a score above the points."""
    section = ready(house)
    student, (_, item) = section.course.enrolled()[0], next(iter(section.course.plan.items()))
    typed = TypedCell(student.id, item.id, str(item.points + 1))
    enter_scores(section, house.act(section), [typed])
    section = section.fresh()
    settled = section.course.settled[student.id]
    rest = computed_code(section.course, student.id, section.grades_now[student.id])
    assert settled.grade == rest
    return section


def settle_with(house: House, section: SectionState, student_id: str, code: str) -> None:
    anew = {student_id: Settled(code, reason="looked again")}
    settled.write_grades(house.connection, house.act(section), anew, "settled anew", "final")


def test_a_grade_settled_anew_while_the_signed_one_is_on_its_way_is_found(house: House) -> None:
    section = ready(house)
    sign(section, house.act(section), reason="looked at")
    section = section.fresh()
    row = section.of_run.submissions[-1].rows[0]
    other = "B" if row.code != "B" else "C"

    def found() -> list[str | None]:
        return [one.student for one in section.fresh().snapshot.findings if one.code == "drift-between"]

    assert found() == []
    settle_with(house, section, row.id, other)
    assert found() == [row.id]
    settle_with(house, section.fresh(), row.id, row.code)
    assert found() == []
