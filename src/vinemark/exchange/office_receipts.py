"""An archive held against the registrar's own list of the receipts it gave for the section."""

import csv
import io
from collections.abc import Iterator, Mapping
from typing import Any

from vinemark.core.base.refused import Refused
from vinemark.exchange.archive import Archive

RECEIPT_HEADINGS = ("Receipt", "Run", "Received", "Signed By", "Taken", "Refused", "Digest", "History Seal")


def held_against(archive: Archive, data: bytes) -> list[str]:
    """What an archive and the registrar's list of receipts say differently, in words.

    Raises Refused where the file is no such list.
    """
    theirs = {line["Receipt"]: line for line in _lines(data)}
    ours = {one["receipt"]["number"]: one for one in archive.submissions if one["receipt"]}
    return [words for number in sorted(theirs | ours) for words in _one(number, ours.get(number), theirs.get(number))]


def _one(number: str, ours: Mapping[str, Any] | None, theirs: Mapping[str, str] | None) -> Iterator[str]:
    if ours is None:
        yield f"receipt {number}: the registrar gave it, and the archive does not have it"
    elif theirs is None:
        yield f"receipt {number}: the archive has it, and the registrar never gave it"
    else:
        receipt, seal = ours["receipt"], ours.get("history_seal", "")
        if theirs["Digest"] != ours["digest"]:
            yield f"receipt {number}: the registrar received other grades than the archive has"
        if theirs["History Seal"] not in {"", seal}:
            yield f"receipt {number}: the history up to the signature is another than the registrar was told"
        counts = (theirs["Taken"], theirs["Refused"])
        if counts != (str(receipt["accepted"]), str(receipt["refused"])):
            yield f"receipt {number}: the registrar accepted {counts[0]} and refused {counts[1]}"
        if (theirs["Run"], theirs["Received"]) != (ours["run"], receipt["received_at"]):
            yield f"receipt {number}: the registrar received it for the {theirs['Run']} run, at {theirs['Received']}"


def _lines(data: bytes) -> list[dict[str, str]]:
    try:
        lines = list(csv.reader(io.StringIO(data.decode("utf-8-sig"), newline=""), strict=True))
    except (UnicodeDecodeError, csv.Error):
        raise Refused("the registrar's list", "is not CSV in UTF-8") from None
    if not lines or tuple(lines[0]) != RECEIPT_HEADINGS:
        raise Refused("the registrar's list", f"must begin with {', '.join(RECEIPT_HEADINGS)}")
    for number, line in enumerate(lines[1:], 2):
        if len(line) != len(RECEIPT_HEADINGS):
            raise Refused("the registrar's list", f"has {len(line)} columns in line {number}")
    return [dict(zip(RECEIPT_HEADINGS, line, strict=True)) for line in lines[1:]]
