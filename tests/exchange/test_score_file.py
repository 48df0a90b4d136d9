"""A file of scores: everything it would change is known before it does; odd files are refused in words."""

import io
import random
import zipfile
from dataclasses import replace
from fractions import Fraction
from typing import Any

import pytest
from openpyxl import Workbook

from tests.builders import category, course, plan
from vinemark.core.base.refused import Refused
from vinemark.core.course.cell import DetailedScore
from vinemark.core.course.cell_text import cell_text
from vinemark.core.course.course import Course
from vinemark.core.plan.rules import RecordedItem, Symbol
from vinemark.exchange.score_file import CellChange, ScoreFile, decided, file_changes, read_file, shown
from vinemark.exchange.score_matching import NOBODY, Matching, shape_of

COURSE = course(plan(category("10", "20")), {"ada": ["9", None], "bo": ["7", "7"]})
ODS = """<?xml version="1.0" encoding="UTF-8"?>
<office:document-content xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0"
 xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0"
 xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0">
<office:body><office:spreadsheet><table:table table:name="T">
<table:table-row><table:table-cell office:value-type="string"><text:p>id</text:p></table:table-cell>
<table:table-cell><text:p>I 0</text:p></table:table-cell><table:table-cell><text:p>I 1</text:p></table:table-cell>
</table:table-row>
<table:table-row><table:table-cell><text:p>ada</text:p></table:table-cell>
<table:table-cell office:value-type="float" office:value="8.10"><text:p>8,1</text:p></table:table-cell>
<table:table-cell office:value-type="percentage" office:value="0.855"><text:p>85.5%</text:p></table:table-cell>
</table:table-row>
<table:table-row><table:table-cell><text:p>bo</text:p></table:table-cell>
<table:table-cell table:number-columns-repeated="2" table:formula="of:=[.A1]"
 office:value-type="float" office:value="3"/>
</table:table-row>
<table:table-row table:number-rows-repeated="1048000">
<table:table-cell table:number-columns-repeated="1024"/>
</table:table-row>
</table:table></office:spreadsheet></office:body></office:document-content>"""


def looked_at(data: str | bytes, known: Matching | None = None) -> ScoreFile:
    table = read_file(data.encode() if isinstance(data, str) else data).table
    return file_changes(table, COURSE, known or Matching())


def packed(**files: str) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as made:
        for name, text in files.items():
            made.writestr(name.replace("__", "/").replace("_", "."), text)
    return out.getvalue()


def xlsx(*rows: tuple[object, ...], percent: str = "", empty_first: bool = False) -> bytes:
    book, out = Workbook(), io.BytesIO()
    sheet: Any = book.create_sheet("Second") if empty_first else book.active
    for row in rows:
        sheet.append(row)
    if percent:
        sheet[percent].number_format = "0%"
    book.save(out)
    return out.getvalue()


def test_new_changed_same_refused_and_unknown() -> None:
    found = looked_at("ID;i 0;I-1;Total\nada;9;15,5;1\nbo;8;m;2\ncy;1;1;3\nbo;1;1;1\n")
    assert found.new == [CellChange("ada", "i1", None, Fraction("15.5"), 2)]
    assert [shown(c) for c in found.changed] == ["7 → 8", "7 → missing"]
    assert (found.same, [r.says for r in found.unknown]) == (1, ["cy"])
    assert [c.heading for c in found.columns if not c.target] == ["Total"]
    assert found.refused == ["line 5: bo is on line 3 already"]


def test_a_refused_value_names_its_line_and_empty_cells_change_nothing() -> None:
    found = looked_at("id,I 0,I 1\nada,nine,\nbo,-1,\n")
    assert found.changes == []
    assert [r.split(":")[0] for r in found.refused] == ["line 2, I 0", "line 3, I 0"]


@pytest.mark.parametrize("delimiter", [",", ";", "\t", "|"])
def test_any_delimiter_is_told_by_its_columns(delimiter: str) -> None:
    found = looked_at("\n".join(delimiter.join(row) for row in (["id", "I 0"], ["ada", "8.5"], ["bo", "6"])))
    assert [shown(c) for c in found.changes] == ["9 → 8.5", "7 → 6"]


def test_decimal_commas_between_semicolons_are_numbers() -> None:
    found = looked_at("id;I 0;I 1\nada;8,5;17,25\nbo;6,5;1,75\n")
    assert [c.cell for c in found.changes] == [Fraction("8.5"), Fraction("6.5"), Fraction("1.75"), Fraction("17.25")]


def test_people_are_found_by_id_address_or_whole_name_and_asked_about_else() -> None:
    found = looked_at('Name,I 0\n"Ada, Mai",1\nMai Bo,2\n')
    assert [(r.student, r.why) for r in found.rows] == [("ada", "name"), ("bo", "name")]
    found = looked_at("Name,I 0\nMai Adda,1\nNobody Known,2\n")
    assert [(r.student, r.near) for r in found.rows] == [(None, "ada"), (None, "")]
    assert found.changes == []
    # An id that belongs to nobody makes a name unsure, however well it fits.
    found = looked_at("id,Name,I 0\nS99,Mai Ada,1\n")
    assert [(r.student, r.near) for r in found.rows] == [(None, "ada")]


def test_a_column_that_is_only_alike_is_proposed_and_left_out() -> None:
    found = looked_at("id,I0 points,I 1 (20),I 7\nada,1,2,3\n")
    assert [(c.target, c.near) for c in found.columns] == [("id", ""), ("", "i0"), ("i1", ""), ("", "")]
    wide = course(plan(category("10", "10", prefix="quiz")), {"ada": [None, None]})
    table = read_file(b"id,Quizz 1\nada,1\n").table
    assert [(c.target, c.near) for c in file_changes(table, wide, Matching()).columns][1] == ("", "quiz1")


def test_what_was_decided_is_remembered_for_the_shape() -> None:
    text = "who,Week one\nthe tall one,5\nsomebody,3\n"
    table = read_file(text.encode()).table
    chosen = decided({0: "name", 1: "i0", 9: "no such item"}, {"the tall one": "bo", "somebody": NOBODY}, COURSE)
    again = Matching.from_text(chosen.as_text())
    assert again == chosen
    found = file_changes(table, COURSE, again)
    assert [shown(c) for c in found.changes] == ["7 → 5"]
    assert not found.unknown
    assert shape_of(table) == shape_of(read_file(b"Who;week ONE\nx;1\n").table)
    assert shape_of(table) != shape_of(read_file(b"Who;week two\nx;1\n").table)


def test_xlsx_keeps_digits_reads_percents_and_takes_the_value_of_a_formula() -> None:
    found = looked_at(xlsx(("id", "I 0", "I 1"), ("ada", 0.1 + 0.7, 0.85), percent="C2"))
    assert [c.cell for c in found.changes] == [Fraction("0.7999999999999999"), Fraction(17)]
    # openpyxl keeps no value with a formula, so this one is refused, never taken for a blank or for 0.
    found = looked_at(xlsx(("id", "I 0"), ("ada", "=4+4")))
    assert found.refused == ["line 2, I 0: is a formula without a value (=4+4)"]
    found = looked_at(xlsx(("id", "I 0"), ("ada", 5), empty_first=True))
    assert [shown(c) for c in found.changes] == ["9 → 5"]


def test_ods_keeps_digits_reads_percents_and_takes_the_value_of_a_formula() -> None:
    read = read_file(packed(content_xml=ODS))
    assert (read.sheets, read.formulas) == (["T"], 1)
    found = file_changes(read.table, COURSE, Matching())
    assert [c.cell for c in found.changes] == [Fraction("8.1"), Fraction(3), Fraction(3), Fraction("17.1")]


JUNK = random.Random(5)
ODD = {
    "nothing": b"",
    "only headings": b"id,I 0\n",
    "one column": b"id\nada\nbo\n",
    "an empty sheet": xlsx(),
    "a zip of something": packed(notes_txt="hello"),
    "a damaged zip": b"PK\x03\x04" + bytes(200),
    "an old binary spreadsheet": b"\xd0\xcf\x11\xe0" + bytes(600),
    "10 MB of junk": JUNK.randbytes(10 * 1024 * 1024),
    "junk": JUNK.randbytes(50_000),
    "junk text": b"".join(JUNK.choice([b"a", b" ", b"\n", b'"']) for _ in range(5000)),
    "a broken quote": b'id,I 0\nada,"8\n',
    "a bomb": packed(content_xml=" " * 101 * 1024 * 1024),
    "broken xml": packed(content_xml="<office"),
    "an entity": packed(content_xml='<!DOCTYPE a [<!ENTITY b "c">]><a>&b;</a>'),
}


@pytest.mark.parametrize("name", ODD)
def test_odd_files_are_refused_in_words(name: str) -> None:
    with pytest.raises(Refused) as refused:
        read_file(ODD[name])
    assert refused.value.field == "file"
    assert len(refused.value.reason) > 10


def test_a_file_that_fits_nothing_changes_nothing_and_says_so() -> None:
    found = looked_at("Alpha,Beta\nada,1\n")
    assert (found.changes, found.has_people, found.matched_items) == ([], False, [])


def detailed(data: str, of: Course = COURSE) -> ScoreFile:
    return file_changes(read_file(data.encode()).table, of, Matching())


def test_a_column_of_late_days_goes_with_the_scores_beside_it() -> None:
    found = detailed("id,I 0,I 0 late days,I 1,Late\nada,8,2,15,\nbo,9,0,20,1\n")
    assert [(c.heading, c.target) for c in found.columns] == [
        ("id", "id"), ("I 0", "i0"), ("I 0 late days", "late:i0"), ("I 1", "i1"), ("Late", "late:i1"),
    ]  # fmt: skip
    assert {(c.student_id, c.item_id): cell_text(c.cell) for c in found.changes} == {
        ("ada", "i0"): "8 late 2", ("ada", "i1"): "15", ("bo", "i0"): "9", ("bo", "i1"): "20 late 1",
    }  # fmt: skip


def test_late_days_alone_go_to_the_scores_that_are_there() -> None:
    found = detailed("id,days late I 0\nada,3\nbo,\n")
    assert [(c.student_id, cell_text(c.cell)) for c in found.changes] == [("ada", "9 late 3")]
    without = detailed("id,I 1 late\nada,3\n")
    assert without.refused == ["line 2, I 1: has late days without a score"]


@pytest.mark.parametrize("days", ["two", "-1", "1.5", "400", "99999"])
def test_late_days_that_are_none(days: str) -> None:
    found = detailed(f"id,I 0,late\nada,8,{days}\n")
    assert (found.changes, len(found.refused)) == ([], 1)
    assert "late days must be a whole number" in found.refused[0]


def test_a_score_without_late_days_keeps_those_it_has() -> None:
    late = COURSE.with_cells({("ada", "i0"): DetailedScore(Fraction(9), None, 2)})
    assert detailed("id,I 0\nada,9\n", late).same == 1
    assert [cell_text(c.cell) for c in detailed("id,I 0\nada,8\n", late).changes] == ["8 late 2"]
    assert [cell_text(c.cell) for c in detailed("id,I 0,late\nada,8,0\n", late).changes] == ["8"]
    assert [cell_text(c.cell) for c in detailed("id,I 0\nada,8 late 1\n", late).changes] == ["8 late 1"]


def test_symbols_come_from_a_file_and_what_is_only_recorded() -> None:
    of = COURSE.plan
    signed = replace(of.categories[0], symbols=(Symbol("check", Fraction(80)),))
    plan_ = replace(of, categories=(signed,), recorded=(RecordedItem("abs", "Absences"),))
    found = detailed("id,I 0,late,Absences\nada,check,1,4\n", replace(COURSE, plan=plan_))
    assert {c.item_id: cell_text(c.cell) for c in found.changes} == {"i0": "check late 1", "abs": "4"}


def test_a_match_of_late_days_is_kept_for_the_next_file() -> None:
    kept = decided({0: "id", 1: "late:i0", 2: "late:gone", 3: "x"}, {}, COURSE)
    assert kept.columns == {0: "id", 1: "late:i0"}
    again = Matching.from_text(kept.as_text())
    found = file_changes(read_file(b"id,n,I 1\nada,2,5\n").table, COURSE, again)
    assert found.columns[1].target == "late:i0"
