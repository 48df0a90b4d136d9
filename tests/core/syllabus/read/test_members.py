"""A group's members stand for it, in a list below it or in its own words; one piece of work stays one."""

import pytest

from vinemark.core.syllabus import read_syllabus

GROUPS = (
    ("Written work", 55, (("Field notebook", 25), ("Map exercises", 30))),
    ("Tests", 45, (("Midterm", 20), ("Final exam", 25))),
)
MEMBERS = [("Field notebook", 25), ("Map exercises", 30), ("Midterm", 20), ("Final exam", 25)]
GROUP_FORMS = ("{g} ({w}%)", "{g}: {w}%", "{w}% {g}", "{g} - {w}%", "{g} \u2013 {w} percent", "{g} (total {w}%)")
MEMBER_FORMS = ("{g} ({w}%)", "{g}: {w}%", "{w}% {g}", "{g}, {w}%", "{g} - {w}%")


def read(told: str) -> list[tuple[str, object]]:
    text = f"# GEOG 110 Mapping\n\n## Grading\n\n{told}\n\n## Contact\n\nWrite to me.\n"
    return [(one.name, one.weight) for one in read_syllabus(text).categories]


@pytest.mark.parametrize("below", ["### {g}\n\n{m}", "{g}\n\n{m}", "**{g}**\n\n{m}"])
@pytest.mark.parametrize("member", MEMBER_FORMS)
@pytest.mark.parametrize("group", GROUP_FORMS)
def test_members_in_a_list_below_a_group_stand_for_it(below: str, group: str, member: str) -> None:
    told = "\n\n".join(
        below.format(
            g=group.format(g=name, w=weight),
            m="\n".join(f"- {member.format(g=one, w=share)}" for one, share in members),
        )
        for name, weight, members in GROUPS
    )
    assert read(told) == MEMBERS


@pytest.mark.parametrize("told", [
    "Written work is 55% of the grade: 25% for the field notebook and 30% for the map exercises. Tests are 45%: 20%"
    " for the midterm and 25% for the final exam.",
    "Written work counts 55% (field notebook 25%, map exercises 30%) and tests 45% (midterm 20%, final exam 25%).",
    "Written work makes up 55% of your grade. This includes the field notebook (25%) and map exercises (30%). Tests"
    " make up the other 45%. These are the midterm (20%) and the final exam (25%).",
])  # fmt: skip
def test_members_in_the_words_of_a_group_stand_for_it(told: str) -> None:
    assert [(name.capitalize(), weight) for name, weight in read(told)] == MEMBERS


@pytest.mark.parametrize("told", [
    "The project counts 55% (proposal 20%, paper 35%) and the tests 45%.",
    "Written work counts 55% (neatness 25%, style 30%) and the tests 45%.",
    "Written work counts 55% (field notebook 25%, map exercises 20%) and the tests 45%.",
])  # fmt: skip
def test_the_parts_of_one_piece_and_what_does_not_add_up_leave_the_group(told: str) -> None:
    assert [weight for _, weight in read(told)] == [55, 45]
