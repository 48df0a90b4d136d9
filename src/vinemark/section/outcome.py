"""What came of an act: done, refused at a field, or in conflict with what somebody else did meanwhile."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import update_wrapper
from typing import Concatenate, ParamSpec

from vinemark.core.base.refused import Refused
from vinemark.section.state import SectionState
from vinemark.store.database import transaction
from vinemark.store.history import Act, AlreadyDoneError, ChangedSinceError, refuse_repeated
from vinemark.store.undo import NothingToUndoError


@dataclass(frozen=True)
class Done:
    """It is done. `text` says so in a sentence (empty: nothing is to be said), `entry` is what an undo would undo,
    `trouble` that something is still to be done."""

    text: str = ""
    entry: int | None = None
    trouble: bool = False


@dataclass(frozen=True)
class Conflict:
    """Nothing was changed: what was to be changed is no longer as it was seen."""

    text: str


Outcome = Done | Refused | Conflict
P = ParamSpec("P")


ActFunction = Callable[Concatenate[SectionState, Act, P], Done]


def act(function: ActFunction[P]) -> Callable[Concatenate[SectionState, Act, P], Outcome]:
    """Make a function an act: one transaction over the section as it is when it begins, repeated requests done once."""

    def acted(section: SectionState, request: Act, /, *args: P.args, **kwargs: P.kwargs) -> Outcome:
        def run() -> Done:
            with transaction(section.connection):
                # Before the act looks at anything: what it did itself would be in its way.
                refuse_repeated(section.connection, request)
                return function(section.fresh(), request, *args, **kwargs)

        return settled_outcome(run)

    update_wrapper(acted, function)
    return acted


def settled_outcome(run: Callable[[], Done]) -> Outcome:
    """What came of it, whatever it raised that an act may raise."""
    try:
        return run()
    except Refused as refused:
        return refused
    except (ChangedSinceError, NothingToUndoError) as error:
        return Conflict(str(error))
    except AlreadyDoneError as done:
        return Done(entry=done.entry)


def as_sentence(what: str) -> str:
    """What was done, as a sentence: 'Map quizzes moved.'"""
    return f"{what[:1].upper()}{what[1:]}."
