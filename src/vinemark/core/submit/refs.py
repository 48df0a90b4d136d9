"""The registrar's names of a section: one, or several where it is cross-listed, which then are one text here."""

from collections.abc import Sequence
from typing import Final

JOINS: Final = " + "


def refs_of(office_ref: str) -> Sequence[str]:
    """Every name of the registrar's for a section."""
    return [one for one in office_ref.split(JOINS) if one]


def joined_refs(refs: Sequence[str]) -> str:
    """Several names as one; the first has the rules, hours and layout."""
    return JOINS.join(refs)
