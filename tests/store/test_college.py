"""The college is kept: departments with their chairs, terms, choices, parts by address, accounts and invitations."""

from datetime import date

from tests.store.conftest import AT, Kept
from vinemark.core.college.college import NO_PART, CollegeChoices, Department
from vinemark.core.course.course import Term
from vinemark.store import college, people
from vinemark.store.college import CollegePerson
from vinemark.store.history import Act

ACT = Act(None, AT)
WATER = Department("Earth and Water", frozenset({"hydr", "soil"}))
CHAIR = CollegePerson("odalys@larkmoor.example", "chair", WATER.name)


def test_a_department_that_is_renamed_keeps_its_chair_and_one_that_goes_takes_it_along(kept: Kept) -> None:
    college.write_department(kept.connection, ACT, "", WATER)
    college.write_college_role(kept.connection, ACT, CHAIR, True)
    new = Department("Water", frozenset({"hydr"}))
    college.write_department(kept.connection, ACT, WATER.name, new)
    assert college.departments(kept.connection) == [new]
    assert college.college_part(kept.connection, "ODALYS@larkmoor.example").chairs == [new]
    college.write_department(kept.connection, ACT, "Water", None)
    assert college.departments(kept.connection) == []
    assert college.college_part(kept.connection, CHAIR.email) == NO_PART


def test_a_part_opens_sections_where_the_college_lets_it(kept: Kept) -> None:
    college.write_department(kept.connection, ACT, "", WATER)
    college.write_college_role(kept.connection, ACT, CHAIR, True)
    assert not college.college_part(kept.connection, CHAIR.email).opens
    college.write_college_choices(kept.connection, ACT, CollegeChoices(True, 3))
    assert college.college_choices(kept.connection) == CollegeChoices(True, 3)
    part = college.college_part(kept.connection, CHAIR.email)
    assert part.opens
    assert not part.administrator
    college.write_college_role(kept.connection, ACT, CHAIR, False)
    assert college.college_part(kept.connection, CHAIR.email) == NO_PART
    assert college.college_people(kept.connection) == []


def test_terms_are_changed_and_taken_away(kept: Kept) -> None:
    fall = Term("Fall 2026", date(2026, 8, 31), date(2026, 12, 18))
    college.write_college_term(kept.connection, ACT, "", fall)
    later = Term("Fall 26", date(2026, 8, 31), date(2026, 12, 19))
    college.write_college_term(kept.connection, ACT, fall.name, later)
    assert college.college_terms(kept.connection) == [later]
    college.write_college_term(kept.connection, ACT, later.name, None)
    assert college.college_terms(kept.connection) == []


def test_accounts_are_found_and_invitations_among_them(kept: Kept) -> None:
    invited = [("ines@larkmoor.example", "Ines Albright"), ("maren@larkmoor.example", "x")]
    college.write_invited(kept.connection, ACT, invited, [CHAIR], "2 invited")
    found = college.accounts(kept.connection)
    assert [(one.name, one.id is None, one.teaches) for one in found] == [
        ("Ines Albright", True, 0), ("Maren", False, 1),
    ]  # fmt: skip
    assert [one.name for one in college.accounts(kept.connection, "albri")] == ["Ines Albright"]
    assert college.invited_name(kept.connection, "INES@larkmoor.example") == "Ines Albright"
    assert college.known_addresses(kept.connection, ["MAREN@larkmoor.example", "no@b"]) == {"maren@larkmoor.example"}
    assert college.college_people(kept.connection) == [CHAIR]


def test_a_part_follows_another_address_and_goes_with_its_account(kept: Kept) -> None:
    mine = CollegePerson("maren@larkmoor.example", "administrator", "")
    college.write_college_role(kept.connection, ACT, mine, True)
    people.write_email(kept.connection, ACT, kept.owner, "maren@lisle.example")
    assert college.college_part(kept.connection, "maren@lisle.example").administrator
    people.erase_account(kept.connection, ACT, kept.owner)
    assert college.college_people(kept.connection) == []


def test_what_people_are_is_said_for_a_demo(kept: Kept) -> None:
    college.put_college_role(kept.connection, CollegePerson("maren@larkmoor.example", "chair", "Water"), True)
    assert college.parts_in_words(kept.connection) == [
        ("Maren", "maren@larkmoor.example", "chair of Water, instructor"),
    ]  # fmt: skip
