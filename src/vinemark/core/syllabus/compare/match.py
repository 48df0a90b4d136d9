"""Syllabus and plan side by side: each rule agrees, differs, is not in the plan, or is not in the syllabus."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from vinemark.core.base.names import folded
from vinemark.core.base.number import exact_text, trimmed
from vinemark.core.plan.plan import HUNDRED, Category, Item, Plan
from vinemark.core.plan.sentences import BLANK_WORDS, rounding_words
from vinemark.core.plan.worth import points_in_all
from vinemark.core.syllabus.compare.sure import sure_category, sure_count, sure_weight, sure_weights
from vinemark.core.syllabus.facts import Clause, FactKind, Reading, SaidCategory
from vinemark.core.syllabus.read.naming import stems

RuleState = Literal["agrees", "differs", "not in the plan", "not in the syllabus"]
RuleName = Literal[
    "basis", "category", "weight", "points", "count", "points each", "drop", "extra", "scale", "rounding", "blanks"
]
CLAUSE_KIND: dict[RuleName, FactKind] = {
    "category": "weight", "weight": "weight", "points": "weight", "points each": "weight", "count": "count",
    "drop": "drop", "extra": "extra", "scale": "scale", "rounding": "rounding", "blanks": "blanks",
}  # fmt: skip
CLOSE = Fraction(1, 200)
"""A typed 33.33 is a third."""


@dataclass(frozen=True)
class Rule:
    """One rule: how the syllabus and the plan stand to each other, in words, with the clauses it was read from."""

    name: RuleName
    state: RuleState
    said: str
    has: str
    category: str | None = None
    said_category: str | None = None
    clauses: tuple[Clause, ...] = ()

    @property
    def key(self) -> str:
        """A name that stays while the rule does: 'weight:c2', 'category:Field day'."""
        return f"{self.name}:{self.category or self.said_category or ''}"


def compare_rules(plan: Plan, reading: Reading) -> list[Rule]:
    """Every stated rule in the order of the plan page, then what only the plan has."""
    pairs = paired(plan, reading.categories)
    rules = [*_basis(plan, reading)]
    for said in reading.categories:
        category = pairs.get(id(said))
        if category is not None:
            rules += _category_rules(plan, category, said, reading)
        elif sure_category(said, reading):
            rules.append(_missing(said))
    rules += [*_scale(plan, reading), *_rounding(plan, reading), *_blanks(plan, reading)]
    claimed = {category.id for category in pairs.values()}
    if reading.categories and sure_weights(reading):
        rules += [_unsaid(category) for category in plan.categories if category.id not in claimed]
    return [_with_clauses(rule, reading) for rule in rules]


def paired(plan: Plan, said: Sequence[SaidCategory]) -> dict[int, Category]:
    """The plan's category for each stated one (by its id()): the same name, the same words, one within the other."""
    free = list(plan.categories)
    found: dict[int, Category] = {}
    for alike in (_same_name, _same_words, _one_within, _one_word):
        for statement in said:
            like = next((c for c in free if id(statement) not in found and alike(c.name, statement.name)), None)
            if like is not None:
                found[id(statement)] = like
                free.remove(like)
    return found


def _same_name(a: str, b: str) -> bool:
    return folded(a) == folded(b)


def _same_words(a: str, b: str) -> bool:
    return sorted(stems(a)) == sorted(stems(b))


def _one_within(a: str, b: str) -> bool:
    one, two = set(stems(a)), set(stems(b))
    return bool(one and two) and (one <= two or two <= one)


def _one_word(a: str, b: str) -> bool:
    return bool(stems(a) and stems(b)) and stems(a)[-1] == stems(b)[-1]


def _with_clauses(rule: Rule, reading: Reading) -> Rule:
    kind = CLAUSE_KIND.get(rule.name)
    found = tuple(c for c in reading.clauses if c.kind == kind and c.category in {rule.said_category, None})
    extra = tuple(c for c in reading.clauses if c.kind == "extra" and c.category and c.category == rule.said_category)
    return Rule(rule.name, rule.state, rule.said, rule.has, rule.category, rule.said_category, found or extra)


def _rule(name: RuleName, agrees: bool, said: str, has: str, category: Category | None = None,
          statement: SaidCategory | None = None) -> Rule:  # fmt: skip
    state: RuleState = "agrees" if agrees else "differs"
    return Rule(name, state, said, has, category.id if category else None, statement.name if statement else None)


def _basis(plan: Plan, reading: Reading) -> Iterator[Rule]:
    if reading.basis is not None:
        yield _rule("basis", plan.basis == reading.basis, f"{reading.basis} grades", f"{plan.basis} grades")


def _missing(said: SaidCategory) -> Rule:
    worth = f"{_text(said.weight)}%" if said.weight is not None else f"{_text(said.points)} points"
    return Rule("category", "not in the plan", f"{said.name}, {worth}", "no such category", None, said.name)


def _unsaid(category: Category) -> Rule:
    return Rule("category", "not in the syllabus", "", category.name, category.id)


def _category_rules(plan: Plan, category: Category, said: SaidCategory, reading: Reading) -> Iterator[Rule]:
    regular = said_items(category)
    if said.extra != category.extra and not (said.extra and _has_extra_items(category)):
        yield _rule("extra", False, "extra credit" if said.extra else "counts toward the whole",
                    "extra credit" if category.extra else "counts toward the whole", category, said)  # fmt: skip
    if said.weight is not None and plan.basis == "weighted":
        has = category.weight or Fraction(0)
        same = abs(has - said.weight) < CLOSE
        if same or sure_weight(said, reading):
            yield _rule("weight", same, f"{_text(said.weight)}%", f"{_text(has)}%", category, said)
    if said.points is not None and (reading.basis == "points" or said.weight is None):
        yield _points(category, regular, said)
    if said.count is not None and (len(regular) == said.count or sure_count(said, reading)):
        yield _rule("count", len(regular) == said.count, _items(said.count), _items(len(regular)), category, said)
    if said.points_each is not None and regular:
        points = sorted({item.points for item in regular})
        yield _rule("points each", points == [said.points_each], f"{_text(said.points_each)} points each",
                    f"{' and '.join(map(_text, points))} points", category, said)  # fmt: skip
    if said.drop_lowest or said.keep_best is not None:
        yield _rule(
            "drop", _same_drop(category, len(regular), said), _drop_words(said), _has_dropped(category), category, said
        )
    elif category.drop_lowest or category.keep_best is not None:
        yield Rule("drop", "not in the syllabus", "", _has_dropped(category), category.id, said.name)


def said_items(category: Category) -> list[Item]:
    """The regular items that a syllabus counts: planned ones too."""
    return [item for item in category.items if category.extra or not item.extra]


def _has_extra_items(category: Category) -> bool:
    return any(item.extra for item in category.items)


def _points(category: Category, regular: Sequence[Item], said: SaidCategory) -> Rule:
    """A category's points agree with the plan's sum before or after its drops."""
    total = sum((item.points for item in regular), Fraction(0))
    gone = said_drop(category, len(regular))
    after = sum(sorted(item.points for item in regular)[gone:], Fraction(0))
    return _rule(
        "points",
        said.points in {total, after},
        f"{_text(said.points)} points",
        f"{_text(total)} points",
        category,
        said,
    )


def said_drop(category: Category, count: int) -> int:
    """How many of so many items are dropped as the lowest: keeping the best 8 of 10 drops 2."""
    return category.drop_lowest if category.keep_best is None else max(0, count - category.keep_best)


def _same_drop(category: Category, here: int, said: SaidCategory) -> bool:
    """Whether a drop is the one that is said: as it is said, or the other way round for as many items as are said or
    are here. Keeping the best 6 is keeping the best 6, whatever number of items stands beside it."""
    if (said.keep_best is None) == (category.keep_best is None):
        return (said.keep_best, said.drop_lowest) == (category.keep_best, category.drop_lowest)
    kept, dropped = said.keep_best or category.keep_best or 0, said.drop_lowest + category.drop_lowest
    return any(max(0, count - kept) == dropped for count in (said.count, here) if count is not None)


def _drop_words(said: SaidCategory) -> str:
    if said.keep_best is not None:
        return f"the best {said.keep_best} kept"
    return f"the lowest {said.drop_lowest} dropped"


def _has_dropped(category: Category) -> str:
    if category.keep_best is not None:
        return f"the best {category.keep_best} kept"
    return f"the lowest {category.drop_lowest} dropped" if category.drop_lowest else "nothing dropped"


def _scale(plan: Plan, reading: Reading) -> Iterator[Rule]:
    if not reading.scale:
        return
    whole = points_in_all(plan) if reading.scale_unit == "points" else HUNDRED
    has = {row.letter: row.cutoff * whole / HUNDRED for row in plan.scale}
    said = {row.letter: row.cutoff for row in reading.scale}
    other = [letter for letter, cutoff in said.items() if letter not in has or abs(has[letter] - cutoff) >= CLOSE]
    other += [letter for letter, cutoff in has.items() if letter not in said and cutoff > 0]
    words = ", ".join(
        f"{letter} {_text(said[letter])}" if letter in said else f"no {letter}" for letter in other or said
    )
    has_words = ", ".join(
        f"{letter} {_text(has[letter])}" if letter in has else f"no {letter}" for letter in other or has
    )
    yield _rule("scale", not other, f"{words}{' points' if reading.scale_unit == 'points' else ''}", has_words)


def _rounding(plan: Plan, reading: Reading) -> Iterator[Rule]:
    said = reading.rounding
    if said is None:
        if plan.rounding is not None and reading.categories:
            yield Rule("rounding", "not in the syllabus", "", rounding_words(plan.rounding))
        return
    rounding = plan.rounding
    if said.decimals is None:
        agrees = rounding is None or rounding.letter_uses == "exact"
        yield _rule("rounding", agrees, "not rounded", rounding_words(rounding))
        return
    agrees = rounding is not None and rounding.decimals == said.decimals and rounding.letter_uses == "rounded"
    agrees = agrees and rounding is not None and rounding.way == said.way
    words = {"nearest": "rounded", "up": "always rounded up", "down": "always rounded down"}[said.way]
    yield _rule("rounding", agrees, f"{words} to {_places(said.decimals)}", rounding_words(rounding))


def _places(decimals: int) -> str:
    return {0: "a whole number", 1: "one decimal"}.get(decimals, f"{decimals} decimals")


def _blanks(plan: Plan, reading: Reading) -> Iterator[Rule]:
    """'Scores zero' is met by counting 0, at once or once due, in every category it speaks of."""
    if reading.blanks is None:
        return
    spoken = blanks_spoken_of(plan, reading)
    waiting = [c for c in spoken if c.blanks == "wait"]
    has = f"a blank is not counted yet in {', '.join(c.name for c in waiting)}" if waiting else _blank_words(spoken)
    yield _rule("blanks", not waiting, "work that never comes scores zero", has)


def blanks_spoken_of(plan: Plan, reading: Reading) -> list[Category]:
    """The ordinary categories that the clauses about missed work name; all, where one names none."""
    ordinary = [c for c in plan.categories if not c.extra]
    named: list[Category] = []
    for clause in reading.clauses:
        if clause.kind == "blanks":
            words = set(stems(clause.text))
            here = [c for c in ordinary if stems(c.name) and stems(c.name)[-1] in words - {"work", "final"}]
            if not here:
                return ordinary
            named += [c for c in here if c not in named]
    return named or ordinary


def _blank_words(categories: Sequence[Category]) -> str:
    return ", ".join(sorted({f"a blank {BLANK_WORDS[c.blanks]}" for c in categories})) or "no category"


def _items(count: int) -> str:
    return "1 item" if count == 1 else f"{count} items"


def _text(value: Fraction | None) -> str:
    if value is None:
        return "–"
    exact = exact_text(value)
    return trimmed(value, 2) if "/" in exact else exact
