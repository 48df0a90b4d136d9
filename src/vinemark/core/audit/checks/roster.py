"""Checks of the roster, where the course has the registrar's records."""

from collections import Counter
from collections.abc import Iterator, Sequence
from fractions import Fraction

from vinemark.core.audit.finding import Facts, Found
from vinemark.core.base.names import one_letter_apart, same_name
from vinemark.core.course.course import RosterEntry, Student
from vinemark.core.course.stand_in import is_stand_in

LONG_NAME = 5
FORMS_KNOWN, FORMS_ODD, WORKED_ON = 10, 2, 5


def not_enrolled(facts: Facts) -> Iterator[Found]:
    """A student of the section who is not on the registrar's roster."""
    records = facts.course.records
    if records is None:
        return
    for student in facts.rows_taking_part:
        if records.entry(student.id) is None:
            numbers = sum(isinstance(c, Fraction) for c in facts.course.values.get(student.id, {}).values())
            yield Found(
                f"{student.plain_name} is not on the registrar’s roster and cannot be given a grade there.",
                student=student.id,
                evidence=[
                    f"Id {student.id}, with {numbers} scores here.",
                    f"The registrar lists {len(records.roster)} people.",
                    "Set the student aside with a reason, or have the registrar enrol them.",
                ],
            )


def not_in_section(facts: Facts) -> Iterator[Found]:
    """An enrolled student of the registrar's roster who is not in the section."""
    for entry in facts.course.not_in_section():
        if entry.status == "enrolled":
            yield Found(
                f"{entry.given_name} {entry.family_name}".strip()
                + " is on the registrar’s roster, but not in this section.",
                student=entry.id,
                evidence=[f"Id {entry.id}, {entry.basis} basis.", "Add them to the section from the roster."],
            )


def withdrawn_graded(facts: Facts) -> Iterator[Found]:
    """A withdrawn student with a settled grade."""
    for student in facts.rows_taking_part:
        settled = facts.course.settled.get(student.id)
        if settled is not None and facts.course.status(student) == "withdrawn":
            yield Found(
                f"{student.plain_name} withdrew and has the settled grade {settled.grade}.",
                student=student.id,
                evidence=["The registrar sets the code of a withdrawn student itself."],
            )


def name_differs(facts: Facts) -> Iterator[Found]:
    """One id with two different names."""
    records = facts.course.records
    for student in facts.taking_part if records else ():
        entry = records.entry(student.id) if records else None
        if entry is not None and _key(student) != _key(entry):
            yield Found(
                f"{student.id} is {student.name} here and {entry.name} on the registrar’s roster.",
                student=student.id,
                evidence=[f"Here: {student.name}", f"The registrar: {entry.name}"],
            )


def twin(facts: Facts) -> Iterator[Found]:
    """Two rows of the section that look like one person; the later one is named."""
    records = facts.course.records
    people = [s for s in facts.taking_part if records is None or records.entry(s.id) is not None]
    for one, other in _pairs_alike(people):
        yield Found(
            f"{other.plain_name} ({other.id}) and {one.plain_name} ({one.id}) may be the same person.",
            student=other.id,
            evidence=[f"{s.id}: {s.name}{', ' + s.email if s.email else ''}" for s in (one, other)],
            part=one.id,
        )


def _pairs_alike(people: Sequence[Student]) -> Iterator[tuple[Student, Student]]:
    """Pairs with the same name either way round, the same address, or family names one letter apart."""
    by_name: dict[tuple[str, str], list[int]] = {}
    by_email: dict[str, list[int]] = {}
    by_given: dict[str, list[int]] = {}
    keys = [_key(person) for person in people]
    for place, (other, key) in enumerate(zip(people, keys, strict=True)):
        email = (other.email or "").strip().casefold()
        alike = {*by_name.get(key, ()), *by_name.get(key[::-1], ()), *(by_email.get(email, ()) if email else ())}
        alike |= {n for n in by_given.get(key[1], ()) if _one_letter(key, keys[n])}
        for earlier in sorted(alike):
            yield people[earlier], other
        by_name.setdefault(key, []).append(place)
        by_given.setdefault(key[1], []).append(place)
        by_email.setdefault(email, []).append(place)


def _one_letter(key: tuple[str, str], other: tuple[str, str]) -> bool:
    return key[1] == other[1] and min(len(key[0]), len(other[0])) >= LONG_NAME and one_letter_apart(key[0], other[0])


def _key(person: Student | RosterEntry) -> tuple[str, str]:
    return same_name(person.family_name), same_name(person.given_name)


def id_odd(facts: Facts) -> Iterator[Found]:
    """A student number of another form than all others, on no roster."""
    records = facts.course.records
    known = {entry.id for entry in records.roster} if records else set()
    numbered = [student for student in facts.taking_part if not is_stand_in(student.id)]
    forms = {student.id: _form(student.id) for student in numbered}
    if len(numbered) < FORMS_KNOWN:
        return
    usual, count = Counter(forms.values()).most_common(1)[0]
    if len(numbered) - count > FORMS_ODD:
        return
    example = next(s.id for s in numbered if forms[s.id] == usual)
    for student in numbered:
        if forms[student.id] != usual and student.id not in known:
            yield Found(
                f"The ID of {student.plain_name}, {student.id}, has another form than all others.",
                student=student.id,
                evidence=[f"The others are like {example}."],
            )


def _form(student_id: str) -> str:
    """Digits and letters without their values: 'L0164' is 'a9999'."""
    return "".join("9" if c.isdigit() else "a" if c.isalpha() else c for c in student_id)


def aside_working(facts: Facts) -> Iterator[Found]:
    """A student whom the registrar lists as enrolled, set aside with scores on nearly everything."""
    items = [item for _, item in facts.regular_items() if facts.scored(item)]
    for student in facts.course.students:
        listed = facts.course.records is not None and facts.course.status(student) == "enrolled"
        if student.set_aside is None or not listed or len(items) < WORKED_ON:
            continue
        there = sum(isinstance(facts.course.value(student.id, item.id), Fraction) for item in items)
        if 5 * there >= 4 * len(items):
            yield Found(
                f"{student.plain_name} is set aside ({student.set_aside}) and has {there} of {len(items)} scores.",
                student=student.id,
                evidence=["Is it the right student?"],
            )
