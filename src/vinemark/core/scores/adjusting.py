"""One student's adjustment: how it is typed, and how it reads."""

from vinemark.core.base.number import with_sign
from vinemark.core.base.refused import Refused, short_note, signed
from vinemark.core.course.course import Adjustment, Course, Student


def read_typed_adjustment(typed: str, reason: str) -> Adjustment | None:
    """Percentage points as typed: '1.5', '+1.5', '-2%'. None where nothing is typed. Raises Refused at 'percent'."""
    text = typed.strip().replace("−", "-").removesuffix("%").strip().removeprefix("+").replace(",", ".")
    why = " ".join(short_note(reason, "reason").split())
    if not text:
        if why:
            raise Refused("percent", "type the percentage points, or empty the reason")
        return None
    return Adjustment(signed(text, "percent"), why)


def adjustment_words(adjustment: Adjustment) -> str:
    """For reading: '+1.5: agreed on Dec 3'."""
    points = with_sign(adjustment.percent)
    return f"{points}: {adjustment.reason}" if adjustment.reason else points


def reason_of(course: Course, student: Student) -> str:
    """The reason of a student's adjustment; empty without one."""
    found = course.adjustments.get(student.id)
    return found.reason if found else ""
