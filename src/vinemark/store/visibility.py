"""What students can see: items, by what was chosen for each, and the grades of a run."""

from collections.abc import Mapping
from typing import Any, NamedTuple, cast

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
    """Since when students see a run's grades, and which: the settled ones, or the computed that follow the scores.

    `only` has the students who see them; None where all do.
    """

    since: str
    shows: ShownGrade
    only: frozenset[str] | None = None

    def to(self, student_id: str) -> bool:
        """Whether a student sees them."""
        return self.only is None or student_id in self.only

    @property
    def value(self) -> str | dict[str, Any]:
        """As an entry of the history has it: the time, and 'computed' behind it where that is what they see; with the
        students where only some see it."""
        if self.only is not None:
            return {"since": self.since, "shows": self.shows, "only": sorted(self.only)}
        return self.since if self.shows == "settled" else f"{self.since} {self.shows}"


def grades_visible_of(value: str | Mapping[str, Any]) -> GradesVisible:
    """What an entry of the history says of it."""
    if isinstance(value, str):
        since, _, shows = value.partition(" ")
        return GradesVisible(since, "computed" if shows == "computed" else "settled")
    shown: ShownGrade = "computed" if value["shows"] == "computed" else "settled"
    return GradesVisible(str(value["since"]), shown, frozenset(str(one) for one in value["only"]))


def grades_visible(connection: Connection, section_id: int, run: str) -> GradesVisible | None:
    """Since when and which of a run's grades students see; None where they are hidden."""
    row = connection.execute(
        "SELECT at, shows, only_some FROM grades_opened WHERE section_id = ? AND run = ?", (section_id, run)
    ).fetchone()
    if row is None or not row["only_some"]:
        return GradesVisible(row["at"], row["shows"]) if row else None
    seen_by = connection.execute(
        "SELECT student_id FROM grade_seen_by WHERE section_id = ? AND run = ?", (section_id, run)
    )
    return GradesVisible(row["at"], row["shows"], frozenset(one["student_id"] for one in seen_by))


def grades_visible_value(connection: Connection, section_id: int, run: str) -> str | dict[str, Any] | None:
    """The same as an entry of the history has it."""
    found = grades_visible(connection, section_id, run)
    return found.value if found else None


def write_grades_visible(
    connection: Connection, act: Act, run: Run, shows: ShownGrade | None, only: frozenset[str] | None = None
) -> int:
    """Make a run's settled or computed grades visible to students, or with None hide them; the entry's id.

    With `only` just these students see them.
    """
    assert act.section_id is not None  # noqa: S101
    with writing(connection, act, "grades-opened") as entry:
        who = "students" if only is None else f"{len(only)} student{'' if len(only) == 1 else 's'}"
        made = f"made visible to {who}: {SHOWN_GRADE_WORDS[shows]}" if shows else "hidden from students"
        entry.what = f"{run} grades {made}"
        entry.before = {run: grades_visible_value(connection, act.section_id, run)}
        entry.after = {run: GradesVisible(stamp(act.at), shows, only).value if shows else None}
        put_grades_visible(connection, act.section_id, entry.after)
    return entry.id


def put_grades_visible(
    connection: Connection, section_id: int, values: Mapping[str, str | Mapping[str, Any] | None]
) -> None:
    """Put visibilities in place, as entries of the history have them; None hides."""
    for run, value in values.items():
        connection.execute("DELETE FROM grades_opened WHERE section_id = ? AND run = ?", (section_id, run))
        connection.execute("DELETE FROM grade_seen_by WHERE section_id = ? AND run = ?", (section_id, run))
        if value is not None:
            found = grades_visible_of(value)
            connection.execute(
                "INSERT INTO grades_opened (section_id, run, at, shows, only_some) VALUES (?, ?, ?, ?, ?)",
                (section_id, run, found.since, found.shows, int(found.only is not None)),
            )
            connection.executemany(
                "INSERT INTO grade_seen_by SELECT section_id, ?, id FROM student WHERE section_id = ? AND id = ?",
                [(run, section_id, student) for student in found.only or ()],
            )
