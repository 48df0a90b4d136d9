"""The registrar by files alone: grades go their whole way, in the columns and words of its own system."""

import csv
import os
import shutil
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from datetime import date, datetime, time, timedelta
from pathlib import Path

import pytest

from tests.section.conftest import NOW, House
from tests.section.delivery.test_worker import ready
from vinemark.clock import Clock
from vinemark.core.base.moments import stamp
from vinemark.core.submit.grade_row import GradeRow, row_values
from vinemark.office.client import OfficeBusyError, OfficeDownError, OfficeRefusedError
from vinemark.section.acts.registrar import update
from vinemark.section.acts.submit import send, sign
from vinemark.section.delivery.by_files import FileOffice, file_folder
from vinemark.section.delivery.courier import needed_courier
from vinemark.section.delivery.gateway import Gateway
from vinemark.section.outcome import Done
from vinemark.section.state import SectionState

MAP = Path(__file__).parents[3] / "deploy" / "registrar.toml"
EMAIL = "maren.ostrander@larkmoor.example"
THEIRS = {"enrolled": "Registered", "withdrawn": "Dropped", "auditing": "Audit", "letter": "Graded",
          "pass": "Pass/No Pass"}  # fmt: skip


@dataclass
class Registrar:
    """The folder, the house whose registrar it is, and a section of it."""

    folder: Path
    house: House
    section: SectionState

    def put(self, name: str, rows: list[dict[str, str]], encoding: str = "utf-8", delimiter: str = ",") -> None:
        """A file that the registrar's system writes; each a minute after the one before."""
        path = self.folder / "from-registrar" / name
        with path.open("w", newline="", encoding=encoding) as file:
            writer = csv.DictWriter(file, list(rows[0]), delimiter=delimiter)
            writer.writeheader()
            writer.writerows(rows)
        came = (NOW + timedelta(minutes=len(list(path.parent.iterdir())))).timestamp()
        os.utime(path, (came, came))

    def out(self, kind: str = "grades") -> list[Path]:
        return sorted((self.folder / "to-registrar").glob(f"{kind}-*.csv"))

    def sent(self, encoding: str = "utf-8", delimiter: str = ",") -> list[dict[str, str]]:
        (path,) = self.out()
        with path.open(newline="", encoding=encoding) as file:
            return list(csv.DictReader(file, delimiter=delimiter))

    def answer(self, *refused: str, leave_out: str = "") -> None:
        rows = [
            {"Batch": row["Batch"], "Student ID": row["Student ID"], "Grade": row["Grade"],
             "Result": "Rejected" if row["Student ID"] in refused else "Accepted",
             "Message": "not on the roll" if row["Student ID"] in refused else ""}
            for row in self.sent() if row["Student ID"] != leave_out
        ]  # fmt: skip
        self.put(f"answers-{len(list((self.folder / 'from-registrar').iterdir()))}.csv", rows)

    @property
    def office(self) -> FileOffice:
        return FileOffice(self.folder, Clock(date(2026, 12, 19), time(10, 20))).for_instructor(EMAIL)

    def send(self) -> object:
        section = self.section.fresh()
        made = section.of_run.submissions[-1]
        return send(section, self.house.act(section), self.house.gateway, made)


def roster_of(section: SectionState) -> list[dict[str, str]]:
    term, name = section.record.term, section.record.name
    assert section.course.records is not None
    return [
        {"CRN": str(section.record.office_ref), "Term": term.name, "Course": name.course, "Title": name.title,
         "Section": name.number, "Instructor Email": EMAIL.upper(), "Student ID": one.id, "Last Name": one.family_name,
         "First Name": one.given_name, "Email": "", "Status": THEIRS[one.status], "Basis": THEIRS[one.basis]}
        for one in section.course.records.roster
    ]  # fmt: skip


@pytest.fixture
def registrar(house: House, tmp_path: Path) -> Iterator[Registrar]:
    folder = tmp_path / "registrar"
    (folder / "from-registrar").mkdir(parents=True)
    shutil.copy(MAP, folder / "registrar.toml")
    text = MAP.read_text(encoding="utf-8")
    more = '  { code = "A-" }, { code = "B+" }, { code = "B-" }, { code = "C+" }, { code = "C-" },\n'
    (folder / "registrar.toml").write_text(text.replace("codes = [\n", f"codes = [\n{more}"), encoding="utf-8")
    there = replace(house, gateway=Gateway(FileOffice(folder, Clock(date(2026, 12, 19), time(10, 20)))))
    section = ready(there)
    found = Registrar(folder, there, section)
    found.put("roster-1.csv", roster_of(section))
    assert isinstance(update(section, there.act(section), there.gateway), Done)
    found.section = section.fresh()
    yield found


def signed(registrar: Registrar) -> None:
    section = registrar.section
    assert isinstance(sign(section, registrar.house.act(section), reason="looked at"), Done)


def test_grades_go_their_whole_way(registrar: Registrar) -> None:
    signed(registrar)
    waiting = registrar.send()
    assert isinstance(waiting, Done)
    assert "Handed over" in waiting.text
    assert "no answer came yet" in waiting.text
    assert not registrar.house.gateway.silent
    made = registrar.section.fresh().of_run.submissions[-1]
    assert [row["Student ID"] for row in registrar.sent()] == [row.id for row in made.rows]
    assert {row["Batch"] for row in registrar.sent()} == {made.key}
    first = made.rows[0].id
    registrar.answer(leave_out=first)
    assert "1 of " in str(registrar.send())
    registrar.answer(first)
    registrar.send()
    assert len(registrar.out()) == 1
    section = registrar.section.fresh()
    receipt = section.of_run.submissions[-1].receipt
    assert receipt is not None
    assert (receipt.accepted, receipt.refused) == (len(made.rows) - 1, 1)
    assert {row.id: row.reason for row in receipt.rows if not row.accepted} == {first: "not on the roll"}
    assert section.of_run.copy is not None
    assert set(section.of_run.copy.rows) == {row.id for row in made.rows} - {first}
    registrar.put("posted.csv", [
        {"CRN": str(section.record.office_ref), "Type": "Final", "Student ID": row.id, "Grade": row.code}
        for row in made.rows if row.id != first
    ])  # fmt: skip
    going = needed_courier(
        registrar.house.connection, registrar.house.gateway, registrar.house.act(section), section.record
    )
    assert isinstance(going.check_copy("final"), Done)
    fresh = section.fresh()
    assert fresh.of_run.posted_at
    assert fresh.of_run.copy is not None
    assert fresh.of_run.copy.rows == section.of_run.copy.rows


def test_a_key_goes_out_once_wherever_it_breaks_off(registrar: Registrar) -> None:
    signed(registrar)
    registrar.send()
    (path,) = registrar.out()
    written = path.read_bytes()
    # Broken off before the file was in its place, and once more after the registrar took it away.
    path.rename(registrar.folder / "kept" / path.name)
    registrar.send()
    assert registrar.out()[0].read_bytes() == written
    registrar.out()[0].unlink()
    registrar.send()
    assert registrar.out() == []
    other = replace(registrar.section.fresh().of_run.submissions[-1], digest="0" * 64)
    with pytest.raises(OfficeRefusedError, match="used for another"):
        registrar.office.submit(str(registrar.section.record.office_ref), other)


def test_the_registrars_encoding_and_signs(registrar: Registrar) -> None:
    file = registrar.folder / "registrar.toml"
    text = file.read_text(encoding="utf-8").replace('"utf-8"', '"utf-16"').replace('delimiter = ","', 'delimiter = ";"')
    file.write_text(text.replace("MM/DD/YYYY", "DD.MM.YYYY"), encoding="utf-8")
    rows = roster_of(registrar.section)
    rows[0]["Last Name"] = "Åkesson; née Müller"
    registrar.put("roster-2.csv", rows, "utf-16", ";")
    (registrar.folder / "from-registrar/roster-1.csv").unlink()
    found = registrar.office.roster(rows[0]["CRN"])
    assert found.students[0].family_name == "Åkesson; née Müller"
    signed(registrar)
    registrar.send()
    assert {row["Student ID"] for row in registrar.sent("utf-16", ";")} <= {row["Student ID"] for row in rows}


def test_a_sign_that_the_registrars_encoding_does_not_have_is_said(registrar: Registrar) -> None:
    file = registrar.folder / "registrar.toml"
    file.write_text(file.read_text(encoding="utf-8").replace('"utf-8"', '"iso-8859-1"'), encoding="utf-8")
    asked = {"student": "L1", "old": None, "new": {"id": "L1", "code": "A"}, "reason": "€ 5"}
    with pytest.raises(OfficeDownError, match="€ cannot be written in iso-8859-1"):
        registrar.office.ask_change("R1", "0123456789abcdef", EMAIL, asked)
    assert registrar.out("change") == []


def test_a_change_of_grade_is_asked_for_and_answered(registrar: Registrar) -> None:
    ref, key = str(registrar.section.record.office_ref), "0123456789abcdef"
    asked = {"student": "L1", "old": row_values(GradeRow("L1", "B")), "new": row_values(GradeRow("L1", "A")),
             "reason": "=a paper that was found", "evidence": {"note": "the paper"}}  # fmt: skip
    assert registrar.office.ask_change(ref, key, EMAIL, asked).state == "pending"
    (path,) = registrar.out("change")
    with path.open(newline="", encoding="utf-8") as file:
        (row,) = csv.DictReader(file)
    assert (row["Grade"], row["Former Grade"], row["Reason"]) == ("A", "B", "'=a paper that was found")
    registrar.put("change-answers.csv", [{"Request": key, "Result": "Approved", "Message": "by the dean"}])
    answer = registrar.office.ask_change(ref, key, EMAIL, asked)
    assert (answer.state, answer.word) == ("granted", "by the dean")
    assert [change.state for change in registrar.office.held(ref, "final").changes] == ["granted"]
    assert registrar.office.held(ref, "midterm").changes == ()


def test_each_instructor_sees_their_own_and_the_newest_file_counts(registrar: Registrar) -> None:
    rows = roster_of(registrar.section)
    assert [one.ref for one in registrar.office.sections()] == [rows[0]["CRN"]]
    assert registrar.office.for_instructor("somebody@larkmoor.example").sections() == []
    with pytest.raises(OfficeDownError, match="no roster of R404"):
        registrar.office.roster("R404")
    registrar.put("roster-2.csv", rows[1:])
    assert len(registrar.office.roster(rows[0]["CRN"]).students) == len(rows) - 1


@pytest.mark.parametrize(
    ("at", "error", "said"),
    [
        (datetime(2026, 12, 1, 9), OfficeBusyError, "opens Dec 14"),
        (datetime(2026, 12, 23, 9), OfficeRefusedError, "run closed"),
    ],
)
def test_outside_its_window_nothing_goes_out(
    registrar: Registrar, at: datetime, error: type[Exception], said: str
) -> None:
    signed(registrar)
    office = FileOffice(registrar.folder, Clock(at.date(), at.time())).for_instructor(EMAIL)
    with pytest.raises(error, match=said):
        office.submit(str(registrar.section.record.office_ref), registrar.section.fresh().of_run.submissions[-1])
    assert registrar.out() == []


@pytest.mark.parametrize(
    ("before", "after", "said"),
    [
        ('status = "Status"', 'status = "Standing"', "roster-1.csv, line 1 has no column Standing"),
        ('"Registered" = "enrolled"', '"On Roll" = "enrolled"', "status must be one of"),
        ('name = "Fall 2026"', 'name = "Autumn 2026"', "has no term Fall 2026"),
        ('dates = "MM/DD/YYYY"', 'dates = "D/M"', "dates must be one of"),
        ("opens = 2026-12-14T08:00:00", 'opens = "Monday"', "must be a day with a time"),
        ('key = "Batch"', "", "answers.key is missing"),
        ('taken = ["Accepted"]', "taken = 1", "answers.taken"),
        ("[[terms]]", "[[terms", "is not TOML"),
        ("due = 2026-12-21T17:00:00", "due = 17:00:00", "must be a day with a time"),
        ('encoding = "utf-8"', 'encoding = "morse"', "encoding must be one of"),
    ],
)
def test_a_map_that_does_not_fit_is_said_at_its_place(registrar: Registrar, before: str, after: str, said: str) -> None:
    file = registrar.folder / "registrar.toml"
    text = file.read_text(encoding="utf-8")
    assert before in text
    file.write_text(text.replace(before, after, 1), encoding="utf-8")
    with pytest.raises(OfficeDownError) as found:
        registrar.office.roster(str(registrar.section.record.office_ref))
    assert said in str(found.value).replace(": ", " "), str(found.value)


def test_a_window_with_an_offset_is_by_the_colleges_clock(registrar: Registrar) -> None:
    file = registrar.folder / "registrar.toml"
    due = stamp(datetime(2026, 12, 21, 17)).replace("+00:00", "Z")
    text = file.read_text(encoding="utf-8")
    file.write_text(text.replace("due = 2026-12-21T17:00:00", f"due = {due}"), encoding="utf-8")
    found = registrar.office.roster(str(registrar.section.record.office_ref))
    assert found.hours.windows["final"].due == datetime(2026, 12, 21, 17)
    signed(registrar)
    assert isinstance(registrar.send(), Done)
    assert len(registrar.out()) == 1


def test_sent_by_many_at_once_a_key_goes_out_once(registrar: Registrar) -> None:
    signed(registrar)
    made, ref = registrar.section.fresh().of_run.submissions[-1], str(registrar.section.record.office_ref)

    def one(_: int) -> str:
        with pytest.raises(OfficeDownError, match="no answer came yet"):
            registrar.office.submit(ref, made)
        # The registrar's system takes the file away at once.
        taken = registrar.out()
        for path in taken:
            path.unlink(missing_ok=True)
        return " ".join(path.name for path in taken)

    with ThreadPoolExecutor(8) as pool:
        list(pool.map(one, range(24)))
    assert registrar.out() == []


def test_a_folder_that_cannot_be_written_is_said(registrar: Registrar) -> None:
    signed(registrar)
    (registrar.folder / "kept").write_text("a file where a folder should be")
    made = registrar.section.fresh().of_run.submissions[-1]
    with pytest.raises(OfficeDownError, match=r"registrar: .*kept"):
        registrar.office.submit(str(registrar.section.record.office_ref), made)
    assert registrar.out() == []


def test_a_word_that_the_map_does_not_have_is_no_answer(registrar: Registrar) -> None:
    signed(registrar)
    registrar.send()
    rows = [{"Batch": row["Batch"], "Student ID": row["Student ID"], "Grade": row["Grade"], "Result": "Perhaps",
             "Message": ""} for row in registrar.sent()]  # fmt: skip
    registrar.put("answers.csv", rows)
    assert "has the result Perhaps" in str(registrar.send())
    assert registrar.section.fresh().of_run.submissions[-1].receipt is None


def test_an_address_of_files_names_a_folder() -> None:
    assert file_folder("files:/srv/registrar") == Path("/srv/registrar")
    assert file_folder("https://registrar.example/") is None
