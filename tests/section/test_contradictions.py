"""Archives that were altered, every digest mended along the way: each alteration contradicts something else."""

import json
import random
from collections.abc import Callable
from dataclasses import replace
from typing import Any

import pytest

from tests.section.conftest import House
from tests.section.delivery.test_worker import ready
from tests.section.test_edits import Writer
from tests.seeds import seed
from vinemark.core.base.chain import entry_digest, next_seal
from vinemark.core.base.refused import Refused
from vinemark.core.submit.grade_row import digest, read_grade_row, text_digest
from vinemark.exchange.archive import Archive, read_archive, write_archive
from vinemark.exchange.archive_values import refuse_broken
from vinemark.exchange.contradictions import contradictions
from vinemark.exchange.csv_text import csv_text
from vinemark.exchange.office_receipts import RECEIPT_HEADINGS, held_against
from vinemark.section.acts.after import make_archive
from vinemark.section.acts.submit import sign, withdraw_signature

SHORTS = ("HYDR 230-01", "BOTN 105-02", "FIBR 120-01", "HYDR 410-01")
Values = dict[str, Any]


def archive_of(house: House, short: str) -> Archive:
    section = house.section(short)
    return read_archive(make_archive(section, house.act(section))).archive


def found(archive: Archive) -> list[str]:
    """What an archive is found to contradict once it was packed with fitting digests and read."""
    checked = read_archive(write_archive(archive))
    refuse_broken(checked.archive, checked.course)
    return contradictions(checked.archive, checked.course)


@pytest.mark.parametrize("short", SHORTS)
def test_an_archive_as_it_is_made_contradicts_nothing(house: House, short: str) -> None:
    assert found(archive_of(house, short)) == []
    writer = Writer(house, short, random.Random(seed(19)))
    for _ in range(40):
        writer.write()
    assert found(archive_of(house, short)) == []


def final_of(archive: Archive) -> Values:
    return next(one for one in archive.submissions if one["run"] == "final")


def mended(submission: Values) -> None:
    """Its digests and its receipt fit its rows and its copy again."""
    submission["digest"] = digest(read_grade_row(row) for row in submission["rows"])
    submission["course_digest"] = text_digest(submission["course"] + submission["findings"])
    if submission["receipt"]:
        submission["receipt"]["digest"] = submission["digest"]


def in_course(archive: Archive, change: Callable[[Values], None]) -> Archive:
    course = json.loads(archive.course)
    change(course)
    return replace(archive, course=json.dumps(course, ensure_ascii=False))


def a_row_sent_otherwise(archive: Archive) -> Archive:
    one = final_of(archive)
    one["rows"][0]["code"] = one["receipt"]["rows"][0]["code"] = "A"
    mended(one)
    return archive


def a_row_and_its_signed_copy(archive: Archive) -> Archive:
    one = final_of(archive)
    course = json.loads(one["course"])
    course["settled"][one["rows"][0]["id"]]["grade"] = "A"
    one["course"] = json.dumps(course, ensure_ascii=False)
    return a_row_sent_otherwise(archive)


def a_refused_row_counted_as_received(archive: Archive) -> Archive:
    final_of(archive)["receipt"]["rows"][0]["reason"] = "not on the roster"
    return archive


def a_receipt_for_somebody_else(archive: Archive) -> Archive:
    final_of(archive)["receipt"]["rows"][0]["id"] = "L99999"
    return archive


def a_receipt_number(archive: Archive) -> Archive:
    final_of(archive)["receipt"]["number"] = "R-2026-00099"
    return archive


def a_time_of_receipt(archive: Archive) -> Archive:
    final_of(archive)["receipt"]["received_at"] = "2026-12-17T09:00:00"
    return archive


def no_receipt(archive: Archive) -> Archive:
    final_of(archive)["receipt"] = None
    return archive


def no_receipt_and_waiting(archive: Archive) -> Archive:
    final_of(archive).update(receipt=None, state="waiting", answered_at=None)
    return archive


def no_submission(archive: Archive) -> Archive:
    return replace(archive, submissions=[one for one in archive.submissions if one["run"] != "final"])


def another_signer(archive: Archive) -> Archive:
    final_of(archive)["signed_by"] = "Somebody Else"
    return archive


def signed_earlier(archive: Archive) -> Archive:
    final_of(archive)["signed_at"] = "2026-12-17T09:00:00"
    return archive


def without(archive: Archive, kind: str) -> Archive:
    gone = next(one for one in archive.history if one["kind"] == kind)
    return replace(archive, history=[one for one in archive.history if one is not gone])


def a_score_of_the_course(archive: Archive) -> Archive:
    def change(course: Values) -> None:
        row = next(iter(course["scores"].values()))
        row[next(iter(row))] = "0.5"

    return in_course(archive, change)


def a_score_everywhere_but_in_history(archive: Archive) -> Archive:
    student, item, _ = next(one for one in archive.history if one["kind"] == "import")["after"][0]
    for cell in archive.beside["scores"]:
        if (cell["student_id"], cell["item_id"]) == (student, item):
            cell["cell"] = "0.5"

    def change(course: Values) -> None:
        course["scores"][student][item] = "0.5"

    return in_course(archive, change)


def a_score_in_history(archive: Archive) -> Archive:
    next(one for one in archive.history if one["kind"] == "import")["after"][0][2] = "0.5"
    return archive


def a_settled_grade(archive: Archive) -> Archive:
    def change(course: Values) -> None:
        next(iter(course["settled"].values()))["grade"] = "F"

    return in_course(archive, change)


def the_syllabus(archive: Archive) -> Archive:
    return replace(archive, syllabus="Everything counts the same.")


def a_weight_of_the_plan(archive: Archive) -> Archive:
    def change(course: Values) -> None:
        one, other = course["plan"]["categories"][:2]
        one["weight"], other["weight"] = other["weight"], one["weight"]
        one["name"] = f"{one['name']} and more"

    return in_course(archive, change)


def a_granted_change_of_another_grade(archive: Archive) -> Archive:
    archive.changes[0]["new"]["code"] = archive.changes[0]["settled"]["grade"] = "B"
    return archive


def a_granted_change_refused(archive: Archive) -> Archive:
    archive.changes[0]["state"] = "refused"
    return archive


def no_change(archive: Archive) -> Archive:
    return replace(archive, changes=[])


def the_registrars_word(archive: Archive) -> Archive:
    archive.changes[0]["word"] = "granted as asked"
    return archive


def rows_that_do_not_show_a_change(archive: Archive) -> Archive:
    for seen in archive.beside["read_back"]:
        seen["read_at"] = "2026-12-20T09:00:00"
        rows = json.loads(seen["rows"])
        for row in rows:
            if row["id"] == archive.changes[0]["student_id"]:
                row["code"] = "D"
        seen["rows"] = json.dumps(rows)
    return archive


def the_words_of_an_entry(archive: Archive) -> Archive:
    archive.history[3]["what"] = "something else"
    return archive


def who_did_it(archive: Archive) -> Archive:
    archive.history[3]["person"] = "Somebody Else"
    return archive


def when_it_was_done(archive: Archive) -> Archive:
    archive.history[3]["at"] = "2026-12-01T08:00:00"
    return archive


def an_entry_that_says_nothing_of_cells(archive: Archive) -> Archive:
    gone = next(one for one in archive.history if one["kind"] in {"link", "roster", "plan", "section"})
    return replace(archive, history=[one for one in archive.history if one is not gone])


def a_history_sealed_anew(archive: Archive) -> Archive:
    """All seals worked out again after an alteration: only what went to the registrar tells."""
    archive.history[3]["what"] = "something else"
    last, seals = "", dict[int, str]()
    for entry in archive.history:
        texts = [None if entry[k] is None else json.dumps(entry[k], ensure_ascii=False) for k in ("before", "after")]
        said = [entry["at"], entry["kind"], entry["what"], *texts, entry["person"]]
        entry["seal"] = last = next_seal(last, entry_digest(entry["salt"], said, seals.get(entry["undoes"] or 0, "")))
        seals[entry["id"]] = last
    return archive


ALTERED: tuple[Callable[[Archive], Archive], ...] = (
    a_row_sent_otherwise, a_row_and_its_signed_copy, a_refused_row_counted_as_received, a_receipt_for_somebody_else,
    a_receipt_number, a_time_of_receipt, no_receipt, no_receipt_and_waiting, no_submission, another_signer,
    signed_earlier, a_score_of_the_course, a_score_everywhere_but_in_history, a_score_in_history, a_settled_grade,
    the_syllabus, a_weight_of_the_plan, a_granted_change_of_another_grade, a_granted_change_refused, no_change,
    the_registrars_word, rows_that_do_not_show_a_change, the_words_of_an_entry, who_did_it, when_it_was_done,
    an_entry_that_says_nothing_of_cells, a_history_sealed_anew,
)  # fmt: skip


@pytest.mark.parametrize("alter", ALTERED, ids=lambda alter: alter.__name__)
def test_what_was_altered_contradicts_something(house: House, alter: Callable[[Archive], Archive]) -> None:
    assert found(alter(archive_of(house, "HYDR 410-01")))


@pytest.mark.parametrize("kind", ["signed", "sending", "grade-change"])
def test_an_entry_that_is_gone_is_missed(house: House, kind: str) -> None:
    archive = archive_of(house, "HYDR 410-01")
    gone = [one for one in archive.history if one["kind"] == kind and one["after"] is not None][-1]
    assert found(replace(archive, history=[one for one in archive.history if one is not gone]))


def test_a_score_typed_twice_misses_the_entry_between(house: House) -> None:
    writer = Writer(house, "HYDR 410-01", random.Random(seed(20)))
    for _ in range(3):
        writer.column(house.section("HYDR 410-01"))
    archive = archive_of(house, "HYDR 410-01")
    entries = [one for one in archive.history if one["kind"] in {"scores", "import"}]
    cells = [{tuple(cell[:2]) for cell in one["after"]} for one in entries]
    at = next(n for n in range(1, len(entries) - 1) if any(cells[n] & later for later in cells[n + 1 :]))
    assert found(replace(archive, history=[one for one in archive.history if one is not entries[at]]))


def test_signing_withdrawing_and_signing_again_contradicts_nothing(house: House) -> None:
    section = ready(house)
    short = section.record.name.short
    sign(section, house.act(section), reason="looked at")
    assert found(archive_of(house, short)) == []
    section = section.fresh()
    withdraw_signature(section, house.act(section), section.of_run.submissions[-1].id)
    assert found(archive_of(house, short)) == []
    section = section.fresh()
    sign(section, house.act(section), reason="looked at")
    assert len(archive_of(house, short).submissions) >= 2
    assert found(archive_of(house, short)) == []


def listed(archive: Archive) -> list[list[str]]:
    """The registrar's list of what it received, as its page gives it."""
    return [
        [r["number"], one["run"], r["received_at"], one["signer_email"], str(r["accepted"]), str(r["refused"]),
         one["digest"], one["history_seal"]]
        for one in archive.submissions
        if (r := one["receipt"])
    ]  # fmt: skip


def against(archive: Archive, lines: list[list[str]]) -> list[str]:
    return held_against(archive, csv_text(RECEIPT_HEADINGS, lines).encode())


def test_an_archive_agrees_with_what_the_registrar_lists(house: House) -> None:
    archive = archive_of(house, "HYDR 410-01")
    lines = listed(archive)
    assert all(line[-1] for line in lines)
    assert against(archive, lines) == []
    assert against(archive, [[*line[:-1], ""] for line in lines]) == []


@pytest.mark.parametrize(
    ("column", "value"), [(1, "summer"), (2, "2026-12-01T08:00:00"), (4, "1"), (6, "00"), (7, "00")]
)
def test_what_the_registrar_lists_otherwise_is_told(house: House, column: int, value: str) -> None:
    archive = archive_of(house, "HYDR 410-01")
    lines = listed(archive)
    lines[-1][column] = value
    assert len(against(archive, lines)) == 1
    assert lines[-1][0] in against(archive, lines)[0]


def test_a_history_sealed_anew_down_to_the_submission_differs_from_the_registrars(house: House) -> None:
    archive = archive_of(house, "HYDR 410-01")
    lines = listed(archive)
    a_history_sealed_anew(archive)
    sealed = [one["seal"] for one in archive.history if one["kind"] == "signed" and one["after"]]
    for one, seal in zip(archive.submissions, sealed, strict=True):
        one["history_seal"] = seal
        if one["receipt"]:
            one["receipt"]["history_seal"] = seal
    assert any("another than the registrar was told" in words for words in against(archive, lines))


def test_receipts_on_one_side_alone_and_files_that_are_no_list(house: House) -> None:
    archive = archive_of(house, "HYDR 410-01")
    lines = listed(archive)
    assert against(archive, lines[:-1]) == [
        f"receipt {lines[-1][0]}: the archive has it, and the registrar never gave it"
    ]
    more = [*lines, ["R-2026-09999", *lines[0][1:]]]
    assert against(archive, more) == ["receipt R-2026-09999: the registrar gave it, and the archive does not have it"]
    for bad in (b"", b"Receipt,Run\n", b"\xff\xfe", csv_text(RECEIPT_HEADINGS, [["one"]]).encode()):
        with pytest.raises(Refused, match="registrar's list"):
            held_against(archive, bad)
