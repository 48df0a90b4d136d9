"""The edits of a plan that its page offers: from what was typed to the changed plan and what was done, in words."""

from vinemark.core.plan import edit, items
from vinemark.core.plan.plan import Plan
from vinemark.core.plan.scale_ranges import said_of_ranges
from vinemark.core.plan.sentences import cap_said, rounding_words, rule_said
from vinemark.web.plan.rule_edits import RULE_EDITS
from vinemark.web.plan.typed_edit import Edit, TypedEdit

SCALE_ROWS = 40


def _name_of(plan: Plan, typed: TypedEdit) -> str:
    category = plan.category(typed.get("category", ""))
    return category.name if category else ""


def _item_name(plan: Plan, typed: TypedEdit) -> str:
    item = plan.item(typed.get("item", ""))
    return item.name if item else ""


def _by(typed: TypedEdit) -> int:
    return 1 if typed.get("by") == "1" else -1


def _add_category(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    named = typed.get("name"), typed.get("weight")
    changed = items.add_filled_category(plan, named, typed.get("number_of"), typed.get("points"), typed.used())
    return changed, f"{typed.get('name').strip()} added"


def _rename_category(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    name = typed.get("name", "")
    changed = edit.rename_category(plan, typed.get("category", ""), name)
    return changed, f"{_name_of(plan, typed)} is now {name.strip()}"


def _weight(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    category = typed.get("category")
    weight = typed.get(f"weight-{category}")
    return edit.set_weight(plan, category, weight), f"weight of {_name_of(plan, typed)} is {weight.strip()}"


def _rule(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    rule, value = typed.get("rule", ""), typed.get("value", "")
    changed = edit.set_rule(plan, typed.get("category", ""), rule, value)
    category = next(one for one in changed.categories if one.id == typed.get("category"))
    return changed, f"{category.name}: {rule_said(category, rule)}"


def _move_category(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    return edit.move_category(plan, typed.get("category", ""), _by(typed)), f"{_name_of(plan, typed)} moved"


def _delete_category(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    return edit.delete_category(plan, typed.get("category", "")), f"{_name_of(plan, typed)} deleted"


def _typed_item(typed: TypedEdit) -> items.TypedItem:
    return items.TypedItem(
        typed.get("name", ""),
        typed.get("points", ""),
        typed.get("due", ""),
        typed.get("share", ""),
        typed.get("extra") == "1",
        typed.get("planned") == "1",
        typed.get("protected") == "1",
        typed.get("label", ""),
    )


def _add_item(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    changed = items.add_items(plan, typed.get("category", ""), _typed_item(typed), typed.get("every", ""), typed.used())
    return changed, f"{typed.get('name', '').strip()} added"


def _change_item(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    changed = items.change_item(plan, typed.get("item", ""), _typed_item(typed))
    return changed, f"{typed.get('name', '').strip()} changed"


def _move_item(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    return items.move_item(plan, typed.get("item", ""), _by(typed)), f"{_item_name(plan, typed)} moved"


def _file_item(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    changed = items.file_item(plan, typed.get("item", ""), typed.get("category", ""))
    return changed, f"{_item_name(plan, typed)} moved to {_name_of(plan, typed)}"


def _delete_item(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    return items.delete_item(plan, typed.get("item", "")), f"{_item_name(plan, typed)} deleted"


def _basis(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    changed = edit.set_basis(plan, typed.get("basis", ""))
    return changed, f"plan basis is now {changed.basis}"


def _rounding(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    changed = edit.set_rounding(plan, typed.get("decimals", ""), typed.get("letter_uses", "rounded"))
    return changed, rounding_words(changed.rounding).removesuffix(".")


def _course_cap(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    changed = edit.set_course_cap(plan, typed.get("value", ""))
    return changed, f"the course: {cap_said(changed.cap)}"


def _scale(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    rows = [
        edit.TypedRow(typed.get(f"letter-{i}"), typed.get(f"from-{i}"), typed.get(f"points-{i}"), typed.get(f"was-{i}"))
        for i in range(SCALE_ROWS)
        if f"letter-{i}" in typed.form
    ]
    return edit.set_scale(plan, rows), "letter scale changed"


def _paste_scale(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    text = typed.get("pasted", "")
    return edit.paste_scale(plan, text), f"letter scale read from text{said_of_ranges(text)}"


def _place_item(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    place = typed.get("place")
    where = int(place) if place.isascii() and place.isdigit() and len(place) < 6 else None
    changed = items.file_item(plan, typed.get("item"), typed.get("category"), where)
    return changed, f"{_item_name(plan, typed)} moved in {_name_of(plan, typed)}"


def _change_items(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    fields = ("points", "days", "dates", "counts", "protected", "extra", "category")
    wanted = items.GroupEdit(**{field: typed.get(field) for field in fields})
    chosen = typed.form.getlist("chosen")
    return items.change_items(plan, chosen, wanted), f"{len(chosen)} items changed together"


def _delete_items(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    chosen = typed.form.getlist("chosen")
    return items.delete_items(plan, chosen), f"{len(chosen)} items deleted"


def _add_extra_item(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    made = items.TypedItem(typed.get("name"), typed.get("points"), extra=True)
    changed = items.add_item(plan, typed.get("category"), made, typed.used())
    return changed, f"{typed.get('name').strip()} added as extra credit in {_name_of(plan, typed)}"


def _add_extra_category(plan: Plan, typed: TypedEdit) -> tuple[Plan, str]:
    changed = edit.add_extra_category(
        plan, typed.get("name"), typed.get("weight"), typed.get("capped") == "1", typed.used()
    )
    return changed, f"{typed.get('name').strip()} added as extra credit on top of the course"


EDITS: dict[str, Edit] = {
    "add-category": _add_category,
    "rename-category": _rename_category,
    "weight": _weight,
    "rule": _rule,
    "move-category": _move_category,
    "delete-category": _delete_category,
    "add-item": _add_item,
    "change-item": _change_item,
    "move-item": _move_item,
    "file-item": _file_item,
    "delete-item": _delete_item,
    "place-item": _place_item,
    "change-items": _change_items,
    "delete-items": _delete_items,
    "add-extra-item": _add_extra_item,
    "add-extra-category": _add_extra_category,
    "basis": _basis,
    "rounding": _rounding,
    "ceiling": _course_cap,
    "scale": _scale,
    "paste-scale": _paste_scale,
    **RULE_EDITS,
}
