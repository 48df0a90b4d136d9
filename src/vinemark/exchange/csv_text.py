"""Tables as CSV (RFC 4180) that no spreadsheet takes for more than text and numbers."""

import csv
import io
import re
from collections.abc import Iterable, Sequence
from typing import Final

FORMULA_SIGNS: Final = ("=", "+", "-", "@", "\t", "\r", "\n", "\uff1d", "\uff0b", "\uff0d", "\uff20")
"""What a spreadsheet may take for the start of a formula: the ASCII signs, their wide forms, and what it skips."""


def csv_text(heading: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    """A heading and rows; lines end in CRLF, every text is made harmless, None is an empty cell."""
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")
    for row in (heading, *rows):
        writer.writerow([harmless(value) if isinstance(value, str) else value for value in row])
    return out.getvalue()


def harmless(text: str) -> str:
    """Text that no spreadsheet takes for a formula, on one line."""
    plain = re.sub(r"[\t\r\n]+", " ", text)
    return f"'{plain}" if text.startswith(FORMULA_SIGNS) else plain
