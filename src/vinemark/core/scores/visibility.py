"""Hidden or visible: whether students can see an item's scores; and which grade they see."""

from dataclasses import dataclass
from typing import Literal, get_args

from vinemark.core.course.course import Course
from vinemark.core.plan.plan import Item

VisibilityRule = Literal["held", "open", "when_full"]
VISIBILITY_RULES: tuple[VisibilityRule, ...] = get_args(VisibilityRule)
VISIBILITY_WORDS: dict[VisibilityRule, str] = {
    "held": "hidden",
    "open": "visible to students",
    "when_full": "visible when every cell is filled",
}

ShownGrade = Literal["settled", "computed"]
SHOWN_GRADE_WORDS: dict[ShownGrade, str] = {
    "settled": "the settled grade",
    "computed": "the computed grade, which follows each score",
}


@dataclass(frozen=True)
class ItemVisibility:
    """What was chosen for an item, whether students see it now, and how many cells are still empty."""

    rule: VisibilityRule
    visible: bool
    empty: int

    @property
    def short(self) -> str:
        """For a heading: 'hidden', 'visible', or '3 to go'."""
        if self.visible:
            return "visible"
        return f"{self.empty} to go" if self.rule == "when_full" else "hidden"

    @property
    def words(self) -> str:
        """For a sentence."""
        if self.rule == "when_full":
            left = f"hidden until every cell is filled; {self.empty} to go"
            return "visible to students, since every cell is filled" if self.visible else left
        return VISIBILITY_WORDS[self.rule]


def item_visibility(course: Course, item: Item, rule: VisibilityRule | None) -> ItemVisibility:
    """Whether an item's scores can be seen by students; an item that nothing was chosen for is hidden.

    A cell is filled by a number, 'missing' or 'exempt'; students who do not get a grade here do not count.
    """
    chosen = rule or "held"
    people = len(course.enrolled())
    empty = people - course.tally.recorded.get(item.id, 0)
    full = bool(people) and not empty
    return ItemVisibility(chosen, chosen == "open" or (chosen == "when_full" and full), empty)
