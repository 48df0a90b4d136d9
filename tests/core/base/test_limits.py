"""The table of limits is what the document says."""

from pathlib import Path

import pytest

from vinemark.core.base.limits import LIMITS, Limit, more_than

DOCUMENT = Path(__file__).parents[3] / "docs" / "formats.md"


@pytest.mark.parametrize("limit", LIMITS, ids=lambda limit: limit.what)
def test_the_document_says_each_limit(limit: Limit) -> None:
    assert f"| {limit.most:,} | {limit.what} |" in DOCUMENT.read_text()
    assert more_than(limit) == f"must be {limit.most:,} at most ({limit.what})"
