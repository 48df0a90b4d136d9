"""Names beside bare numbers are the work of the course where the numbers make the whole, and only there."""

from itertools import product

import pytest

from vinemark.core.syllabus import read_syllabus

WORK = [
    ("Field trips", 20),
    ("Data exercises", 20),
    ("Policy brief", 15),
    ("Group talk", 10),
    ("Exam 1", 15),
    ("Exam A", 20),
]
HEADS = {"Grading": 1, "Grading (percent)": 1, "Your grade is out of 100 points.": 1, "Grading: 500 points": 5,
         "Requirements": 1, "There are 500 points in all.": 5, "Grading (1,000 points)": 10}  # fmt: skip
FORMS = ("{n}: {v}", "{n} ({v})", "{n} - {v}", "{n} = {v}", "{n}, {v}", "{n} .... {v}", "{n}\t{v}", "{n}      {v}",
         "{v}  {n}", "{v} - {n}", "{v}: {n}", "{v} {n}", "{n} {v}")  # fmt: skip
SIGNS = ("", "- ", "{i}. ", "({l}) ")


def read(text: str) -> list[tuple[str, object]]:
    return [(one.name, one.weight or one.points) for one in read_syllabus(text).categories]


@pytest.mark.parametrize("form", FORMS)
@pytest.mark.parametrize("sign", SIGNS)
def test_they_are_read_in_every_form(form: str, sign: str) -> None:
    for (head, times), total in product(HEADS.items(), (False, True)):
        rows = [
            sign.format(i=n + 1, l="abcdef"[n]) + form.format(n=name, v=value * times)
            for n, (name, value) in enumerate(WORK)
        ]
        rows += [form.format(n="Total", v=100 * times)] if total else []
        assert read(f"{head}\n\n" + "\n".join(rows) + "\n") == [(name, value * times) for name, value in WORK], head


PLANS = {
    "list": "Grading\n\n- Field reports: 40%\n- Two exams: 40%\n- Seminar: 20%\n",
    "prose": "Grading\n\nField reports are worth 40% of your grade, the two exams 40%, and the seminar 20%.\n",
    "bare": "Grading\n\nField reports: 40\nTwo exams: 40\nSeminar: 20\n",
    "brackets": "Grading\n\nField reports (40)\nTwo exams (40)\nSeminar (20)\n",
}
OTHERS = (
    "Report rubric\n\nContent: 40\nOrganization: 30\nSources: 30\n",
    "Each report is graded as follows:\n\nIntroduction (20)\nMethods (30)\nResults (30)\nReferences (20)\n",
    "The final exam\n\nMultiple choice: 40\nShort answers: 30\nEssay: 30\n",
    "Readings\n\nChapter on soil: 14\nChapter on water: 36\nArticle by Ruden: 50\n",
    "Group sizes\n\nLab section A: 24\nLab section B: 26\nLab section C: 50\n",
    "Peer evaluation form\n\nPreparation 25\nContribution 25\nTeamwork 25\nCommunication 25\n",
    "Phone numbers\n\nWriting center 20\nLibrary desk 30\nLab office 50\n",
)


@pytest.mark.parametrize("other", OTHERS)
@pytest.mark.parametrize("plan", PLANS)
def test_a_list_of_something_else_that_makes_a_hundred_is_not_taken(plan: str, other: str) -> None:
    want = [("Field reports", 40), ("Exams", 40), ("Seminar", 20)]
    assert read(f"{PLANS[plan]}\n{other}") == want
    assert read(f"{other}\n{PLANS[plan]}") == want


@pytest.mark.parametrize("other", OTHERS)
def test_alone_it_is_no_plan_either(other: str) -> None:
    assert read(other) == []


@pytest.mark.parametrize("last", ["25", "150"])
def test_numbers_that_make_no_whole_are_not_believed(last: str) -> None:
    assert read(f"Grading\n\nField trips, 20\nQuizzes, 20\nExams, {last}\n") == []


def test_extra_credit_stands_beside_the_whole() -> None:
    found = read_syllabus("Grading\n\nLabs (60)\nExams (40)\nQuizzes (20)\nTotal (120)\nExtra credit (5)\n").categories
    assert [(one.name, one.points, one.extra) for one in found][-1] == ("Extra credit", 5, True)
    assert len(found) == 4
