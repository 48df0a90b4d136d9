"""After sending: drift, a sheet that moved, changes of grade, and the diary of incompletes."""

from dataclasses import replace
from datetime import date

from tests.builders import AFTER, roster
from tests.core.after.three_settled import HELD, SETTLED, change, klass
from vinemark.core.after.drift import Moved, alarm, drifted, moved, official
from vinemark.core.course.cell import Cell
from vinemark.core.course.course import Course, RosterEntry, Settled
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.submit.grade_row import GradeRow


def test_only_what_the_office_holds_otherwise_has_drifted() -> None:
    assert drifted(klass(), HELD) == []
    found = drifted(klass(ada=Settled("A", "late paper"), bo=Settled("B", "too")), HELD)
    assert [(d.student_id, d.held.code, d.now.code if d.now else None) for d in found] == [
        ("ada", "B", "A"), ("bo", "C", "B"),
    ]  # fmt: skip
    assert alarm(found, date(2026, 12, 18)) == (
        "2 settled grades changed since Dec 18; the registrar still has the old ones."
    )
    assert alarm(found[:1], date(2026, 12, 18)) == (
        "1 settled grade changed since Dec 18; the registrar still has the old one."
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


def since(signed: Course, now: Course) -> list[Moved]:
    return moved(signed, grades_of(signed, AFTER), now, grades_of(now, AFTER))


def test_a_sheet_that_moved_under_a_settled_grade_is_said_and_a_new_settling_is_not() -> None:
    signed = klass()
    scores: dict[str, dict[str, Cell]] = {s: {"i0": signed.scores[s]["i0"] + 10} for s in ("ada", "bo")}  # type: ignore[operator,dict-item]
    now = replace(signed, scores={**signed.scores, **scores})
    assert [(m.student_id, m.was, m.now) for m in since(signed, now)] == [
        ("ada", "B", "A"), ("bo", "C", "B"),
    ]  # fmt: skip
    first = since(signed, now)[0]
    assert first.words == "Mai Ada: computed B when it was signed, A now (I 0: 85 to 95)."
    assert first.reason == "after the grades were signed: I 0: 85 to 95"
    settled = replace(now, settled={**SETTLED, "ada": Settled("A")})
    assert [m.student_id for m in since(signed, settled)] == ["bo"]
    assert since(signed, signed) == []
