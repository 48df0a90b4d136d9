"""What others changed since a page was looked at: an act does not overwrite what its person has not seen."""

from collections.abc import Iterable, Mapping
from hashlib import sha256

from vinemark.core.base.dates import clock_words, time_words
from vinemark.core.base.moments import moment_of
from vinemark.core.plan.places import changed_places
from vinemark.core.plan.plan import Plan
from vinemark.section.state import SectionState
from vinemark.store import history, plans
from vinemark.store.history import Act, ChangedSinceError, LaterEntry


def refuse_changed(section: SectionState, request: Act, kind: str, new: Mapping[str, str | None]) -> None:
    """Raise ChangedSinceError where what is to be written, by its place, was changed since the page was looked at.

    `kind` is the kind of entry whose before and after are texts by place. What was changed to the same, or back again,
    is no surprise.
    """
    later = _later(section, request, kind)
    for place, text in new.items():
        touching = [entry for entry in later if place in entry.after]
        if touching and touching[-1].after[place] not in (text, touching[0].before[place]):
            raise ChangedSinceError(_said(section, request, touching[-1]))


def refuse_changed_plan(section: SectionState, request: Act, plan: Plan) -> None:
    """The same for an edited plan: only a place that both changed is in the way."""
    now = section.snapshot.working_plan
    ours = changed_places(now, plan)
    for entry in _later(section, request, "plan", "rehearsal"):
        before, after = plans.plans_of_entry(section.connection, section.id, entry)
        if ours & changed_places(before, after):
            raise ChangedSinceError(_said(section, request, entry))


def refuse_other(seen: str, values: Iterable[str], what: str) -> None:
    """Raise ChangedSinceError, with `what` was seen, where a page was made of other values than these."""
    if seen and seen != fingerprint(values):
        raise ChangedSinceError(
            f"{what} changed since you opened this page, so nothing was done. Check again, then repeat it."
        )


def fingerprint(values: Iterable[str]) -> str:
    """A short sign that stands for exactly these values, in any order."""
    return sha256("\n".join(sorted(values)).encode()).hexdigest()[:32]


def _later(section: SectionState, request: Act, *kinds: str) -> list[LaterEntry]:
    if request.seen is None:
        return []
    return history.later_entries(section.connection, section.id, request.seen, kinds, request.page)


def _said(section: SectionState, request: Act, entry: LaterEntry) -> str:
    who = "You, in another window," if entry.person_id == request.person_id else entry.person or "The registrar"
    at = moment_of(entry.at)
    when = clock_words(at) if at.date() == section.now.date() else time_words(at)
    return f"{who} changed this at {when}: {entry.what.removeprefix('previewed:  ')}. What you typed is not saved yet."
