"""A database with one section of one person."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

import pytest

from tests.builders import TERM, category, plan
from vinemark.core.course.course import Course, SectionName, Student
from vinemark.store import people, sections
from vinemark.store.database import Connection, connect, migrate
from vinemark.store.history import Act

AT = datetime(2026, 12, 19, 10, 0)


@dataclass
class Kept:
    """The connection, the owner and the section."""

    connection: Connection
    owner: int
    section: int

    def act(self, key: str | None = None) -> Act:
        """A write of the owner in the section."""
        return Act(self.owner, AT, self.section, key)

    def course(self) -> Course:
        """The section as the core takes it."""
        found = sections.section_of(self.connection, self.owner, self.section)
        assert found is not None
        return sections.load_course(self.connection, found)


@pytest.fixture
def kept(tmp_path: Path) -> Iterator[Kept]:
    connection = connect(tmp_path / "test.sqlite")
    migrate(connection)
    owner = people.add_person(connection, Act(None, AT), "maren@larkmoor.example", "Maren", "hash")
    students = [Student("ada", "Ada", "Mai"), Student("bo", "Bo", "Mai")]
    name = SectionName("HYDR 230", "Watershed", "01")
    section = sections.create_section(connection, Act(owner, AT), TERM, name, students, plan(category("10", "20")))
    yield Kept(connection, owner, section)
    connection.close()
