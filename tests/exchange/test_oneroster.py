"""OneRoster 1.2 CSV (1EdTech), both ways. The headers below are written from memory of the standard's CSV binding."""

import csv
import io
import zipfile
from dataclasses import replace
from datetime import date

import pytest

from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Course
from vinemark.exchange import oneroster

# From memory of the standard, not read off it.
REQUIRED = {
    "users.csv": "sourcedId,status,dateLastModified,enabledUser,username,userIds,givenName,familyName",
    "enrollments.csv": "sourcedId,status,dateLastModified,classSourcedId,schoolSourcedId,userSourcedId,role,primary",
    "categories.csv": "sourcedId,status,dateLastModified,title,weight",
    "lineItems.csv": "sourcedId,status,dateLastModified,title,description,assignDate,dueDate,classSourcedId,"
    "categorySourcedId,gradingPeriodSourcedId,resultValueMin,resultValueMax",
    "results.csv": "sourcedId,status,dateLastModified,lineItemSourcedId,studentSourcedId,scoreStatus,score,scoreDate",
}
DAY = date(2026, 12, 19)


def files(data: bytes) -> dict[str, str]:
    with zipfile.ZipFile(io.BytesIO(data)) as packed:
        return {name: packed.read(name).decode() for name in packed.namelist()}


def zipped(texts: dict[str, str]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed:
        for name, text in texts.items():
            packed.writestr(name, text)
    return out.getvalue()


def test_the_files_have_the_standards_headers_and_whole_references(demo_courses: list[Course]) -> None:
    for course in demo_courses:
        found = files(oneroster.write_zip(course, DAY))
        for name, start in REQUIRED.items():
            assert found[name].startswith(start), name
        rows = {name: list(csv.DictReader(io.StringIO(text))) for name, text in found.items()}
        ids = {name: {row["sourcedId"] for row in rows[name]} for name in rows if name != "manifest.csv"}
        for name, column, to in (
            ("results.csv", "lineItemSourcedId", "lineItems.csv"),
            ("results.csv", "studentSourcedId", "users.csv"),
            ("lineItems.csv", "categorySourcedId", "categories.csv"),
            ("lineItems.csv", "classSourcedId", "classes.csv"),
            ("enrollments.csv", "userSourcedId", "users.csv"),
            ("classes.csv", "courseSourcedId", "courses.csv"),
        ):
            assert {row[column] for row in rows[name]} <= ids[to], (name, column)
        listed = {row["propertyName"]: row["value"] for row in rows["manifest.csv"]}
        assert listed["oneroster.version"] == "1.2"
        assert all(listed[f"file.{name}"] == "bulk" for name in oneroster.FILES)


def test_what_goes_out_comes_back(demo_courses: list[Course]) -> None:
    for course in demo_courses:
        back = oneroster.read_zip(oneroster.write_zip(course, DAY))
        assert (back.term, back.section) == (course.term, course.section)
        assert back.students == tuple(replace(s, set_aside=None) for s in course.students)
        ours, theirs = ([i for _, i in c.plan.items()] for c in (course, back))
        assert [(i.name, i.points, i.due) for i in ours] == [(i.name, i.points, i.due) for i in theirs]
        if course.plan.basis == "weighted":
            assert [c.weight for c in back.plan.categories] == [c.weight for c in course.plan.categories]
        assert back.plan.basis == course.plan.basis
        for student in course.students:
            cells = [course.value(student.id, i.id) for i in ours]
            assert [back.cell(student.id, i.id) for i in theirs] == cells
        assert oneroster.write_zip(course, DAY) == oneroster.write_zip(course, DAY)


@pytest.mark.parametrize(
    ("file", "old", "new", "place"),
    [
        ("lineItems.csv", ",10,", ",zero,", "lineItems.csv line"),
        ("academicSessions.csv", "2026-08-31", "soon", "academicSessions.csv"),
        ("results.csv", "fully graded,", "fully graded,much", "results.csv line"),
        ("users.csv", "", None, "file"),
    ],
)
def test_a_damaged_file_is_refused_at_its_place(
    demo_courses: list[Course], file: str, old: str, new: str | None, place: str
) -> None:
    found = files(oneroster.write_zip(demo_courses[0], DAY))
    if new is None:
        del found[file]
    else:
        assert old in found[file]
        found[file] = found[file].replace(old, new, 1)
    with pytest.raises(Refused) as refused:
        oneroster.read_zip(zipped(found))
    assert refused.value.field.startswith(place)
