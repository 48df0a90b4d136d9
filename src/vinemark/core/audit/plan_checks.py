"""Checks of the plan."""

from collections.abc import Iterator

from vinemark.core.audit.finding import Facts, Finding
from vinemark.core.letters import scale_faults
from vinemark.core.number import exact_text
from vinemark.core.plan import HUNDRED, Category, weight_total
from vinemark.core.ribbon import weight_verdict
from vinemark.core.syllabus.match import compare
from vinemark.core.syllabus.standing import difference


def weights_off(facts: Facts) -> Iterator[Finding]:
    """The ordinary categories' weights must add to exactly 100."""
    if facts.plan.basis != "weighted":
        return
    total = weight_total(facts.plan)
    if total == HUNDRED:
        return
    weights = [f"{c.name}: {exact_text(c.weight or HUNDRED * 0)}%" for c in facts.plan.categories if not c.extra]
    yield Finding(
        "weights-off",
        "stop",
        f"The weights add to {weight_verdict(total)}.",
        evidence=[*weights, f"Sum: {exact_text(total)}%"],
    )


def category_empty(facts: Facts) -> Iterator[Finding]:
    """A category with a weight and no counting item silently gives its weight to the others."""
    if facts.plan.basis != "weighted":
        return
    for category in facts.plan.categories:
        if not category.extra and category.weight and not category.regular and not _still_to_come(facts, category):
            yield Finding(
                "category-empty",
                "stop",
                f"{category.name} has a weight of {exact_text(category.weight)}% and no counting item; "
                "its weight goes to the other categories.",
                category=category.id,
                evidence=_items_of(category),
            )


def _still_to_come(facts: Facts, category: Category) -> bool:
    planned = [i for i in category.items if not i.counts and not i.extra]
    return not facts.term_ended and any(i.due is None or i.due >= facts.as_of for i in planned)


def _items_of(category: Category) -> list[str]:
    return [f"{i.name}: {'only planned' if not i.counts else 'extra credit'}" for i in category.items] or ["No items."]


def scale_hole(facts: Facts) -> Iterator[Finding]:
    """The scale must give every percent one letter."""
    faults = scale_faults(facts.plan.scale)
    if faults:
        rows = [f"{row.letter} from {exact_text(row.cutoff)}" for row in facts.plan.scale]
        yield Finding("scale-hole", "stop", f"The letter scale has a hole: {'; '.join(faults)}.", evidence=rows)
    elif not facts.plan.scale and letters_due(facts):
        yield Finding("scale-hole", "stop", "There is no letter scale, and letters are due.")


def letters_due(facts: Facts) -> bool:
    """Whether an enrolled student is on the letter basis (everyone is, without records)."""
    if facts.course.records is None:
        return True
    return any(facts.course.grading_basis(s.id) == "letter" for s in facts.enrolled)


def plan_differs(facts: Facts) -> Iterator[Finding]:
    """The syllabus states a rule, and the plan has another or lacks it; one finding for each rule."""
    if facts.reading is None:
        return
    for rule in compare(facts.plan, facts.reading):
        if rule.state in {"differs", "not in the plan"} and rule.key not in facts.noted:
            clauses = [f"“{clause.text}”" for clause in rule.clauses[:4]]
            yield Finding(
                "plan-differs", "look", f"{difference(rule)}.", category=rule.category, evidence=clauses, part=rule.name
            )
