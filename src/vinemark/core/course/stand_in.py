"""Numbers for students whose own are not known yet: kept like any other, shown as none, replaced when they come."""

from collections.abc import Collection

STAND_IN = "no-id-"


def is_stand_in(student_id: str) -> bool:
    """Whether a number only stands in for one that is not known yet."""
    return student_id.startswith(STAND_IN)


def stand_ins(count: int, taken: Collection[str]) -> list[str]:
    """So many numbers that nobody has."""
    used = [int(end) for one in taken if is_stand_in(one) and (end := one.removeprefix(STAND_IN)).isdecimal()]
    first = max(used, default=0) + 1
    return [f"{STAND_IN}{number}" for number in range(first, first + count)]


def student_id_words(student_id: str) -> str:
    """A number as it is shown."""
    return "no ID yet" if is_stand_in(student_id) else student_id
