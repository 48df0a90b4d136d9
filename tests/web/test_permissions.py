"""Who reaches what: the table in the documents is what the application does, and says what it should."""

import re
from collections.abc import Mapping, Sequence
from pathlib import Path

import pytest

from tests.web.permissions import ROLES, TABLE, Asked, reached, table

Found = Mapping[Asked, Sequence[str]]
TOLD_TO_ALL = {"health.show", "machines.who"}
STRANGERS = ("people.", "forgotten.", "invitations.", "own_email.", "identity.", "second_step.")
"""Pages for people who are not signed in yet, or that are about oneself."""


@pytest.fixture(scope="module")
def found(demo_folder: Path, compiled: str) -> Found:
    return reached(demo_folder, compiled)


def column(found: Found, role: str) -> Mapping[Asked, str]:
    place = list(ROLES).index(role)
    return {one: words[place] for one, words in found.items()}


def test_the_table_is_what_the_application_does(found: Found) -> None:
    assert table(found) == TABLE.read_text(encoding="utf-8")


def test_nobody_reaches_anything_that_is_about_somebody(found: Found) -> None:
    for one, word in column(found, "nobody").items():
        if word == "yes":
            assert one.endpoint in TOLD_TO_ALL or one.endpoint.startswith(STRANGERS), one


@pytest.mark.parametrize("role", ["other student", "administrator", "other instructor"])
def test_who_has_no_part_in_a_section_reaches_nothing_of_it(found: Found, role: str) -> None:
    for one, word in column(found, role).items():
        if one.rule.startswith("/s/<int:section_id>"):
            assert word == "–", one


def test_a_student_reaches_the_statement_of_a_section_and_nothing_else(found: Found) -> None:
    mine = {one.endpoint for one, word in column(found, "student").items() if "/s/<" in one.rule and word == "yes"}
    assert mine == {"statement.show", "statement.try_own", "statement.ask"}


def test_the_limited_reach_their_page_and_nothing_else(found: Found) -> None:
    mine = {one.endpoint for one, word in column(found, "limited").items() if "/s/<" in one.rule and word == "yes"}
    assert mine == {"entry.show", "entry.save"}


def test_the_college_is_the_administrators_and_the_board_the_chairs(found: Found) -> None:
    for one, words in found.items():
        may = {role for role, word in zip(ROLES, words, strict=True) if word == "yes"}
        if one.endpoint.startswith("college."):
            assert may <= {"administrator"}, one
        if one.endpoint.startswith("board."):
            assert may == {"chair"}, one


def test_a_chair_reads_what_a_reviewer_reads(found: Found) -> None:
    reviewer, chair = column(found, "reviewer"), column(found, "chair")
    for one, word in chair.items():
        if "/s/<" in one.rule:
            assert word == reviewer[one], one


def test_only_an_instructor_changes_anything_but_scores(found: Found) -> None:
    reading = {"after.make_archive", "plan.typed_ribbon"}
    changing = re.compile(r"^(plan|settle|submit|after|seen|section_people|questions|deleting|class_list|bring)\.")
    for one, words in found.items():
        if one.method == "POST" and changing.match(one.endpoint) and one.endpoint not in reading:
            may = {role for role, word in zip(ROLES, words, strict=True) if word == "yes"}
            assert may <= {"instructor"}, (one, may)
