"""Deleting a section with its archive taken first, and a copy of an archive."""

import io
import re

from tests.web.conftest import Site
from vinemark.demo.build import OSTRANDER
from vinemark.store.database import connect

SHORT = "HYDR 410-01"


def take_archive(site: Site, section: int) -> bytes:
    return bytes(site.browser.post(f"/s/{section}/after/archive", data={"key": "z1"}).data)


def rows(site: Site, section: int) -> dict[str, int]:
    """How many rows of each table speak of a section."""
    connection = connect(site.folder / "vinemark.sqlite")
    tables = [row["name"] for row in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
    found = {}
    for table in tables:
        if "section_id" in {row["name"] for row in connection.execute(f"PRAGMA table_info({table})")}:
            count = connection.execute(f"SELECT count(*) FROM {table} WHERE section_id = ?", (section,))  # noqa: S608
            found[table] = count.fetchone()[0]
    connection.close()
    return {table: count for table, count in found.items() if count}


def test_a_section_goes_once_its_archive_is_taken_and_its_name_typed(site: Site) -> None:
    section = site.section(SHORT)
    page = site.browser.get(f"/s/{section}/delete").text
    assert "Download the archive first" in page
    assert 'name="name"' not in page
    early = site.browser.post(f"/s/{section}/delete", data={"name": SHORT, "key": "d0"})
    assert (early.status_code, "Download the archive first" in early.text) == (422, True)
    data = take_archive(site, section)
    assert "Archive downloaded, sha-256" in site.browser.get(f"/s/{section}/delete").text
    wrong = site.browser.post(f"/s/{section}/delete", data={"name": "HYDR 230-01", "key": "d1"})
    assert (wrong.status_code, f"Type {SHORT} to delete it." in wrong.text, "HYDR 230-01" in wrong.text) == (
        422,
        True,
        True,
    )
    assert len(rows(site, section)) > 8
    done = site.post(f"/s/{section}/delete", name=" hydr 410-01 ", key="d2")
    assert f"{SHORT}, Fall 2026 is deleted." in done.text
    assert rows(site, section) == {}
    assert site.browser.get(f"/s/{section}/plan").status_code == 404
    connection = connect(site.folder / "vinemark.sqlite")
    last = connection.execute("SELECT * FROM history ORDER BY id DESC LIMIT 1").fetchone()
    connection.close()
    assert (last["section_id"], last["before"], last["after"]) == (None, None, None)
    assert re.fullmatch(rf"{SHORT}, Fall 2026 deleted; archive downloaded, SHA-256 [0-9a-f]{{64}}", last["what"])
    sent = {"file": (io.BytesIO(data), "a.zip"), "key": "i1"}
    back = site.browser.post("/sections/new", data=sent, follow_redirects=True)
    assert "all checksums agree" in back.text


def test_a_change_after_the_archive_asks_for_another_one(site: Site) -> None:
    section = site.section(SHORT)
    take_archive(site, section)
    course = site.course(section)
    cell = {"student": course.students[0].id, "item": next(i.id for _, i in course.plan.items()), "typed": "1"}
    assert site.browser.post(f"/s/{section}/scores/cells", json={"key": "k", "cells": [cell]}).status_code == 200
    late = site.browser.post(f"/s/{section}/delete", data={"name": SHORT, "key": "d1"})
    assert late.status_code == 422
    assert rows(site, section)


def test_what_is_on_its_way_to_the_registrar_is_not_deleted(site: Site) -> None:
    section = site.section(SHORT)
    with connect(site.folder / "vinemark.sqlite") as connection:
        connection.execute("UPDATE sending SET state = 'waiting', receipt = NULL")
    connection.close()
    site.app.extensions["vinemark.snapshots"].__init__()
    take_archive(site, section)
    answer = site.browser.post(f"/s/{section}/delete", data={"name": SHORT, "key": "d1"})
    assert (answer.status_code, "on their way to the registrar" in answer.text) == (422, True)


def test_a_copy_of_an_archive_goes_without_a_word_and_takes_nothing_with_it(site: Site) -> None:
    section = site.section(SHORT)
    sent = {"file": (io.BytesIO(take_archive(site, section)), "a.zip"), "key": "i1"}
    made = site.browser.post("/sections/new", data=sent)
    copy = int(re.search(r"/s/(\d+)/", made.headers["Location"])[1])  # type: ignore[index]
    before = rows(site, section)
    assert "Delete this copy" in site.browser.get(f"/s/{copy}/files").text
    done = site.post(f"/s/{copy}/delete", key="d1")
    assert f"The copy of {SHORT}, Fall 2026 is deleted." in done.text
    assert (rows(site, copy), rows(site, section)) == ({}, before)


def test_a_remark_cannot_be_written_into_a_copy_of_an_archive(site: Site) -> None:
    section = site.section(SHORT)
    sent = {"file": (io.BytesIO(take_archive(site, section)), "a.zip"), "key": "i1"}
    made = site.browser.post("/sections/new", data=sent)
    copy = int(re.search(r"/s/(\d+)/", made.headers["Location"])[1])  # type: ignore[index]
    course = site.course(copy)
    remark = {"student": course.students[0].id, "item": next(i.id for _, i in course.plan.items()), "text": "no"}
    before = rows(site, copy)
    assert site.browser.post(f"/s/{copy}/scores/cells", json={"key": "r", "remark": remark}).status_code == 403
    assert rows(site, copy) == before


def aside(site: Site, section: int) -> tuple[str, str]:
    """A student, by id and name, who is set aside, on no roster and in nothing that was signed."""
    connection = connect(site.folder / "vinemark.sqlite")
    with connection:
        connection.execute(
            "INSERT INTO student SELECT section_id, 'Z-77', 'Quillfeather', 'Odo', NULL, NULL, 99 FROM student"
            " WHERE section_id = ? LIMIT 1",
            (section,),
        )
    connection.close()
    site.app.extensions["vinemark.snapshots"].__init__()
    item = next(i.id for _, i in site.course(section).plan.items())
    cells = [{"student": "Z-77", "item": item, "typed": "1"}]
    assert site.browser.post(f"/s/{section}/scores/cells", json={"key": "zc", "cells": cells}).status_code == 200
    return "Z-77", "Odo Quillfeather"


def test_a_student_goes_out_of_the_section_and_its_history(site: Site) -> None:
    section = site.section(SHORT)
    student, name = aside(site, section)
    address = f"/s/{section}/delete/student/{student}"
    assert "counts in this section. Set aside" in site.browser.get(address).text
    site.post(f"/s/{section}/settle/aside/{student}", reason="put in by mistake", key="a1")
    assert f"/delete/student/{student}" in site.browser.get(f"/s/{section}/settle").text
    assert "Download the archive first" in site.browser.get(address).text
    take_archive(site, section)
    wrong = site.browser.post(address, data={"name": "Somebody Else", "key": "d1"})
    assert (wrong.status_code, f"Type {name} to delete this student." in wrong.text) == (422, True)
    done = site.post(address, name=name.lower(), key="d2")
    assert "The student is deleted." in done.text
    assert site.browser.get(address).status_code == 404
    connection = connect(site.folder / "vinemark.sqlite")
    dump = "\n".join(connection.iterdump())
    connection.close()
    assert "Quillfeather" not in dump
    assert student not in dump
    for page in ("plan", "scores", "audit", "settle", "submit", "after", "history"):
        assert site.browser.get(f"/s/{section}/{page}").status_code == 200, page


def test_whom_the_registrar_lists_is_not_deleted(site: Site) -> None:
    section = site.section(SHORT)
    student = site.course(section).students[0]
    site.post(f"/s/{section}/settle/aside/{student.id}", reason="a try", key="a1")
    page = site.browser.get(f"/s/{section}/delete/student/{student.id}")
    assert "The registrar lists" in page.text
    sent = site.browser.post(f"/s/{section}/delete/student/{student.id}", data={"name": student.plain_name})
    assert sent.status_code == 422


def test_an_account_goes_after_its_sections(site: Site) -> None:
    page = site.browser.get("/account").text
    assert "Delete your sections first" in page
    early = site.browser.post("/account/delete", data={"delete_password": "larkmoor", "key": "x0"})
    assert early.status_code == 422
    connection = connect(site.folder / "vinemark.sqlite")
    with connection:
        mine = "SELECT sp.section_id FROM section_person sp JOIN person p ON p.id = sp.person_id WHERE p.email = ?"
        connection.execute(f"DELETE FROM section WHERE id IN ({mine})", (OSTRANDER[1],))  # noqa: S608
    wrong = site.browser.post("/account/delete", data={"delete_password": "not mine", "key": "x1"})
    assert (wrong.status_code, "This is not your password." in wrong.text) == (422, True)
    done = site.browser.post("/account/delete", data={"delete_password": "larkmoor", "key": "x2"})
    assert done.headers["Location"].endswith("/sign-in")
    assert site.browser.get("/").headers["Location"].startswith("/sign-in")
    assert connection.execute("SELECT 1 FROM person WHERE email = ?", (OSTRANDER[1],)).fetchone() is None
    connection.close()
