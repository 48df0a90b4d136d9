"""How old the copy is that is made all the time, in words."""

from collections.abc import Iterator
from pathlib import Path
from typing import Final, NamedTuple

from vinemark.store.replica import replica_of

OLDEST_COPY: Final = 60.0
"""Seconds."""


class CopyWords(NamedTuple):
    """How old the copy is that is made all the time, in words, and whether somebody has to look at it."""

    text: str
    trouble: bool


def copy_words(database: Path, now: float) -> CopyWords | None:
    """What to say of the copy, `now` in seconds of the epoch; None where none is made all the time."""
    state = replica_of(database)
    if state is None:
        return None
    age, trouble = state.age(now), state.age(now) > OLDEST_COPY
    if state.copied is None:
        return CopyWords(f"The copy at {state.to} has nothing yet, for {_age_words(age)}.", trouble)
    why = f" ({state.trouble})" if trouble and state.trouble else ""
    return CopyWords(f"The copy at {state.to} holds all that was saved up to {_age_words(age)} ago{why}.", trouble)


def _age_words(seconds: float) -> str:
    for size, name in ((86_400, "day"), (3_600, "hour"), (60, "minute")):
        if seconds >= 2 * size:
            return f"{int(seconds // size)} {name}s"
    return "1 second" if int(seconds) == 1 else f"{int(seconds)} seconds"


def ills_of_copy(database: Path, now: float) -> Iterator[str]:
    """Whether the copy that is made all the time is old."""
    found = copy_words(database, now)
    if found is not None and found.trouble:
        yield (f"{found.text} Serve with --replica and look at the log; if no copy is wanted any more, delete"
               f" {database}.copied")  # fmt: skip
