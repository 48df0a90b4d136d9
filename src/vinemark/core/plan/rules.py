"""Further rules of a plan as plain data: late work, symbols, replacements, weights, requirements, rounding."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from typing import Literal, get_args

from vinemark.core.base.number import RoundingWay

LateOf = Literal["points", "score"]
ConditionKind = Literal["percent_below", "missed_at_least", "value_above"]
ConsequenceKind = Literal["letter_at_most", "letters_down", "percent_down", "percent_at_most"]

LATE_OFS: tuple[LateOf, ...] = get_args(LateOf)
CONDITION_KINDS: tuple[ConditionKind, ...] = get_args(ConditionKind)
CONSEQUENCE_KINDS: tuple[ConsequenceKind, ...] = get_args(ConsequenceKind)

MOST_LATE_DAYS = 366
LONGEST_SYMBOL = 20


@dataclass(frozen=True)
class LateRule:
    """What a late day costs: `per_day` and `at_most` in percent, of the item's points or of the score.

    `at_most` None takes up to everything. Work more than `last_day` days late gets nothing.
    """

    per_day: Fraction
    of: LateOf = "points"
    at_most: Fraction | None = None
    grace_days: int = 0
    last_day: int | None = None
    free_days: int = 0


@dataclass(frozen=True)
class Symbol:
    """A sign that stands for a percent of an item's points; the percent may be above 100."""

    symbol: str
    percent: Fraction


@dataclass(frozen=True)
class RoundTo:
    """Rounding of a category's percentage, to so many decimals."""

    decimals: int
    way: RoundingWay = "nearest"


@dataclass(frozen=True)
class Replacement:
    """The item `source` replaces the `count` weakest of the category `into`; with `missed`, missing work too."""

    source: str
    into: str
    count: int = 1
    missed: bool = True


@dataclass(frozen=True)
class Alternative:
    """A second set of weights, in percent by the id of each ordinary category; the better result counts."""

    id: str
    name: str
    weights: Mapping[str, Fraction]


@dataclass(frozen=True)
class Condition:
    """When a requirement is not met: something about a category or an item (one of the two is named)."""

    kind: ConditionKind
    threshold: Fraction
    category: str | None = None
    item: str | None = None


@dataclass(frozen=True)
class Consequence:
    """What an unmet requirement does: a letter for `letter_at_most`, else an amount; `for_each` times."""

    kind: ConsequenceKind
    amount: Fraction = Fraction(0)
    letter: str = ""
    for_each: bool = False


@dataclass(frozen=True)
class Requirement:
    """Something a student must reach; not met where the condition holds. `text` is how the syllabus says it."""

    id: str
    condition: Condition
    consequence: Consequence
    text: str = ""


@dataclass(frozen=True)
class RecordedItem:
    """Something that is recorded outside every category and counts in none, such as absences."""

    id: str
    name: str
    due: date | None = None
