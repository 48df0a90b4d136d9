"""The fields of a settled grade in a form: as they are shown, and as they were typed."""

from datetime import date

from flask import request

from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Settled


def fields_of(settled: Settled | None) -> dict[str, str]:
    """What stands in the fields for a settled grade; nothing where there is none."""
    if settled is None:
        return {}
    return {
        "grade": settled.grade,
        "reason": settled.reason or "",
        "last_attended": settled.last_attended.isoformat() if settled.last_attended else "",
        "never_attended": "1" if settled.never_attended else "",
        "fallback_grade": settled.fallback_grade or "",
        "finish_by": settled.finish_by.isoformat() if settled.finish_by else "",
        "owed": settled.owed or "",
    }


def typed_settled() -> Settled:
    """The settled grade that this request's form spells, unchecked. Raises Refused for what is no date."""
    form = request.form
    return Settled(
        form.get("grade", ""),
        form.get("reason"),
        _day("last_attended"),
        form.get("fallback_grade"),
        _day("finish_by"),
        form.get("never_attended") == "1",
        " ".join(form.get("owed", "").split()) or None,
    )


def _day(field: str) -> date | None:
    typed = request.form.get(field, "").strip()
    try:
        return date.fromisoformat(typed) if typed else None
    except ValueError:
        raise Refused(field, "must be a date") from None
