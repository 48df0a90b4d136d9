"""Acts of settling: one grade or all that are left, students set aside or added, and what students see."""

from collections.abc import Mapping

from vinemark.core.base.refused import Refused, short_note
from vinemark.core.course.bounds import refuse_oversized_grade
from vinemark.core.course.course import Course, Settled, Student
from vinemark.core.grade.codes import computed_code
from vinemark.core.scores.visibility import SHOWN_GRADE_WORDS, ShownGrade
from vinemark.core.settle.pair import of_pair
from vinemark.core.settle.same_place import refuse_unseen, same_place
from vinemark.core.settle.settling import checked_grade, still_open, take_as_computed
from vinemark.core.statement.shown import StudentsSee
from vinemark.section.acts.tell import Teller, letters_to, with_address
from vinemark.section.meanwhile import fingerprint, refuse_changed, refuse_other
from vinemark.section.outcome import Done, act
from vinemark.section.state import SectionState
from vinemark.store import outbox, settled, students_see, visibility
from vinemark.store.history import Act


@act
def settle(section: SectionState, request: Act, student: Student, typed: Settled | None, seen: str) -> Done:
    """Settle one student as typed; None opens the grade again. `seen` is how many in the same place were shown."""
    new = _checked(section, student, typed, seen) if typed else None
    if new == section.of_run.course.settled.get(student.id):
        return Done()
    refuse_changed(section, request, f"settled-{section.run}", {student.id: settled.as_text(new)})
    what = f"{student.plain_name}: {'open again' if new is None else 'settled as ' + new.grade}"
    return Done(entry=settled.write_grades(section.connection, request, {student.id: new}, what, section.run))


def _checked(section: SectionState, student: Student, typed: Settled, seen: str) -> Settled:
    refuse_oversized_grade(typed)
    course, grades = section.of_run.course, section.of_run.grades
    made = checked_grade(
        course, student.id, of_pair(course, student.id, typed), computed_code(course, student.id, grades[student.id])
    )
    before = course.settled.get(student.id)
    if before is None or before.grade != made.grade:
        refuse_unseen(same_place(course, grades, student.id, made.grade), seen)
    return made


@act
def settle_rest(section: SectionState, request: Act, looked_at: str = "") -> Done:
    """Settle every open grade as computed, in one act with one undo; `looked_at` stands for what was shown."""
    course = section.of_run.course
    taken = take_as_computed(course, section.of_run.grades)
    refuse_other(looked_at, _shown(taken), "The computed grades")
    if not taken:
        raise Refused("grade", "No open grade could be settled as computed.")
    grades = f"{'midterm ' if section.run == 'midterm' else ''}grade{'s' if len(taken) > 1 else ''}"
    what = f"{len(taken)} {grades} settled as computed"
    entry = settled.write_grades(section.connection, request, taken, what, section.run)
    left = still_open(course) - len(taken)
    return Done(f"{what}, {left} not settled." if left else f"{what}.", entry)


def rest_fingerprint(section: SectionState) -> str:
    """Stands for what settling the rest would give each student now."""
    return fingerprint(_shown(take_as_computed(section.of_run.course, section.of_run.grades)))


def _shown(taken: Mapping[str, Settled]) -> list[str]:
    return [f"{student} {new.grade}" for student, new in taken.items()]


@act
def show_grades(
    section: SectionState,
    request: Act,
    shows: ShownGrade | None,
    teller: Teller | None = None,
    only: frozenset[str] | None = None,
) -> Done:
    """Make the run's settled or computed grades visible to students, or to only some, or with None hide them.

    With a teller they are told by email, unless it is undone within a minute.
    """
    course = section.of_run.course
    only = None if only is None or shows is None else frozenset(one.id for one in course.students if one.id in only)
    if only is not None and not only:
        raise Refused("students", "must be chosen, one or more")
    entry = visibility.write_grades_visible(section.connection, request, section.run, shows, only)
    if shows is None:
        return Done("Hidden from students.", entry)
    told = [one for one in with_address(section) if only is None or one.id in only] if teller and teller.link else ()
    if teller and told:
        outbox.put_letters(section.connection, request.at, letters_to(section, told, teller), section.id, entry)
    left = _unsettled(course, only) if shows == "settled" else 0
    open_yet = f"; {left} student{'' if left == 1 else 's'} not settled yet" if left else ""
    by_mail = f"; letters go out to {len(told)} of them in a minute" if told else ""
    whom = "students" if only is None else f"{len(only)} of {len(course.students)} students"
    return Done(f"Visible to {whom}: {SHOWN_GRADE_WORDS[shows]}{open_yet}{by_mail}.", entry)


def _unsettled(course: Course, only: frozenset[str] | None) -> int:
    if only is None:
        return still_open(course)
    return sum(one.id in only and one.id not in course.settled for one in course.enrolled())


@act
def choose_students_see(section: SectionState, request: Act, chosen: StudentsSee) -> Done:
    """Choose what students see of visible work."""
    if chosen == section.snapshot.loaded.students_see:
        return Done()
    return Done(chosen.words, students_see.write_students_see(section.connection, request, chosen))


@act
def set_aside(section: SectionState, request: Act, student: Student, typed: str) -> Done:
    """Set a student aside with a reason."""
    reason = short_note(" ".join(typed.split()), "aside")
    if not reason:
        raise Refused("aside", "type why this student is set aside")
    refuse_changed(section, request, "set-aside", {student.id: reason})
    what = f"{student.plain_name} set aside: {reason}"
    return Done(f"{what}.", settled.write_set_aside(section.connection, request, student.id, reason, what))


@act
def put_back(section: SectionState, request: Act, student: Student) -> Done:
    """Put a student back who was set aside."""
    refuse_changed(section, request, "set-aside", {student.id: None})
    what = f"{student.plain_name} put back"
    return Done(f"{what}.", settled.write_set_aside(section.connection, request, student.id, None, what))


@act
def add_from_roster(section: SectionState, request: Act, student_id: str) -> Done:
    """Put a person of the registrar's roster into the section."""
    return added_from_roster(section, request, student_id)


def added_from_roster(section: SectionState, request: Act, student_id: str) -> Done:
    """The same inside another act; nothing where the person is in the section already."""
    course = section.course
    entry = course.records.entry(student_id) if course.records else None
    if entry is None:
        raise Refused("student", "is not on the registrar’s roster")
    if course.student(student_id) is not None:
        return Done()
    new = Student(entry.id, entry.family_name, entry.given_name)
    made = settled.write_students(section.connection, request, [new], f"{new.plain_name} added from the roster")
    return Done(f"{new.plain_name} added from the registrar’s roster.", made)
