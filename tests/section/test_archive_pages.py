"""The pages beside an archive's data can be read by anybody: everything stands on them, in words, and they hold links
to nothing outside."""

import io
import re
import zipfile
from html import unescape

from tests.section.conftest import House
from vinemark.core.base.number import fixed
from vinemark.exchange.archive import read_archive
from vinemark.section.acts.after import make_archive


def pages_of(house: House, short: str) -> dict[str, str]:
    section = house.section(short)
    data = make_archive(section, house.act(section))
    assert read_archive(data).course.section.short == short
    with zipfile.ZipFile(io.BytesIO(data)) as packed:
        names = [name for name in packed.namelist() if name.startswith("pages/")]
        return {name.removeprefix("pages/"): packed.read(name).decode() for name in names}


def words_of(page: str) -> str:
    return " ".join(unescape(re.sub(r"<style>.*?</style>|<[^>]+>", " ", page, flags=re.DOTALL)).split())


def test_every_student_stands_there_with_percent_and_grade(house: House) -> None:
    pages, section = pages_of(house, "HYDR 410-01"), house.section("HYDR 410-01")
    index = words_of(pages["index.html"])
    assert len([name for name in pages if name.startswith("students/")]) == len(section.course.students)
    for student in section.course.students:
        grade, settled = section.snapshot.grades[student.id], section.course.settled[student.id]
        assert grade.percent is not None
        line = f"{student.name} {student.id} {fixed(grade.percent, 2)} {grade.letter or ''} {settled.grade}"
        assert " ".join(line.split()) in index
    assert "Presentations (40%)" in index


def test_a_students_page_has_the_work_the_steps_and_what_was_sent(house: House) -> None:
    pages = pages_of(house, "HYDR 410-01")
    page = words_of(next(text for text in pages.values() if "<h1>Cienfuegos, Eero</h1>" in text))
    for words in (
        "Settled: A ; the seminar paper was marked with the wrong sheet", "Computed: A-, 91.475%",
        "Discussion 2 Discussion Sep 24, 2026 3.5 of 4 dropped as a lowest", "As a fraction 3659/40",
        "Final grade A-, signed Dec 18, 2026, 4:20 PM by Maren Ostrander: accepted, receipt R-2026-00005.",
        "Change of grade C-2026-00001: A- to A",
    ):  # fmt: skip
        assert words in page


def test_links_lead_to_pages_that_are_there_and_nothing_is_loaded(house: House) -> None:
    pages = pages_of(house, "BOTN 105-02")
    for name, text in pages.items():
        assert not re.search(r"<script|<img|<link|https?://", text)
        folder = "students/" if name.startswith("students/") else ""
        for address in re.findall(r'href="([^"]+)"', text):
            assert (address.removeprefix("../") if folder else address) in pages, (name, address)
    history = words_of(pages["history.html"])
    assert "signed 72 midterm grades" in history
    assert "Receipt R-2026-00002" in words_of(pages["submissions.html"])
