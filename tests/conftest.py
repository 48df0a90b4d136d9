"""What several tests stand on."""

import json
from pathlib import Path

import pytest

CASES = Path(__file__).parent / "cases"


@pytest.fixture
def case() -> "CaseReader":
    """Reads a file of tests/cases."""
    return CaseReader()


class CaseReader:
    """Texts and JSON of tests/cases."""

    def text(self, name: str) -> str:
        """A file's text."""
        return (CASES / name).read_text(encoding="utf-8")

    def json(self, name: str) -> dict[str, object]:
        """A file's JSON, for comparing with what is printed."""
        found: dict[str, object] = json.loads(self.text(name))
        return found
