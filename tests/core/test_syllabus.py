"""Reading a syllabus: every way of saying something by its example, whole documents, and places in the text."""

from fractions import Fraction

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.syllabus.documents import DOCUMENTS, Document
from tests.syllabus.score import Tally, tally
from vinemark.core.syllabus import read_syllabus
from vinemark.core.syllabus.read.drops import DROPPED, KEPT, find_drops
from vinemark.core.syllabus.read.layout import Page, section_kind
from vinemark.core.syllabus.read.naming import clean
from vinemark.core.syllabus.read.normal import Saying, even, lowered, part_of, value_of
from vinemark.core.syllabus.read.policies import NONE_ROUNDED, TO_PLACE, UNREAD
from vinemark.core.syllabus.written import number_text, syllabus_json

# Right among what was read, and read among what is stated.
PRECISION, RECALL = Fraction(97, 100), Fraction(95, 100)


@pytest.mark.parametrize("saying", [*KEPT, *DROPPED], ids=lambda s: s.example)
def test_each_way_of_saying_a_drop_reads_its_example(saying: Saying) -> None:
    assert saying.pattern.search(saying.example.lower())
    assert len(find_drops(saying.example.lower())) >= 1


@pytest.mark.parametrize("policy", [*NONE_ROUNDED, *(p for p, _ in TO_PLACE), *UNREAD], ids=lambda p: p.example)
def test_each_policy_reads_its_example(policy: Saying) -> None:
    assert policy.pattern.search(policy.example.lower())


NO_DROPS = (
    "the last day to drop is friday",
    "two absences are free",
    "no scores are dropped",
    "if you come, one quiz is dropped",
    "the final replaces the lowest midterm",
    "the lowest quiz is dropped provided you hand in all others",
)


@pytest.mark.parametrize("text", NO_DROPS)
def test_what_is_no_drop(text: str) -> None:
    assert find_drops(text) == []


@pytest.mark.parametrize(
    ("text", "value"),
    [("12.5", "25/2"), ("1,000", "1000"), ("2/3", "2/3"), ("twenty-five", "25"), ("a dozen", "12"), ("½", "1/2"),
     ("seventeen %", "17"), ("2½", "5/2"), ("forty", "40"), ("one hundred", "100")],
)  # fmt: skip
def test_numbers_as_people_write_them(text: str, value: str) -> None:
    assert value_of(text) == Fraction(value)


def test_parts_and_no_numbers() -> None:
    assert [part_of(t) for t in ("a fifth", "two thirds", "half", "one-quarter", "another fifth")] == [
        Fraction(1, 5), Fraction(2, 3), Fraction(1, 2), Fraction(1, 4), Fraction(1, 5),
    ]  # fmt: skip
    assert value_of("many") is None
    assert part_of("") is None
    assert number_text(Fraction(100, 3)) == "33.33"


@pytest.mark.parametrize(
    ("said", "name", "count"),
    [("Two short papers (10 @ 20 pts)", "Short papers", 2), ("the final exam, ", "Final exam", None),
     ("each of the three midterms is worth", "Midterms", 3), ("Exam 1", "Exam 1", None), ("12 quizzes", "Quizzes", 12),
     ("Participation and attendance", "Participation and attendance", None), ("Midterm II:", "Midterm II", None)],
)  # fmt: skip
def test_names_stand_as_in_the_document(said: str, name: str, count: int | None) -> None:
    assert clean(said) == (name, count)


def test_sections_by_their_headings() -> None:
    kinds = [
        section_kind(h)
        for h in ("how bench projects are judged", "course calendar", "letter grades", "evaluation", "safety")
    ]
    assert kinds == ["rubric", "calendar", "scale", "grading", "other"]


@pytest.mark.parametrize("document", DOCUMENTS, ids=lambda d: d.name)
def test_a_document(document: Document) -> None:
    """Source: the documents were written beside their facts, before they were read."""
    found = tally(document)
    stated = found.right + found.wrong + found.missed
    assert found.invented <= 1, found.trouble
    assert found.wrong + found.missed <= max(1, stated // 10), found.trouble


def test_all_documents_together_reach_the_aim(capsys: pytest.CaptureFixture[str]) -> None:
    total = Tally()
    lines = [f"{'document':52} right wrong missed invented"]
    for document in DOCUMENTS:
        found = tally(document)
        lines.append(f"{document.name:52} {found.right:5} {found.wrong:5} {found.missed:6} {found.invented:8}")
        for field in ("right", "wrong", "missed", "invented"):
            setattr(total, field, getattr(total, field) + getattr(found, field))
    with capsys.disabled():
        print("\n" + "\n".join(lines))
    assert Fraction(total.right, total.right + total.wrong + total.invented) >= PRECISION
    assert Fraction(total.right, total.right + total.wrong + total.missed) >= RECALL


@pytest.mark.parametrize("document", DOCUMENTS, ids=lambda d: d.name)
def test_every_clause_stands_where_it_says(document: Document) -> None:
    found = read_syllabus(document.text)
    for clause in (*found.clauses, *found.unread):
        assert clause.text == " ".join(document.text[clause.start : clause.end].split())
        assert clause.text
    kinds = {clause.kind for clause in found.clauses}
    assert ("scale" in kinds) == bool(found.scale)
    assert {c.category for c in found.clauses if c.category} == {c.name for c in found.categories}


@given(st.text(max_size=300))
@settings(deadline=None)
def test_signs_are_made_even_in_place(text: str) -> None:
    assert len(even(text)) == len(lowered(text)) == len(text)


PIECES = st.sampled_from(
    ["Homework", "20%", "|", "\n", " ", "A 90", "B", "80-89", "the lowest", "two", "dropped", "(", ")", "- ", "#",
     ".", ";", "points", "of your grade", "is worth", "each", "rounded", "\t", "100", "Total", "x", "Week 3", "½", "%"]
)  # fmt: skip


@given(st.lists(PIECES, max_size=60).map(" ".join))
@settings(deadline=None, max_examples=150)
def test_any_text_is_read_without_a_failure(text: str) -> None:
    found = syllabus_json(read_syllabus(text))
    assert found["format"] == "vine-mark-syllabus/1"
    assert all(0 <= line.start <= line.end <= len(text) for line in Page(text).lines)
