"""Deleting a section, or a student: only what lies in an archive that was taken out, and nothing on its way."""

from dataclasses import dataclass

from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Student
from vinemark.section.outcome import Done, act
from vinemark.section.state import SectionState
from vinemark.store import grade_changes, sections
from vinemark.store.class_list import former_ids
from vinemark.store.erase import Traces, erase_student
from vinemark.store.history import Act, entries_of

NO_ARCHIVE = "No archive holds the section as it is now. Download the archive first"


@dataclass(frozen=True)
class Deletion:
    """What deleting a section needs: why it is refused for now, the name to be typed, the words on its archive."""

    refused: str
    name: str
    archived: str

    @property
    def archive_first(self) -> bool:
        """Whether nothing but the archive is missing."""
        return self.refused.startswith(NO_ARCHIVE)


def deletion(section: SectionState) -> Deletion:
    """Whether a section may be deleted, and what has to be typed; a copy of an archive goes without a word."""
    if section.record.archive:
        return Deletion("", "", section.record.archive)
    if section.record.practice:
        return Deletion("", "", "")
    under_way = [
        run for run in section.snapshot.runs if any(one.under_way for one in section.at(run).of_run.submissions)
    ]
    archived = _archived(section)
    refused = (
        f"The {under_way[0]} grades are signed and on their way to the registrar." if under_way
        else "" if archived
        else f"{NO_ARCHIVE}: it is all that will be left of it."
    )  # fmt: skip
    return Deletion(refused, section.name.short, archived)


def _archived(section: SectionState) -> str:
    """The words on the archive, where the last thing that happened to the section is that it was taken."""
    latest = next(iter(entries_of(section.connection, section.id, limit=1)), None)
    return str(latest["what"]) if latest is not None and latest["kind"] == "archive" else ""


def student_deletion(section: SectionState, student: Student) -> Deletion:
    """Whether a student may be deleted, and what has to be typed."""
    archived, name = _archived(section), student.plain_name
    refused = (
        f"{name} counts in this section. Set aside, with the reason, who is to be deleted." if not student.set_aside
        else f"The registrar lists {name} in this section." if student.id in _on_roster(section)
        else f"A grade of {name} is signed: it is the record of what was sent, and goes only with the section."
        if student.id in _in_records(section)
        else "" if archived
        else f"{NO_ARCHIVE}: it is all that will be left of them."
    )  # fmt: skip
    return Deletion(refused, name, archived)


def _on_roster(section: SectionState) -> set[str]:
    return {entry.id for entry in section.course.records.roster} if section.course.records else set()


def _in_records(section: SectionState) -> set[str]:
    """Whom something that was signed, sent or asked for speaks of."""
    found = {change.student_id for change in grade_changes.changes_of(section.connection, section.id)}
    for run in section.snapshot.runs:
        state = section.at(run).of_run
        found |= {row.id for submission in state.submissions for row in submission.rows}
        found |= {*state.at_registrar.held, *state.at_registrar.seen}
    return found


@act
def delete_student(section: SectionState, request: Act, student: Student, typed: str) -> Done:
    """Delete a student with scores, remarks and settled grades, out of the history too. The name must be typed."""
    found = student_deletion(section, student)
    if found.refused:
        raise Refused("name", found.refused)
    if " ".join(typed.split()).casefold() != found.name.casefold():
        raise Refused("name", f"Type {found.name} to delete this student.")
    former = former_ids(section.connection, section.id, student.id)
    erase_student(section.connection, request, Traces(student.id, [student.name, student.plain_name], former))
    return Done("The student is deleted.")


@act
def delete(section: SectionState, request: Act, typed: str) -> Done:
    """Delete a section with everything kept of it. Its name must be typed, a copy of an archive's not."""
    found = deletion(section)
    if found.refused:
        raise Refused("name", found.refused)
    if " ".join(typed.split()).casefold() != found.name.casefold():
        raise Refused("name", f"Type {found.name} to delete it.")
    label = f"{section.name.short}, {section.term.name}"
    kind = "a copy of an archive of " if section.record.archive else ""
    what = f"{kind}{label} deleted" + (f"; {found.archived}" if found.archived else "")
    sections.delete_section(section.connection, request, section.id, what)
    return Done(f"{label} is deleted." if not kind else f"The copy of {label} is deleted.")
