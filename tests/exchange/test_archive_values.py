"""Values of an archive: what is written is taken, and what no archive of ours has is refused at its place."""

import copy
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Course
from vinemark.demo.build import OSTRANDER
from vinemark.exchange.archive import Archive
from vinemark.exchange.archive_values import refuse_broken
from vinemark.exchange.course_file import course_of_text, course_text
from vinemark.store import archives, people, sections
from vinemark.store.database import connect

TREES = ("history", "submissions", "changes", "beside")


@pytest.fixture(scope="session")
def whole(demo_folder: Path) -> list[Archive]:
    """Archives of every section of the demo's first instructor."""
    connection = connect(demo_folder / "vinemark.sqlite")
    person = people.by_email(connection, OSTRANDER[1])
    assert person is not None
    found = []
    for section in sections.sections_of(connection, person["id"]):
        id_ = section.id
        found.append(
            Archive(
                course=course_text(sections.load_course(connection, section)),
                made_at="2026-12-19T10:00:00",
                history=archives.history_values(connection, id_),
                submissions=archives.sending_values(connection, id_),
                changes=archives.change_values(connection, id_),
                beside=archives.beside_values(connection, id_),
            )
        )
    connection.close()
    return found


@pytest.fixture
def richest(whole: list[Archive]) -> tuple[Archive, Course]:
    """The archive with a change of grade in it."""
    found = copy.deepcopy(next(archive for archive in whole if archive.changes))
    return found, course_of_text(found.course)


def test_what_is_written_is_taken(whole: list[Archive]) -> None:
    assert len(whole) == 4
    for archive in whole:
        refuse_broken(archive, course_of_text(archive.course))


def leaves(value: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """Places of the first row of each list."""
    if isinstance(value, dict):
        for key, one in value.items():
            yield from leaves(one, (*path, key))
    elif isinstance(value, list):
        for number, one in enumerate(value[:1]):
            yield from leaves(one, (*path, number))
    if path:
        yield path


def put(tree: Any, path: tuple[Any, ...], value: Any) -> None:
    for step in path[:-1]:
        tree = tree[step]
    tree[path[-1]] = value


ANYTHING = {"before", "after", "evidence"}
"""What may hold any JSON; the cells in it are tried on their own."""


@pytest.mark.parametrize("wrong", [7.5, {"a": 1}, ["\ud800"], "a\0b"], ids=["number", "object", "list", "sign"])
def test_a_value_of_another_kind_is_refused_wherever_it_stands(richest: tuple[Archive, Course], wrong: object) -> None:
    archive, course = richest
    tried = 0
    for name in TREES:
        tree = getattr(archive, name)
        for path in list(leaves(tree)):
            if ANYTHING & set(path) or (name != "beside" and len(path) == 1 and wrong == ["\ud800"]):
                continue
            kept = copy.deepcopy(_at(tree, path))
            put(tree, path, wrong)
            with pytest.raises(Refused):
                refuse_broken(archive, course)
            put(tree, path, kept)
            tried += 1
    refuse_broken(archive, course)
    assert tried > 80


def _at(tree: Any, path: tuple[Any, ...]) -> Any:
    for step in path:
        tree = tree[step]
    return tree


@pytest.mark.parametrize(
    ("name", "path", "value", "said"),
    [
        ("history", (0, "at"), "0001-01-01T00:00:00", "1900 to 2200"),
        ("history", (0, "id"), 0, "above 0"),
        ("history", (0, "kind"), "a\nb", "one line"),
        ("history", (0, "after"), {"a": 10**30}, "too large a number"),
        ("submissions", (0, "run"), "midyear", "must be"),
        ("submissions", (0, "state"), "lost", "must be"),
        ("submissions", (0, "course"), "{}", "is missing"),
        ("submissions", (0, "rows", 0, "finish_by"), "9999-12-31", "1900 to 2200"),
        ("submissions", (0, "receipt", "received_at"), "yesterday", "date with a time"),
        ("changes", (0, "student_id"), "nobody", "no student"),
        ("changes", (0, "reason"), "x" * 3_000, "2,000 at most"),
        ("changes", (0, "evidence_name"), "a.pdf", "does not go with its file"),
        ("changes", (0, "settled", "finish_by"), "0001-01-01", "1900 to 2200"),
        ("beside", ("office", 0, "hours"), "{", "is not JSON"),
        ("beside", ("office", 0, "hours"), '{"windows": {"midyear": []}, "transfers": []}', "unknown key"),
        ("beside", ("office", 0, "hours"), '{"windows": {}, "transfers": [["1:00"]]}', "a pair"),
        ("beside", ("office", 0, "layout"), '{"columns": [["A"]], "dates": "iso"}', "a pair"),
        ("beside", ("plans", 0, "plan"), "{}", "is missing"),
        ("beside", ("plans", 0, "version"), "1", "whole number"),
        ("beside", ("scores", 0, "cell"), "nine", "cell"),
    ],
)
def test_a_value_that_pages_could_not_show_is_refused_at_its_place(
    richest: tuple[Archive, Course], name: str, path: tuple[Any, ...], value: object, said: str
) -> None:
    archive, course = richest
    put(getattr(archive, name), path, value)
    with pytest.raises(Refused, match=said) as caught:
        refuse_broken(archive, course)
    assert str(path[0]) in caught.value.field


@pytest.mark.parametrize("value", ["L1", [["L1", "q1"]], [["L1", "q1", 7]], [["L2", "q1", "7"]], [7]])
def test_cells_in_the_history_are_cells_of_the_same_places(richest: tuple[Archive, Course], value: object) -> None:
    archive, course = richest
    entry = {**archive.history[0], "id": 10**6, "kind": "scores", "undoes": None}
    archive.history.append({**entry, "before": [["L1", "q1", None]], "after": [["L1", "q1", "7"]]})
    refuse_broken(archive, course)
    archive.history[-1]["after"] = value
    with pytest.raises(Refused):
        refuse_broken(archive, course)


@pytest.mark.parametrize("name", ["history", "submissions", "changes"])
def test_the_same_row_twice_is_refused(richest: tuple[Archive, Course], name: str) -> None:
    archive, course = richest
    getattr(archive, name).append(getattr(archive, name)[0])
    with pytest.raises(Refused, match="twice"):
        refuse_broken(archive, course)
