"""Syllabuses of a section: versions, notes, and the signed match."""

from dataclasses import replace

from tests.store.conftest import Kept
from vinemark.core.syllabus import read_syllabus
from vinemark.core.syllabus.written import syllabus_json
from vinemark.store import syllabuses

TEXT = "Homework 40%, exams 60%."


def put(kept: Kept, text: str = TEXT) -> None:
    syllabuses.write_syllabus(kept.connection, kept.act(), text, "pasted text", read_syllabus(text))


def test_every_version_stays(kept: Kept) -> None:
    assert syllabuses.syllabus_of(kept.connection, kept.section) is None
    put(kept)
    put(kept, "Homework 50%, exams 50%.")
    assert [(s.version, s.text[:12]) for s in syllabuses.syllabus_versions(kept.connection, kept.section)] == [
        (2, "Homework 50%"), (1, "Homework 40%"),
    ]  # fmt: skip
    latest = syllabuses.syllabus_of(kept.connection, kept.section)
    assert latest is not None
    assert latest.version == 2
    assert syllabus_json(latest.reading) == syllabus_json(read_syllabus("Homework 50%, exams 50%."))
    assert kept.course().syllabus == "Homework 50%, exams 50%."


def test_a_correction_changes_how_the_one_in_force_is_read(kept: Kept) -> None:
    put(kept)
    syllabuses.write_correction(kept.connection, kept.act(), lambda s: replace(s.reading, basis="points"), "mended")
    found = syllabuses.syllabus_of(kept.connection, kept.section)
    assert found is not None
    assert (found.version, found.reading.basis) == (1, "points")


def test_a_note_is_kept_with_what_was_said_and_an_empty_one_takes_it_away(kept: Kept) -> None:
    for note in ("as agreed", "as agreed in class"):
        syllabuses.write_note(kept.connection, kept.act(), "drop:Quizzes", "lowest 1", note)
    assert syllabuses.notes_of(kept.connection, kept.section) == {"drop:Quizzes": ("lowest 1", "as agreed in class")}
    syllabuses.write_note(kept.connection, kept.act(), "drop:Quizzes", "lowest 1", "")
    assert syllabuses.notes_of(kept.connection, kept.section) == {}


def test_the_latest_signed_match_is_the_one_that_counts(kept: Kept) -> None:
    assert syllabuses.match_signature_of(kept.connection, kept.section) is None
    for version, differences in ((1, ["weight"]), (2, [])):
        syllabuses.write_match_signature(kept.connection, kept.act(), version, 1, differences)
    found = syllabuses.match_signature_of(kept.connection, kept.section)
    assert found is not None
    assert (found.plan_version, found.syllabus_version, list(found.open_differences), found.person) == (
        2,
        1,
        [],
        "Maren",
    )
