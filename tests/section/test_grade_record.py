"""The grade record of a student holds everything that made the grade, in words."""

from datetime import date

from tests.section.conftest import House
from vinemark.core.course.course import Settled
from vinemark.section.acts.audit import accept
from vinemark.section.acts.scores import save_remark
from vinemark.section.grade_record import GradeRecord, grade_records, grading_rules
from vinemark.store import settled
from vinemark.store.class_list import ClassChange, write_class


def record_of(house: House, short: str, student_id: str) -> GradeRecord:
    section = house.section(short)
    (record,) = grade_records(section, [s for s in section.course.students if s.id == student_id])
    return record


def test_a_posted_grade_with_its_receipts_and_its_change(house: House) -> None:
    record = record_of(house, "HYDR 410-01", "L03691")
    assert (record.computed, record.settled and record.settled.grade, record.at_registrar) == ("A-", "A", "A")
    assert {(one.run, one.code, one.answer) for one in record.submitted} == {
        ("midterm", "C-", "accepted"),
        ("final", "A-", "accepted"),
    }
    (change,) = record.changes
    assert (change.state, change.new.code) == ("granted", "A")
    assert record.acts[0].what == "9 grades settled as computed: settled as A-"
    assert any("change of grade asked for: A- to A" in act.what for act in record.acts)
    assert all(act.person == "Maren Ostrander" for act in record.acts)


def test_every_item_with_its_state_its_own_day_and_its_remark(house: House) -> None:
    section = house.section("HYDR 410-01")
    student = next(s for s in section.course.students if s.id == "L03691")
    item = next(i for _, i in section.course.plan.items() if i.due)
    save_remark(section, house.act(section), student, item, "read twice")
    own = ClassChange(extensions={(student.id, item.id): date(2026, 12, 15)})
    write_class(house.connection, house.act(section), own, "extension")
    record = record_of(house, "HYDR 410-01", student.id)
    assert [line.name for line in record.work] == [i.name for _, i in section.course.plan.items()]
    line = next(one for one in record.work if one.name == item.name)
    assert (line.remark, line.own_due, line.due) == ("read twice", True, date(2026, 12, 15))
    assert sum(one.state == "dropped as a lowest" for one in record.work) == 1


def test_what_was_settled_by_hand_and_how_findings_ended(house: House) -> None:
    section = house.section("BOTN 105-02")
    about = {one.student for one in section.snapshot.open_findings if one.level != "stop"}
    student = next(one for one in section.course.enrolled() if one.id in about)
    for grade, reason in (("A", "a talk"), ("B", "looked again")):
        anew = {student.id: Settled(grade, reason=reason)}
        settled.write_grades(house.connection, house.act(section), anew, "settled by hand", "final")
    section = section.fresh()
    finding = next(f for f in section.snapshot.open_findings if f.level != "stop" and f.student == student.id)
    accept(section, house.act(section), finding.key, "as agreed")
    record = record_of(house, "BOTN 105-02", student.id)
    assert [act.what for act in record.acts][-2:] == ["settled by hand: settled as A", "settled by hand: settled as B"]
    ended = [one.acceptance.reason for one in record.findings if one.acceptance]
    assert "as agreed" in ended


def test_the_rules_are_the_syllabus_own_words_and_the_plan_in_ours(house: House) -> None:
    rules = grading_rules(house.section("HYDR 230-01"))
    syllabus = " ".join((house.section("HYDR 230-01").course.syllabus or "").split())
    assert rules.said
    assert all(" ".join(said.split()) in syllabus for said in rules.said)
    assert any(line.startswith("Letters: A from 93") for line in rules.plan)
    assert grading_rules(house.section("HYDR 410-01")).said == []
