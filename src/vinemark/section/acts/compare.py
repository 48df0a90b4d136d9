"""Acts of comparing with figures from elsewhere: a file is kept, and removed."""

from collections.abc import Sequence

from vinemark.core.base.refused import Refused
from vinemark.exchange.totals_file import OutsideTable
from vinemark.section.outcome import Done, act
from vinemark.section.state import SectionState
from vinemark.store import comparisons
from vinemark.store.comparisons import AGAINST, Against, KeptComparison
from vinemark.store.history import Act

MOST_COMPARISONS = 40
UNKNOWN_KEPT = 50
LONGEST_FILE_NAME = 120


def as_kept(section: SectionState, found: OutsideTable, name: str, against: str) -> KeptComparison:
    """A file that was read, as it is kept. Raises Refused at 'against'."""
    wanted: Sequence[Against] = [one for one in AGAINST if one == against]
    if not wanted:
        raise Refused("against", "choose what it is compared with")
    return KeptComparison(
        0, name[:LONGEST_FILE_NAME], section.now, wanted[0], [column.heading for column in found.columns], found.likely,
        [column.typed for column in found.columns], list(found.unknown[:UNKNOWN_KEPT]),
    )  # fmt: skip


@act
def keep_comparison(section: SectionState, request: Act, found: KeptComparison) -> Done:
    """Keep what a file says; it is the latest then."""
    if len(comparisons.comparison_numbers(section.connection, section.id)) >= MOST_COMPARISONS:
        raise Refused("file", f"cannot be kept: there are {MOST_COMPARISONS} comparisons here; remove one first")
    return Done("", comparisons.write_comparison(section.connection, request, found))


@act
def forget_comparison(section: SectionState, request: Act, number: int) -> Done:
    """Keep it no longer."""
    entry = comparisons.remove_comparison(section.connection, request, number)
    return Done("Comparison removed." if entry else "", entry)
