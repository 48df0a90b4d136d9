"""After any edit the audit that looked again only where it was touched is what looking at everything gives."""

import random
from dataclasses import replace
from datetime import timedelta
from fractions import Fraction
from typing import Any

import pytest

from tests.core.audit.audit_courses import AS_OF, as_computed, clean
from tests.seeds import seed
from vinemark.core.audit.finding import Facts, Touched
from vinemark.core.audit.run import Audit, audit_facts, whole_audit
from vinemark.core.course.cell import Cell, DetailedScore
from vinemark.core.course.course import Course, Settled
from vinemark.core.grade.calculation import grade_of
from vinemark.core.plan.plan import Item, Plan
from vinemark.core.plan.rules import Condition, Consequence, Replacement, Requirement

COURSES, EDITS = 25, 40


class Hand:
    """Edits a course as a hand in a hurry would; every kind of edit, and every state of a class, comes up."""

    def __init__(self, draw: random.Random) -> None:
        self.draw = draw

    def course(self, number: int) -> Course:
        """A course with something of everything: planned items, waiting blanks, drops by percent, people apart."""
        made = clean(number, records=number % 4 != 0, settled=number % 3 != 0)
        plan = made.plan
        categories = [
            replace(c, blanks=self.draw.choice(("zero", "wait", "zero_when_due")),
                    drop_by=self.draw.choice(("helps_most", "lowest_percent")),
                    items=tuple(self._item(item) for item in c.items))
            for c in plan.categories
        ]  # fmt: skip
        students = [replace(s, set_aside="sits in" if self.draw.random() < 0.05 else None) for s in made.students]
        if number % 3 == 2:
            made = replace(made, scores={s.id: made.scores[s.id] for s in made.students[: len(made.students) // 2 + 1]})
        if made.records and number % 2:
            roster = tuple(replace(e, status="withdrawn") if n == 2 else e for n, e in enumerate(made.records.roster))
            made = replace(made, records=replace(made.records, roster=roster[:-1]))
        ruled = replace(plan, categories=tuple(categories), **self._rules(plan, number))
        return replace(made, plan=ruled, students=tuple(students))

    def _rules(self, plan: Plan, number: int) -> dict[str, Any]:
        """For every other course a replacement and requirements, one of them for something that is planned."""
        if number % 2:
            return {}
        regular = [(c, i) for c, i in plan.items() if not c.extra and not i.extra]
        (first, _), (_, last) = regular[0], regular[-1]
        below = Condition("percent_below", Fraction(70), item=last.id)
        missed = Condition("missed_at_least", Fraction(1), first.id)
        above = Condition("value_above", last.points / 2, item=regular[1][1].id)
        return {
            "replacements": (Replacement(last.id, first.id),),
            "requirements": (
                Requirement("r1", below, Consequence("letter_at_most", letter=plan.scale[len(plan.scale) // 2].letter)),
                Requirement("r2", missed, Consequence("letters_down", Fraction(1), for_each=True)),
                Requirement("r3", above, Consequence("percent_down", Fraction(1))),
            ),
        }

    def _item(self, item: Item) -> Item:
        points = item.points * self.draw.choice((1, 1, 1, 2))
        return replace(item, points=points, counts=self.draw.random() > 0.06)

    def cell(self, item: Item) -> Cell:
        """A cell of every kind: good, none, a word, nothing, far too much, a slip of the key."""
        good = Fraction(self.draw.randint(5, 10), 10) * item.points
        kinds: list[Cell] = [
            good,
            good,
            good / 10,
            good * 10,
            item.points + 1,
            Fraction(0),
            "missing",
            "exempt",
            None,
            DetailedScore(good, None, 2),
        ]
        return self.draw.choice(kinds)

    def settled(self, course: Course, student: str) -> Settled | None:
        """A settled grade of every kind, or none."""
        day = course.term.ends + timedelta(days=self.draw.choice((-200, -40, 3)))
        kinds = [
            None, as_computed(course, student), Settled(self.draw.choice(("A", "B", "C", "F", "P", "I", "W", "Z"))),
            Settled("A", reason="asked for"), Settled("F", last_attended=day), Settled("F", never_attended=True),
            Settled("I", fallback_grade="C", finish_by=day + timedelta(days=self.draw.choice((0, 300, 600)))),
        ]  # fmt: skip
        return self.draw.choice(kinds)

    def edit(self, course: Course) -> tuple[Course, Touched]:
        """The course after one edit, and what it touched."""
        items = [item for _, item in course.plan.items()]
        people = [student.id for student in course.students]
        kind = self.draw.random()
        if kind < 0.25:
            chosen = [*self.draw.sample(people, self.draw.choice((1, 1, 3))), *people[2 : 2 + self.draw.randint(0, 1)]]
            return course.with_settled({s: self.settled(course, s) for s in chosen}), Touched(frozenset(chosen))
        if kind < 0.35:
            item = self.draw.choice(items)
            same = self.cell(item)
            column = {(s, item.id): same if kind < 0.3 else None for s in people}
            return course.with_cells(column), Touched(frozenset(people), frozenset({item.id}))
        places = [(self.draw.choice(people), self.draw.choice(items)) for _ in range(self.draw.choice((1, 1, 1, 4)))]
        if kind < 0.42:
            places = [(places[0][0], item) for item in items]
        cells = {(s, item.id): self.cell(item) for s, item in places}
        if kind < 0.38:
            cells = dict.fromkeys(cells, self.draw.choice((None, "missing", Fraction(0))))
        return course.with_cells(cells), Touched(frozenset(s for s, _ in cells), frozenset(i for _, i in cells))


def brought_forward(audit: Audit, course: Course, touched: Touched) -> Audit:
    grades = {**audit.facts.grades, **{s: grade_of(course, s, AS_OF) for s in touched.students}}
    return audit.after(audit.facts.brought_forward(course, grades, touched), touched)


@pytest.mark.parametrize("number", range(COURSES))
def test_it_is_what_looking_at_everything_gives(number: int) -> None:
    hand = Hand(random.Random(seed(1700 + number)))
    course = hand.course(number)
    grades = {student.id: grade_of(course, student.id, AS_OF) for student in course.students}
    as_of = AS_OF if number % 2 else course.term.starts + timedelta(days=60)
    audit = whole_audit(Facts(course, as_of, grades=grades))
    codes = set()
    for _ in range(EDITS):
        course, touched = hand.edit(course)
        audit = brought_forward(audit, course, touched)
        whole = audit_facts(Facts(course, as_of, grades=audit.facts.grades))
        assert audit.findings == whole
        codes |= {finding.code for finding in whole}
    assert len(codes) > 5


def test_a_narrowed_check_looks_at_what_was_touched_and_nothing_else() -> None:
    course = clean(1)
    facts = Facts(course, AS_OF)
    one, item = course.students[3], next(i for _, i in course.plan.items())
    narrowed = facts.narrowed(Touched(frozenset({one.id}), frozenset({item.id})))
    assert [s.id for s in narrowed.rows] == [one.id]
    assert [i.id for _, i in narrowed.columns()] == [item.id]
    assert narrowed.enrolled == facts.enrolled
    assert facts.rows == facts.enrolled
