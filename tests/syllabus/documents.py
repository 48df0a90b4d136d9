"""Syllabuses kept as files, each with the facts that should come out of it, its gold. All are made up."""

import json
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from tests.syllabus.gold import Score, scored
from vinemark.core.syllabus import Reading, read_syllabus
from vinemark.exchange.syllabus_file import read_text

CASES = Path(__file__).parent.parent / "cases"


@dataclass(frozen=True)
class Document:
    """A file with its gold."""

    path: Path
    gold: Mapping[str, Any]

    @property
    def name(self) -> str:
        """What it shows, else its file."""
        return str(self.gold.get("name", self.path.name))

    @property
    def text(self) -> str:
        """What the file says, as it is read."""
        return read_text(self.path.name, self.path.read_bytes())

    def score(self, reading: Reading | None = None) -> Score:
        """A reading, by default that of its text, held against the gold."""
        return scored(reading or read_syllabus(self.text), self.gold)


def documents(folder: str) -> list[Document]:
    """All of a folder, in the order of their names."""
    found = []
    for gold in sorted((CASES / folder).glob("*.gold.json")):
        file = next(p for p in gold.parent.glob(gold.name.replace("gold.json", "*")) if p.suffix != ".json")
        found.append(Document(file, json.loads(gold.read_text(encoding="utf-8"))))
    return found


DOCUMENTS = documents("syllabus_written")
