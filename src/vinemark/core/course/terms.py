"""Terms where nobody has said their days, and names of courses as title lines of files say them."""

import re
from collections.abc import Iterable
from datetime import date

from vinemark.core.course.course import SectionName, Term

_USUAL = {
    "Winter": ((1, 4), (3, 20)),
    "Spring": ((1, 11), (5, 14)),
    "Summer": ((6, 1), (8, 14)),
    "Fall": ((8, 24), (12, 18)),
}
"""First and last day of a term where no college says them (common practice, no source)."""
_TERM = re.compile(
    r"\b(winter|spring|summer|fall|autumn)(?: term| semester| quarter)?,? ?((?:19|20)\d\d)\b", re.IGNORECASE
)
_COURSE = re.compile(
    r"\b([A-Z]{2,8})[ -]?(\d{2,4}[A-Z]{0,2})\b"
    r"(?:(?:[-. ]{1,3}(?:[Ss]ec(?:tion|\.)? ?)?|, ?[Ss]ec(?:tion|\.)? ?)(\d{1,3}[A-Z]?)\b)?"
)
_NO_TITLE = re.compile(
    r"grade ?book|class list|grades?|scores?|roster|export(?:ed)?|instructor|room|section", re.IGNORECASE
)


def usual_term(day: date) -> Term:
    """The term that a day most likely belongs to: spring to mid-May, summer to mid-August, then fall."""
    season = "Spring" if (day.month, day.day) < (5, 20) else "Summer" if (day.month, day.day) < (8, 16) else "Fall"
    return _term(season, day.year)


def _term(season: str, year: int) -> Term:
    first, last = _USUAL[season]
    return Term(f"{season} {year}", date(year, *first), date(year, *last))


def term_in(texts: Iterable[str]) -> Term | None:
    """The term that one of some title lines names, with its usual days."""
    for text in texts:
        found = _TERM.search(text)
        if found:
            season = found[1].capitalize()
            return _term("Fall" if season == "Autumn" else season, int(found[2]))
    return None


def course_in(texts: Iterable[str]) -> SectionName | None:
    """The course that one of some title lines names: 'HYDR 230-01 Rivers, Fall 2026'."""
    for text in texts:
        found = _COURSE.search(text)
        if found and not _TERM.fullmatch(found[0]):
            rest = _TERM.sub("", text[found.end() :])
            title = re.split(r"[,;|(–—]", rest.strip(" -–—:,;|"))[0].strip(" -:.")
            known = title if title and not _NO_TITLE.search(title) else ""
            return SectionName(f"{found[1]} {found[2]}", known, found[3] or "")
    return None
