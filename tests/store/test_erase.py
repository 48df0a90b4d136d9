"""What is left of a student who was erased: nothing in any table of the database."""

import json

from tests.store.conftest import Kept
from vinemark.core.course.course import Settled
from vinemark.core.course.read_cells import read_cell
from vinemark.core.scores.typed_cells import CellWrite
from vinemark.store import acceptances, erase, remarks, scores, settled
from vinemark.store.database import Connection
from vinemark.store.erase import Traces

BO = Traces("bo", ["Bo, Mai", "Mai Bo"])


def mentions(connection: Connection, text: str) -> set[str]:
    """The tables with a row that says a text."""
    tables = [row["name"] for row in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
    return {
        table
        for table in tables
        if any(
            text in json.dumps([str(value) for value in row])
            for row in connection.execute(f"SELECT * FROM {table}")  # noqa: S608
        )
    }


def fill(kept: Kept) -> None:
    items = [item.id for _, item in kept.course().plan.items()]
    writes = [CellWrite(who, item, read_cell("7", "score")) for who in ("ada", "bo") for item in items]
    scores.write_cells(kept.connection, kept.act(), writes, "2 scores of Mai Bo and 2 of Mai Ada typed")
    remarks.write_remark(kept.connection, kept.act(), ("bo", items[0]), "handed in on paper", "remark on Mai Bo")
    settled.write_grades(kept.connection, kept.act(), {"ada": Settled("A"), "bo": Settled("B")}, "Bo, Mai settled")
    acceptances.write_acceptances(kept.connection, kept.act(), {"blank:bo": "facts"}, "agreed", "blank of bo stands")


def test_nothing_says_who_it_was(kept: Kept) -> None:
    fill(kept)
    assert mentions(kept.connection, "Mai Bo") == {"history"}
    erase.erase_student(kept.connection, kept.act("k"), BO)
    for text in ("Mai Bo", "Bo, Mai", '"bo"', "bo ", ":bo"):
        assert mentions(kept.connection, text) == set()


def test_the_others_are_as_they_were(kept: Kept) -> None:
    fill(kept)
    before = kept.course()
    erase.erase_student(kept.connection, kept.act("k"), BO)
    after = kept.course()
    assert [student.id for student in after.students] == ["ada"]
    assert (after.scores, after.settled) == ({"ada": before.scores["ada"]}, {"ada": before.settled["ada"]})
    entry = kept.connection.execute("SELECT * FROM history WHERE kind = 'scores'").fetchone()
    assert entry["what"] == "2 scores of a deleted student and 2 of Mai Ada typed"
    assert {row[0] for row in json.loads(entry["after"])} == {"ada"}


def test_an_id_inside_another_word_is_somebody_elses() -> None:
    assert Traces("L1", []).in_words("L1 and L12 of AL1") == "a deleted student and L12 of AL1"
    assert Traces("L1", []).in_values({"L1": 1, "L12": ["L1", ["L1", "x"], {"a": "L1"}, ["y", "L1"]]}) == {
        "L12": [{}, ["y"]]
    }
