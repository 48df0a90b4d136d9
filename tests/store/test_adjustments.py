"""Adjustments of students, kept with their reasons."""

from fractions import Fraction

import pytest

from tests.store.conftest import Kept
from vinemark.core.course.course import Adjustment
from vinemark.store.adjustments import adjustments_of, give_adjustment, kept_adjustment
from vinemark.store.history import ChangedSinceError
from vinemark.store.undo import undo_entry

GIVEN = Adjustment(Fraction("-1.5"), "agreed on Dec 3")


def test_an_adjustment_is_given_taken_away_and_brought_back(kept: Kept) -> None:
    give_adjustment(kept.connection, kept.act(), "ada", GIVEN, "adjustment")
    assert adjustments_of(kept.connection, kept.section) == {"ada": GIVEN}
    assert kept.course().adjustment("ada") == Fraction("-1.5")
    entry = give_adjustment(kept.connection, kept.act(), "ada", None, "adjustment")
    assert entry is not None
    assert kept.course().adjustments == {}
    undo_entry(kept.connection, kept.act(), entry)
    assert kept.course().adjustments == {"ada": GIVEN}


def test_the_same_again_is_no_change(kept: Kept) -> None:
    assert give_adjustment(kept.connection, kept.act(), "ada", None, "adjustment") is None
    assert give_adjustment(kept.connection, kept.act(), "ada", GIVEN, "adjustment") is not None
    assert give_adjustment(kept.connection, kept.act(), "ada", GIVEN, "adjustment") is None


def test_nothing_is_written_over_what_somebody_else_gave(kept: Kept) -> None:
    give_adjustment(kept.connection, kept.act(), "ada", GIVEN, "adjustment")
    other = Adjustment(Fraction(2))
    with pytest.raises(ChangedSinceError):
        give_adjustment(kept.connection, kept.act(), "ada", other, "adjustment", was=[])
    assert give_adjustment(kept.connection, kept.act(), "ada", other, "adjustment", was=kept_adjustment(GIVEN))
    assert adjustments_of(kept.connection, kept.section) == {"ada": other}


def test_an_undoing_stops_at_a_later_change(kept: Kept) -> None:
    entry = give_adjustment(kept.connection, kept.act(), "ada", GIVEN, "adjustment")
    give_adjustment(kept.connection, kept.act(), "ada", Adjustment(Fraction(2)), "adjustment")
    assert entry is not None
    with pytest.raises(ChangedSinceError):
        undo_entry(kept.connection, kept.act(), entry)


def test_it_goes_with_its_student(kept: Kept) -> None:
    give_adjustment(kept.connection, kept.act(), "ada", GIVEN, "adjustment")
    kept.connection.execute("DELETE FROM student WHERE id = 'ada'")
    assert adjustments_of(kept.connection, kept.section) == {}
