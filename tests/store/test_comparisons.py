"""Figures from elsewhere are kept whole, removed and put back, and leave with the student they are of."""

from datetime import datetime

import pytest

from tests.store.conftest import Kept
from tests.store.test_erase import BO, mentions
from vinemark.store import class_list, comparisons, erase, undo
from vinemark.store.comparisons import KeptComparison
from vinemark.store.history import ChangedSinceError

FOUND = KeptComparison(
    0, "totals.csv", datetime(2026, 12, 18, 9), "computed", ["Total", "Letter"], 1,
    [{"ada": "87.5", "bo": "90"}, {"ada": "B+"}], ["L99 Somebody"],
)  # fmt: skip


def keep(kept: Kept) -> int:
    return comparisons.write_comparison(kept.connection, kept.act(), FOUND)


def all_of(kept: Kept) -> list[KeptComparison]:
    return comparisons.comparisons_of(kept.connection, kept.section)


def test_what_is_kept_comes_back_as_it_was(kept: Kept) -> None:
    keep(kept)
    keep(kept)
    found = all_of(kept)
    assert [one.number for one in found] == [2, 1]
    assert (found[1].headings, found[1].likely, found[1].columns) == (FOUND.headings, 1, FOUND.columns)
    assert (found[1].at, found[1].against, found[1].unknown) == (FOUND.at, "computed", ["L99 Somebody"])
    assert comparisons.comparison_of(kept.connection, kept.section, 3) is None


def test_one_that_is_removed_can_be_put_back(kept: Kept) -> None:
    keep(kept)
    entry = comparisons.remove_comparison(kept.connection, kept.act(), 1)
    assert entry is not None
    assert all_of(kept) == []
    assert comparisons.remove_comparison(kept.connection, kept.act(), 1) is None
    undo.undo_entry(kept.connection, kept.act(), entry)
    assert [one.columns for one in all_of(kept)] == [FOUND.columns]


def test_keeping_can_be_undone_once(kept: Kept) -> None:
    entry = keep(kept)
    comparisons.remove_comparison(kept.connection, kept.act(), 1)
    with pytest.raises(ChangedSinceError):
        undo.undo_entry(kept.connection, kept.act(), entry)


def test_another_id_takes_the_figures_along(kept: Kept) -> None:
    keep(kept)
    class_list.put_ids(kept.connection, kept.section, {"ada": "eve"})
    assert all_of(kept)[0].columns == [{"eve": "87.5", "bo": "90"}, {"eve": "B+"}]


def test_an_erased_student_is_in_no_comparison(kept: Kept) -> None:
    named = KeptComparison(**{**vars(FOUND), "unknown": ["Mai Bo"]})
    comparisons.write_comparison(kept.connection, kept.act(), named)
    assert "comparison" in mentions(kept.connection, "Mai Bo")
    erase.erase_student(kept.connection, kept.act(), BO)
    assert mentions(kept.connection, "Mai Bo") == set()
    assert all_of(kept)[0].columns == [{"ada": "87.5"}, {"ada": "B+"}]
