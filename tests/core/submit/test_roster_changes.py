"""What changed on the registrar's roster, and the one act that follows it."""

from dataclasses import replace

from tests.builders import category, course, plan, roster
from vinemark.core.course.course import CodeRule, Course, RosterEntry, Settled, Student
from vinemark.core.submit.roster_changes import GONE, RosterChange, mending, roster_changes, rule_changes

BEFORE = [RosterEntry("ada", "Ada", "Mai"), RosterEntry("bo", "Bo", "Mai"), RosterEntry("cy", "Cy", "Mai")]
NOW = [
    RosterEntry("ada", "Ada-Rey", "Mai"),
    RosterEntry("bo", "Bo", "Mai", "withdrawn", "pass"),
    RosterEntry("dee", "Dee", "Mai"),
]


def test_every_kind_of_change_is_found_in_the_new_rosters_order() -> None:
    assert roster_changes(BEFORE, NOW) == [
        RosterChange("renamed", "ada", "Ada-Rey, Mai", "Ada, Mai", "Ada-Rey, Mai"),
        RosterChange("withdrawn", "bo", "Bo, Mai", "enrolled", "withdrawn"),
        RosterChange("changed basis", "bo", "Bo, Mai", "letter", "pass"),
        RosterChange("added", "dee", "Dee, Mai"),
        RosterChange("gone", "cy", "Cy, Mai"),
    ]
    assert [change.words for change in roster_changes(BEFORE, NOW)] == [
        "renamed, was Ada, Mai", "withdrawn", "changed basis, letter to pass", "added", "gone",
    ]  # fmt: skip
    assert roster_changes(NOW, NOW) == []


def klass(now: list[RosterEntry], **settled: Settled) -> Course:
    of = course(plan(category("100")), {"ada": ["85"], "bo": ["65"], "cy": ["40"]}, None, settled)
    return replace(of, records=replace(roster("ada"), roster=tuple(now)))


def test_the_section_follows_in_one_act() -> None:
    of = klass(NOW, ada=Settled("B"), bo=Settled("D"), cy=Settled("C"))
    made = mending(of, roster_changes(BEFORE, NOW))
    assert made.added == [Student("dee", "Dee", "Mai")]
    assert made.names == {"ada": ("Ada-Rey", "Mai")}
    assert made.opened == ["bo"]
    assert made.aside == {"cy": GONE}
    assert made.words == "1 added, 1 renamed, 1 settled grades opened again, 1 set aside"


def test_a_changed_basis_opens_only_a_code_it_does_not_take() -> None:
    now = [RosterEntry("ada", "Ada", "Mai", basis="pass"), RosterEntry("bo", "Bo", "Mai", basis="pass"), BEFORE[2]]
    of = klass(now, ada=Settled("B"), bo=Settled("I"))
    assert mending(of, roster_changes(BEFORE, now)).opened == ["ada"]


def test_where_codes_changed_every_grade_the_office_does_not_take_any_more_is_opened() -> None:
    of = klass(BEFORE, ada=Settled("B"), bo=Settled("Q"))
    assert mending(of, [], rules_changed=True).opened == ["bo"]
    assert mending(of, []).opened == []


def test_who_comes_back_is_taken_back_and_who_was_set_aside_by_hand_is_not() -> None:
    of = klass(BEFORE)
    students = tuple(replace(s, set_aside={"ada": GONE, "bo": "sits in"}.get(s.id)) for s in of.students)
    made = mending(replace(of, students=students), roster_changes([BEFORE[2]], BEFORE))
    assert made.aside == {"ada": None}


def test_somebody_added_as_withdrawn_is_not_put_into_the_section() -> None:
    now = [*BEFORE, RosterEntry("eli", "Eli", "Mai", "withdrawn")]
    made = mending(klass(now), roster_changes(BEFORE, now))
    assert (made.added, made.words) == ([], "nothing had to be changed here")


def test_changes_of_the_offices_rules_are_said() -> None:
    before = roster("ada")
    codes = (*(rule for rule in before.codes if rule.code != "I"), CodeRule("INC"))
    changed = tuple(replace(rule, needs=()) if rule.code == "F" else rule for rule in codes)
    now = replace(before, codes=changed, incomplete_limit_days=120)
    assert rule_changes(before, now) == [
        "the code INC is new",
        "the code I is gone",
        "the code F has other rules",
        "days for an incomplete changed",
    ]
    assert rule_changes(before, before) == []
