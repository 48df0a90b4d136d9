"""Syllabus and plan side by side: drafted, held against each other, followed, corrected, noted."""

import pytest

from tests.syllabus.documents import DOCUMENTS, Document
from vinemark.core.syllabus import read_syllabus
from vinemark.core.syllabus.written import from_json, syllabus_json

pytestmark = pytest.mark.many


@pytest.mark.parametrize("document", DOCUMENTS, ids=lambda d: d.name)
def test_a_reading_is_kept_and_read_back(document: Document) -> None:
    found = read_syllabus(document.text)
    assert syllabus_json(from_json(syllabus_json(found))) == syllabus_json(found)
