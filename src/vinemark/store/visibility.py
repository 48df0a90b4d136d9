"""What students can see: items, by what was chosen for each, and the grades of a run."""

from collections.abc import Mapping
from typing import NamedTuple, cast

from vinemark.core.base.moments import stamp
from vinemark.core.course.course import Run
from vinemark.core.scores.visibility import SHOWN_GRADE_WORDS, ShownGrade, VisibilityRule
from vinemark.store.database import Connection
from vinemark.store.history import Act, writing


def visibility_of(connection: Connection, section_id: int) -> dict[str, VisibilityRule]:
    """What was chosen, by item; an item nothing was chosen for is absent."""
    rows = connection.execute("SELECT item_id, access FROM item_access WHERE section_id = ?", (section_id,))
    return {row["item_id"]: cast(VisibilityRule, row["access"]) for row in rows}


def write_visibility(connection: Connection, act: Act, chosen: Mapping[str, VisibilityRule], what: str) -> int:
    """Hide items or make them visible, in one act; the entry's id."""
    assert act.section_id is not None  # noqa: S101
    with writing(connection, act, "access") as entry:
        now = visibility_of(connection, act.section_id)
        entry.what = what
        entry.before, entry.after = {item: now.get(item) for item in chosen}, dict(chosen)
        put_visibility(connection, act.section_id, entry.after)
    return entry.id


def put_visibility(connection: Connection, section_id: int, chosen: Mapping[str, str | None]) -> None:
    """Put choices in place; None is as if nothing had been chosen."""
    for item, rule in chosen.items():
        connection.execute("DELETE FROM item_access WHERE section_id = ? AND item_id = ?", (section_id, item))
        if rule is not None:
            connection.execute("INSERT INTO item_access VALUES (?, ?, ?)", (section_id, item, rule))


class GradesVisible(NamedTuple):
    """Since when students see a run's grades, and which: the settled ones, or the computed that follow the scores."""

    since: str
    shows: ShownGrade

    @property
    def text(self) -> str:
        """As an entry of the history has it: the time, and 'computed' behind it where that is what they see."""
        return self.since if self.shows == "settled" else f"{self.since} {self.shows}"


def grades_visible_of(text: str) -> GradesVisible:
    """What an entry of the history says of it."""
    since, _, shows = text.partition(" ")
    return GradesVisible(since, "computed" if shows == "computed" else "settled")


def grades_visible(connection: Connection, section_id: int, run: str) -> GradesVisible | None:
    """Since when and which of a run's grades students see; None where they are hidden."""
    row = connection.execute(
        "SELECT at, shows FROM grades_opened WHERE section_id = ? AND run = ?", (section_id, run)
    ).fetchone()
    return GradesVisible(row["at"], row["shows"]) if row else None


def grades_visible_text(connection: Connection, section_id: int, run: str) -> str | None:
    """The same as an entry of the history has it."""
    found = grades_visible(connection, section_id, run)
    return found.text if found else None


def write_grades_visible(connection: Connection, act: Act, run: Run, shows: ShownGrade | None) -> int:
    """Make a run's settled or computed grades visible to students, or with None hide them; the entry's id."""
    assert act.section_id is not None  # noqa: S101
    with writing(connection, act, "grades-opened") as entry:
        made = f"made visible to students: {SHOWN_GRADE_WORDS[shows]}" if shows else "hidden from students"
        entry.what = f"{run} grades {made}"
        entry.before = {run: grades_visible_text(connection, act.section_id, run)}
        entry.after = {run: GradesVisible(stamp(act.at), shows).text if shows else None}
        put_grades_visible(connection, act.section_id, entry.after)
    return entry.id


def put_grades_visible(connection: Connection, section_id: int, texts: Mapping[str, str | None]) -> None:
    """Put visibilities in place, as entries of the history have them; None hides."""
    for run, text in texts.items():
        connection.execute("DELETE FROM grades_opened WHERE section_id = ? AND run = ?", (section_id, run))
        if text is not None:
            found = grades_visible_of(text)
            connection.execute(
                "INSERT INTO grades_opened (section_id, run, at, shows) VALUES (?, ?, ?, ?)",
                (section_id, run, found.since, found.shows),
            )
