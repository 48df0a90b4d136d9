"""A practice section: made-up students with scores, to try everything on, thrown away in one act."""

from dataclasses import replace
from datetime import date, timedelta
from importlib.resources import files

from vinemark.core.course.course import Course
from vinemark.core.course.terms import usual_term
from vinemark.exchange.course_file import read_bytes
from vinemark.section.acts.create import made_section
from vinemark.section.outcome import Done, Outcome
from vinemark.store import sections
from vinemark.store.database import Connection
from vinemark.store.history import Act


def practice_course(day: date) -> Course:
    """The course with its days in the term of this day; what is due later has no scores yet."""
    kept = read_bytes(files("vinemark.section.acts").joinpath("practice.course.json").read_bytes())
    term = usual_term(day)
    moved: timedelta = term.starts - kept.term.starts
    categories = tuple(
        replace(c, items=tuple(replace(i, due=i.due + moved if i.due else None) for i in c.items))
        for c in kept.plan.categories
    )
    plan = replace(kept.plan, categories=categories)
    past = {item.id for _, item in plan.items() if item.due is None or item.due <= day}
    scores = {s: {i: cell for i, cell in row.items() if i in past} for s, row in kept.scores.items()}
    return replace(kept, term=term, plan=plan, scores=scores)


def create_practice(connection: Connection, request: Act) -> Outcome:
    """A section to try things on; `entry` is the section's id."""

    def make() -> Done:
        made = sections.create_from_course(connection, request, practice_course(request.at.date()), practice=True)
        return Done("A practice section: nothing in it is real. Throw it away on the Desk.", made)

    return made_section(connection, make)
