"""After sending: drift, a sheet that moved, changes of grade, and the diary of incompletes."""

from dataclasses import replace
from datetime import date

from tests.builders import AFTER
from tests.core.after.three_settled import change, klass
from vinemark.core.after.incompletes import incompletes_of
from vinemark.core.course.course import Settled
from vinemark.core.submit.grade_row import GradeRow

LEFT = GradeRow("ada", "I", fallback_grade="C", finish_by="2027-05-01", owed="the report")


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


def test_the_fallback_the_work_owed_and_the_name_stand_in_the_diary() -> None:
    of = klass(bo=Settled("I", None, None, "D", date(2027, 2, 1), False, "two sketches"))
    (sent, waiting) = incompletes_of(of, {"ada": LEFT}, {}, [], AFTER)[::-1]
    assert (sent.name, sent.code, sent.fallback, sent.owed, sent.now) == ("Ada, Mai", "I", "C", "the report", "I")
    assert (waiting.fallback, waiting.owed, waiting.finish_by) == ("D", "two sketches", date(2027, 2, 1))
    assert sent.needs_work
    assert waiting.needs_work


def test_one_that_fell_back_shows_what_the_office_holds_now_and_what_it_was() -> None:
    (held,) = incompletes_of(klass(), {"ada": GradeRow("ada", "C")}, {"ada": LEFT}, [], AFTER)
    assert (held.state, held.now, held.fallback, held.needs_work) == ("fallen back", "C", "C", False)
    (gone,) = incompletes_of(klass(), {}, {"ada": LEFT}, [], AFTER)
    assert gone.now == "C"


def test_a_refused_change_finishes_nothing_and_a_change_of_another_code_is_none_of_it() -> None:
    refused = [change("refused", LEFT, "B")]
    assert [one.state for one in incompletes_of(klass(), {"ada": LEFT}, {}, refused, AFTER)] == ["open"]
    other = [change("granted", GradeRow("ada", "C"), "B")]
    assert incompletes_of(klass(), {"ada": GradeRow("ada", "B")}, {}, other, AFTER) == []


def test_a_date_that_is_today_is_not_past_yet() -> None:
    found = [incompletes_of(klass(), {"ada": LEFT}, {}, [], date(2027, 5, day))[0] for day in (1, 2)]
    assert [(one.state, one.days_left) for one in found] == [("open", 0), ("past", -1)]
