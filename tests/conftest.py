"""What several tests stand on."""

import json
import os
from pathlib import Path

import pytest
from hypothesis import Phase, settings

from tests.passwords import quick_passwords
from tests.quick_routes import quick_routes
from vinemark.core.course.course import Course
from vinemark.demo.build import build
from vinemark.store import people, sections
from vinemark.store.database import connect

# A busy machine is slow now and then, which is no fault of what is tested.
settings.register_profile("steady", deadline=None)
# For bin/mutate it is enough that a mistake is found; making the example small takes minutes.
settings.register_profile("found", deadline=None, phases=[Phase.explicit, Phase.generate])
quick_routes()
settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "steady"))

CASES = Path(__file__).parent / "cases"
SAMPLES = sorted(path.name.removesuffix(".course.json") for path in CASES.glob("*.course.json"))


@pytest.fixture(scope="session")
def demo_folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The demo's two databases, made once."""
    folder = tmp_path_factory.mktemp("demo")
    build(folder / "vinemark.sqlite", folder / "office.sqlite")
    quick_passwords(folder / "vinemark.sqlite")
    return folder


@pytest.fixture(scope="session")
def compiled(tmp_path_factory: pytest.TempPathFactory) -> str:
    """A folder where templates are compiled once for all applications of a run."""
    return str(tmp_path_factory.mktemp("compiled"))


@pytest.fixture(scope="session")
def demo_courses(demo_folder: Path) -> list[Course]:
    """Every section of the demo, of every person."""
    connection = connect(demo_folder / "vinemark.sqlite")
    found = []
    for email in ("maren.ostrander@larkmoor.example", "idris.vanterpool@larkmoor.example"):
        person = people.by_email(connection, email)
        assert person is not None
        found += [sections.load_course(connection, s) for s in sections.sections_of(connection, person["id"])]
    connection.close()
    return found


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
