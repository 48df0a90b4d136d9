"""Rules read as sentences: what a plan says, in plain words, with the words that can be changed marked."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from vinemark.core.base.limits import DROP_LIMIT
from vinemark.core.base.number import exact_text
from vinemark.core.plan.plan import Category, Item, Plan, Rounding, points_total
from vinemark.core.plan.rule_words import WAY_WORDS, category_rule_words, plan_rule_words, to_words


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
    Choice("even", "equally: every item counts the same"),
    Choice("own_shares", "by percentages you set for each item"),
)
BLANK_CHOICES = (
    Choice("wait", "is not counted yet: left out until there is a score"),
    Choice("zero", "counts as 0"),
    Choice("zero_when_due", "counts as 0 once due"),
)
BLANK_WORDS = {"wait": "is not counted yet", "zero": "counts as 0", "zero_when_due": "counts as 0 once due"}
SPLIT_WORDS = {"by_points": "by points", "even": "equally", "own_shares": "by percentages you set"}


EXTRA_CHOICES = (
    Choice("no", "counts toward the whole"),
    Choice("yes", "extra credit: adds on top, and can never hurt"),
)
DROP_BY_CHOICES = (
    Choice("helps_most", "whichever drop gives the best result"),
    Choice("lowest_percent", "by the lowest percentage"),
)


def category_phrases(plan: Plan, category: Category) -> list[Phrase]:
    """A category's rules as phrases: 'Items count equally; drop the lowest 2. A blank counts as 0. Add a cap.'"""
    if category.extra:
        start = Phrase("Extra credit on top", "extra", "yes", EXTRA_CHOICES)
        split = [Phrase("; items count "), _split(plan, category), Phrase(". A blank adds nothing. ")]
        return [start, *split, cap_phrase(category.cap)]
    blank = Phrase(BLANK_WORDS[category.blanks], "blanks", category.blanks, BLANK_CHOICES)
    extra = Phrase("Make it extra credit", "extra", "no", EXTRA_CHOICES)
    begin = [Phrase("Items count "), _split(plan, category), Phrase("; ")]
    end = [Phrase(". "), cap_phrase(category.cap), Phrase(". "), extra]
    return [*begin, *_drops(category), Phrase(". A blank "), blank, *end]


def _split(plan: Plan, category: Category) -> Phrase:
    if plan.basis == "points":
        return Phrase("by points")
    return Phrase(SPLIT_WORDS[category.split], "split", category.split, SPLIT_CHOICES)


def _drops(category: Category) -> list[Phrase]:
    phrases = [_lowest(category)]
    if category.drop_lowest or category.keep_best is not None:
        words = {c.value: c.label for c in DROP_BY_CHOICES}[category.drop_by]
        phrases += [Phrase(", "), Phrase(words, "drop_by", category.drop_by, DROP_BY_CHOICES)]
    if category.drop_highest:
        none = Choice("highest 0", "none of the highest")
        choices = [none, *_drop_choices("highest", "drop the highest", category.drop_highest, 3)]
        text = f"drop the highest {category.drop_highest}"
        phrases += [Phrase(", and "), Phrase(text, "drops", f"highest {category.drop_highest}", choices)]
    return phrases


def _lowest(category: Category) -> Phrase:
    """Drop lowest or keep best, in one control: having both cannot be chosen."""
    count = len(category.regular)
    choices = [
        Choice("lowest 0", "nothing dropped" if not category.drop_highest else "none of the lowest"),
        *_drop_choices("lowest", "drop the lowest", category.drop_lowest, max(3, count - 1)),
        *_drop_choices("best", "keep the best", category.keep_best or 1, max(1, count - 1)),
    ]
    if not category.drop_highest:
        choices += _drop_choices("highest", "drop the highest", 1, 2)
    if category.keep_best is not None:
        return Phrase(f"keep the best {category.keep_best}", "drops", f"best {category.keep_best}", choices)
    text = f"drop the lowest {category.drop_lowest}" if category.drop_lowest else choices[0].label
    return Phrase(text, "drops", f"lowest {category.drop_lowest}", choices)


def _drop_choices(kind: str, words: str, now: int, most: int) -> list[Choice]:
    return [Choice(f"{kind} {n}", f"{words} {n}") for n in _numbers(now, most)]


def _numbers(now: int, most: int) -> range:
    return range(1, max(min(now, DROP_LIMIT.most), min(most, 20)) + 1)


def cap_phrase(cap: Fraction | None) -> Phrase:
    """A cap in percent, of a category or the course."""
    offered = sorted({Fraction(100), Fraction(105), Fraction(110), *([] if cap is None else [cap])})
    choices = [Choice("none", "no cap")]
    choices += [Choice(exact_text(c), f"at most {exact_text(c)}% counts") for c in offered]
    text = "Add a cap" if cap is None else f"At most {exact_text(cap)}% counts"
    return Phrase(text, "ceiling", "none" if cap is None else exact_text(cap), choices)


def sentence(phrases: Sequence[Phrase]) -> str:
    """The phrases as plain text."""
    return "".join(phrase.text for phrase in phrases)


def rule_said(category: Category, rule: str) -> str:
    """How a rule of a category is now, for the sentence after it was changed: 'blanks now count as 0'."""
    if rule == "split":
        return f"items now count {SPLIT_WORDS[category.split]}"
    if rule == "blanks":
        waits = category.blanks == "wait"
        return f"blanks now {'are' if waits else 'count'} {BLANK_WORDS[category.blanks].split(' ', 1)[1]}"
    if rule == "extra":
        return "now extra credit" if category.extra else "now counts toward the whole"
    if rule == "ceiling":
        return cap_said(category.cap)
    if rule == "drop_by":
        by = "the lowest percentage" if category.drop_by == "lowest_percent" else "the best result"
        return f"drops now go by {by}"
    words = _drop_words(category).rstrip(".")
    return f"now {words[:1].lower()}{words[1:]}"


def cap_said(cap: Fraction | None) -> str:
    """A cap as it is now."""
    return "no cap now" if cap is None else f"the cap is now {exact_text(cap)}%"


def rounding_words(rounding: Rounding | None) -> str:
    """The rounding rule in words."""
    if rounding is None:
        return "The percent is not rounded."
    used = "rounded" if rounding.letter_uses == "rounded" else "exact"
    if rounding.way != "nearest":
        words = f"{WAY_WORDS[rounding.way]} {to_words(rounding.decimals)}"
        return f"The percent is {words}; the letter uses the {used} percent."
    return f"The percent is rounded {to_words(rounding.decimals)} (half up); the letter uses the {used} percent."


def basis_words(plan: Plan) -> str:
    """The plan basis in words."""
    if plan.basis == "points":
        return "The grade is all points earned out of all points possible."
    return "The grade is the weighted average of the categories."


def plan_text(plan: Plan) -> str:
    """The whole plan in plain words, ready for a syllabus."""
    lines = [basis_words(plan), *(category_text(plan, c) for c in plan.categories), *rules_beside(plan)]
    return "\n".join(lines) + "\n"


def category_text(plan: Plan, category: Category) -> str:
    """One category in plain words: its name, what it is worth, and its rules."""
    return f"{category.name}{_worth(plan, category)}. {_plain(plan, category)}"


def rules_beside(plan: Plan) -> list[str]:
    """The rules beside those of the categories: further ones, the cap, letters, rounding."""
    lines = list(plan_rule_words(plan))
    if plan.cap is not None:
        lines.append(f"The course percent is at most {exact_text(plan.cap)}.")
    if plan.scale:
        lines.append("Letters: " + ", ".join(f"{r.letter} from {exact_text(r.cutoff)}" for r in plan.scale) + ".")
    return [*lines, rounding_words(plan.rounding)]


def _plain(plan: Plan, category: Category) -> str:
    """A category's rules without what it does not do, and its items' own rules."""
    split = "by points" if plan.basis == "points" else SPLIT_WORDS[category.split]
    parts = ["Extra credit on top of the rest." if category.extra else "", f"Items count {split}."]
    if category.split == "own_shares" and plan.basis == "weighted":
        parts.append("Percentages: " + ", ".join(f"{i.name} {_share(i)}" for i in category.items) + ".")
    if not category.extra:
        parts += [_drop_words(category), f"A blank {BLANK_WORDS[category.blanks]}."]
    if category.cap is not None:
        parts.append(f"At most {exact_text(category.cap)}% counts.")
    parts += category_rule_words(category)
    return " ".join(part for part in [*parts, _item_words(category)] if part)


def _share(item: Item) -> str:
    return f"{exact_text(item.share)}%" if item.share is not None else "–"


def _drop_words(category: Category) -> str:
    dropped = [f"the highest {category.drop_highest} dropped"] if category.drop_highest else []
    if category.keep_best is not None:
        dropped.append(f"the best {category.keep_best} kept")
    if category.drop_lowest:
        dropped.append(f"the lowest {category.drop_lowest} dropped")
    if not dropped:
        return "Nothing dropped."
    by = ", by the lowest percentage" if category.drop_by == "lowest_percent" else ""
    words = " and ".join(dropped) + by + "."
    return words[:1].upper() + words[1:]


def _item_words(category: Category) -> str:
    """Items that stand out: extra credit, does not count yet, never dropped."""
    said = []
    for words, items in (
        ("Extra credit", [i for i in category.items if i.extra and not category.extra]),
        ("Does not count yet", [i for i in category.items if not i.counts]),
        ("Never dropped", [i for i in category.items if not i.droppable]),
    ):
        if items:
            said.append(f"{words}: {', '.join(i.name for i in items)}.")
    return " ".join(said)


def surprises(plan: Plan, category: Category) -> list[str]:
    """What a rule does that people do not expect, each with a small example."""
    drops = not category.extra and bool(category.drop_lowest or category.keep_best is not None)
    regular = category.regular
    if not drops or category.drop_by == "lowest_percent":
        return []
    if plan.basis == "weighted" and category.split == "own_shares" and len({i.share for i in regular}) > 1:
        return ["With percentages you set, the item dropped is the one that gives the best result: an item with "
                "a large share and 70% can go before one with a small share and 50%."]  # fmt: skip
    by_points = plan.basis == "points" or category.split == "by_points"
    if by_points and len({i.points for i in regular}) > 1:
        return ["The items have different points, so the lowest percentage is not always dropped: of 80/100, 20/100 "
                "and 1/20 the 20/100 is dropped (67.5%); dropping the 1/20 would give 50%."]  # fmt: skip
    return []


def _worth(plan: Plan, category: Category) -> str:
    if plan.basis == "points" or category.weight is None:
        points = points_total(category)
        return f" ({exact_text(points)} points)" if points else ""
    return f" ({exact_text(category.weight)}%)"
