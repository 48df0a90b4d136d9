"""One amount under each name: what is of the grade, and when a whole is believed."""

from itertools import product

import pytest

from vinemark.core.syllabus import read_syllabus

WORKS = ("Field notebook", 25), ("Exercises", 30), ("Midterm test", 20), ("Closing report", 25)
BESIDE = (
    (
        "Entries are checked 4 times. A late entry loses 10% a day.",
        "Each takes 90 minutes; late ones lose 20%. Students with 90% on the first may skip the second.",
        "It has 20 questions, each worth 5 points. The mean of last year was 74%.",
        "A draft is due in week 10; without one the report loses 15%. Each partner writes 50% of it.",
    ),
    (
        "It is marked on neatness (40%) and content (60%). Bring it to 100% of the outings.",
        "They are due on Fridays at 5. Each has 10 questions of 2 points.",
        "It is on October 14, 9 to 10:15. About 60% comes from lectures.",
        "Thesis 30%, sources 30%, style 40%. You present it in 5 minutes.",
    ),
)
SAID = ("It is worth {w}% of the grade.", "This counts {w}%.", "Weight: {w}%.", "({w}% of grade)")
FORMS = (
    "### {n}\n\n{told}", "**{n}**\n{told}", "**{n}.** {told}", "- **{n}**: {told}", "**{n}**\n\n- {told}",
)  # fmt: skip


def read(*parts: str) -> list[tuple[str, object, object]]:
    text = "# GEOG 110 Mapping\n\n## Grading\n\n" + "\n\n".join(parts) + "\n\n## Contact\n\nWrite to me.\n"
    return [(one.name, one.weight or one.points, one.count) for one in read_syllabus(text).categories]


@pytest.mark.parametrize(("form", "said", "beside"), list(product(FORMS, SAID, BESIDE)))
@pytest.mark.parametrize("first", [True, False])
def test_the_share_of_the_grade_is_told_from_the_other_numbers(
    form: str, said: str, beside: tuple[str, ...], first: bool
) -> None:
    parts = []
    for (name, weight), other in zip(WORKS, beside, strict=True):
        told = [said.format(w=weight), other]
        parts.append(form.format(n=name, told=" ".join(told if first else told[::-1])))
    assert read(*parts) == [(name, weight, None) for name, weight in WORKS]


def test_a_share_in_the_heading_itself_goes_before_those_below_it() -> None:
    parts = [f"### {name} ({weight}%)\n\n{BESIDE[1][n]}" for n, (name, weight) in enumerate(WORKS)]
    assert read(*parts) == [(name, weight, None) for name, weight in WORKS]


def test_points_that_make_up_the_stated_total_are_taken_too() -> None:
    parts = [f"### {name}\n\nDue in class, worth {4 * weight} points." for name, weight in WORKS]
    assert read("The course has 400 points.", *parts) == [(name, 4 * weight, None) for name, weight in WORKS]


def test_each_of_several_is_multiplied() -> None:
    exercises = "### Exercises\n\nThere are six exercises. Due on Fridays, each worth 5%."
    others = [f"### {name}\n\nDue in class, worth {weight}%." for name, weight in WORKS if name != "Exercises"]
    found = {name: (weight, count) for name, weight, count in read(exercises, *others)}
    assert found["Exercises"] == (30, 6)
    assert len(found) == len(WORKS)


@pytest.mark.parametrize("parts", [
    ["### Thesis\n\nClear, for 40%.", "### Sources\n\nSix or more, for 30%.", "### Style\n\nPlain, for 30%."],
    [f"### {name}\n\nHere 10% and there {weight}%." for name, weight in WORKS],
    [f"### {name}\n\nDue in class, worth {weight + 1}%; a strict one." for name, weight in WORKS[:3]],
])  # fmt: skip
def test_what_is_no_work_no_whole_or_not_told_apart_makes_no_plan_of_headings(parts: list[str]) -> None:
    assert [name for name, *_ in read(*parts)] in ([], [name for name, _ in WORKS[:3]])


def test_a_whole_of_more_parts_in_one_sentence_stays() -> None:
    whole = "Your grade is 15% midterm, 25% final exam, 30% exercises, 20% notebook and 10% closing report."
    below = ["### Tests\n\nTogether 40% of the grade.", "### Exercises\n\nIn all 30% of the grade.",
             "### Other reports\n\nIn all 30% of the grade."]  # fmt: skip
    assert [weight for _, weight, _ in read(whole, *below)] == [15, 25, 30, 20, 10]


@pytest.mark.parametrize("child", ["Weight: {w}%", "{w}% of the grade", "Worth {w} percent"])
def test_items_over_deeper_ones_with_their_share_are_names(child: str) -> None:
    parts = [f"- {name}\n  - {child.format(w=weight)}\n  - Handed in on paper" for name, weight in WORKS]
    assert read("\n".join(parts)) == [(name, weight, None) for name, weight in WORKS]
