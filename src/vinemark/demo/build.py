"""Builds the demo's two databases through the same doors that the application uses."""

import random
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime
from fractions import Fraction
from importlib.resources import files
from pathlib import Path
from typing import Any

import httpx

from vinemark.clock import Clock
from vinemark.core.after.grade_change import GradeChange
from vinemark.core.base.names import folded
from vinemark.core.college.college import CollegeChoices, Department
from vinemark.core.course.cell import Cell, DetailedScore
from vinemark.core.course.course import Course, Run, SectionName, Settled, Student, Term
from vinemark.core.grade.calculation import grade_of
from vinemark.core.grade.codes import needs_of
from vinemark.core.plan.plan import Plan
from vinemark.core.scores.last_work import last_work
from vinemark.core.scores.part_limit import PartLimit
from vinemark.core.scores.typed_cells import CellWrite
from vinemark.core.scores.visibility import VisibilityRule
from vinemark.core.settle.settling import take_as_computed
from vinemark.core.submit.grade_row import grade_row
from vinemark.core.syllabus import read_syllabus
from vinemark.core.syllabus.compare import notes as matching
from vinemark.demo import plans
from vinemark.demo.names import People
from vinemark.demo.scores import scores_for
from vinemark.exchange import course_file
from vinemark.exchange.syllabus_file import read_text
from vinemark.identity.people import KnownHere, write_people
from vinemark.office import ledger, ledger_grades
from vinemark.office.app import OfficeSettings, create_office
from vinemark.office.client import OfficeClient
from vinemark.office.schools import LARKMOOR
from vinemark.passwords import hasher
from vinemark.section.delivery.courier import Courier
from vinemark.section.delivery.gateway import Gateway
from vinemark.store import (
    college,
    grade_changes,
    people,
    scores,
    section_people,
    sections,
    settled,
    submissions,
    syllabuses,
    visibility,
)
from vinemark.store.college import CollegePerson
from vinemark.store.database import Connection, connect, migrate
from vinemark.store.history import Act
from vinemark.store.sections import SectionRecord
from vinemark.store.submissions import SignedCopy

COLLEGE = "Larkmoor College"
KNOWN_THERE = "identity.json"
"""The file with the people whom the identity provider knows."""
DAY = date(2026, 12, 19)
OPEN_BEFORE = date(2026, 12, 1)
SEED = 20261219
TERM = Term("Fall 2026", date(2026, 8, 31), date(2026, 12, 18))
WINDOWS = {
    "midterm": ("2026-10-12T08:00:00", "2026-10-19T17:00:00"),
    "final": ("2026-12-14T08:00:00", "2026-12-21T17:00:00"),
}
MIDTERM = datetime(2026, 10, 16, 15, 40)
PASSWORD = "larkmoor"  # noqa: S105  the demo says it on its sign-in page
OSTRANDER = ("Maren Ostrander", "maren.ostrander@larkmoor.example")
VANTERPOOL = ("Idris Vanterpool", "idris.vanterpool@larkmoor.example")
ASHDOWN = ("Corin Ashdown", "corin.ashdown@larkmoor.example")
FENWICK = ("Tobias Fenwick", "tobias.fenwick@larkmoor.example")
HARTWELL = ("Sunniva Hartwell", "sunniva.hartwell@larkmoor.example")
BRIGHTWATER = ("Odalys Brightwater", "odalys.brightwater@larkmoor.example")
GARRICK = ("Hollis Garrick", "hollis.garrick@larkmoor.example")
ALBRIGHT = ("Ines Albright", "ines.albright@larkmoor.example")
MARSH = ("Rafe Marsh", "rafe.marsh@larkmoor.example")
DEPARTMENTS = (
    Department("Earth and Water", frozenset({"hydr", "soil"})),
    Department("Plants and Fiber", frozenset({"botn", "fibr"})),
)


def prepare(folder: Path, fresh: bool = False) -> None:
    """Fill the demo's databases where there are none, or anew."""
    targets = [folder / "vinemark.sqlite", folder / "office.sqlite"]
    folder.mkdir(parents=True, exist_ok=True)
    write_people(folder / KNOWN_THERE, _known_there())
    if not fresh and all(path.exists() for path in targets):
        return
    made = [folder / f"new-{path.name}" for path in targets]
    for path in [*targets, *made]:
        for ending in ("", "-wal", "-shm"):
            path.with_name(path.name + ending).unlink(missing_ok=True)
    build(*made)
    for new, path in zip(made, targets, strict=True):
        new.replace(path)


def _known_there() -> list[KnownHere]:
    """The people of the demo, one who has no account yet, and one who is a chair by what the provider says."""
    known = (OSTRANDER, VANTERPOOL, FENWICK, HARTWELL, BRIGHTWATER, GARRICK, ALBRIGHT, MARSH)
    roles = {MARSH: (f"chair of {DEPARTMENTS[1].name}",)}
    return [KnownHere(f"l{number}", *one, roles.get(one, ())) for number, one in enumerate(known, 101)]


def build(database: Path, office_database: Path) -> None:
    """Both databases, new."""
    connection, office = connect(database), connect(office_database)
    migrate(connection)
    migrate(office, "vinemark.office")
    _office_ground(office)
    moment = datetime(2026, 12, 18, 16, 20)
    ids = [_person(connection, name, email, moment) for name, email in (OSTRANDER, VANTERPOOL)]
    demo = Demo(connection, office, office_database, People(_rng(0)), ids[0], moment)
    demo.watershed()
    demo.orchard()
    demo.loom()
    demo.groundwater()
    demo.soil(ids[1])
    demo.only_at_the_office()
    demo.student_accounts(moment)
    demo.other_people(moment)
    connection.close()
    office.close()


def _office_ground(office: Connection) -> None:
    ledger.set_school(office, LARKMOOR)
    term = {"code": "2026FA", "name": TERM.name, "starts": TERM.starts.isoformat(), "ends": TERM.ends.isoformat()}
    ledger.add_term(office, term, WINDOWS)


def _rng(number: int) -> random.Random:
    return random.Random(SEED + number)  # noqa: S311  made-up people and scores, no secret


def _person(connection: Connection, name: str, email: str, at: datetime) -> int:
    return people.add_person(connection, Act(None, at), email, name, hasher().hash(PASSWORD))


@dataclass
class Demo:
    """The sections, made one by one."""

    connection: Connection
    office: Connection
    office_database: Path
    people: People
    owner: int
    moment: datetime

    def watershed(self) -> None:
        """HYDR 230: not settled yet, with mistakes for the audit to find."""
        students = self.people.take(34, one_word=True)
        sits_in, newcomer = students[21], self.people.take(1)[0]
        alike = students[15]
        students[16] = replace(students[16], family_name=alike.family_name[:-1], given_name=alike.given_name)
        plan = plans.watershed()
        roster = [_entry(s) for s in students if s is not sits_in]
        roster[8]["status"] = "withdrawn"
        roster[4]["family_name"] += "-Rey"
        roster.append(_entry(newcomer))
        roster.sort(key=lambda person: (folded(person["family_name"]), folded(person["given_name"])))
        section = self._section(SectionName("HYDR 230", "Watershed Field Methods", "01"), students, plan, roster)
        stopped = {students[5].id: date(2026, 10, 20), students[27].id: date(2026, 11, 6)}
        cells = scores_for(_rng(1), plan, students, stopped)
        _plant_watershed_mistakes(cells, [s.id for s in students if s.id not in stopped])
        cells[students[29].id] = {}
        for row in cells.values():
            if row:
                row["r1"] = Fraction(5)
        missed = _rng(6)
        for student in students:
            cells[student.id]["fd"] = Fraction(missed.choices((0, 1, 2, 3), (60, 25, 10, 5))[0])
        cells[students[29].id] = {}
        self._fill(section, cells, "scores of the term")
        self._midterm(section)
        self._syllabus(section, "HYDR-230.docx")

    def orchard(self) -> None:
        """BOTN 105: 500 points, half settled."""
        students = self.people.take(72)
        plan = plans.orchard()
        section = self._section(
            SectionName("BOTN 105", "Orchard Botany", "02"), students, plan, [_entry(s) for s in students]
        )
        stopped = {students[11].id: date(2026, 9, 30), students[40].id: date(2026, 11, 15)}
        cells = scores_for(_rng(2), plan, students, stopped)
        _hand_in_late(_rng(7), cells, "h1")
        self._fill(section, cells, "scores of the term")
        self._midterm(section)
        self._settle(section, dated=False, only=36)
        self._syllabus(section, "BOTN-105.pdf")

    def loom(self) -> None:
        """FIBR 120: letter and pass basis mixed, settled, nothing sent yet."""
        students = self.people.take(14)
        plan = plans.loom()
        roster = [_entry(s, "pass" if i % 3 == 1 else "letter") for i, s in enumerate(students)]
        section = self._section(SectionName("FIBR 120", "Loom Studio", "01"), students, plan, roster)
        stopped = {students[6].id: date(2026, 10, 12)}
        cells = scores_for(_rng(3), plan, students, stopped)
        _sign_instead(plan, cells, "c3")
        self._fill(section, cells, "scores of the term")
        self._midterm(section)
        self._syllabus(section, "FIBR-120.txt", "pasted text", signed=True)
        self._settle(section, dated=True)

    def groundwater(self) -> None:
        """HYDR 410: sent, received and posted."""
        students = self.people.take(9)
        plan = plans.groundwater()
        section = self._section(
            SectionName("HYDR 410", "Groundwater Seminar", "01"), students, plan, [_entry(s) for s in students]
        )
        self._fill(section, scores_for(_rng(4), plan, students, {}), "scores of the term")
        self._midterm(section)
        self._settle(section, dated=True)
        owing, changed, moved = (students[place].id for place in (5, 2, 7))
        self._leave_incomplete(section, owing)
        self._send_and_post(section, "final", self.moment, datetime(2026, 12, 18, 18, 5))
        self._change_grade(section, changed)
        self._drift(section, moved)

    def soil(self, owner: int) -> None:
        """SOIL 210, of the second instructor."""
        students = self.people.take(20)
        plan = plans.soil()
        name = SectionName("SOIL 210", "Soils and Land Use", "01")
        section = self._section(name, students, plan, [_entry(s) for s in students], owner, VANTERPOOL[1])
        self._fill(section, scores_for(_rng(5), plan, students, {}), "scores of the term", owner)

    def student_accounts(self, at: datetime) -> None:
        """Accounts of two students: one of the watershed course, one of the seminar whose grades are posted."""
        for record in sections.sections_of(self.connection, self.owner):
            if record.name.course in {"HYDR 230", "HYDR 410"}:
                student = sections.load_course(self.connection, record).students[2]
                _person(self.connection, student.plain_name, student.email or "", at)

    def other_people(self, at: datetime) -> None:
        """A grader, a reviewer, a chair and an administrator; departments and terms."""
        for name, email in (ASHDOWN, FENWICK, HARTWELL, BRIGHTWATER, GARRICK):
            _person(self.connection, name, email, at)
        for record in sections.sections_of(self.connection, self.owner):
            act = Act(self.owner, at, record.id)
            if record.name.course == "BOTN 105":
                section_people.write_role(self.connection, act, FENWICK[1], "grader", f"{FENWICK[1]} is grader")
            if record.name.course == "FIBR 120":
                what = f"{ASHDOWN[1]} is grader"
                section_people.write_role(self.connection, act, ASHDOWN[1], "grader", what)
                known = section_people.section_people(self.connection, record.id)
                limit = PartLimit(frozenset(list(sections.load_course(self.connection, record).plan.columns)[:2]))
                whom = next(one for one in known if one.email == ASHDOWN[1])
                section_people.write_part_limit(self.connection, act, whom, limit, f"{ASHDOWN[0]} grades 2 items")
            if record.name.course == "HYDR 410":
                section_people.write_role(self.connection, act, HARTWELL[1], "reviewer", f"{HARTWELL[1]} is reviewer")
        act = Act(None, at)
        for department in DEPARTMENTS:
            college.write_department(self.connection, act, "", department)
        for term in (TERM, Term("Spring 2027", date(2027, 1, 18), date(2027, 5, 7))):
            college.write_college_term(self.connection, act, "", term)
        college.write_college_choices(self.connection, act, CollegeChoices(chairs_open=True))
        for who in (
            CollegePerson(BRIGHTWATER[1], "chair", DEPARTMENTS[0].name), CollegePerson(GARRICK[1], "administrator", ""),
        ):  # fmt: skip
            college.write_college_role(self.connection, act, who, True)

    def only_at_the_office(self) -> None:
        """HYDR 331: at the registrar alone, to be pulled."""
        students = self.people.take(12)
        name = SectionName("HYDR 331", "Snow and Ice Survey", "01")
        self._at_office(name, [_entry(s) for s in students], OSTRANDER[1])

    def _at_office(self, name: SectionName, roster: Sequence[Mapping[str, Any]], instructor: str) -> str:
        ref = f"2026FA-{name.course.replace(' ', '')}-{name.number}"
        values = {"ref": ref, "term": "2026FA", **vars(name), "instructor": instructor}
        ledger.add_section(self.office, values, roster)
        return ref

    def _section(
        self,
        name: SectionName,
        students: Sequence[Student],
        plan: Plan,
        roster: Sequence[Mapping[str, Any]],
        owner: int | None = None,
        email: str = OSTRANDER[1],
    ) -> SectionRecord:
        who = owner or self.owner
        ref = self._at_office(name, roster, email)
        section_id = sections.create_section(self.connection, Act(who, self.moment), TERM, name, students, plan)
        act = Act(who, self.moment, section_id)
        Courier(self.connection, self._gateway(self.moment), act, ref).update()
        section = sections.section_of(self.connection, who, section_id)
        assert section is not None  # noqa: S101
        return section

    def _gateway(self, at: datetime) -> Gateway:
        app = create_office(OfficeSettings(str(self.office_database), "demo", Clock(at.date(), at.time())))
        return Gateway(OfficeClient("http://office", "demo", httpx.WSGITransport(app=app)))

    def _fill(
        self, section: SectionRecord, cells: Mapping[str, Mapping[str, Cell]], what: str, owner: int | None = None
    ) -> None:
        changes = [CellWrite(s, i, cell) for s, row in cells.items() for i, cell in row.items() if cell is not None]
        act = Act(owner or self.owner, self.moment, section.id)
        scores.write_cells(self.connection, act, changes, what, "import")
        plan = sections.plan_of(self.connection, section.id, section.plan_version)
        shown: dict[str, VisibilityRule] = {
            i.id: "open" for _, i in plan.items() if i.due is not None and i.due < OPEN_BEFORE
        }
        visibility.write_visibility(self.connection, act, shown, f"{len(shown)} items made visible to students")

    def _syllabus(self, section: SectionRecord, name: str, source: str = "", signed: bool = False) -> None:
        """A syllabus from a file of the package, as an instructor would drop or paste it."""
        data = (files("vinemark.demo") / "syllabuses" / name).read_bytes()
        act, text = Act(self.owner, self.moment, section.id), read_text(name, data)
        syllabuses.write_syllabus(self.connection, act, text, source or name, read_syllabus(text))
        if signed:
            unread = read_syllabus(text).unread[0]
            key = matching.UnreadNoted(unread).key
            syllabuses.write_note(self.connection, act, key, unread.text, "worked out by hand in the last week")
            syllabuses.write_match_signature(self.connection, act, section.plan_version, 1, [])

    def _settle(self, section: SectionRecord, dated: bool, only: int | None = None) -> None:
        course = sections.load_course(self.connection, section)
        grades = {s.id: grade_of(course, s.id, DAY) for s in course.enrolled()}
        taken = dict(list(take_as_computed(course, grades).items())[:only])
        if dated:
            for student, taken_grade in taken.items():
                work = last_work(course, student, DAY)
                if "last_attended" in needs_of(course, taken_grade.grade):
                    taken[student] = _attended(taken_grade, work.due if work else None)
        act = Act(self.owner, self.moment, section.id)
        settled.write_grades(self.connection, act, taken, f"{len(taken)} grades settled as computed")

    def _midterm(self, section: SectionRecord) -> None:
        """The midterm run of October: graded on what was due by then, sent, posted and opened."""
        course = sections.load_course(self.connection, section)
        due = {item.id for _, item in course.plan.items() if item.due is not None and item.due < MIDTERM.date()}
        scores_then = {s: {i: cell for i, cell in row.items() if i in due} for s, row in course.scores.items()}
        then = replace(course, scores=scores_then).for_run("midterm")
        taken = take_as_computed(then, {s.id: grade_of(then, s.id, MIDTERM.date()) for s in then.enrolled()})
        act = Act(self.owner, MIDTERM, section.id)
        settled.write_grades(self.connection, act, taken, f"{len(taken)} midterm grades settled as computed", "midterm")
        visibility.write_grades_visible(self.connection, act, "midterm", "settled")
        signed = then.with_settled(taken).for_run("final")
        self._send_and_post(section, "midterm", MIDTERM, datetime(2026, 10, 19, 18, 0), signed)

    def _leave_incomplete(self, section: SectionRecord, student: str) -> None:
        owed = "the well log report and its figures"
        left = Settled("I", "ill in December", None, "C", date(2027, 5, 1), False, owed)
        settled.write_grades(
            self.connection, Act(self.owner, self.moment, section.id), {student: left}, "one incomplete"
        )

    def _send_and_post(
        self, section: SectionRecord, run: Run, at: datetime, posted: datetime, then: Course | None = None
    ) -> None:
        act = Act(self.owner, at, section.id)
        course = sections.load_course(self.connection, section).for_run(run)
        rows = [grade_row(course, student, settled) for student, settled in course.settled.items()]
        text = course_file.course_text(then or course.for_run("final"))
        key = f"demo-{run}-{section.id:012d}"
        made = submissions.write_signature(self.connection, act, key, SignedCopy(run, rows, text, ""), 0)
        submission = submissions.submission_of(self.connection, section.id, made)
        assert submission is not None  # noqa: S101
        going = Courier(self.connection, self._gateway(at), act, section.office_ref or "")
        going.deliver(submission)
        ledger_grades.post(self.office, going.ref, run, posted)
        going.check_copy(run)

    def _change_grade(self, section: SectionRecord, student: str) -> None:
        """A change of grade that was asked for and granted the next morning."""
        course = sections.load_course(self.connection, section)
        now, act = course.settled[student], Act(self.owner, datetime(2026, 12, 19, 8, 30), section.id)
        better = course.plan.scale[max(0, [row.letter for row in course.plan.scale].index(now.grade) - 1)].letter
        new = replace(now, grade=better, reason="the seminar paper was marked with the wrong sheet")
        change = GradeChange(
            0, f"demo-change-{section.id:012d}", student, grade_row(course, student, now),
            grade_row(course, student, new), new, new.reason or "", "both marking sheets are in the file", None,
            OSTRANDER[0], act.at, "waiting",
        )  # fmt: skip
        what = f"change of grade asked for: {now.grade} to {better}"
        made = grade_changes.write_request(self.connection, act, change, OSTRANDER[1], None, what)
        kept = grade_changes.change_of(self.connection, section.id, made)
        assert kept is not None  # noqa: S101
        going = Courier(self.connection, self._gateway(act.at), act, section.office_ref or "")
        going.ask(kept)
        ledger_grades.answer_change(self.office, going.ref, 1, True, "on file", datetime(2026, 12, 19, 9, 5))
        going.check_copy("final")

    def _drift(self, section: SectionRecord, student: str) -> None:
        """A settled grade changed after posting, in the belief that it counts."""
        before = sections.load_course(self.connection, section).settled[student]
        changed = replace(before, grade="A" if before.grade != "A" else "B", reason="a late paper was taken in")
        act = Act(self.owner, datetime(2026, 12, 19, 8, 50), section.id)
        settled.write_grades(self.connection, act, {student: changed}, "settled again after posting")


def _attended(settled: Settled, day: date | None) -> Settled:
    return replace(settled, last_attended=day, never_attended=day is None)


def _entry(student: Student, basis: str = "letter") -> dict[str, Any]:
    return {
        "id": student.id,
        "family_name": student.family_name,
        "given_name": student.given_name,
        "email": student.email,
        "status": "enrolled",
        "basis": basis,
    }


def _hand_in_late(rng: random.Random, cells: Mapping[str, dict[str, Cell]], item: str) -> None:
    """Every sixth score of an item came one to nine days late."""
    for row in list(cells.values())[::6]:
        score = row.get(item)
        if isinstance(score, Fraction):
            row[item] = DetailedScore(score, None, rng.choice((1, 2, 3, 4, 9)))


def _sign_instead(plan: Plan, cells: Mapping[str, dict[str, Cell]], category_id: str) -> None:
    """Scores of a category as the symbol that is nearest, from the highest down."""
    category = plan.category(category_id)
    assert category is not None  # noqa: S101
    for row in cells.values():
        for item in category.items:
            score = row.get(item.id)
            if isinstance(score, Fraction):
                percent = 100 * score / item.points
                nearest = min(category.symbols, key=lambda one: abs(one.percent - percent))
                row[item.id] = DetailedScore(None, nearest.symbol)


def _plant_watershed_mistakes(cells: dict[str, dict[str, Cell]], students: Sequence[str]) -> None:
    """A score above the points, and blanks that nobody filled in."""
    cells[students[3]]["q4"] = Fraction(85)
    for place, item in ((2, "q8"), (10, "n6"), (14, "q7"), (19, "p2")):
        cells[students[place]][item] = None
    cells[students[10]]["q8"] = None
