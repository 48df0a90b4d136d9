"""After sending: drift, a sheet that moved, changes of grade, and the diary of incompletes."""

from dataclasses import replace
from datetime import date, datetime

import pytest

from tests.builders import AFTER, category, course, plan, roster
from vinemark.core.after.drift import alarm, drifted, moved, official
from vinemark.core.after.grade_change import ChangeState, GradeChange, evidence_values, new_grade, request_values
from vinemark.core.after.incompletes import incompletes_of
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Course, RosterEntry, Settled
from vinemark.core.submit.grade_row import GradeRow, text_digest

SETTLED = {"ada": Settled("B"), "bo": Settled("C"), "cy": Settled("D")}
HELD = {"ada": GradeRow("ada", "B"), "bo": GradeRow("bo", "C"), "cy": GradeRow("cy", "D")}
LEFT = GradeRow("ada", "I", fallback_grade="C", finish_by="2027-05-01", owed="the report")


def klass(**settled: Settled) -> Course:
    scores = {"ada": ["85"], "bo": ["75"], "cy": ["65"]}
    return course(plan(category("100")), scores, roster("ada", "bo", "cy"), {**SETTLED, **settled})


def change(state: ChangeState, old: GradeRow | None, new: str, key: str = "k", student: str = "ada") -> GradeChange:
    return GradeChange(
        1, key, student, old, GradeRow(student, new), Settled(new), "why", None, None, "Maren",
        datetime(2026, 12, 19, 9), state, owed=old.owed if old else None,
    )  # fmt: skip


def test_only_what_the_office_holds_otherwise_has_drifted() -> None:
    assert drifted(klass(), HELD) == []
    found = drifted(klass(ada=Settled("A", "late paper"), bo=Settled("B", "too")), HELD)
    assert [(d.student_id, d.held.code, d.now.code if d.now else None) for d in found] == [
        ("ada", "B", "A"), ("bo", "C", "B"),
    ]  # fmt: skip
    assert alarm(found, date(2026, 12, 18)) == (
        "2 settled grades changed since 18 Dec; the office still holds the old ones."
    )
    assert alarm(found[:1], date(2026, 12, 18)) == (
        "1 settled grade changed since 18 Dec; the office still holds the old one."
    )
    assert alarm([], date(2026, 12, 18)) == ""


def test_an_opened_grade_and_a_changed_reason() -> None:
    opened = replace(klass(), settled={s: g for s, g in SETTLED.items() if s != "ada"})
    assert [(d.student_id, d.now) for d in drifted(opened, HELD)] == [("ada", None)]
    assert drifted(klass(ada=Settled("B", "another reason")), HELD) == []


def test_a_withdrawn_student_and_a_fallback_of_the_office_are_no_drift() -> None:
    of = klass(ada=Settled("A", "x"))
    gone = {"ada": RosterEntry("ada", "Ada", "Mai", "withdrawn")}
    assert drifted(replace(of, records=roster("ada", "bo", "cy", **gone)), HELD) == []
    assert drifted(of, HELD, {"ada"}) == []


def test_what_the_office_should_hold_follows_its_own_answers() -> None:
    changes = [change("refused", HELD["bo"], "A", student="bo"), change("granted", HELD["ada"], "A")]
    found = official(HELD, changes, {"cy"}, {"cy": GradeRow("cy", "F")})
    assert {student: row.code for student, row in found.items()} == {"ada": "A", "bo": "C", "cy": "F"}


def test_a_sheet_that_moved_under_a_settled_grade_is_said_and_a_new_settling_is_not() -> None:
    signed = klass()
    scores = {"ada": {"i0": signed.scores["ada"]["i0"] + 10}, "bo": {"i0": signed.scores["bo"]["i0"] + 10}}  # type: ignore[operator]
    now = replace(signed, scores={**signed.scores, **scores})
    assert [(m.student_id, m.was, m.now) for m in moved(signed, AFTER, now, AFTER)] == [
        ("ada", "B", "A"), ("bo", "C", "B"),
    ]  # fmt: skip
    settled = replace(now, settled={**SETTLED, "ada": Settled("A")})
    assert [m.student_id for m in moved(signed, AFTER, settled, AFTER)] == ["bo"]
    assert moved(signed, AFTER, signed, AFTER) == []


@pytest.mark.parametrize(
    ("typed", "why", "place", "words"),
    [
        (Settled("B"), "marked wrongly", "grade", "the office holds B already"),
        (Settled("Q"), "marked wrongly", "grade", "the office takes"),
        (Settled("A"), " ", "why", "say why the grade changes"),
        (Settled("A"), "x" * 2001, "why", "longer than 2000"),
        (Settled("F"), "stopped", "last_attended", "F needs the last date of attendance"),
        (Settled("I"), "ill", "fallback_grade", "I needs a fallback grade"),
        (Settled("I", fallback_grade="C"), "ill", "finish_by", "I needs a finish-by date"),
        (Settled("F", last_attended=date(2027, 1, 5)), "stopped", "last_attended", "must lie in the term"),
    ],
)
def test_a_change_that_cannot_be_asked_is_refused_at_its_field(
    typed: Settled, why: str, place: str, words: str
) -> None:
    with pytest.raises(Refused) as refused:
        new_grade(klass(), "ada", HELD["ada"], typed, why)
    assert refused.value.field == place
    assert words in refused.value.reason


def test_a_change_may_contradict_the_computed_letter_and_keeps_its_reason() -> None:
    made = new_grade(klass(), "ada", HELD["ada"], Settled("c"), " agreed  with the chair ")
    assert made == Settled("C", "agreed with the chair")
    left = Settled("I", None, None, "C", date(2027, 5, 1), False, "the report")
    assert new_grade(klass(), "ada", HELD["ada"], left, "ill") == replace(left, reason="ill")


def test_the_request_carries_the_evidences_digest_and_not_the_file() -> None:
    evidence = evidence_values("both sheets", "sheets.pdf", b"%PDF")
    assert evidence == {"note": "both sheets", "file": "sheets.pdf", "sha256": text_digest(b"%PDF")}
    assert evidence_values(None, None, None) is None
    values = request_values("ada", None, GradeRow("ada", "A"), "why", None)
    assert (values["old"], values["new"]["code"]) == (None, "A")


def test_the_diary_by_where_each_incomplete_stands() -> None:
    incomplete = Settled("I", None, None, "C", date(2027, 5, 1), False, "the report")
    of = klass(ada=incomplete, bo=replace(incomplete, finish_by=date(2027, 2, 1)))

    def states(held: dict[str, GradeRow], today: date, **more: object) -> list[tuple[str, str, int | None]]:
        found = incompletes_of(of, held, more.get("fell", {}), more.get("changes", []), today)  # type: ignore[arg-type]
        return [(one.student_id, one.state, one.days_left) for one in found]

    both = {"ada": LEFT, "bo": replace(LEFT, id="bo", finish_by="2027-02-01")}
    assert states({}, AFTER) == [("bo", "not sent", 44), ("ada", "not sent", 133)]
    assert states(both, AFTER) == [("bo", "open", 44), ("ada", "open", 133)]
    assert states(both, date(2027, 5, 1)) == [("bo", "past", -89), ("ada", "open", 0)]
    fallen = {"ada": LEFT, "bo": GradeRow("bo", "C")}
    assert states(fallen, date(2027, 2, 2), fell={"bo": both["bo"]})[1][:2] == ("bo", "fallen back")
    asked = [change("sent", LEFT, "B")]
    assert states(both, AFTER, changes=asked)[1][:2] == ("ada", "asked")
    finished = incompletes_of(of, {"ada": GradeRow("ada", "B")}, {}, [change("granted", LEFT, "B")], AFTER)
    assert [(one.state, one.now, one.owed) for one in finished if one.student_id == "ada"] == [
        ("finished", "B", "the report")
    ]
