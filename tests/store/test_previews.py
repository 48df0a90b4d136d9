"""A plan that is tried out apart from the one in force."""

from dataclasses import replace

import pytest

from tests.store.conftest import Kept
from vinemark.core.plan.plan import Plan
from vinemark.store import plans, previews
from vinemark.store.history import ChangedSinceError
from vinemark.store.undo import undo_entry


def points(plan: Plan) -> tuple[Plan, str]:
    return replace(plan, basis="points"), "by points"


def capped(plan: Plan) -> tuple[Plan, str]:
    return replace(plan, cap=plan.categories[0].weight), "capped"


def test_it_starts_as_the_plan_in_force_and_leaves_it_alone(kept: Kept) -> None:
    assert previews.draft_of(kept.connection, kept.section) is None
    previews.write_draft(kept.connection, kept.act(), points)
    previews.write_draft(kept.connection, kept.act(), capped)
    draft = previews.draft_of(kept.connection, kept.section)
    assert draft is not None
    assert (draft.base_version, draft.plan.basis, draft.plan.cap) == (1, "points", 100)
    assert kept.course().plan.basis == "weighted"


def test_dropped_it_is_gone_and_undo_brings_it_back(kept: Kept) -> None:
    previews.write_draft(kept.connection, kept.act(), points)
    entry = previews.discard_draft(kept.connection, kept.act())
    assert previews.draft_of(kept.connection, kept.section) is None
    undo_entry(kept.connection, kept.act(), entry)
    assert previews.draft_of(kept.connection, kept.section) is not None


def test_put_in_force_it_is_a_version_with_its_reason(kept: Kept) -> None:
    assert previews.apply_draft(kept.connection, kept.act(), "nothing there") is None
    previews.write_draft(kept.connection, kept.act(), points)
    assert previews.apply_draft(kept.connection, kept.act(), "agreed in class") is not None
    assert kept.course().plan.basis == "points"
    assert plans.plan_versions(kept.connection, kept.section)[0]["what"] == "applied: agreed in class"
    assert previews.draft_of(kept.connection, kept.section) is None


def test_a_plan_that_was_changed_meanwhile_is_not_overwritten(kept: Kept) -> None:
    previews.write_draft(kept.connection, kept.act(), points)
    plans.write_plan_version(kept.connection, kept.act(), capped)
    with pytest.raises(ChangedSinceError):
        previews.apply_draft(kept.connection, kept.act(), "agreed")
    assert kept.course().plan.basis == "weighted"
    assert previews.draft_of(kept.connection, kept.section) is not None
