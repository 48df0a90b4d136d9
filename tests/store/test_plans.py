"""Plan versions."""

from dataclasses import replace
from fractions import Fraction

import pytest

from tests.store.conftest import Kept
from vinemark.core.base.refused import Refused
from vinemark.core.course.cell import DetailedScore
from vinemark.core.plan.plan import Plan
from vinemark.core.plan.rules import Symbol
from vinemark.core.scores.typed_cells import CellWrite
from vinemark.store import (
    plans,
    sections,
)
from vinemark.store.history import ChangedSinceError
from vinemark.store.plans import write_plan_version
from vinemark.store.previews import write_draft
from vinemark.store.scores import write_cells
from vinemark.store.undo import undo_entry


def edit(kept: Kept, changed: Plan, what: str = "changed") -> int | None:
    return plans.write_plan_version(kept.connection, kept.act(), lambda _: (changed, what))


def test_plan_versions_stay_and_nothing_changed_is_no_version(kept: Kept) -> None:
    first = kept.course().plan
    assert edit(kept, first) is None
    edit(kept, replace(first, basis="points"))
    assert plans.latest_version(kept.connection, kept.section) == 2
    assert sections.plan_of(kept.connection, kept.section, 1) == first


def test_a_refused_edit_changes_nothing(kept: Kept) -> None:
    def refuse(_: Plan) -> tuple[Plan, str]:
        raise Refused("weight", "no")

    with pytest.raises(Refused):
        plans.write_plan_version(kept.connection, kept.act(), refuse)
    assert plans.latest_version(kept.connection, kept.section) == 1


def with_symbols(kept: Kept) -> None:
    symbols = (Symbol("check+", Fraction(95)), Symbol("check", Fraction(80)))
    write_plan_version(kept.connection, kept.act(), lambda plan: (_symbols(plan, symbols), "symbols"))
    write_cells(kept.connection, kept.act(), [CellWrite("ada", "i0", DetailedScore(symbol="check+"))], "scores")


def _symbols(plan: Plan, symbols: tuple[Symbol, ...]) -> Plan:
    return replace(plan, categories=tuple(replace(c, symbols=symbols) for c in plan.categories))


def test_a_symbol_in_use_stays_in_the_plan(kept: Kept) -> None:
    with_symbols(kept)
    assert kept.course().value("ada", "i0") == Fraction("9.5")
    with pytest.raises(Refused, match=r"use “check\+”, which .* would not have"):
        write_plan_version(kept.connection, kept.act(), lambda plan: (_symbols(plan, ()), "none"))
    with pytest.raises(Refused, match="change them first"):
        write_draft(kept.connection, kept.act(), lambda plan: (_symbols(plan, ()), "none"))
    only = (Symbol("check+", Fraction(90)),)
    write_plan_version(kept.connection, kept.act(), lambda plan: (_symbols(plan, only), "one"))
    assert kept.course().value("ada", "i0") == Fraction(9)


def test_a_plan_without_the_symbol_does_not_come_back_by_undo(kept: Kept) -> None:
    entry = write_plan_version(
        kept.connection, kept.act(), lambda plan: (_symbols(plan, (Symbol("s", Fraction(50)),)), "")
    )
    write_cells(kept.connection, kept.act(), [CellWrite("ada", "i0", DetailedScore(symbol="s"))], "scores")
    assert entry is not None
    with pytest.raises(ChangedSinceError, match="Nothing was undone"):
        undo_entry(kept.connection, kept.act(), entry)
    write_cells(kept.connection, kept.act(), [CellWrite("ada", "i0", None)], "scores")
    undo_entry(kept.connection, kept.act(), entry)
    assert kept.course().plan.categories[0].symbols == ()
