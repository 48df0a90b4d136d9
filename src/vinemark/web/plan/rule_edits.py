"""The edits of a plan's further rules that its page offers: from what was typed to the changed plan, in words."""

from vinemark.core.plan import edit_rules
from vinemark.core.plan.plan import Plan
from vinemark.core.plan.rule_words import (
    alternative_words,
    late_words,
    replacement_words,
    requirement_words,
    symbol_words,
)
from vinemark.web.plan.typed_edit import Edit, TypedEdit

SYMBOL_ROWS = 60


def _place(typed: TypedEdit) -> int | None:
    """Which rule of its kind is meant; None for a new one."""
    place = typed.get("place")
    return int(place) if place.isascii() and place.isdigit() and len(place) < 4 else None


def _known_place(typed: TypedEdit) -> int:
    place = _place(typed)
    return -1 if place is None else place


def _category_name(plan: Plan, typed: TypedEdit) -> str:
    category = plan.category(typed.get("category"))
    return category.name if category else ""


def _set_late(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    fields = ("per_day", "of", "at_most", "grace_days", "last_day", "free_days")
    changed = edit_rules.set_late(plan, typed.get("category"), edit_rules.TypedLate(*(typed.get(f) for f in fields)))
    named = typed.get("category")
    rule = next((c.late for c in changed.categories if c.late and c.id == (named or c.id)), None)
    return changed, f"{_category_name(plan, typed) or 'Every category'}: {_said(late_words(rule)) if rule else ''}"


def _remove_late(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    changed = edit_rules.remove_late(plan, typed.get("category"))
    return changed, f"{_category_name(plan, typed)}: no rule for late work"


def _set_symbols(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    rows = [(typed.get(f"symbol-{n}"), typed.get(f"percent-{n}")) for n in range(SYMBOL_ROWS)]
    changed = edit_rules.set_symbols(plan, typed.get("category"), rows)
    category = changed.category(typed.get("category"))
    words = symbol_words(category) if category else ""
    return changed, f"{_category_name(plan, typed)}: {_said(words) or 'no symbols'}"


def _remove_symbols(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    return edit_rules.set_symbols(plan, typed.get("category"), []), f"{_category_name(plan, typed)}: no symbols"


def _put_replacement(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    wanted = edit_rules.TypedReplacement(
        typed.get("source"), typed.get("into"), typed.get("count"), typed.get("missed") != "no"
    )
    place = _place(typed)
    changed = edit_rules.put_replacement(plan, wanted, place)
    return changed, _said(replacement_words(changed, changed.replacements[-1 if place is None else place]))


def _remove_replacement(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    return edit_rules.remove_replacement(plan, _known_place(typed)), "a better score replaces nothing by that rule now"


def _put_alternative(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    weights = {category.id: typed.get(f"weight-{category.id}") for category in plan.categories}
    place = _place(typed)
    changed = edit_rules.put_alternative(plan, typed.get("name"), weights, place)
    return changed, _said(alternative_words(changed, changed.alternatives[-1 if place is None else place]))


def _remove_alternative(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    return edit_rules.remove_alternative(plan, _known_place(typed)), "alternative weights removed"


def _put_requirement(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    wanted = edit_rules.TypedRequirement(
        typed.get("condition"), typed.get("subject"), typed.get("threshold"), typed.get("consequence"),
        typed.get("amount"), typed.get("for_each") == "1", typed.get("text"),
    )  # fmt: skip
    place = _place(typed)
    changed = edit_rules.put_requirement(plan, wanted, place)
    return changed, _said(requirement_words(changed, changed.requirements[-1 if place is None else place]))


def _remove_requirement(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    return edit_rules.remove_requirement(plan, _known_place(typed)), "requirement removed"


def _set_added(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    changed = edit_rules.set_added(plan, typed.get("added"))
    return changed, f"points for everyone: {typed.get('added').strip() or 'none'}"


def _put_recorded(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    changed = edit_rules.put_recorded(plan, typed.get("name"), typed.get("due"), _place(typed), typed.used())
    return changed, f"{' '.join(typed.get('name').split())} is recorded and counts in no category"


def _remove_recorded(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    place = _known_place(typed)
    changed = edit_rules.remove_recorded(plan, place)
    return changed, f"{plan.recorded[place].name} is no longer recorded"


def _said(words: str) -> str:
    """A sentence as part of another one."""
    return words.removesuffix(".")


RULE_EDITS: dict[str, Edit] = {
    "set-late": _set_late,
    "remove-late": _remove_late,
    "set-symbols": _set_symbols,
    "remove-symbols": _remove_symbols,
    "put-replacement": _put_replacement,
    "remove-replacement": _remove_replacement,
    "put-alternative": _put_alternative,
    "remove-alternative": _remove_alternative,
    "put-requirement": _put_requirement,
    "remove-requirement": _remove_requirement,
    "set-added": _set_added,
    "put-recorded": _put_recorded,
    "remove-recorded": _remove_recorded,
}
