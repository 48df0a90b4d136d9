"""What only the records of a section tell, not its course file: acts of its history, and what was signed."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date


@dataclass(frozen=True)
class TwiceAdjusted:
    """An act that was done to a whole column twice, in words, and the two days."""

    words: str
    first: date
    second: date


@dataclass(frozen=True)
class Recorded:
    """`adjusted` by item; `on_the_way` by student the code that was signed and is not answered by the registrar."""

    adjusted: Mapping[str, TwiceAdjusted] = field(default_factory=dict)
    on_the_way: Mapping[str, str] = field(default_factory=dict)
