"""Every entry that is written is sealed; what was written before there were seals is sealed by the next one."""

import json

from tests.store.conftest import Kept
from tests.store.test_erase import BO, fill
from vinemark.core.base.chain import chain_faults
from vinemark.core.base.number import parse_decimal
from vinemark.core.scores.typed_cells import CellWrite
from vinemark.store import erase, history, scores
from vinemark.store.chain import sealed_entries
from vinemark.store.erase import Traces


def faults(kept: Kept) -> list[int]:
    return [fault.entry for fault in chain_faults(sealed_entries(kept.connection, kept.section))]


def write(kept: Kept, score: str) -> None:
    scores.write_cells(kept.connection, kept.act(), [CellWrite("ada", "i0", parse_decimal(score))], f"{score} typed")


def test_every_entry_is_sealed_after_the_one_before_it(kept: Kept) -> None:
    for score in "789":
        write(kept, score)
    entries = sealed_entries(kept.connection, kept.section)
    assert len({one.seal for one in entries}) == len({one.salt for one in entries}) == len(entries) == 4
    assert faults(kept) == []
    assert [one.said[-1] for one in entries] == ["Maren"] * 4


def test_who_did_it_stays_who_it_was(kept: Kept) -> None:
    write(kept, "8")
    kept.connection.execute("UPDATE person SET name = 'Somebody Else'")
    assert faults(kept) == []
    assert history.entries_of(kept.connection, kept.section)[0]["person_name"] == "Maren"


def test_an_altered_row_of_the_database_shows(kept: Kept) -> None:
    for score in "789":
        write(kept, score)
    entry = sealed_entries(kept.connection, kept.section)[2]
    kept.connection.execute('UPDATE history SET after = \'[["ada", "i0", "10"]]\' WHERE id = ?', (entry.id,))
    assert faults(kept) == [entry.id]


def test_a_history_from_before_there_were_seals_is_sealed_by_the_next_write(kept: Kept) -> None:
    for score in "78":
        write(kept, score)
    kept.connection.execute("UPDATE history SET seal = NULL, salt = NULL, by_name = NULL")
    write(kept, "9")
    assert all(one.seal for one in sealed_entries(kept.connection, kept.section))
    assert faults(kept) == []


def test_a_deletion_leaves_a_chain_that_holds_and_no_way_back(kept: Kept) -> None:
    fill(kept)
    before = {one.id: one for one in sealed_entries(kept.connection, kept.section)}
    erase.erase_student(kept.connection, kept.act("k"), BO)
    assert faults(kept) == []
    after = sealed_entries(kept.connection, kept.section)
    rewritten = [one for one in after if one.first_digest]
    assert len(rewritten) == 5
    assert all(one.salt != before[one.id].salt and one.seal == before[one.id].seal for one in rewritten)
    said = json.loads(after[-1].said[4] or "")
    assert set(said["rewritten"]) == {one.seal for one in rewritten}


def test_two_deletions_after_each_other_hold_too(kept: Kept) -> None:
    fill(kept)
    erase.erase_student(kept.connection, kept.act(), BO)
    erase.erase_student(kept.connection, kept.act(), Traces("ada", ["Ada, Mai", "Mai Ada"]))
    assert faults(kept) == []
    write_after = kept.connection.execute("SELECT max(id) AS id FROM history").fetchone()["id"]
    kept.connection.execute("UPDATE history SET what = 'something else' WHERE id = ?", (write_after - 2,))
    assert faults(kept) == [write_after - 2]


def test_an_entry_of_no_section_is_in_no_chain(kept: Kept) -> None:
    with history.writing(kept.connection, history.Act(None, kept.act().at), "accounts") as entry:
        entry.what = "nobody's"
    assert entry.seal == ""
    assert faults(kept) == []
