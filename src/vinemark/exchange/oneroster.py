"""A class as OneRoster 1.2 CSV files in a zip (1EdTech, OneRoster Service 1.2, CSV binding), written and read.

What the standard has no field for (drops, splits, blanks rules, the scale) is not in it; the course file has all.
"""

import csv
import io
import re
import uuid
import zipfile
from collections.abc import Iterable, Mapping, Sequence
from datetime import date
from fractions import Fraction
from itertools import islice

from vinemark.core.base.number import NotANumber, exact_text, parse_decimal
from vinemark.core.base.refused import Refused
from vinemark.core.course.cell import Cell
from vinemark.core.course.cell_text import cell_text
from vinemark.core.course.course import Course, SectionName, Student, Term
from vinemark.core.plan.plan import Category, Item, Plan
from vinemark.exchange.archive import UNPACKING_ERRORS
from vinemark.exchange.csv_text import csv_text
from vinemark.exchange.spreadsheet_file import MOST_UNPACKED

COMMON = ("sourcedId", "status", "dateLastModified")
HEADERS: dict[str, tuple[str, ...]] = {
    "academicSessions": (*COMMON, "title", "type", "startDate", "endDate", "parentSourcedId", "schoolYear"),
    "orgs": (*COMMON, "name", "type", "identifier", "parentSourcedId"),
    "courses": (*COMMON, "schoolYearSourcedId", "title", "courseCode", "grades", "orgSourcedId", "subjects",
                "subjectCodes"),
    "classes": (*COMMON, "title", "grades", "courseSourcedId", "classCode", "classType", "location",
                "schoolSourcedId", "termSourcedIds", "subjects", "subjectCodes", "periods"),
    "users": (*COMMON, "enabledUser", "username", "userIds", "givenName", "familyName", "middleName", "identifier",
              "email", "sms", "phone", "agentSourcedIds", "grades", "password", "userMasterIdentifier",
              "preferredGivenName", "preferredMiddleName", "preferredFamilyName", "primaryOrgSourcedId", "pronouns"),
    "enrollments": (*COMMON, "classSourcedId", "schoolSourcedId", "userSourcedId", "role", "primary", "beginDate",
                    "endDate"),
    "categories": (*COMMON, "title", "weight"),
    "lineItems": (*COMMON, "title", "description", "assignDate", "dueDate", "classSourcedId", "categorySourcedId",
                  "gradingPeriodSourcedId", "resultValueMin", "resultValueMax", "schoolSourcedId"),
    "results": (*COMMON, "lineItemSourcedId", "studentSourcedId", "scoreStatus", "score", "scoreDate", "comment",
                "textScore", "classSourcedId", "inProgress", "incomplete", "late", "missing"),
}  # fmt: skip
FILES = tuple(HEADERS)

MOST_LINES = 250_000
ZipRow = Mapping[str, str]


def write_zip(course: Course, made_on: date) -> bytes:
    """The class as a zip of CSV files, its ids made of the section's and so the same each time."""
    tables = _tables(course, made_on)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        texts = {"manifest": _csv(("propertyName", "value"), _manifest(made_on))}
        for name, text in {**texts, **{n: _csv(HEADERS[n], tables[n]) for n in FILES}}.items():
            entry = zipfile.ZipInfo(f"{name}.csv", (made_on.year, made_on.month, made_on.day, 0, 0, 0))
            packed.writestr(entry, text, zipfile.ZIP_DEFLATED)
    return out.getvalue()


def _manifest(made_on: date) -> list[ZipRow]:
    values = {
        "manifest.version": "1.0",
        "oneroster.version": "1.2",
        **{f"file.{name}": "bulk" for name in FILES},
        "source.systemName": "Vine Mark",
        "source.systemCode": made_on.isoformat(),
    }
    return [{"propertyName": name, "value": value} for name, value in values.items()]


def _csv(header: Sequence[str], rows: Iterable[ZipRow]) -> str:
    return csv_text(header, ([row.get(name, "") for name in header] for row in rows))


class _Ids:
    """Ids that stay the same for the same thing of the same section."""

    def __init__(self, course: Course) -> None:
        self._space = uuid.uuid5(uuid.NAMESPACE_URL, f"{course.term.name}/{course.section.short}")

    def of(self, kind: str, name: str = "") -> str:
        return str(uuid.uuid5(self._space, f"{kind}/{name}"))


def _tables(course: Course, made_on: date) -> dict[str, list[ZipRow]]:
    ids = _Ids(course)
    school, term, klass = ids.of("org"), ids.of("term"), ids.of("class")
    year = str(course.term.ends.year)
    titled = course.section.title or course.section.course
    stamp = {"status": "active", "dateLastModified": f"{made_on.isoformat()}T00:00:00.000Z"}
    return {
        "academicSessions": [{"sourcedId": term, **stamp, "title": course.term.name, "type": "term", "schoolYear": year,
                              "startDate": course.term.starts.isoformat(), "endDate": course.term.ends.isoformat()}],
        "orgs": [{"sourcedId": school, **stamp, "name": "School", "type": "school"}],
        "courses": [{"sourcedId": ids.of("course"), **stamp, "title": titled,
                     "courseCode": course.section.course, "orgSourcedId": school}],
        "classes": [{"sourcedId": klass, **stamp, "title": titled, "courseSourcedId": ids.of("course"),
                     "classCode": course.section.number, "classType": "scheduled", "schoolSourcedId": school,
                     "termSourcedIds": term}],
        "users": [{**stamp, **_user(s, school)} for s in course.students],
        "enrollments": [{"sourcedId": ids.of("enrollment", s.id), **stamp, "classSourcedId": klass, "role": "student",
                         "schoolSourcedId": school, "userSourcedId": s.id, "primary": "false"}
                        for s in course.students],
        "categories": [{"sourcedId": ids.of("category", c.id), **stamp, "title": c.name,
                        "weight": "" if c.weight is None else exact_text(c.weight)} for c in course.plan.categories],
        "lineItems": [{**stamp, **_line_item(c, i, ids), "classSourcedId": klass, "schoolSourcedId": school,
                       "gradingPeriodSourcedId": term} for c, i in course.plan.items()],
        "results": [{**stamp, **row, "classSourcedId": klass} for row in _results(course, ids)],
    }  # fmt: skip


def _user(student: Student, school: str) -> ZipRow:
    email = student.email or ""
    return {
        "sourcedId": student.id,
        "enabledUser": "true",
        "username": email or student.id,
        "givenName": student.given_name,
        "familyName": student.family_name,
        "identifier": student.id,
        "email": email,
        "primaryOrgSourcedId": school,
    }


def _line_item(category: Category, item: Item, ids: _Ids) -> ZipRow:
    due = item.due.isoformat() if item.due else ""
    return {
        "sourcedId": ids.of("item", item.id),
        "title": item.name,
        "assignDate": due,
        "dueDate": due,
        "categorySourcedId": ids.of("category", category.id),
        "resultValueMin": "0",
        "resultValueMax": exact_text(item.points),
    }


def _results(course: Course, ids: _Ids) -> Iterable[ZipRow]:
    for student in course.students:
        for _, item in course.plan.items():
            cell = course.cell(student.id, item.id)
            if cell is not None:
                place = f"{student.id}/{item.id}"
                line = {"sourcedId": ids.of("result", place), "lineItemSourcedId": ids.of("item", item.id)}
                yield {**line, "studentSourcedId": student.id, **_score(course, student.id, item.id)}


def _score(course: Course, student: str, item: str) -> ZipRow:
    """What a cell holds; a symbol is sent as the points that it stands for, and late days have no column."""
    cell = course.value(student, item)
    if cell == "exempt":
        return {"scoreStatus": "exempt", "missing": "false"}
    if cell == "missing":
        return {"scoreStatus": "not submitted", "score": "0", "missing": "true"}
    assert isinstance(cell, Fraction)  # noqa: S101
    return {"scoreStatus": "fully graded", "score": exact_text(cell), "missing": "false"}


def is_oneroster(names: Iterable[str]) -> bool:
    """Whether files of these names are a class with its line items."""
    return {"lineItems.csv", "users.csv"} <= {name.rpartition("/")[2] for name in names}


def read_zip(data: bytes) -> Course:
    """A class from a zip. Raises Refused, naming the file, for what is damaged or missing.

    With weights on every category the plan is weighted, else it counts points. There is no scale.
    """
    tables = _unpacked(data)
    term, name = _term(tables), _name(tables)
    plan, items = _plan(tables)
    students = _students(tables)
    scores: dict[str, dict[str, Cell]] = {}
    known = {student.id for student in students}
    for line, row in enumerate(tables["results"], 2):
        item, student = items.get(row["lineItemSourcedId"]), row["studentSourcedId"]
        if item and student in known:
            cell = _cell(row, f"results.csv line {line}")
            if cell is not None:
                scores.setdefault(student, {})[item] = cell
    return Course(term, name, plan, students, scores)


def _unpacked(data: bytes) -> dict[str, list[dict[str, str]]]:
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            if sum(entry.file_size for entry in packed.infolist()) > MOST_UNPACKED:
                raise Refused("file", "is too large once unpacked")
            there = {n.rpartition("/")[2]: packed.read(n) for n in packed.namelist() if n.endswith(".csv")}
    except Refused:
        raise
    except UNPACKING_ERRORS:
        raise Refused("file", "is damaged: it cannot be unpacked") from None
    missing = [f"{name}.csv" for name in ("users", "lineItems") if f"{name}.csv" not in there]
    if missing:
        raise Refused("file", f"lacks {' and '.join(missing)}")
    return {name: _rows(f"{name}.csv", there.get(f"{name}.csv", b"")) for name in FILES}


def _rows(name: str, data: bytes) -> list[dict[str, str]]:
    try:
        reader = csv.DictReader(io.StringIO(data.decode("utf-8-sig"), newline=""))
        found = list(islice(reader, MOST_LINES + 1))
    except (UnicodeDecodeError, csv.Error) as error:
        raise Refused(name, f"could not be read: {error}") from None
    if len(found) > MOST_LINES:
        raise Refused(name, f"has more than {MOST_LINES:,} lines")
    header = HEADERS[name.removesuffix(".csv")]
    rows = [{key: (row.get(key) or "").strip() for key in header} for row in found]
    return [row for row in rows if row["status"] != "tobedeleted"]


def _term(tables: Mapping[str, Sequence[ZipRow]]) -> Term:
    sessions = tables["academicSessions"] or [{}]
    row = next((s for s in sessions if s.get("type") in {"term", "semester"}), sessions[0])
    days = [_day(row.get(key, ""), f"academicSessions.csv: {key}") for key in ("startDate", "endDate")]
    if days[0] is None or days[1] is None:
        raise Refused("academicSessions.csv", "needs a session with startDate and endDate")
    return Term(row["title"] or "Term", days[0], days[1])


def _day(text: str, place: str) -> date | None:
    try:
        return date.fromisoformat(text[:10]) if text else None
    except ValueError:
        raise Refused(place, f"must be a date, not “{text[:40]}”") from None


def _name(tables: Mapping[str, Sequence[ZipRow]]) -> SectionName:
    klass = next(iter(tables["classes"]), {})
    course = next((c for c in tables["courses"] if c["sourcedId"] == klass.get("courseSourcedId")), {})
    code = course.get("courseCode") or klass.get("classCode") or "COURSE"
    number = klass.get("classCode", "") if course.get("courseCode") else ""
    return SectionName(code, klass.get("title") or course.get("title") or code, number)


def _plan(tables: Mapping[str, Sequence[ZipRow]]) -> tuple[Plan, dict[str, str]]:
    """The plan, and which of its items each line item became."""
    items: dict[str, str] = {}
    by_category: dict[str, list[Item]] = {}
    for place, row in enumerate(tables["lineItems"]):
        where = f"lineItems.csv line {place + 2}"
        points = _number(row["resultValueMax"], f"{where}: resultValueMax")
        if not points:
            raise Refused(f"{where}: resultValueMax", "must be more than 0")
        items[row["sourcedId"]] = f"i{place + 1}"
        made = Item(f"i{place + 1}", row["title"] or f"Item {place + 1}", points, due=_day(row["dueDate"], where))
        by_category.setdefault(row["categorySourcedId"], []).append(made)
    rows = [r for r in tables["categories"] if r["sourcedId"] in by_category]
    weights = [_number(r["weight"], "categories.csv: weight") for r in rows]
    named = {r["sourcedId"] for r in rows}
    loose = [item for key, found in by_category.items() if key not in named for item in found]
    weighted = bool(rows) and all(w is not None for w in weights) and not loose
    made_categories = [
        Category(f"c{n}", row["title"] or f"Category {n}", weight if weighted else None,
                 items=tuple(by_category[row["sourcedId"]]))
        for n, (row, weight) in enumerate(zip(rows, weights, strict=True), 1)
    ]  # fmt: skip
    if loose:
        made_categories.append(Category(f"c{len(rows) + 1}", "Other", items=tuple(loose)))
    return Plan("weighted" if weighted else "points", tuple(made_categories)), items


def _number(text: str, place: str) -> Fraction | None:
    if not text:
        return None
    plain = re.sub(r"(\.\d*?)0+$", r"\1", text).rstrip(".") if "." in text else text
    try:
        return parse_decimal(plain)
    except NotANumber as error:
        raise Refused(place, str(error)) from None


def _students(tables: Mapping[str, Sequence[ZipRow]]) -> tuple[Student, ...]:
    """Users enrolled as students; all users where the file has no enrollments."""
    enrolled = {row["userSourcedId"] for row in tables["enrollments"] if row["role"] == "student"}
    users = [u for u in tables["users"] if not tables["enrollments"] or u["sourcedId"] in enrolled]
    return tuple(
        Student(u["sourcedId"], u["familyName"] or u["givenName"] or u["sourcedId"],
                u["givenName"] if u["familyName"] else "", u["email"] or None)
        for u in users
    )  # fmt: skip


def _cell(row: ZipRow, place: str) -> Cell:
    if row["scoreStatus"] == "exempt":
        return "exempt"
    if row["missing"] == "true" or (row["scoreStatus"] == "not submitted" and row["score"] in {"", "0"}):
        return "missing"
    return _number(row["score"], f"{place}: score")


def zip_table(course: Course) -> tuple[list[str], list[list[str]]]:
    """A class as a table of scores, for taking its results into a section: headings, then a row a student."""
    items = [item for _, item in course.plan.items()]
    heading = ["id", "family name", "given name", "email", *(item.name for item in items)]
    rows = [
        [s.id, s.family_name, s.given_name, s.email or "", *(cell_text(course.cell(s.id, i.id)) for i in items)]
        for s in course.students
    ]
    return heading, rows
