"""Acts on the class list: students added, corrected, removed, withdrawn, joined late, their numbers from the roster."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

from vinemark.core.base.names import folded
from vinemark.core.base.number import exact_text
from vinemark.core.base.refused import Refused, iso_day, short_note
from vinemark.core.course.bounds import refuse_oversized
from vinemark.core.course.course import Course, Student
from vinemark.core.course.detail import NO_DETAIL, StudentDetail, TypedStudent, typed_detail, typed_student
from vinemark.core.course.stand_in import is_stand_in, stand_ins
from vinemark.core.scores.late_join import late_join
from vinemark.core.scores.trial_student import TRIAL, TRIAL_ID, no_trial_cells, trial_cells, trial_percent
from vinemark.core.scores.typed_cells import CellWrite
from vinemark.core.table.pasted import PastedPerson, read_pasted_people
from vinemark.section.meanwhile import fingerprint, refuse_changed
from vinemark.section.outcome import Done, act
from vinemark.section.state import SectionState
from vinemark.store import class_list, settled
from vinemark.store.class_list import ClassChange
from vinemark.store.history import Act, ChangedSinceError

NAMES_SAID = 8


def pasted_students(text: str, there: Sequence[Student] = ()) -> list[Student]:
    """Students of a pasted text, a line each. Raises Refused at 'people' with every line that is wrong."""
    found = read_pasted_people(text)
    wrong = [*found.unread, *_repeated(found.people, {student.id for student in there})]
    if wrong:
        more = f"; and {len(wrong) - NAMES_SAID} more" if len(wrong) > NAMES_SAID else ""
        raise Refused("people", "; ".join(wrong[:NAMES_SAID]) + more)
    missing = sum(person.id is None for person in found.people)
    taken = {*(student.id for student in there), *(person.id for person in found.people if person.id)}
    numbers = iter(stand_ins(missing, taken))
    return [Student(p.id or next(numbers), p.family_name, p.given_name, p.email) for p in found.people]


def _repeated(people: Sequence[PastedPerson], there: set[str]) -> list[str]:
    seen: dict[str, int] = {}
    wrong: list[str] = []
    for person in people:
        if person.id in there:
            wrong.append(f"line {person.line}: the ID {person.id} is in the class already")
        elif person.id and person.id in seen:
            wrong.append(f"line {person.line}: the ID {person.id} is on line {seen[person.id]} already")
        if person.id:
            seen.setdefault(person.id, person.line)
    return wrong


@act
def add_people(section: SectionState, request: Act, text: str, twice: bool = False) -> Done:
    """Students pasted as text, one a line. Somebody of the same name is only added with `twice`."""
    new = pasted_students(text, section.course.students)
    if not new:
        raise Refused("people", "type a name, or several, one a line")
    known = {folded(student.plain_name): student for student in section.course.students}
    again = [student.plain_name for student in new if folded(student.plain_name) in known]
    if again and not twice:
        raise Refused("twice", f"{', '.join(again[:NAMES_SAID])}: in the class already. Add all the same?")
    _refuse_too_many(section.course, new)
    what = f"{new[0].plain_name} added" if len(new) == 1 else f"{len(new)} students added"
    change = ClassChange(people={student.id: student for student in new})
    return Done(f"{what}.", class_list.write_class(section.connection, request, change, what))


def _refuse_too_many(course: Course, new: Sequence[Student]) -> None:
    try:
        refuse_oversized(replace(course, students=(*course.students, *new)))
    except Refused as error:
        raise Refused("people", error.reason) from error


@act
def correct(section: SectionState, request: Act, student: Student, typed: TypedStudent, was: str) -> Done:
    """A student's name, number, address and what is kept beside; `was` stands for what the page showed."""
    new, detail = typed_student(typed, student), typed_detail(typed)
    if new.id != student.id:
        _refuse_other_id(section, student)
    now = class_list.details_of(section.connection, section.id).get(student.id, NO_DETAIL)
    if was and was != student_fingerprint(student, now):
        raise ChangedSinceError("This student was corrected meanwhile. Look again; nothing was saved.")
    same = replace(new, id=student.id)
    change = ClassChange(
        people={student.id: same} if same != student else {},
        details={student.id: detail} if detail != now else {},
        ids={student.id: new.id} if new.id != student.id else {},
    )
    if change == ClassChange():
        return Done()
    what = f"{new.plain_name} corrected" if change.people or change.ids else f"{new.plain_name}: noted"
    return Done(f"{what}.", class_list.write_class(section.connection, request, change, what))


def student_fingerprint(student: Student, detail: StudentDetail) -> str:
    """Stands for a student as a page showed them."""
    return fingerprint([f"{name} {value}" for name, value in {**vars(student), **vars(detail)}.items()])


def _refuse_other_id(section: SectionState, student: Student) -> None:
    for run in section.snapshot.runs:
        for submission in section.at(run).of_run.submissions:
            if any(row.id == student.id for row in submission.rows):
                raise Refused("id", "cannot be changed: a grade was signed under it")


@act
def remove(section: SectionState, request: Act, student: Student) -> Done:
    """Take a student out of whom nothing is kept yet."""
    kept = class_list.kept_for(section.connection, section.id, [student.id]).get(student.id, 0)
    if kept:
        raise Refused("remove", f"{student.plain_name} has {kept} scores, grades or remarks: set aside instead")
    what = f"{student.plain_name} removed from the class"
    change = ClassChange(people={student.id: None}, details={student.id: NO_DETAIL})
    return Done(f"{what}.", class_list.write_class(section.connection, request, change, what))


@act
def withdraw(section: SectionState, request: Act, student: Student, day: str, note: str) -> Done:
    """A student who left: set aside as withdrawn, with the day where one is typed. The scores stay."""
    on = f" on {iso_day(day, 'day').isoformat()}" if day else ""
    said = short_note(" ".join(note.split()), "note")
    reason = f"withdrawn{on}" + (f": {said}" if said else "")
    refuse_changed(section, request, "set-aside", {student.id: reason})
    what = f"{student.plain_name} set aside: {reason}"
    return Done(f"{what}.", settled.write_set_aside(section.connection, request, student.id, reason, what))


@act
def joined_late(section: SectionState, request: Act, student: Student, typed: str) -> Done:
    """The day a student joined; blank and missing work that was due before becomes exempt."""
    joined = iso_day(typed, "joined")
    late = late_join(section.course, student, joined)
    before = class_list.details_of(section.connection, section.id).get(student.id, NO_DETAIL)
    what = f"{student.plain_name} joined on {joined.isoformat()}"
    if late.exempt:
        what += f": exempt from {len(late.exempt)} item{'s' * (len(late.exempt) > 1)} due before"
    change = ClassChange(
        details={student.id: replace(before, joined=joined)},
        cells=[CellWrite(student.id, item.id, "exempt") for item in late.exempt],
    )
    entry = class_list.write_class(section.connection, request, change, what)
    return Done(f"{what}.{undated_words(section.course)}", entry)


def undated_words(course: Course) -> str:
    """What the day of joining cannot say, because items have no date."""
    undated = [item.name for _, item in course.plan.items() if item.due is None]
    if not undated:
        return ""
    names = ", ".join(undated[:NAMES_SAID]) + (" and others" if len(undated) > NAMES_SAID else "")
    return f" Items without a date stay as they are: {names}."


@act
def add_trial(section: SectionState, request: Act, typed: str) -> Done:
    """A test student with so much of every item, or without scores; where there is one, other scores."""
    percent = trial_percent(typed)
    now = no_trial_cells(section.course)
    new = trial_cells(section.course, percent)
    cells = {one.item_id: one for one in (*now, *new)}
    change = ClassChange(people={TRIAL_ID: TRIAL}, cells=list(cells.values()))
    all_of_it = f" with {exact_text(percent)}% of everything" if percent is not None else ""
    what = f"test student{all_of_it}"
    return Done(f"A {what}. It counts nowhere.", class_list.write_class(section.connection, request, change, what))


@act
def remove_trial(section: SectionState, request: Act) -> Done:
    """The test student goes, with all scores."""
    if section.course.student(TRIAL_ID) is None:
        return Done()
    change = ClassChange(people={TRIAL_ID: None}, cells=no_trial_cells(section.course))
    entry = class_list.write_class(section.connection, request, change, "test student removed")
    return Done("The test student is gone.", entry)


def ids_of_roster(course: Course) -> Mapping[str, str]:
    """Numbers of the registrar for students who have none, where exactly one person of that name is on the roster."""
    if course.records is None:
        return {}
    here = {student.id for student in course.students}
    found: dict[str, list[str]] = {}
    for entry in course.records.roster:
        if entry.id not in here:
            found.setdefault(folded(f"{entry.given_name} {entry.family_name}"), []).append(entry.id)
    without = [student for student in course.students if is_stand_in(student.id)]
    names = [folded(student.plain_name) for student in without]
    fits = zip(without, names, strict=True)
    return {s.id: found[n][0] for s, n in fits if len(found.get(n, ())) == 1 and names.count(n) == 1}


@act
def take_ids(section: SectionState, request: Act) -> Done:
    """The registrar's numbers for students who have none yet, by their names."""
    ids = ids_of_roster(section.course)
    if not ids:
        raise Refused("ids", "No name on the registrar’s roster fits one without an ID.")
    what = f"{len(ids)} ID{'s' * (len(ids) > 1)} taken from the registrar’s roster"
    return Done(f"{what}.", class_list.write_class(section.connection, request, ClassChange(ids=ids), what))
