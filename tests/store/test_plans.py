"""Plan versions."""

from dataclasses import replace

import pytest

from tests.store.conftest import Kept
from vinemark.core.base.refused import Refused
from vinemark.core.plan.plan import Plan
from vinemark.store import (
    plans,
    sections,
)


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
