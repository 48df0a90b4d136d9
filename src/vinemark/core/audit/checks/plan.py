"""Checks of the plan."""

import re
from collections.abc import Iterator, Sequence
from dataclasses import replace
from fractions import Fraction

from vinemark.core.audit.finding import Facts, FixFacts, Found
from vinemark.core.base.dates import day_words
from vinemark.core.base.names import plain, same_name, word_forms, words_of
from vinemark.core.base.number import exact_text, fixed
from vinemark.core.course.course import Student
from vinemark.core.grade.category import CategorySums, CategoryWork, common_denominator, numbers_of
from vinemark.core.grade.counted import counted_cells
from vinemark.core.plan.plan import HUNDRED, Category, Item, Plan, weight_total
from vinemark.core.plan.ribbon import weight_verdict
from vinemark.core.plan.scale import scale_faults
from vinemark.core.syllabus.compare.match import compare_rules
from vinemark.core.syllabus.compare.notes import difference

EXTRA_WORDS = re.compile(r"\b(?:extra[\s\-‐‑]+credit|bonus|extra[\s\-‐‑]+points?)\b", re.IGNORECASE)
SHARE_SLACK = Fraction(5, 1000)
"""For each item: six shares of 16.67 are 100.02."""


def weights_off(facts: Facts) -> Iterator[Found]:
    """The ordinary categories' weights must add to exactly 100."""
    if facts.plan.basis != "weighted":
        return
    yield from _own_weights_off(facts)
    for alternative in facts.plan.alternatives:
        total = sum(alternative.weights.values(), Fraction(0))
        if total != HUNDRED:
            names = {c.id: c.name for c in facts.plan.categories}
            weights = [f"{names[c]}: {exact_text(weight)}%" for c, weight in alternative.weights.items()]
            yield Found(
                f"The alternative weights “{alternative.name}” add to {weight_verdict(total)}.",
                evidence=[*weights, f"Sum: {exact_text(total)}%"],
                part=alternative.id,
            )


def _own_weights_off(facts: Facts) -> Iterator[Found]:
    total = weight_total(facts.plan)
    if total == HUNDRED:
        return
    ordinary = [c for c in facts.plan.categories if not c.extra]
    weights = [f"{c.name}: {exact_text(c.weight or Fraction(0))}%" for c in ordinary]
    lacking = [c.id for c in ordinary if not c.weight]
    known = total < HUNDRED and len(lacking) == 1
    yield Found(
        f"The weights add to {weight_verdict(total)}.",
        evidence=[*weights, f"Sum: {exact_text(total)}%"],
        facts=FixFacts(target=lacking[0], amount=HUNDRED - total) if known else FixFacts(),
    )


def weight_zero(facts: Facts) -> Iterator[Found]:
    """A category that holds counting items and weighs nothing, so that they change no grade."""
    if facts.plan.basis != "weighted":
        return
    for category in facts.plan.categories:
        if category.counting and not category.weight:
            count = len(category.counting)
            items = f"{count} items change" if count > 1 else "1 item changes"
            yield Found(
                f"{category.name} has a weight of 0, so its {items} no grade.",
                category=category.id,
                evidence=_items_of(category, category.counting),
            )


def shares_off(facts: Facts) -> Iterator[Found]:
    """Own shares must add to 100, give or take 0.005 an item."""
    if facts.plan.basis != "weighted":
        return
    for category in facts.plan.categories:
        if category.split != "own_shares":
            continue
        items = [i for i in category.items if category.extra or not i.extra]
        items = [i for i in items if i.counts or facts.still_to_come(i)]
        total = sum((i.share or Fraction(0) for i in items), Fraction(0))
        if items and abs(total - HUNDRED) > len(items) * SHARE_SLACK:
            yield Found(
                f"The percentages of the items in {category.name} add to {exact_text(total)} instead of 100.",
                category=category.id,
                evidence=[f"{i.name}: {exact_text(i.share or Fraction(0))}" for i in items],
            )


def extra_unmarked(facts: Facts) -> Iterator[Found]:
    """A name says extra credit or bonus, and the work counts as regular."""
    for category in facts.plan.categories:
        if category.extra:
            continue
        words = "says it is extra credit, and it counts as regular work"
        if EXTRA_WORDS.search(category.name) and category.regular:
            yield Found(f"The name of {category.name} {words}.", category=category.id,
                evidence=_items_of(category, category.regular),
            )  # fmt: skip
        for item in category.regular:
            if EXTRA_WORDS.search(item.name):
                yield Found(f"The name of {item.name} {words}.", category=category.id, item=item.id,
                    evidence=[f"{exact_text(item.points)} points in {category.name}."],
                )  # fmt: skip


def misfiled(facts: Facts) -> Iterator[Found]:
    """An item whose name fits another category and not its own."""
    for category in facts.plan.categories:
        for item in category.items:
            other = better_category(facts.plan, category, item)
            if other is not None:
                yield Found(
                    f"{item.name} is in {category.name}; by its name it belongs in {other.name}.",
                    category=category.id,
                    item=item.id,
                    evidence=[f"{other.name} holds {', '.join(i.name for i in other.items[:6]) or 'nothing yet'}."],
                    facts=FixFacts(target=other.id),
                )


def better_category(plan: Plan, category: Category, item: Item) -> Category | None:
    """The category that an item's name fits when it does not fit its own."""
    mine = [word_forms(word) for word in words_of(item.name)]
    own = frozenset().union(*(word_forms(word) for word in words_of(category.name)))
    pattern = _pattern(item)
    siblings = {_pattern(other) for other in category.items if other is not item}
    if any(forms & own for forms in mine) or pattern in siblings:
        return None
    for other in plan.categories:
        if other is category:
            continue
        numbered = "#" in pattern and sum(_pattern(i) == pattern for i in other.items) >= 2
        # What is named after other work inside an extra category is extra credit for it, not misfiled.
        if numbered or (not category.extra and _has_every_word(mine, other)):
            return other
    return None


def _pattern(item: Item) -> str:
    return re.sub(r"\d+", "#", " ".join(plain(item.name).split()))


def _has_every_word(mine: Sequence[frozenset[str]], category: Category) -> bool:
    wanted = [word_forms(word) for word in words_of(category.name)]
    return bool(wanted) and all(any(forms & word for forms in mine) for word in wanted)


def drop_too_many(facts: Facts) -> Iterator[Found]:
    """Drops that leave nothing, or one of three or more; or a `keep_best` that drops nothing."""
    for category in facts.plan.categories:
        items = [i for i in category.items if not i.extra and (i.counts or facts.still_to_come(i))]
        if category.extra or not items or not _drops_anything(category):
            continue
        best, count = category.keep_best, len(items)
        left = (count - category.drop_lowest if best is None else min(best, count)) - category.drop_highest
        if best is not None and best >= count:
            words = f"keeps the best {best} of {count}, so nothing is dropped"
        elif left <= 0 or (left == 1 and count >= 3):
            words = f"drops so many of its {count} items that {'none' if left <= 0 else 'one'} would be left"
        else:
            continue
        yield Found(f"{category.name} {words}.", category=category.id, evidence=_items_of(category, items))


def _drops_anything(category: Category) -> bool:
    return bool(category.drop_lowest or category.drop_highest or category.keep_best is not None)


def drop_unfair(facts: Facts) -> Iterator[Found]:
    """The lowest percents go although items differ in points, and another drop would help somebody more."""
    for category in facts.plan.categories:
        by_points = facts.plan.basis == "points" or category.split == "by_points"
        if category.extra or category.drop_by != "lowest_percent" or not by_points or not _drops_anything(category):
            continue
        if len({i.points for i in category.regular}) < 2:
            continue
        helped = _helped_by_another_drop(facts, category)
        if helped:
            student, now, then = helped[0]
            yield Found(f"{category.name} drops the lowest percents, but for {len(helped)} of {len(facts.enrolled)}"
                " students another drop would help more.",
                category=category.id,
                evidence=[f"{student.plain_name}: {fixed(now, 2)}% in {category.name}, {fixed(then, 2)}% with the"
                          " best drop."],
            )  # fmt: skip


def _helped_by_another_drop(facts: Facts, category: Category) -> list[tuple[Student, Fraction, Fraction]]:
    known = facts.helped.setdefault(category.id, {})
    new = [s.id for s in facts.enrolled if s.id not in known]
    rows = {s: counted_cells(facts.plan, facts.course.scores.get(s, {})) for s in new}
    if rows:
        unit = common_denominator(category.items, list(rows.values()))
        now, then = (
            CategoryWork(replace(category, drop_by=by, cap=None), "by_points", facts.as_of, unit)
            for by in ("lowest_percent", "helps_most")
        )
        for student_id, row in rows.items():
            numbers = numbers_of(row, unit)
            known[student_id] = _more(now.outcome(numbers), then.outcome(numbers))
    return [(s, *percents) for s in facts.enrolled if (percents := known[s.id]) is not None]


def _more(one: CategorySums, other: CategorySums) -> tuple[Fraction, Fraction] | None:
    """Both percents, where the second is more."""
    if not one.size or one.earned * other.size >= other.earned * one.size:
        return None
    return HUNDRED * Fraction(one.earned, one.size), HUNDRED * Fraction(other.earned, other.size)


def item_planned(facts: Facts) -> Iterator[Found]:
    """An item that does not count yet although its day, or the term, is over."""
    named = {one.condition.item for one in facts.plan.requirements if one.condition.kind == "value_above"}
    for category, item in facts.plan.items():
        if item.id in named:
            continue
        if not item.counts and facts.looks_down(item) and (facts.is_past(item) or facts.term_ended):
            when = f"was due {day_words(item.due)}" if item.due else "has no date, and the term has ended"
            yield Found(
                f"{item.name} does not count yet; it {when}.",
                category=category.id,
                item=item.id,
                evidence=[_recorded(facts, item)],
            )


def _recorded(facts: Facts, item: Item) -> str:
    return f"{facts.scored(item)} of {len(facts.enrolled)} students have a score on it."


def same_name_twice(facts: Facts) -> Iterator[Found]:
    """Two items, or two categories, with the same name; the later one is named."""
    seen: dict[str, str] = {}
    for category in facts.plan.categories:
        if same_name(category.name) in seen:
            first = seen[same_name(category.name)]
            message = f"Two categories are called {category.name}."
            yield Found(message, category=category.id, evidence=[f"The first: {first}."])
        seen.setdefault(same_name(category.name), category.name)
    seen = {}
    for category, item in facts.plan.items():
        if same_name(item.name) in seen:
            yield Found(f"Two items are called {item.name}.", category=category.id, item=item.id,
                evidence=[f"The first is in {seen[same_name(item.name)]}, this one in {category.name}."],
            )  # fmt: skip
        seen.setdefault(same_name(item.name), category.name)


def category_empty(facts: Facts) -> Iterator[Found]:
    """A category with a weight and no counting item silently gives its weight to the others."""
    if facts.plan.basis != "weighted":
        return
    for category in facts.plan.categories:
        to_come = any(facts.still_to_come(i) for i in category.items if not i.extra)
        if not category.extra and category.weight and not category.regular and not to_come:
            yield Found(
                f"{category.name} has a weight of {exact_text(category.weight)}% and no counting item; "
                "its weight goes to the other categories.",
                category=category.id,
                evidence=_items_of(category, category.items),
            )


def _items_of(category: Category, items: Sequence[Item]) -> list[str]:
    """Each item with what it counts as."""
    return [f"{item.name}: {_counts_as(category, item)}" for item in items] or ["No items."]


def _counts_as(category: Category, item: Item) -> str:
    if not item.counts:
        return "does not count yet"
    points = f"{exact_text(item.points)} point{'' if item.points == 1 else 's'}"
    return f"{points}, extra credit" if item.extra or category.extra else points


def scale_hole(facts: Facts) -> Iterator[Found]:
    """The scale must give every percent one letter."""
    faults = scale_faults(facts.plan.scale)
    if faults:
        rows = [f"{row.letter} from {exact_text(row.cutoff)}" for row in facts.plan.scale]
        yield Found(f"The letter scale has a gap: {'; '.join(faults)}.", evidence=rows)
    elif not facts.plan.scale and facts.letters_due:
        yield Found("There is no letter scale, and letters are due.")


def plan_differs(facts: Facts) -> Iterator[Found]:
    """The syllabus states a rule, and the plan has another or lacks it; one finding for each rule."""
    if facts.reading is None:
        return
    for rule in compare_rules(facts.plan, facts.reading):
        if rule.state in {"differs", "not in the plan"} and rule.key not in facts.noted:
            clauses = [f"“{clause.text}”" for clause in rule.clauses[:4]]
            yield Found(f"{difference(rule)}.", category=rule.category, evidence=clauses, part=rule.name)


def drop_unsaid(facts: Facts) -> Iterator[Found]:
    """The plan drops scores of a category of which the syllabus says nothing of the kind, as it does of others."""
    if facts.reading is None:
        return
    rules = [rule for rule in compare_rules(facts.plan, facts.reading) if rule.name == "drop"]
    if all(rule.state == "not in the syllabus" for rule in rules):
        return
    for rule in rules:
        if rule.state == "not in the syllabus" and rule.key not in facts.noted:
            category = facts.plan.category(rule.category or "")
            name = category.name if category else "A category"
            yield Found(f"{name} drops scores, and the syllabus says nothing of it.", category=rule.category,
                        evidence=[rule.has] if rule.has else [])  # fmt: skip


def items_elsewhere(facts: Facts) -> Iterator[Found]:
    """A category in which no item has a word of its name, and every item those of another category's name."""
    names = {c.id: [word_forms(word) for word in words_of(c.name)] for c in facts.plan.categories}
    for category in facts.plan.categories:
        items = [[word_forms(word) for word in words_of(item.name)] for item in category.items]
        if len(items) < 2 or any(_shares(words, names[category.id]) for words in items):
            continue
        others = [c for c in facts.plan.categories if c is not category and not c.extra]
        fits = next((c for c in others if all(_shares(words, names[c.id]) for words in items)), None)
        if fits is not None:
            yield Found(
                f"By their names all items of {category.name} belong in {fits.name}.",
                category=category.id,
                evidence=_items_of(category, category.items),
            )


def _shares(words: Sequence[frozenset[str]], name: Sequence[frozenset[str]]) -> bool:
    return any(forms & other for forms in words for other in name)
