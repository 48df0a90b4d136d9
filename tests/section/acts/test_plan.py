"""Acts on the plan: what touches nobody counts at once, what does is tried first."""

from dataclasses import replace
from datetime import timedelta

from tests.section.conftest import NOW, House
from vinemark.core.base.refused import Refused
from vinemark.core.plan.plan import Plan
from vinemark.section.acts.plan import apply_preview, change_plan, discard_preview
from vinemark.section.outcome import Done

SHORT = "HYDR 230-01"


def renamed(plan: Plan) -> tuple[Plan, str]:
    first, *rest = plan.categories
    return replace(plan, categories=(replace(first, name="Renamed"), *rest)), "renamed"


def dropping(plan: Plan) -> tuple[Plan, str]:
    first, *rest = plan.categories
    return replace(plan, categories=(replace(first, drop_lowest=first.drop_lowest + 1, keep_best=None), *rest)), "drops"


def test_a_new_name_counts_at_once_and_a_drop_is_tried(house: House) -> None:
    section = house.section(SHORT)
    before = section.course.plan
    assert change_plan(section, house.act(section), renamed) != Done()
    assert section.fresh().course.plan.categories[0].name == "Renamed"
    change_plan(section, house.act(section), dropping)
    tried = section.fresh()
    assert tried.course.plan.categories[0].drop_lowest == before.categories[0].drop_lowest
    assert tried.snapshot.working_plan.categories[0].drop_lowest == before.categories[0].drop_lowest + 1


def test_while_one_is_tried_every_edit_belongs_to_it(house: House) -> None:
    section = house.section(SHORT)
    change_plan(section, house.act(section), dropping)
    change_plan(section, house.act(section), renamed)
    tried = section.fresh()
    assert tried.course.plan.categories[0].name != "Renamed"
    assert tried.snapshot.working_plan.categories[0].name == "Renamed"


def test_whether_anybody_is_touched_is_asked_for_the_day_blanks_go_by(house: House) -> None:
    """A blank that counts once due touches nobody before it is due, and everybody without a score after."""

    def when_due(plan: Plan) -> tuple[Plan, str]:
        made = tuple(replace(c, blanks="zero_when_due") if c.blanks == "wait" else c for c in plan.categories)
        return replace(plan, categories=made), "blanks count once due"

    early = house.section(SHORT, now=NOW - timedelta(days=200))
    before = early.course.plan
    change_plan(early, house.act(early), when_due)
    assert early.fresh().snapshot.loaded.draft is None
    assert early.fresh().course.plan != before


def test_it_is_put_in_force_with_a_reason_or_dropped(house: House) -> None:
    section = house.section(SHORT)
    change_plan(section, house.act(section), dropping)
    refused = apply_preview(section, house.act(section), "  ")
    assert isinstance(refused, Refused)
    assert refused.field == "reason"
    apply_preview(section, house.act(section), " agreed  in class ")
    assert section.fresh().course.plan == section.fresh().snapshot.working_plan
    change_plan(section, house.act(section), dropping)
    discard_preview(section, house.act(section))
    assert section.fresh().snapshot.loaded.draft is None


def test_two_edits_of_one_stale_window_both_hold(house: House) -> None:
    stale = house.section(SHORT)
    change_plan(stale, house.act(stale), renamed)

    def weighed(plan: Plan) -> tuple[Plan, str]:
        last = plan.categories[-1]
        return replace(plan, categories=(*plan.categories[:-1], replace(last, name="Last"))), "named"

    change_plan(stale, house.act(stale), weighed)
    names = [c.name for c in stale.fresh().course.plan.categories]
    assert (names[0], names[-1]) == ("Renamed", "Last")
