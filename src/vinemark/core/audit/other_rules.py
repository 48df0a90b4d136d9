"""Plans that somebody else may have worked with: each is ours with one rule that is another, in words."""

from collections.abc import Callable, Iterator
from dataclasses import replace
from fractions import Fraction
from itertools import combinations, permutations
from typing import NamedTuple

from vinemark.core.base.number import exact_text
from vinemark.core.plan.plan import Category, Item, Plan, Rounding, ScaleRow

WEIGHT_MOVED = (Fraction(5), Fraction(10))
"""So many percent may have been moved from one category to another."""
FULL_TENS = (90, 80, 70, 60, 0)


class OtherRule(NamedTuple):
    """A rule in words, the plan with it, and which rules are of its kind: they are not paired with each other."""

    words: str
    plan: Plan
    kind: str


def other_rules(plan: Plan) -> list[OtherRule]:
    """Every single rule that is tried, where it makes another plan; one whose words stand twice is the first."""
    found: dict[str, OtherRule] = {}
    for kind, rules in _KINDS.items():
        for words, other in rules(plan):
            if other != plan:
                found.setdefault(words, OtherRule(words, other, kind))
    return list(found.values())


_Said = Iterator[tuple[str, Plan]]


def _blanks(plan: Plan) -> _Said:
    yield "blanks count as 0", _each(plan, lambda c: replace(c, blanks="zero"))
    yield "blanks are left out", _each(plan, lambda c: replace(c, blanks="wait"))


def _splits(plan: Plan) -> _Said:
    yield "every item counts the same (equally)", _each(plan, lambda c: replace(c, split="even"))
    yield "items count by their points", _each(plan, lambda c: replace(c, split="by_points"))


def _drops(plan: Plan) -> _Said:
    yield "nothing is dropped", _each(plan, lambda c: replace(c, drop_lowest=0, drop_highest=0, keep_best=None))
    yield "the lowest percents are dropped", _each(plan, lambda c: replace(c, drop_by="lowest_percent"))
    for category in plan.categories:
        for count, words in ((1, "the lowest of {} is dropped"), (2, "the lowest two of {} are dropped")):
            if len(category.regular) > count + 1 and not category.extra:
                yield (
                    words.format(category.name),
                    _with(plan, category, replace(category, drop_lowest=count, keep_best=None)),
                )


def _caps(plan: Plan) -> _Said:
    yield "no caps", _each(plan, lambda c: replace(c, cap=None))


def _rounding(plan: Plan) -> _Said:
    for decimals in (0, 1, 2):
        yield f"rounded to {decimals} decimals before the letter", replace(plan, rounding=Rounding(decimals))
    yield "letters by the exact percent", replace(plan, rounding=None)


def _scales(plan: Plan) -> _Said:
    letters = [row.letter for row in plan.scale]
    if letters == list("ABCDF"):
        rows = zip(letters, FULL_TENS, strict=True)
        yield (
            "the cutoffs are 90, 80, 70 and 60",
            replace(plan, scale=tuple(ScaleRow(letter, Fraction(cutoff)) for letter, cutoff in rows)),
        )
    if any(letter[1:] in {"+", "-"} for letter in letters):
        yield "letters have no plus and minus", replace(plan, scale=_without_signs(plan.scale))


def _without_signs(scale: tuple[ScaleRow, ...]) -> tuple[ScaleRow, ...]:
    """Each plain letter from the lowest cutoff of its own."""
    lowest: dict[str, Fraction] = {}
    for row in scale:
        plain = row.letter.rstrip("+-")
        lowest[plain] = min(row.cutoff, lowest.get(plain, row.cutoff))
    return tuple(ScaleRow(letter, cutoff) for letter, cutoff in lowest.items())


def _bases(plan: Plan) -> _Said:
    if plan.basis == "weighted":
        yield "points earned out of points possible", replace(plan, basis="points")


def _weights(plan: Plan) -> _Said:
    """Weights of the ordinary categories alike, exchanged, or a little moved from one to another."""
    if plan.basis != "weighted":
        return
    own = [c for c in plan.categories if not c.extra and c.weight]
    if len(own) > 1:
        alike = sum((c.weight or Fraction(0) for c in own), Fraction(0)) / len(own)
        yield "every category has the same weight", _each(plan, lambda c: replace(c, weight=alike) if c in own else c)
    for one, other in combinations(own, 2):
        yield (
            f"{one.name} counts {exact_text(other.weight or Fraction(0))}% and {other.name}"
            f" {exact_text(one.weight or Fraction(0))}%",
            _weighing(plan, {one.id: other.weight, other.id: one.weight}),
        )
    for less, more in permutations(own, 2):
        for moved in WEIGHT_MOVED:
            if less.weight and more.weight and less.weight > moved:
                weights = {less.id: less.weight - moved, more.id: more.weight + moved}
                yield (
                    f"{less.name} counts {exact_text(weights[less.id])}% and {more.name}"
                    f" {exact_text(weights[more.id])}%",
                    _weighing(plan, weights),
                )


def _weighing(plan: Plan, weights: dict[str, Fraction | None] | dict[str, Fraction]) -> Plan:
    return _each(plan, lambda c: replace(c, weight=weights.get(c.id, c.weight)))


def _further(plan: Plan) -> _Said:
    """Each kind of further rule left out."""
    yield "without late deductions", _each(plan, lambda c: replace(c, late=None))
    yield "without the replacement", replace(plan, replacements=())
    yield "first weights only", replace(plan, alternatives=())
    yield "without requirements", replace(plan, requirements=())
    yield "without the points for everyone", replace(plan, added=Fraction(0))


def _extra(plan: Plan) -> _Said:
    """Extra credit left out, or taken for regular work."""
    gone = {c.id for c in plan.categories if c.extra}
    gone |= {i.id for c in plan.categories if not c.extra for i in c.items if i.extra}
    yield "without extra credit", _without(plan, gone)
    yield (
        "extra credit counts as regular work",
        _each(plan, lambda c: replace(c, extra=False, items=tuple(replace(i, extra=False) for i in c.items))),
    )


def _categories(plan: Plan) -> _Said:
    for category in plan.categories:
        weight = f" ({exact_text(category.weight)}%)" if category.weight else ""
        yield f"without {category.name}{weight}", _without(plan, {category.id})


def _items(plan: Plan) -> _Said:
    for category in plan.categories:
        for item in category.counting if len(category.counting) > 1 else ():
            yield f"without {item.name}", _without(plan, {item.id})


def _without(plan: Plan, gone: set[str]) -> Plan:
    """The plan without some of its items, or whole categories, and without the rules that name them."""
    left = [c for c in plan.categories if c.id not in gone]
    inside = {i.id for c in plan.categories if c.id in gone for i in c.items}
    named = gone | inside
    return replace(
        plan,
        categories=tuple(replace(c, items=_not_counting(c.items, gone)) for c in left),
        replacements=tuple(one for one in plan.replacements if not {one.source, one.into} & named),
        requirements=tuple(
            one for one in plan.requirements if not {one.condition.category, one.condition.item} & named
        ),
        alternatives=tuple(
            replace(one, weights={c: w for c, w in one.weights.items() if c not in gone}) for one in plan.alternatives
        ),
    )


def _not_counting(items: tuple[Item, ...], gone: set[str]) -> tuple[Item, ...]:
    return tuple(replace(item, counts=item.counts and item.id not in gone) for item in items)


def _with(plan: Plan, category: Category, other: Category) -> Plan:
    return replace(plan, categories=tuple(other if c is category else c for c in plan.categories))


def _each(plan: Plan, change: Callable[[Category], Category]) -> Plan:
    return replace(plan, categories=tuple(change(category) for category in plan.categories))


_KINDS: dict[str, Callable[[Plan], _Said]] = {
    "blanks": _blanks,
    "split": _splits,
    "drops": _drops,
    "caps": _caps,
    "rounding": _rounding,
    "scale": _scales,
    "basis": _bases,
    "further": _further,
    "extra": _extra,
    "categories": _categories,
    "weights": _weights,
    "items": _items,
}
"""In the order in which those that explain as much are told."""
