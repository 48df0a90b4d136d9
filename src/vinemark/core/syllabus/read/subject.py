"""Which category a stretch of a sentence speaks of."""

from collections.abc import Sequence

from vinemark.core.syllabus.facts import SaidCategory
from vinemark.core.syllabus.read.mentions import phrases
from vinemark.core.syllabus.read.naming import mentioned


def named_before(text: str, categories: Sequence[SaidCategory]) -> SaidCategory | None:
    """The category whose name stands last in a text."""
    glossary = frozenset(c.name.lower() for c in categories)
    for said in reversed([p for p in phrases(text, glossary) if p.known]):
        named = mentioned(said.text, categories)
        if named:
            return named[0]
    return None


def named_after(text: str, categories: Sequence[SaidCategory]) -> SaidCategory | None:
    """The category whose name stands first in a text."""
    for said in phrases(text, frozenset(c.name.lower() for c in categories)):
        named = mentioned(said.text, categories) if said.known else []
        if named:
            return named[0]
    return None
