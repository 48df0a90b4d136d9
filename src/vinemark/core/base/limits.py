"""The most of everything that a person brings in: one table that readers, messages and documents go by.

So that no text or file takes the service from others, whichever way it comes in: a page, a file, an archive, a paste.
"""

from datetime import date
from typing import Final, NamedTuple


class Limit(NamedTuple):
    """How many or how long at most, and of what."""

    most: int
    what: str


CATEGORY_LIMIT: Final = Limit(50, "categories in a plan")
ITEM_LIMIT: Final = Limit(200, "items in a plan")
DROP_LIMIT: Final = Limit(200, "scores dropped or kept by a rule")
SCALE_LIMIT: Final = Limit(30, "rows in a letter scale")
RULE_LIMIT: Final = Limit(50, "rules of one kind in a plan, or symbols of a category")
STUDENT_LIMIT: Final = Limit(5_000, "students in a section")
ROSTER_LIMIT: Final = Limit(10_000, "people on a roster, those who withdrew among them")
CODE_LIMIT: Final = Limit(200, "codes of a registrar")
NAME_LIMIT: Final = Limit(200, "signs in a name, an ID or a heading")
TEXT_LIMIT: Final = Limit(200_000, "signs in a text, such as a syllabus")
NOTE_LIMIT: Final = Limit(2_000, "signs in a reason or a remark")
DIGIT_LIMIT: Final = Limit(40, "digits in a number")
COUNT_LIMIT: Final = Limit(100_000, "as a whole number that counts")
EVERY_LIMIT: Final = Limit(366, "days between the items of a series")

LIMITS: Final = (
    CATEGORY_LIMIT, ITEM_LIMIT, DROP_LIMIT, SCALE_LIMIT, RULE_LIMIT, STUDENT_LIMIT, ROSTER_LIMIT, CODE_LIMIT,
    NAME_LIMIT, TEXT_LIMIT, NOTE_LIMIT, DIGIT_LIMIT, COUNT_LIMIT, EVERY_LIMIT,
)  # fmt: skip

FIRST_DAY: Final = date(1900, 1, 1)
LAST_DAY: Final = date(2200, 12, 31)
OTHER_CENTURY: Final = f"must be a date from {FIRST_DAY.year} to {LAST_DAY.year}"


def more_than(limit: Limit) -> str:
    """Why something beyond a limit is refused: 'must be 200 at most (items in a plan)'."""
    return f"must be {limit.most:,} at most ({limit.what})"
