"""Syllabus and plan side by side: drafted, held against each other, followed, corrected, noted."""

from dataclasses import replace
from fractions import Fraction

import pytest

from tests.syllabus.documents import DOCUMENTS, Document
from vinemark.core.base.refused import Refused
from vinemark.core.plan.edit import add_category
from vinemark.core.plan.plan import Plan, Rounding
from vinemark.core.syllabus import Reading, SaidCategory, SaidRounding, SaidRow, read_syllabus
from vinemark.core.syllabus.compare.draft import drafted
from vinemark.core.syllabus.compare.follow import follow, follow_all
from vinemark.core.syllabus.compare.match import compare_rules
from vinemark.core.syllabus.compare.notes import difference, match_plan, said_of
from vinemark.core.syllabus.compare.shown import gap_question, reading_changes, stretches
from vinemark.core.syllabus.read.correct import TypedFact, corrected, pointed
from vinemark.core.syllabus.written import from_json, syllabus_json

TEXT = next(d.text for d in DOCUMENTS if d.name == "table with pipes and a letter line")
READING = read_syllabus(TEXT)
PLAN = drafted(READING)


def open_rules(plan: Plan, reading: Reading = READING) -> list[tuple[str, str]]:
    return [(rule.key, rule.state) for rule in compare_rules(plan, reading) if rule.state != "agrees"]


def test_a_plan_is_drafted_with_what_is_said() -> None:
    assert [(c.name, c.weight, c.drop_lowest, len(c.items)) for c in PLAN.categories] == [
        ("Field notebooks", 20, 1, 6), ("Map quizzes", 15, 2, 8), ("Lab practicals", 25, 0, 2), ("Seminar", 10, 0, 1),
        ("Survey report", 30, 0, 1),
    ]  # fmt: skip
    assert PLAN.categories[1].items[0].name == "Map quiz 1"
    assert PLAN.rounding == Rounding(2)
    assert len(PLAN.scale) == 10


@pytest.mark.parametrize("document", DOCUMENTS, ids=lambda d: d.name)
def test_what_is_drafted_agrees_with_what_was_read(document: Document) -> None:
    """The draft says the same as the text; a scale in points needs items with points to stand on."""
    reading = read_syllabus(document.text)
    left = {
        rule.name for rule in compare_rules(drafted(reading), reading) if rule.state in {"differs", "not in the plan"}
    }
    assert left <= ({"scale"} if reading.scale_unit == "points" and not reading.categories else set())


def test_cutoffs_in_points_become_exact_percents() -> None:
    """Arithmetic: 450, 400, 350, 300 of 500 points are 90, 80, 70, 60 percent."""
    reading = read_syllabus(next(d.text for d in DOCUMENTS if d.name == "points table with a total"))
    assert [row.cutoff for row in drafted(reading).scale] == [90, 80, 70, 60, 0]


def changed(number: int, **fields: object) -> Plan:
    made = list(PLAN.categories)
    made[number] = replace(made[number], **fields)  # type: ignore[arg-type]
    return replace(PLAN, categories=tuple(made))


@pytest.mark.parametrize(
    ("plan", "key"),
    [
        (changed(0, weight=Fraction(25)), "weight:c1"),
        (changed(1, drop_lowest=1), "drop:c2"),
        (changed(1, drop_lowest=0), "drop:c2"),
        (changed(1, items=PLAN.categories[1].items[:6]), "count:c2"),
        (changed(2, items=(*PLAN.categories[2].items, replace(PLAN.categories[2].items[0], id="i99"))), "count:c3"),
        (changed(0, extra=True), "extra:c1"),
        (replace(PLAN, rounding=Rounding(0)), "rounding:"),
        (replace(PLAN, rounding=Rounding(2, "exact")), "rounding:"),
        (replace(PLAN, scale=PLAN.scale[1:]), "scale:"),
        (replace(PLAN, basis="points"), "basis:"),
    ],
)
def test_each_difference_is_found_and_mended_by_one_act(plan: Plan, key: str) -> None:
    assert (key, "differs") in open_rules(plan)
    mended, done = follow(plan, key, READING)
    assert key not in [found for found, _ in open_rules(mended)]
    assert done.endswith("made to follow the syllabus")
    with pytest.raises(Refused):
        follow(mended, key, READING)


def test_categories_that_only_one_side_has() -> None:
    less = replace(PLAN, categories=PLAN.categories[:4])
    assert open_rules(less) == [("category:Survey report", "not in the plan")]
    mended, _ = follow(less, "category:Survey report", READING, {"c5", "i18"})
    assert [c.name for c in mended.categories][-1] == "Survey report"
    assert mended.categories[-1].id == "c6"
    assert open_rules(mended) == []
    more = add_category(PLAN, "Field day", "5")
    assert open_rules(more) == [("category:c6", "not in the syllabus")]
    assert open_rules(follow(more, "category:c6", READING)[0]) == []


def test_best_8_of_10_is_the_lowest_2_dropped() -> None:
    """Arithmetic: keeping the best 6 of 8 drops the lowest 2."""
    assert open_rules(changed(1, drop_lowest=0, keep_best=6)) == []
    assert open_rules(changed(2, drop_lowest=1)) == [("drop:c3", "not in the syllabus")]


def test_zeros_are_met_by_counting_0_at_once_or_once_due_and_only_where_spoken_of() -> None:
    reading = read_syllabus("Quizzes 40%, essays 60%. A quiz you miss scores zero.")
    plan = drafted(reading)
    assert {c.blanks for c in plan.categories} == {"zero_when_due"}
    quizzes, essays = plan.categories
    for blanks, differs in (("zero", False), ("wait", True)):
        made = replace(plan, categories=(replace(quizzes, blanks=blanks), replace(essays, blanks="wait")))  # type: ignore[arg-type]
        assert (("blanks:", "differs") in open_rules(made, reading)) == differs
    waiting = replace(plan, categories=(replace(quizzes, blanks="wait"), replace(essays, blanks="wait")))
    assert [c.blanks for c in follow(waiting, "blanks:", reading)[0].categories] == ["zero_when_due", "wait"]


def test_points_agree_before_or_after_the_drops() -> None:
    reading = read_syllabus(
        "Points\nReports  5 x 20 points, lowest dropped = 80 points\nExam: 120 points\nTotal: 200 points\n"
    )
    plan = drafted(reading)
    assert [sum(i.points for i in c.items) for c in plan.categories] == [100, 120]
    assert not [key for key, _ in open_rules(plan, reading) if key.startswith("points")]
    wrong = replace(
        plan,
        categories=tuple(
            replace(c, items=tuple(replace(i, points=Fraction(7)) for i in c.items)) for c in plan.categories
        ),
    )
    assert {key.split(":")[0] for key, _ in open_rules(wrong, reading)} == {"points", "points each"}
    mended, _ = follow(wrong, "points:c2", reading)
    assert mended.categories[1].items[0].points == 120


def test_the_whole_plan_follows_and_keeps_ids_by_name() -> None:
    own = replace(PLAN, categories=(replace(PLAN.categories[1], id="c77", weight=Fraction(1)),))
    made = follow_all(own, READING)
    assert [c.id for c in made.categories if c.name == "Map quizzes"] == ["c77"]
    assert made.categories[1].items[0].id == PLAN.categories[1].items[0].id
    assert open_rules(made) == []


def test_a_note_stands_while_both_sides_say_the_same() -> None:
    plan = changed(0, weight=Fraction(25))
    rule = next(r for r in compare_rules(plan, READING) if r.state == "differs")
    assert difference(rule) == "Field notebooks, weight: the syllabus says 20%, the plan has 25%"
    notes = {rule.key: (said_of(rule), "agreed in week 3")}
    held = match_plan(plan, READING, notes)
    assert held.open == []
    assert held.agreeing == len(held.rules) - 1
    again = match_plan(changed(0, weight=Fraction(30)), READING, notes)
    assert again.open_words == ["Field notebooks, weight: the syllabus says 20%, the plan has 30%"]


def test_facts_typed_over() -> None:
    rows = {
        0: TypedFact("Notebooks", "20", count="6", drop="best 5"),
        1: TypedFact("", "15"),
        2: TypedFact("Field day", "3", extra=True),
    }
    found = corrected(
        READING, rows, {"basis": "weighted", "scale": "A 90-100, B 80-89", "rounding": "none", "blanks": "zero"}
    )
    assert [(c.name, c.weight, c.count, c.keep_best, c.extra) for c in found.categories] == [
        ("Notebooks", 20, 6, 5, False), ("Field day", 3, None, None, True),
    ]  # fmt: skip
    assert (found.rounding, found.blanks, found.scale_unit) == (SaidRounding(None), "zero", "percent")
    assert "Notebooks" in {clause.category for clause in found.clauses}
    for rows_, others, place in (
        ({0: TypedFact("A", "x")}, {}, "weight-0"), ({3: TypedFact("A", drop="some")}, {}, "drop-3"),
        ({0: TypedFact("A", count="2.5")}, {}, "count-0"), ({}, {"scale": "good work"}, "scale"),
        ({0: TypedFact("x" * 130)}, {}, "name-0"),
    ):  # fmt: skip
        with pytest.raises(Refused) as caught:
            corrected(READING, rows_, others)
        assert caught.value.field == place


def test_a_sentence_pointed_at() -> None:
    text = "The notebook is a fifth. We forget the two weakest. Fine. A 90, B 80, C 70."
    found = read_syllabus("")
    for words, kind, named, value in (
        ("The notebook is a fifth.", "weight", "Notebook", "20"),
        ("We forget the two weakest.", "drop", "notebook", "lowest 2"),
        ("A 90, B 80, C 70.", "scale", "", ""), ("Fine.", "unread", "", ""),
    ):  # fmt: skip
        start = text.index(words)
        found = pointed(found, text, (start, start + len(words)), kind, named, value)  # type: ignore[arg-type]
    assert found.categories == [SaidCategory("Notebook", Fraction(20), drop_lowest=2)]
    assert found.scale == [SaidRow("A", Fraction(90)), SaidRow("B", Fraction(80)), SaidRow("C", Fraction(70))]
    assert [u.text for u in found.unread] == ["Fine."]
    gone = pointed(found, text, (0, 24), "nothing", "", "")
    assert "weight" not in {clause.kind for clause in gone.clauses}
    for kind, named, value, place in (
        ("weight", "", "20", "named"),
        ("count", "X", "many", "value"),
        ("scale", "", "good", "value"),
    ):
        with pytest.raises(Refused) as caught:
            pointed(found, text, (0, 24), kind, named, value)  # type: ignore[arg-type]
        assert caught.value.field == place
    assert pointed(found, text, (0, 5), "rounding", "", "1").rounding == SaidRounding(1)
    assert pointed(found, text, (0, 5), "blanks", "", "").blanks == "zero"


def test_the_text_in_stretches_and_versions_in_words() -> None:
    shown = stretches(TEXT, READING, compare_rules(PLAN, READING))
    assert "".join(s.text for s in shown) == TEXT
    notebooks = next(s for s in shown if "Field notebooks" in s.text)
    assert "weight" in notebooks.kinds
    assert "weight:c1" in notebooks.rules
    newer = read_syllabus(TEXT.replace("| 20% |", "| 25% |"))
    lines = [(line.side, line.text) for line in reading_changes(READING, newer) if line.side != "both"]
    assert lines == [
        ("first", "Field notebooks: 20%, 6 items, lowest 1 dropped"),
        ("second", "Field notebooks: 25%, 6 items, lowest 1 dropped"),
    ]


def test_a_gap_between_whole_number_ranges_is_a_question() -> None:
    """89.5 on '80–89, 90–100': rounded, or cut?"""
    text = "Exam 100% of your grade. A 90–100, B 80–89, C 70–79."
    assert gap_question(read_syllabus(text), text) == ("A", Fraction("89.5"))
    for said in (
        text + " Final grades are not rounded.",
        text.replace("90–100", "90").replace("80–89", "80").replace("70–79", "70"),
    ):
        assert gap_question(read_syllabus(said), said) is None


@pytest.mark.parametrize("document", DOCUMENTS, ids=lambda d: d.name)
def test_a_reading_is_kept_and_read_back(document: Document) -> None:
    found = read_syllabus(document.text)
    assert syllabus_json(from_json(syllabus_json(found))) == syllabus_json(found)
