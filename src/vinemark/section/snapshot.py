"""A section as of its version, with everything that follows from it worked out once.

The version of a section is its last history entry: every write that a snapshot reads leaves one. So a snapshot is
good for all requests until the next write, or the next day.
"""

from collections import OrderedDict
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from functools import cached_property
from operator import itemgetter
from threading import Lock

from vinemark.core.after.drift import Drift, Moved, alarm, drifted, moved, official
from vinemark.core.after.grade_change import GradeChange
from vinemark.core.audit import Finding
from vinemark.core.audit.accept import Acceptance, ReviewedFinding, review
from vinemark.core.audit.finding import Facts, Touched
from vinemark.core.audit.recorded import Recorded, TwiceAdjusted
from vinemark.core.audit.run import Audit, whole_audit
from vinemark.core.course.course import RUNS, Course, Records, Run
from vinemark.core.grade.calculation import Calculators, Grade
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.plan.plan import Item, Plan
from vinemark.core.scores.sheet import Column, Remarks, column
from vinemark.core.scores.visibility import VisibilityRule
from vinemark.core.statement.shown import StudentsSee
from vinemark.core.submit.compare import ComparedRow, compared_rows, differ_words
from vinemark.core.submit.file_layout import FileLayout
from vinemark.core.submit.grade_row import GradeRow
from vinemark.core.submit.hours import OfficeHours
from vinemark.core.submit.progress import Node, audit_node, stem_around
from vinemark.core.submit.roster_changes import RosterChange, roster_changes, rule_changes
from vinemark.core.submit.rows import midterm_findings, with_every_grade_due
from vinemark.core.submit.submission import (
    AtRegistrar,
    RegistrarCopy,
    Submission,
    accepted_rows,
    last_received,
    refusals,
    unchecked,
    under_way,
)
from vinemark.core.syllabus.compare.notes import Match, match_plan
from vinemark.exchange import course_file
from vinemark.section.edits import Edits, edits_of
from vinemark.store import (
    acceptances,
    column_acts,
    grade_changes,
    history,
    previews,
    questions,
    registrar,
    remarks,
    sections,
    students_see,
    submissions,
    syllabuses,
    visibility,
)
from vinemark.store.database import Connection, reading
from vinemark.store.previews import Draft
from vinemark.store.sections import SectionRecord
from vinemark.store.syllabuses import MatchSignature, Syllabus

MOST_KEPT = 600_000
"""Cells and students of all snapshots together: some 300 MB, the texts of their rows among them."""
MOST_ENTRIES = 100
"""After more entries than these a section is loaded anew."""
LOOKED_EVERY = 10.0
"""Seconds between two audits of a section that typed scores alone ask for, in one process."""


@dataclass(frozen=True)
class LoadedRun:
    """What is kept of one run. `signed_course` is the course file as last signed and received."""

    submissions: Sequence[Submission]
    copy: RegistrarCopy | None
    visible: visibility.GradesVisible | None
    signed_course: str | None


@dataclass(frozen=True)
class Loaded:
    """Everything that is kept of a section, read in one go."""

    course: Course
    draft: Draft | None
    syllabus: Syllabus | None
    notes: Mapping[str, tuple[str, str]]
    match_signature: MatchSignature | None
    acceptances: Mapping[str, Acceptance]
    roster_taken: Records | None
    hours: OfficeHours
    layout: FileLayout | None
    remarks: Remarks
    visibility: Mapping[str, VisibilityRule]
    students_see: StudentsSee
    questions: Sequence[questions.Question]
    changes: Sequence[GradeChange]
    adjusted: Mapping[str, TwiceAdjusted]
    runs: Mapping[Run, LoadedRun]


def load(connection: Connection, record: SectionRecord) -> Loaded:
    """Read a section."""
    section_id = record.id
    return Loaded(
        course=sections.load_course(connection, record),
        draft=previews.draft_of(connection, section_id),
        syllabus=syllabuses.syllabus_of(connection, section_id),
        notes=syllabuses.notes_of(connection, section_id),
        match_signature=syllabuses.match_signature_of(connection, section_id),
        acceptances=acceptances.acceptances_of(connection, section_id),
        roster_taken=registrar.roster_taken(connection, section_id),
        hours=registrar.hours_of(connection, section_id),
        layout=registrar.layout_of(connection, section_id),
        remarks=remarks.remarks_of(connection, section_id),
        visibility=visibility.visibility_of(connection, section_id),
        students_see=students_see.students_see(connection, section_id),
        questions=questions.questions_of(connection, section_id),
        changes=grade_changes.changes_of(connection, section_id),
        adjusted=column_acts.columns_adjusted_twice(connection, section_id),
        runs={run: _load_run(connection, section_id, run) for run in RUNS},
    )


def _load_run(connection: Connection, section_id: int, run: Run) -> LoadedRun:
    sent = submissions.submissions_of(connection, section_id, run)
    last = last_received(sent)
    return LoadedRun(
        submissions=sent,
        copy=submissions.registrar_copy_of(connection, section_id, run),
        visible=visibility.grades_visible(connection, section_id, run),
        signed_course=submissions.signed_course(connection, section_id, last.id) if last else None,
    )


_NOT_YET = Node("audit", "being looked at", False)


@dataclass
class LastLook:
    """The audit last asked for by a stem, shared by the snapshots of a section that came of each other: when it began,
    and its version with its node, put in as one; version 0 where none has ended yet."""

    begun: float | None = None
    found: tuple[int, Node] = (0, _NOT_YET)


@dataclass(frozen=True)
class Stem:
    """The nodes of the stem, and the version at which what the audit found stands."""

    nodes: Sequence[Node]
    audited: int


class Snapshot:
    """A section at one version on one day."""

    def __init__(self, loaded: Loaded, version: int, day: date) -> None:
        self.loaded = loaded
        self.version = version
        self.day = day
        self.course = loaded.course
        self._runs: Mapping[Run, RunSnapshot] = {run: RunSnapshot(self, run) for run in RUNS}
        self._earlier: tuple[Audit, Touched] | None = None
        self._look = LastLook()
        self.row_texts: dict[str, str] = {}
        """Rows of the score sheet as pages show them, by student: kept here, for they live as long."""
        self.stem_texts: dict[tuple[object, ...], str] = {}
        """The stem as pages show it, by all that it says beside the section."""
        self._columns: dict[str, Column] = {}

    def brought_forward(self, edits: Edits, version: int) -> "Snapshot":
        """The section after cells, remarks or settled grades were edited: what does not hang on them is kept, and the
        rest is worked out again only where they touched it."""
        # Other requests add to what is kept here meanwhile: it is copied before it is gone through.
        course = edits.made_in(self.course)
        loaded = replace(self.loaded, course=course, remarks=edits.remarked(self.loaded.remarks))
        found, touched = Snapshot(loaded, version, self.day), edits.touched
        found.__dict__["calculators"] = self.calculators
        for name in ("match", "roster_changes", "rule_changes"):
            if name in self.__dict__:
                found.__dict__[name] = self.__dict__[name]
        if "grades" in self.__dict__:
            students = (student for student in touched.students if course.student(student) is not None)
            fresh = {student: self.calculators.grade_of_student(course, student) for student in students}
            found.__dict__["grades"] = {**self.grades, **fresh}
        found._earlier = self._audit_before(touched)
        found._look = self._look
        moved = touched.students | {student for student, _ in edits.remarks}
        found.row_texts = {student: text for student, text in self.row_texts.copy().items() if student not in moved}
        found._columns = {item: one for item, one in self._columns.copy().items() if item not in touched.items}
        for run, one in found._runs.items():
            one.keep_loaded(self._runs[run], bool(edits.final or edits.midterm))
        return found

    def _audit_before(self, touched: Touched) -> "tuple[Audit, Touched] | None":
        """The latest audit that was made, and all that was touched since."""
        if "audit" in self.__dict__:
            return self.audit, touched
        if self._earlier is None:
            return None
        audit, before = self._earlier
        return audit, before.with_later(touched)

    @property
    def size(self) -> int:
        """How much it holds: cells and students, and something for the rest."""
        return 500 + (len(self.course.plan.placed) + 10) * len(self.course.students)

    def column(self, item: Item) -> Column:
        """The figures of one item."""
        found = self._columns.get(item.id)
        if found is None:
            found = self._columns[item.id] = column(self.course, item)
        return found

    def run(self, run: Run) -> "RunSnapshot":
        """What belongs to one run."""
        return self._runs[run]

    @property
    def as_of(self) -> date:
        """The day that blanks rules go by: that of the final run."""
        return self._runs["final"].as_of

    @cached_property
    def grades(self) -> Mapping[str, Grade]:
        """Everyone's computed grade."""
        return grades_of(self.course, self.as_of)

    @cached_property
    def calculators(self) -> Calculators:
        """The plan, made ready for one student at a time."""
        return Calculators(self.course.plan, self.as_of)

    @cached_property
    def facts(self) -> Facts:
        """What the checks stand on: the syllabus as corrected by hand, without the differences that are noted."""
        if self._earlier is not None:
            audit, touched = self._earlier
            return audit.facts.brought_forward(self.course, self.grades, touched)
        recorded = Recorded(self.loaded.adjusted, self._runs["final"].on_the_way)
        if self.loaded.syllabus is None or self.match is None:
            return Facts(self.course, self.as_of, grades=self.grades, section_records=recorded)
        noted = {rule.rule.key for rule in self.match.rules if rule.note}
        remarked = {one.clause.text for one in self.match.unread if one.note}
        reading = self.loaded.syllabus.reading
        return Facts(self.course, self.as_of, False, reading, noted, remarked, self.grades, recorded)

    @cached_property
    def audit(self) -> Audit:
        """Everything looked at; after an edit, what it touched."""
        if self._earlier is None:
            return whole_audit(self.facts)
        earlier, touched = self._earlier
        return earlier.after(self.facts, touched)

    @property
    def findings(self) -> Sequence[Finding]:
        """What the audit finds."""
        return self.audit.findings

    @cached_property
    def reviewed(self) -> Sequence[ReviewedFinding]:
        """The findings, with what was accepted as it is."""
        return review(self.findings, self.loaded.acceptances)

    @cached_property
    def open_findings(self) -> Sequence[Finding]:
        """What is found and not accepted."""
        if not self.loaded.acceptances:
            return self.findings
        return [one.finding for one in self.reviewed if one.acceptance is None]

    @property
    def working_plan(self) -> Plan:
        """The plan that is worked on: the previewed one, else the one that counts."""
        return self.loaded.draft.plan if self.loaded.draft else self.course.plan

    @cached_property
    def match(self) -> Match | None:
        """The plan that counts held against the syllabus; None without a syllabus."""
        return self.match_with(self.course.plan)

    def match_with(self, plan: Plan) -> Match | None:
        """A plan held against the syllabus, with the notes kept; None without a syllabus."""
        kept = self.loaded.syllabus
        return match_plan(plan, kept.reading, self.loaded.notes, bool(self.course.adjustments)) if kept else None

    @cached_property
    def roster_changes(self) -> Sequence[RosterChange]:
        """What changed on the registrar's roster since the section last followed it."""
        taken, now = self.loaded.roster_taken, self.course.records
        return roster_changes(taken.roster, now.roster) if taken and now else []

    @cached_property
    def rule_changes(self) -> Sequence[str]:
        """What changed in the registrar's rules since then."""
        taken, now = self.loaded.roster_taken, self.course.records
        return rule_changes(taken, now) if taken and now else []

    @property
    def runs(self) -> list[Run]:
        """The runs the registrar has, the final one always."""
        return [run for run in RUNS if run in self.loaded.hours.windows or run == "final"]

    @cached_property
    def stem(self) -> Stem:
        """The stem; it speaks of the final run."""
        node = audit_node(self.course, self.open_findings)
        self._look.found = max(self._look.found, (self.version, node), key=itemgetter(0))
        return Stem(stem_around(self.course, node, self._runs["final"].at_registrar), self.version)

    def stem_while_typing(self, now: float) -> Stem:
        """The stem, at a second of a clock that only goes forward: with what the last audit found, where that was asked
        for not long ago. What was typed is no reason to look at a whole class again with each cell."""
        look, (version, node) = self._look, self._look.found
        if look.begun is None:
            # Where this process has not looked at a section yet, its people go on typing: it does when they pause.
            look.begun = now - LOOKED_EVERY if version else now
        if "stem" in self.__dict__ or now - look.begun >= LOOKED_EVERY:
            look.begun = now
            return self.stem
        return Stem(stem_around(self.course, node, self._runs["final"].at_registrar), version)


class RunSnapshot:
    """What belongs to one run: its settled grades, submissions, and what the registrar has of it."""

    def __init__(self, whole: Snapshot, run: Run) -> None:
        self.whole = whole
        self.name = run
        self._loaded = whole.loaded.runs[run]
        self.submissions = self._loaded.submissions
        self.copy = self._loaded.copy
        self.visible = self._loaded.visible

    def keep_loaded(self, earlier: "RunSnapshot", settled: bool) -> None:
        """Take over what hangs on nothing but what is loaded beside the course, and on settled grades where those are
        the same."""
        for name in ("held", "unchecked", "comparison", "_signed", *(() if settled else ("drifts", "at_registrar"))):
            if name in earlier.__dict__:
                self.__dict__[name] = earlier.__dict__[name]

    @cached_property
    def course(self) -> Course:
        """The course with the settled grades of this run."""
        return self.whole.course.for_run(self.name)

    @property
    def as_of(self) -> date:
        """The day that blanks rules go by: the day the run was first signed, until then today."""
        return self.submissions[0].signed_at.date() if self.submissions else self.whole.day

    @cached_property
    def grades(self) -> Mapping[str, Grade]:
        """Everyone's computed grade. A midterm that was received keeps those it was signed with: the term goes on."""
        if self.name == "final":
            return self.whole.grades
        now, text = grades_of(self.whole.course, self.as_of), self._loaded.signed_course
        return {**now, **grades_of(course_file.course_of_text(text), self.as_of)} if text else now

    @cached_property
    def findings(self) -> Sequence[Finding]:
        """What counts for this run's settled grades."""
        return self.whole.findings if self.name == "final" else midterm_findings(self._midterm_facts)

    @cached_property
    def submit_findings(self) -> Sequence[Finding]:
        """The same with every grade that is not settled, as submitting needs it."""
        return with_every_grade_due(self.whole.facts, self.findings) if self.name == "final" else self.findings

    @cached_property
    def _midterm_facts(self) -> Facts:
        return Facts(self.course, self.as_of, submitting=True)

    @property
    def open_findings(self) -> Sequence[Finding]:
        """What is found and not accepted; at midterm nothing can be accepted."""
        return self.whole.open_findings if self.name == "final" else self.findings

    @property
    def posted_at(self) -> str | None:
        """When the registrar posted, as last asked."""
        return self.copy.posted_at if self.copy else None

    @property
    def changes(self) -> Sequence[GradeChange]:
        """Changes of grade; there are none at midterm."""
        return self.whole.loaded.changes if self.name == "final" else []

    @property
    def fell_back(self) -> Mapping[str, GradeRow]:
        """Incompletes that the registrar let fall back, as they were."""
        return self.copy.fell_back if self.copy else {}

    @cached_property
    def held(self) -> Mapping[str, GradeRow]:
        """What the registrar should have by its own answers."""
        return official(
            accepted_rows(self.submissions), self.changes, self.fell_back, self.copy.rows if self.copy else {}
        )

    def there(self, student_id: str) -> GradeRow | None:
        """What the registrar has for a student: as it was seen, else by its own answers."""
        seen = self.copy.rows.get(student_id) if self.copy and student_id not in self.unchecked else None
        return seen or self.held.get(student_id)

    @cached_property
    def drifts(self) -> Sequence[Drift]:
        """Settled grades that are no longer what the registrar accepted, and that no change of grade asks for."""
        return drifted(self.course, self.held, self.fell_back, self.changes)

    @cached_property
    def unchecked(self) -> frozenset[str]:
        """Whose row the registrar answered after it was last asked what it has."""
        return unchecked(self.submissions, self.copy.covers if self.copy else 0)

    @cached_property
    def comparison(self) -> Sequence[ComparedRow]:
        """What the registrar should have by its own answers against what it was seen to have, line by line."""
        if self.copy is None:
            return []
        return [line for line in compared_rows(self.held, self.copy.rows) if line.student_id not in self.unchecked]

    @property
    def differences(self) -> Sequence[ComparedRow]:
        """The lines that do not agree."""
        return [line for line in self.comparison if not line.agrees]

    @property
    def alarms(self) -> list[str]:
        """What is wrong with grades that were received: settled ones that moved away, and others at the registrar."""
        last = last_received(self.submissions)
        moved_away = alarm(self.drifts, last.signed_at.date()) if last else ""
        return [words for words in (differ_words(self.differences), moved_away) if words]

    @cached_property
    def moved(self) -> Sequence[Moved]:
        """Whose computed grade moved since the last signature that was received; not asked at midterm."""
        return moved(*self._signed, self.whole.course, self.grades) if self._signed else []

    def moved_after_posting(self, students: Collection[str]) -> list[Moved]:
        """Those of some students whom a changed score moved once the grades are posted: the registrar has the old."""
        return [one for one in self.moved if one.student_id in students] if self.posted_at else []

    @cached_property
    def _signed(self) -> tuple[Course, Mapping[str, Grade]] | None:
        """The course of the last signature that was received, and everyone's grade in it; not at midterm."""
        last, text = last_received(self.submissions), self._loaded.signed_course
        if last is None or text is None or self.name != "final":
            return None
        course = course_file.course_of_text(text)
        return course, grades_of(course, last.signed_at.date())

    @property
    def on_the_way(self) -> Mapping[str, str]:
        """The codes that were signed and that the registrar has not answered."""
        going = under_way(self.submissions)
        return {row.id: row.code for row in going.rows} if going else {}

    @cached_property
    def at_registrar(self) -> AtRegistrar:
        """What is known of the run at the registrar."""
        going = under_way(self.submissions)
        return AtRegistrar(
            held=self.held,
            seen=self.copy.rows if self.copy else {},
            unchecked=self.unchecked,
            refused=refusals(self.submissions),
            on_the_way={row.id: row for row in going.rows} if going else {},
            posted=self.posted_at is not None,
            drifted=len(self.drifts),
            differing=len(self.differences),
            fell_back=self.fell_back,
        )


class Snapshots:
    """The latest snapshots of the sections that were asked for last, shared by all requests.

    `most` bounds them by what they hold: so many cells and students together.
    """

    def __init__(self, most: int = MOST_KEPT) -> None:
        self._most = most
        self._kept: OrderedDict[tuple[int, date], Snapshot] = OrderedDict()
        self._lock = Lock()

    def of(self, connection: Connection, record: SectionRecord, day: date) -> Snapshot:
        """The section as it is now. Inside a transaction ask before anything is written: an entry that is not
        committed yet is no version."""
        key = (record.id, day)
        with self._lock:
            kept = self._kept.get(key)
            if kept is not None:
                self._kept.move_to_end(key)
        if kept is not None and kept.version == history.last_entry(connection, record.id):
            return kept
        with reading(connection):
            version = history.last_entry(connection, record.id)
            made = _later(connection, record, kept, version) if kept is not None else None
            made = made or Snapshot(load(connection, record), version, day)
        self._keep(key, made)
        return made

    def _keep(self, key: tuple[int, date], made: Snapshot) -> None:
        with self._lock:
            kept = self._kept.get(key)
            # A slower request may come with an older one.
            if kept is None or kept.version < made.version:
                self._kept[key] = made
                self._kept.move_to_end(key)
            size = sum(one.size for one in self._kept.values())
            while size > self._most and len(self._kept) > 1:
                size -= self._kept.popitem(last=False)[1].size


def _later(connection: Connection, record: SectionRecord, kept: Snapshot, version: int) -> Snapshot | None:
    """A snapshot brought forward to a version; None where something else than cells and grades was edited since."""
    entries = history.entries_after(connection, record.id, kept.version, MOST_ENTRIES + 1)
    edits = edits_of(entries) if 0 < len(entries) <= MOST_ENTRIES else None
    return kept.brought_forward(edits, version) if edits is not None else None
