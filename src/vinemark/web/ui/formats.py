"""How values read on screen: percents, dates, scores; no rule of the job lives here."""

import re
from collections.abc import Callable
from datetime import date, datetime, time
from fractions import Fraction
from functools import lru_cache

from flask import Flask, request

from vinemark.core.audit import CODES, LEVEL_NAMES, level_words
from vinemark.core.base.dates import (
    clock_words,
    day_words,
    short_day_words,
    time_words,
    weekday_time_words,
    weekday_words,
)
from vinemark.core.base.moments import moment_of
from vinemark.core.base.number import exact_text, fixed, percent_text, with_sign
from vinemark.core.base.refused import Refused
from vinemark.core.course.cell_text import cell_text, shown_text
from vinemark.core.course.course import Settled
from vinemark.core.course.stand_in import student_id_words
from vinemark.core.submit.grade_row import GradeRow
from vinemark.core.submit.proof import beside_words, row_words
from vinemark.core.syllabus.written import number_text
from vinemark.section.state import SectionState
from vinemark.web.request import new_key, settings


def short_percent(value: Fraction | None, decimals: int = 2) -> str:
    """A percent for a table; a dash where there is none."""
    return "–" if value is None else fixed(value, decimals)


def day(value: date | None) -> str:
    """'Nov 2, 2026'."""
    return "" if value is None else day_words(value)


def day_from_text(value: str) -> str:
    """'Saturday, Dec 19, 2026' of a day as it is kept."""
    return weekday_words(date.fromisoformat(value))


def clock_of(value: str) -> str:
    """'5:00 PM' of a time as it is kept."""
    return clock_words(moment_of(value))


def day_of(value: str) -> str:
    """'Nov 2' of a kept date or time."""
    return day_short(moment_of(value).date())


def day_short(value: date | None) -> str:
    """'Nov 2'."""
    return "" if value is None else short_day_words(value)


@lru_cache(maxsize=4096)
def moment(value: datetime | str | None) -> str:
    """'Mon, Dec 21, 5:00 PM'."""
    if value is None:
        return ""
    at = moment_of(value) if isinstance(value, str) else value
    return weekday_time_words(at)


def sent_beside(row: GradeRow) -> str:
    """What was sent beside a code: 'last attended Nov 2, 2026'."""
    return row_words(row, day_words)


@lru_cache(maxsize=4096)
def dated(value: datetime | str) -> str:
    """'Dec 21, 2026, 5:00 PM': for papers, which are read in other years."""
    at = moment_of(value) if isinstance(value, str) else value
    return f"{day_words(at.date())}, {clock_words(at)}"


def code_name(code: str) -> str:
    """What a code of the audit is called in words."""
    return CODES[code].name if code in CODES else code.replace("-", " ")


FIELD_NAMES = {
    "aside": "Reason", "category": "Category", "ceiling": "Cap", "chosen": "Items", "counts": "Counting",
    "days": "Days", "drop_by": "Drops", "drop_highest": "Drops", "evidence_note": "Evidence", "fair": "",
    "file": "File", "sheet": "Sheet", "finding": "Finding", "from": "Cutoff", "joined": "Date", "name": "Name",
    "named": "Category", "number_of": "Items", "pasted": "Scale", "scale_name": "Name", "seen": "", "take": "",
    "value": "Value", "why": "Reason", "per_day": "% a day", "at_most": "At most %", "free_days": "Free days",
    "grace_days": "Days that cost nothing", "last_day": "Counts as 0 after days", "of": "Of", "source": "Score",
    "into": "Category", "count": "How many", "subject": "Category or item", "threshold": "Number",
    "amount": "Letter or number", "for_each": "For each of them", "added": "Percentage points", "rules": "",
    "symbols": "", "text": "Words", "people": "", "twice": "", "all": "Percent", "size": "Size", "scores": "",
    "remove": "", "other": "Item",
}  # fmt: skip
"""What a field is called where its own name does not say it; an empty name is not said."""


def said(refused: Refused) -> str:
    """A refusal as a sentence: 'Weight: type a number.'"""
    field = refused.field.partition("-")[0]
    name = sentence_start(FIELD_NAMES.get(field, field.replace("_", " ")))
    text = f"{name}: {refused.reason}" if name else sentence_start(refused.reason)
    return text if text.endswith((".", "?", "!")) else f"{text}."


def counted(number: int, one: str, many: str = "") -> str:
    """A number with its noun: '1 category', '3 categories'."""
    return f"{number} {one if number == 1 else many or f'{one}s'}"


def minute_words(minute: int) -> str:
    """A minute of a day as a clock says it; midnight at the end of a day too."""
    return clock_words(time(minute // 60 % 24, minute % 60))


def days_left(due: datetime | None) -> str:
    """How far off a deadline is."""
    if due is None:
        return ""
    now = settings().clock.now()
    if due < now:
        return "closed"
    days = (due.date() - now.date()).days
    return "today" if days == 0 else "1 day left" if days == 1 else f"{days} days left"


_SYLLABLE = re.compile(
    r"(?<=[aeiouy])(?=[bcdfghjklmnpqrstvwxz][aeiouy])|(?<=[aeiouy][bcdfghjklmnpqrstvwxz])(?=[bcdfghjklmnpqrstvwxz][aeiouy])"
)
LONGEST_UNBROKEN = 7
LONGEST_HEADING = 30


def soft_breaks(heading: str) -> str:
    """A heading for a narrow column: long words may break between syllables, and a very long one ends in dots."""
    short = heading if len(heading) <= LONGEST_HEADING else f"{heading[: LONGEST_HEADING - 1].rstrip()}…"
    return " ".join(_SYLLABLE.sub("\u00ad", word) if len(word) > LONGEST_UNBROKEN else word for word in short.split())


def sentence_start(text: str) -> str:
    """A text with a capital, as a sentence begins."""
    return text[:1].upper() + text[1:]


def short_digest(digest: str) -> str:
    """The beginning of a digest, enough to tell two apart by eye."""
    return f"{digest[:16]}…"


def letter_sign(value: str | None) -> str:
    """A letter with a true minus sign."""
    return "" if value is None else value.replace("-", "−")


def shown_cell(text: str | None) -> str:
    """A kept cell, as people read it."""
    return shown_text(text)


def said_number(value: Fraction | None) -> str:
    """A figure of a syllabus, empty where it says none."""
    return number_text(value) or ""


def saved_words(section: SectionState) -> str:
    """When something of a section was last saved, for the bar: the time of day today, else with the day."""
    at = section.last_saved
    if at is None:
        return ""
    return clock_words(at) if at.date() == section.now.date() else time_words(at)


def beside(section: SectionState, settled: Settled | None) -> str:
    """What stands beside a settled grade, in words."""
    return beside_words(section.of_run.course, settled, day_words) if settled else ""


BROWSERS = {"Edg": "Edge", "OPR": "Opera", "Firefox": "Firefox", "Chrome": "Chrome", "Safari": "Safari"}
SYSTEMS = {
    "Windows": "Windows",
    "Android": "Android",
    "iPhone": "iPhone",
    "iPad": "iPad",
    "Mac OS": "macOS",
    "Linux": "Linux",
}


def browser_name(agent: str) -> str:
    """'Firefox on Linux', from what a browser calls itself."""
    browser = next((name for mark, name in BROWSERS.items() if f"{mark}/" in agent), "A browser")
    system = next((name for mark, name in SYSTEMS.items() if mark in agent), "")
    return f"{browser} on {system}" if system else browser


MARGIN_NAMES = {
    "plan": "Syllabus", "scores": "Steps", "scores/files": "Help", "audit": "Evidence", "audit/outside": "Explanations",
    "settle": "Overview", "submit": "Receipts", "after": "Registrar", "history": "Help", "exports": "Help",
    "made": "Help", "deleting": "Help", "class_list": "Student", "bring": "Help", "groups": "Groups",
    "seen": "Statement", "section_people": "Help", "questions": "Help",
    "looked": "Help", "moving": "Help", "rosters": "Help",
}  # fmt: skip
"""What the margin of each page is called on the button that shows it."""


PAGE_TITLES = {
    "plan": "Grading plan", "scores": "Scores", "scores/files": "Import scores", "audit": "Audit",
    "audit/outside": "Compare with another file", "settle": "Settle", "submit": "Submit", "after": "After posting",
    "history": "History", "exports": "Export", "made": "Export", "deleting": "Delete",
    "class_list": "Class list", "bring": "Import a file", "groups": "Groups",
    "seen": "What students see", "section_people": "People", "questions": "Questions",
    "looked": "Who looked", "moving": "Move students",
    "rosters": "Rosters",
}  # fmt: skip
"""A page's title is its heading."""


RULE_NAMES = {
    "split": "How the items count", "drops": "Drops", "drop_by": "Which are dropped", "blanks": "Blanks",
    "extra": "Extra credit", "ceiling": "Cap", "basis": "Plan basis",
}  # fmt: skip
"""What a rule of the plan is called before the name of its category."""


def margin_folded() -> bool:
    """Whether this browser keeps the margin folded on wide windows."""
    return request.cookies.get("vinemark-margin") == "folded"


FILTERS: tuple[Callable[..., str | None], ...] = (
    short_percent, browser_name, day, day_short, day_of, moment, dated, sent_beside, days_left, letter_sign,
    sentence_start,
    student_id_words, short_digest, cell_text, shown_cell, exact_text, percent_text, with_sign, said_number,
    soft_breaks,
    day_from_text, clock_of, code_name,
    counted, minute_words, said, clock_words, weekday_words,
)  # fmt: skip


def add_filters(app: Flask) -> None:
    """Make these known to the templates."""
    for function in FILTERS:
        app.add_template_filter(function)
    app.add_template_global(new_key)
    app.add_template_global(settings)
    app.add_template_global(saved_words)
    app.add_template_global(beside)
    app.add_template_global(level_words)
    app.jinja_env.globals["level_names"] = LEVEL_NAMES
    app.jinja_env.globals["rule_names"] = RULE_NAMES
    app.jinja_env.globals["page_titles"] = PAGE_TITLES
    app.jinja_env.globals["margin_names"] = MARGIN_NAMES
    app.add_template_global(margin_folded)
