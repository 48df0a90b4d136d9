"""Files of scores: looked at, matched, taken."""

from datetime import timedelta
from fractions import Fraction

import pytest

from tests.store.conftest import AT, Kept
from vinemark.core.scores.typed_cells import CellWrite
from vinemark.store import files, history, people, scores
from vinemark.store.history import Act, ChangedSinceError
from vinemark.store.undo import undo_entry


def put(kept: Kept, later: timedelta = timedelta(0)) -> int:
    act = Act(kept.owner, AT + later, kept.section)
    return files.write_file(kept.connection, act, "scores.csv", "abc", b"id,quiz")


def test_only_who_put_it_in_and_only_there_looks_at_it(kept: Kept) -> None:
    made = put(kept)
    found = files.looked_at(kept.connection, kept.section, kept.owner, made)
    assert found is not None
    assert (found.name, found.digest, found.content, found.sheet) == ("scores.csv", "abc", b"id,quiz", "")
    files.write_sheet(kept.connection, made, "Sheet 2")
    again = files.looked_at(kept.connection, kept.section, kept.owner, made)
    assert again is not None
    assert again.sheet == "Sheet 2"
    other = people.add_person(kept.connection, history.Act(None, AT), "bo@larkmoor.example", "Bo", "hash")
    assert files.looked_at(kept.connection, kept.section, other, made) is None
    assert files.looked_at(kept.connection, kept.section + 1, kept.owner, made) is None


@pytest.mark.parametrize(("later", "there"), [(files.KEPT_FOR, True), (files.KEPT_FOR + timedelta(seconds=1), False)])
def test_what_nobody_took_goes_after_two_days(kept: Kept, later: timedelta, there: bool) -> None:
    made = put(kept)
    put(kept, later)
    assert (files.looked_at(kept.connection, kept.section, kept.owner, made) is not None) is there


def test_a_number_is_never_given_to_another_file(kept: Kept) -> None:
    first = put(kept)
    assert put(kept, files.KEPT_FOR * 2) != first


def test_a_shape_is_remembered_and_learned_anew(kept: Kept) -> None:
    assert files.matching_of(kept.connection, kept.section, "shape") is None
    for matching in ("one", "two"):
        files.remember_matching(kept.connection, kept.section, "shape", matching)
    assert files.matching_of(kept.connection, kept.section, "shape") == "two"


def test_a_file_is_taken_once_with_one_undo_and_its_cells_know_it(kept: Kept) -> None:
    looked = files.looked_at(kept.connection, kept.section, kept.owner, put(kept))
    assert looked is not None
    changes = [CellWrite("ada", "i0", Fraction(9), ""), CellWrite("bo", "i0", "missing", "")]
    entry = files.write_import(kept.connection, kept.act(), looked, changes, "taken", "id")
    assert files.looked_at(kept.connection, kept.section, kept.owner, looked.id) is None
    (row,) = scores.history_of_cell(kept.connection, kept.section, "ada", "i0")
    assert "scores.csv" in tuple(row)
    undo_entry(kept.connection, kept.act(), entry)
    assert kept.course().scores == {}


def test_a_cell_that_changed_since_it_was_looked_at_stops_the_whole_file(kept: Kept) -> None:
    looked = files.looked_at(kept.connection, kept.section, kept.owner, put(kept))
    assert looked is not None
    scores.write_cells(kept.connection, kept.act(), [CellWrite("ada", "i0", Fraction(3))], "typed meanwhile")
    changes = [CellWrite("bo", "i0", Fraction(9), ""), CellWrite("ada", "i0", Fraction(9), "")]
    with pytest.raises(ChangedSinceError):
        files.write_import(kept.connection, kept.act(), looked, changes, "taken", "id")
    assert kept.course().scores == {"ada": {"i0": Fraction(3)}}
    assert files.looked_at(kept.connection, kept.section, kept.owner, looked.id) is not None
