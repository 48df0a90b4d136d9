"""Percents of one student in short."""

from hypothesis import strategies as st

from tests.builders import grade
from vinemark.core.base.number import fixed
from vinemark.core.plan.plan import Plan

cells = st.one_of(st.none(), st.sampled_from(["missing", "exempt"]), st.integers(0, 12).map(str))


def percent_of(of: Plan, *cells: str | None) -> str:
    """The percent with six decimals."""
    found = grade(of, *cells).percent
    assert found is not None
    return fixed(found, 6)
