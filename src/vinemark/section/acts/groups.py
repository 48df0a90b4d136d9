"""Acts on the groups of an item: who works together, and one score for all of a group."""

from collections.abc import Mapping

from vinemark.core.base.refused import Refused
from vinemark.core.plan.plan import Item
from vinemark.core.scores.groups import even_groups, group_cells, typed_groups
from vinemark.section.outcome import Done, act
from vinemark.section.state import SectionState
from vinemark.store import groups, scores
from vinemark.store.history import Act, ChangedSinceError


@act
def put_in_groups(section: SectionState, request: Act, item: Item, typed: Mapping[str, str]) -> Done:
    """The groups of an item as typed."""
    return _kept(section, request, item, typed_groups(section.course, typed))


@act
def make_even_groups(section: SectionState, request: Act, item: Item, size: str) -> Done:
    """Groups of so many, in the order of the class."""
    return _kept(section, request, item, even_groups(section.course.enrolled(), size))


@act
def groups_as_of(section: SectionState, request: Act, item: Item, other: str) -> Done:
    """The same groups as those of another item."""
    found = groups.groups_of(section.connection, section.id, other)
    if not found:
        raise Refused("other", "has no groups")
    return _kept(section, request, item, found)


def _kept(section: SectionState, request: Act, item: Item, found: Mapping[str, str]) -> Done:
    count = len(set(found.values()))
    what = f"{item.name}: {len(found)} students in {count} group{'s' * (count != 1)}"
    entry = groups.write_groups(section.connection, request, item.id, found, what)
    return Done(f"{what}." if entry else "", entry)


@act
def score_groups(section: SectionState, request: Act, item: Item, typed: Mapping[str, str]) -> Done:
    """One score for all members of each group, as typed; single members can be given another one on the sheet."""
    now = groups.groups_of(section.connection, section.id, item.id)
    changes = group_cells(section.course, item, now, typed)
    if not changes:
        raise Refused("scores", "no score was typed that a group does not have already")
    if scores.conflicts_of(section.connection, section.id, changes):
        raise ChangedSinceError("Some of these scores were changed meanwhile. Look again; nothing was saved.")
    people = len(changes)
    what = f"{item.name}: group scores, {people} cell{'s' * (people != 1)}"
    return Done(f"{what}.", scores.write_cells(section.connection, request, changes, what))
