"""A section's grades held against figures from elsewhere, as they are now."""

from vinemark.core.audit.official import compare_settled
from vinemark.core.audit.outside_totals import Comparison, compare_totals, held_totals, read_figures
from vinemark.section.state import SectionState
from vinemark.store.comparisons import KeptComparison

AGAINST_WORDS = {
    "computed": "the grades worked out here",
    "final": "the settled final grades",
    "midterm": "the settled midterm grades",
}


def compared(section: SectionState, kept: KeptComparison, explained: bool = True) -> Comparison:
    """The likely column of what is kept against the section as it is now, and what would explain a difference."""
    typed = kept.columns[kept.likely]
    if kept.against != "computed":
        return compare_settled(section.course.for_run(kept.against), typed)
    compare = compare_totals if explained else held_totals
    return compare(section.course, read_figures(typed, section.course, section.as_of), section.as_of)
