"""The section archive: one zip with everything about a section, which can be checked on its own.

`manifest.json` names every file with its SHA-256 (FIPS 180-4). The signed copies, rows and receipts carry digests
of their own, which are worked out again.
"""

import io
import json
import zipfile
import zlib
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Course
from vinemark.core.submit.grade_row import digest, read_grade_row, text_digest
from vinemark.exchange import course_file

ARCHIVE_FORMAT = "vine-mark-archive/1"
MANIFEST = "manifest.json"
MAX_UNPACKED = 100 * 1024 * 1024
MOST_FILES = 5_000
UNPACKING_ERRORS = (zipfile.BadZipFile, zlib.error, RuntimeError, OSError, NotImplementedError, EOFError, ValueError)
SAME_TIME = (1980, 1, 1, 0, 0, 0)
"""The zip's own times are left out, so that the same section gives the same bytes."""


@dataclass(frozen=True)
class Archive:
    """Everything about a section.

    `course` and `syllabus` are texts. Each of `sendings` has its signed `course` and `findings` as texts; each of
    `changes` may have `evidence` as bytes. `history` is oldest first. `beside` is what the course file has no place
    for: the registrar's hours, what was read back, remarks, openings, findings let stand.
    """

    course: str
    made_at: str
    syllabus: str | None = None
    history: list[dict[str, Any]] = field(default_factory=list)
    submissions: list[dict[str, Any]] = field(default_factory=list)
    changes: list[dict[str, Any]] = field(default_factory=list)
    beside: dict[str, Any] = field(default_factory=dict)


def write_archive(archive: Archive, pages: Mapping[str, bytes] | None = None) -> bytes:
    """The zip, with `pages` to read beside the data."""
    course = course_file.course_of_text(archive.course)
    files = {**_files(archive), **(pages or {})}
    manifest = {
        "format": ARCHIVE_FORMAT,
        "made_at": archive.made_at,
        "section": {**vars(course.section), "term": course.term.name},
        "files": {name: text_digest(data) for name, data in files.items()},
    }
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as out:
        for name, data in {MANIFEST: _json(manifest), **files}.items():
            out.writestr(zipfile.ZipInfo(name, SAME_TIME), data, zipfile.ZIP_DEFLATED)
    return packed.getvalue()


def _json(value: Any) -> bytes:
    return (json.dumps(value, ensure_ascii=False, indent=1) + "\n").encode()


def _files(archive: Archive) -> dict[str, bytes]:
    files = {"course.json": archive.course.encode()}
    if archive.syllabus is not None:
        files["syllabus.txt"] = archive.syllabus.encode()
    files["history.json"] = _json(archive.history)
    submissions = []
    for number, submission in enumerate(archive.submissions, 1):
        files[f"signed/{number}.course.json"] = submission["course"].encode()
        files[f"signed/{number}.findings.json"] = submission["findings"].encode()
        submissions.append({key: value for key, value in submission.items() if key not in {"course", "findings"}})
        if submission["receipt"] is not None:
            files[f"receipts/{number}.json"] = _json(submission["receipt"])
    changes = []
    for number, change in enumerate(archive.changes, 1):
        if change["evidence"] is not None:
            files[f"evidence/{number}"] = change["evidence"]
        changes.append({key: value for key, value in change.items() if key != "evidence"})
    return {
        **files,
        "sendings.json": _json(submissions),
        "changes-of-grade.json": _json(changes),
        "beside.json": _json(archive.beside),
    }


def is_archive(data: bytes) -> bool:
    """Whether a file is meant as an archive."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as found:
            if MANIFEST not in found.namelist():
                return False
            with found.open(MANIFEST) as manifest:
                return ARCHIVE_FORMAT.split("/", maxsplit=1)[0].encode() in manifest.read(200)
    except UNPACKING_ERRORS:
        return False


@dataclass(frozen=True)
class Checked:
    """An archive that was read and whose every digest fits, and what was checked, in words."""

    archive: Archive
    course: Course
    lines: list[str]


def read_archive(data: bytes) -> Checked:
    """Read an archive and check all of it. Raises Refused with the place of the first fault."""
    files = _unpacked(data)
    manifest = _parsed(files, MANIFEST)
    if not isinstance(manifest, dict) or manifest.get("format") != ARCHIVE_FORMAT:
        raise Refused("manifest.json.format", f"must be {ARCHIVE_FORMAT}")
    _check_files(files, manifest)
    archive = _archive(files, manifest)
    course = course_file.course_of_text(archive.course)
    lines = [f"{course.section.short}, {course.term.name}: archive of {archive.made_at}"]
    lines.append(f"{len(files) - 1} files agree with the checksums of the manifest")
    lines += [_check_sending(number, submission) for number, submission in enumerate(archive.submissions, 1)]
    lines.append(f"{len(archive.changes)} changes of grade, {len(archive.history)} entries of history")
    return Checked(archive, course, lines)


def _unpacked(data: bytes) -> dict[str, bytes]:
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as found:
            infos = found.infolist()
            if len(infos) > MOST_FILES or sum(info.file_size for info in infos) > MAX_UNPACKED:
                raise Refused("the archive", "is too large")
            names = found.namelist()
            if len(set(names)) != len(names):
                raise Refused("the archive", "has one name twice")
            return {name: found.read(name) for name in names}
    except Refused:
        raise
    except UNPACKING_ERRORS:
        raise Refused("the archive", "is damaged: it cannot be unpacked") from None


def _parsed(files: Mapping[str, bytes], name: str) -> Any:
    if name not in files:
        raise Refused(name, "is not in the archive")
    try:
        return json.loads(files[name].decode())
    except (UnicodeDecodeError, json.JSONDecodeError, RecursionError):
        raise Refused(name, "is not JSON in UTF-8") from None


def _check_files(files: Mapping[str, bytes], manifest: Mapping[str, Any]) -> None:
    listed = manifest.get("files")
    if not isinstance(listed, dict):
        raise Refused("manifest.json.files", "is missing")
    for name in sorted({*listed, *files} - {MANIFEST}):
        if name not in files:
            raise Refused(name, "is listed and not in the archive")
        if name not in listed:
            raise Refused(name, "is in the archive and not listed")
        if text_digest(files[name]) != listed[name]:
            raise Refused(name, "was changed: its checksum is not the manifest's")


def _archive(files: Mapping[str, bytes], manifest: Mapping[str, Any]) -> Archive:
    try:
        submissions = [
            {**submission, "course": files[f"signed/{n}.course.json"].decode(),
             "findings": files[f"signed/{n}.findings.json"].decode()}
            for n, submission in enumerate(_parsed(files, "sendings.json"), 1)
        ]  # fmt: skip
        changes = [
            {**change, "evidence": files.get(f"evidence/{n}")}
            for n, change in enumerate(_parsed(files, "changes-of-grade.json"), 1)
        ]
        return Archive(
            course=files["course.json"].decode(),
            made_at=str(manifest["made_at"]),
            syllabus=files["syllabus.txt"].decode() if "syllabus.txt" in files else None,
            history=_parsed(files, "history.json"),
            submissions=submissions,
            changes=changes,
            beside=_parsed(files, "beside.json"),
        )
    except (KeyError, TypeError) as error:
        raise Refused("the archive", f"lacks {error}") from None
    except UnicodeDecodeError:
        raise Refused("the archive", "has a text that is not UTF-8") from None


def _check_sending(number: int, submission: Mapping[str, Any]) -> str:
    place = f"sendings.json[{number - 1}]"
    try:
        if text_digest(submission["course"] + submission["findings"]) != submission["course_digest"]:
            raise Refused(place, "the signed copy does not agree with the checksum it was signed with")
        if digest(read_grade_row(row) for row in submission["rows"]) != submission["digest"]:
            raise Refused(place, "the rows do not agree with their checksum")
        receipt = submission["receipt"]
        if receipt is None:
            return f"submission {number}: signed {submission['signed_at']}, no receipt"
        if receipt["digest"] != submission["digest"] or len(receipt["rows"]) != len(submission["rows"]):
            raise Refused(place, "the receipt is for other rows")
        return f"submission {number}: receipt {receipt['number']}, {receipt['accepted']} accepted, checksums agree"
    except (KeyError, TypeError) as error:
        raise Refused(place, f"lacks {error}") from None
