"""What a check finds, and what every check looks at."""

from dataclasses import replace
from datetime import date

from tests.builders import AFTER, DURING, category, course, items, plan, roster
from tests.core.audit.looked_at import FULL, GOOD
from vinemark.core.audit.finding import Facts, Finding, stops_by_student
from vinemark.core.course.course import RosterEntry


def finding(level: str, student: str | None) -> Finding:
    return Finding("m", student=student, code="twin", level=level, step="settle")  # type: ignore[arg-type]


def test_a_key_is_code_and_place_and_the_part_only_where_there_is_one() -> None:
    assert finding("look", "ada").key == "twin|ada||"
    assert replace(finding("look", "ada"), part="bo", item="i0").key == "twin|ada||i0|bo"


def test_stops_of_each_student() -> None:
    stop = finding("stop", "ada")
    assert stops_by_student([stop, finding("look", "ada"), finding("stop", None)]) == {"ada": [stop]}


def test_when_an_item_is_still_to_come_and_when_it_is_past() -> None:
    dated = items("10", counts=False, due=DURING)[0]
    undated = replace(dated, due=None)
    of = course(GOOD, FULL)
    assert Facts(of, DURING).still_to_come(dated)
    assert not Facts(of, date(2026, 11, 2)).still_to_come(dated)
    assert not Facts(of, DURING).still_to_come(replace(dated, counts=True))
    assert (Facts(of, date(2026, 12, 18)).still_to_come(undated), Facts(of, AFTER).still_to_come(undated)) == (
        True,
        False,
    )
    assert (Facts(of, DURING).is_past(dated), Facts(of, date(2026, 11, 2)).is_past(dated)) == (False, True)
    assert (Facts(of, date(2026, 12, 18)).is_past(undated), Facts(of, AFTER).is_past(undated)) == (False, True)


def test_letters_are_due_where_somebody_is_on_the_letter_basis() -> None:
    on_pass = {s: RosterEntry(s, s, "Mai", basis="pass") for s in FULL}
    bare = replace(GOOD, scale=())
    assert Facts(course(bare, FULL), AFTER).scale_due
    assert not Facts(course(bare, FULL, roster(*FULL, **on_pass)), AFTER).scale_due
    assert Facts(course(bare, FULL, roster("ada", "bo", ada=on_pass["ada"])), AFTER).letters_due


def test_who_takes_part_and_whose_work_is_at_hand() -> None:
    of = course(plan(category("10")), {"ada": ["0"], "bo": ["1"], "cy": ["5"]}, aside={"cy": "moved"})
    facts = Facts(of, AFTER)
    assert [s.id for s in facts.taking_part] == ["ada", "bo"]
    assert "bo" in facts.at_work
    assert "ada" not in facts.at_work
    assert set(facts.grades) == {"ada", "bo"}
