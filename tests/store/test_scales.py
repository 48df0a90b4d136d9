"""Letter scales kept for reuse, each person's own."""

from fractions import Fraction

from tests.store.conftest import AT, Kept
from vinemark.core.plan.plan import ScaleRow
from vinemark.store import history, people, scales

ROWS = [ScaleRow("A", Fraction(200, 3)), ScaleRow("F", Fraction(0))]


def test_a_scale_is_kept_exactly_under_its_name_and_replaced(kept: Kept) -> None:
    scales.write_scale(kept.connection, kept.act(), "House", ROWS)
    scales.write_scale(kept.connection, kept.act(), "Almanac", ROWS[1:])
    scales.write_scale(kept.connection, kept.act(), "House", [*ROWS[:1], ScaleRow("NP", Fraction(0))])
    found = scales.scales_of(kept.connection, kept.owner)
    assert [(s.name, [r.letter for r in s.rows]) for s in found] == [("Almanac", ["F"]), ("House", ["A", "NP"])]
    assert found[1].rows[0].cutoff == Fraction(200, 3)


def test_nobody_forgets_anothers_scale(kept: Kept) -> None:
    scales.write_scale(kept.connection, kept.act(), "House", ROWS)
    other = people.add_person(kept.connection, history.Act(None, AT), "bo@larkmoor.example", "Bo", "hash")
    (mine,) = scales.scales_of(kept.connection, kept.owner)
    scales.delete_scale(kept.connection, history.Act(other, AT), mine.id)
    assert scales.scales_of(kept.connection, kept.owner) == [mine]
    assert scales.scales_of(kept.connection, other) == []
    scales.delete_scale(kept.connection, kept.act(), mine.id)
    assert scales.scales_of(kept.connection, kept.owner) == []
