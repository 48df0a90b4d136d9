"""Rules read as sentences: what a plan says, in plain words, with the words that can be changed marked."""

from collections.abc import Sequence
from dataclasses import dataclass

from vinemark.core.number import exact_text
from vinemark.core.plan import Category, Plan, Rounding


@dataclass(frozen=True)
class Choice:
    """One way a rule can be set."""

    value: str
    label: str


@dataclass(frozen=True)
class Phrase:
    """Part of a sentence; with a rule it is a control that offers choices."""

    text: str
    rule: str | None = None
    value: str = ""
    choices: Sequence[Choice] = ()


SPLIT_CHOICES = (
    Choice("by_points", "by points: an item worth more points weighs more"),
    Choice("even", "evenly: every item counts the same"),
)
BLANK_CHOICES = (
    Choice("wait", "waits: left out until something is recorded"),
    Choice("zero", "counts 0"),
    Choice("zero_when_due", "counts 0 once due"),
)
BLANK_WORDS = {"wait": "waits", "zero": "counts 0", "zero_when_due": "counts 0 once due"}
SPLIT_WORDS = {"by_points": "by points", "even": "evenly", "own_shares": "by own shares"}


def category_phrases(plan: Plan, category: Category) -> list[Phrase]:
    """A category's rules as phrases: 'Split by points; drop the lowest 2. A blank waits.'"""
    if category.extra:
        return [
            Phrase("Extra credit on top of the rest, split "),
            *_split(plan, category),
            Phrase(". A blank adds nothing."),
        ]
    phrases = [Phrase("Split "), *_split(plan, category), Phrase("; "), _drops(category), Phrase(". A blank ")]
    blank = Phrase(BLANK_WORDS[category.blanks], "blanks", category.blanks, BLANK_CHOICES)
    return [*phrases, blank, Phrase("." + _ceiling(category))]


def _split(plan: Plan, category: Category) -> list[Phrase]:
    if plan.basis == "points":
        return [Phrase("by points")]
    return [Phrase(SPLIT_WORDS[category.split], "split", category.split, SPLIT_CHOICES)]


def _drops(category: Category) -> Phrase:
    parts = []
    if category.drop_highest:
        parts.append(f"drop the highest {category.drop_highest}")
    if category.keep_best is not None:
        parts.append(f"keep the best {category.keep_best}")
    if category.drop_lowest:
        parts.append(f"drop the lowest {category.drop_lowest}")
    choices = [Choice("0", "nothing dropped"), *(Choice(str(n), f"drop the lowest {n}") for n in range(1, 6))]
    value = "" if category.keep_best is not None else str(category.drop_lowest)
    return Phrase(" and ".join(parts) or "nothing dropped", "drop_lowest", value, choices)


def _ceiling(category: Category) -> str:
    return "" if category.ceiling is None else f" No more than {exact_text(category.ceiling)}% counts."


def sentence(phrases: Sequence[Phrase]) -> str:
    """The phrases as plain text."""
    return "".join(phrase.text for phrase in phrases)


def rounding_words(rounding: Rounding | None) -> str:
    """The rounding rule in words."""
    if rounding is None:
        return "The percent is not rounded."
    place = {0: "a whole number", 1: "one decimal"}.get(rounding.decimals, f"{rounding.decimals} decimals")
    used = "rounded" if rounding.letter_uses == "rounded" else "exact"
    return f"The percent is rounded to {place} (a half goes up); the letter uses the {used} percent."


def basis_words(plan: Plan) -> str:
    """The plan basis in words."""
    if plan.basis == "points":
        return "The grade is all points earned out of all points possible."
    return "The grade is the weighted average of the categories."


def plan_text(plan: Plan) -> str:
    """The whole plan in plain words, ready for a syllabus."""
    lines = [basis_words(plan)]
    for category in plan.categories:
        lines.append(f"{category.name}{_worth(plan, category)}. {sentence(category_phrases(plan, category))}")
    if plan.scale:
        lines.append("Letters: " + ", ".join(f"{r.letter} from {exact_text(r.cutoff)}" for r in plan.scale) + ".")
    lines.append(rounding_words(plan.rounding))
    return "\n".join(lines) + "\n"


def _worth(plan: Plan, category: Category) -> str:
    if plan.basis == "points" or category.weight is None:
        points = sum(item.points for item in category.regular)
        return f" ({exact_text(points + 0)} points)" if points else ""
    return f" ({exact_text(category.weight)}%)"
