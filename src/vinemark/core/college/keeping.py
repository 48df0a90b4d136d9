"""How long a section is kept: so many terms after its own."""

from collections.abc import Iterable
from datetime import date

from vinemark.core.course.course import Term


def kept_long_enough(term: Term, terms: Iterable[Term], today: date, kept: int) -> bool:
    """Whether so many terms that began after this one are over; never where `kept` is 0.

    Terms that begin on the same day count as one: summer sessions of several lengths are one summer.
    """
    later = {one.starts for one in terms if one.starts > term.starts and one.ends < today}
    return kept > 0 and len(later) >= kept
