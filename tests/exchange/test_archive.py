"""The archive of a section: it reads back the same, and every change in it is found."""

import io
import json
import zipfile
from dataclasses import replace
from typing import Any

import pytest

from tests.builders import category, course, plan, roster
from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Settled
from vinemark.core.submit.grade_row import GradeRow, digest, row_values, text_digest
from vinemark.exchange import archive, course_file
from vinemark.exchange.archive import Archive

COURSE = course_file.course_text(course(plan(category("100")), {"ada": ["85"]}, roster("ada"), {"ada": Settled("B")}))
ROWS = [GradeRow("ada", "B")]
SENDING: dict[str, Any] = {
    "key": "k", "run": "final", "signed_at": "2026-12-19T10:20:00", "signed_by": "Maren", "signer_email": "m@x",
    "course_digest": text_digest(COURSE + "findings"), "course": COURSE, "findings": "findings", "withdrawn_at": None,
    "rows": [row_values(row) for row in ROWS], "digest": digest(ROWS), "state": "received", "trouble": None,
    "receipt": {"number": "R-1", "accepted": 1, "refused": 0, "digest": digest(ROWS), "rows": [{"id": "ada"}]},
    "answered_at": None,
}  # fmt: skip
WHOLE = Archive(
    course=COURSE,
    made_at="2026-12-20T09:00:00",
    syllabus="Exams 100%",
    history=[{"id": 1, "what": "section made"}],
    submissions=[SENDING, {**SENDING, "key": "k2", "receipt": None, "state": "waiting"}],
    changes=[{"key": "c", "evidence": b"\x00\xffpaper"}, {"key": "d", "evidence": None}],
    beside={"office": []},
)


def files(data: bytes) -> dict[str, bytes]:
    with zipfile.ZipFile(io.BytesIO(data)) as found:
        return {name: found.read(name) for name in found.namelist()}


def packed(content: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as made:
        for name, data in content.items():
            made.writestr(name, data)
    return out.getvalue()


def test_it_reads_back_the_same_and_the_same_section_gives_the_same_bytes() -> None:
    data = archive.write_archive(WHOLE)
    found = archive.read_archive(data)
    assert found.archive == WHOLE
    assert found.course == course_file.course_of_text(COURSE)
    assert archive.write_archive(WHOLE) == data
    assert archive.is_archive(data)
    assert "submission 1: receipt R-1, 1 accepted, checksums agree" in found.lines
    assert "submission 2: signed 2026-12-19T10:20:00, no receipt" in found.lines


def test_any_byte_changed_in_any_file_is_found() -> None:
    whole = files(archive.write_archive(WHOLE))
    for name in whole:
        if name == archive.MANIFEST:
            continue
        with pytest.raises(Refused, match=f"{name}: was changed"):
            archive.read_archive(packed({**whole, name: whole[name] + b" "}))
        with pytest.raises(Refused, match=f"{name}: is listed and not in the archive"):
            archive.read_archive(packed({key: value for key, value in whole.items() if key != name}))
    with pytest.raises(Refused, match=r"more\.txt: is in the archive and not listed"):
        archive.read_archive(packed({**whole, "more.txt": b""}))


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"course_digest": "0" * 64}, "the signed copy does not agree with the checksum it was signed with"),
        ({"rows": [{"id": "ada", "code": "A"}]}, "the rows do not agree with their checksum"),
        ({"receipt": {**SENDING["receipt"], "digest": "0" * 64}}, "the receipt is for other rows"),
        ({"receipt": {**SENDING["receipt"], "rows": []}}, "the receipt is for other rows"),
        ({"digest": None}, "the rows do not agree with their checksum"),
    ],
)
def test_a_forged_sending_is_found_though_the_manifest_fits(change: dict[str, Any], words: str) -> None:
    forged = archive.write_archive(replace(WHOLE, submissions=[{**SENDING, **change}]))
    with pytest.raises(Refused, match=words):
        archive.read_archive(forged)


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"PK\x03\x04 no zip", "is damaged"),
        (archive.write_archive(WHOLE)[:-200], "is damaged"),
        (packed({"a.txt": b""}), "manifest.json: is not in the archive"),
        (packed({"manifest.json": b"{}"}), "must be vine-mark-archive/1"),
        (packed({"manifest.json": b"\xff"}), "is not JSON"),
        (
            packed({"manifest.json": json.dumps({"format": archive.ARCHIVE_FORMAT}).encode()}),
            "manifest.json.files: is missing",
        ),
    ],
)
def test_what_is_no_archive_is_refused(data: bytes, words: str) -> None:
    with pytest.raises(Refused, match=words):
        archive.read_archive(data)


def test_an_archive_that_would_unpack_to_too_much_is_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(archive, "MAX_UNPACKED", 500)
    with pytest.raises(Refused, match="is too large"):
        archive.read_archive(archive.write_archive(WHOLE))


def test_a_course_file_or_another_zip_is_no_archive() -> None:
    assert not archive.is_archive(COURSE.encode())
    assert not archive.is_archive(packed({"manifest.csv": b"oneroster"}))
