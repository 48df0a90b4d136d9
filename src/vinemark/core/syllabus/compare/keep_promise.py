"""The one act that makes a rule of a sentence that promises one."""

from collections.abc import Callable, Collection, Mapping

from vinemark.core.base.number import exact_text
from vinemark.core.base.refused import Refused
from vinemark.core.plan import edit_rules
from vinemark.core.plan.plan import Plan
from vinemark.core.plan.rule_words import alternative_words, late_words, replacement_words, requirement_words
from vinemark.core.syllabus.compare.promise_words import Promise

_Fields = Mapping[str, str]


def kept_promise(plan: Plan, promise: Promise, used: Collection[str] = ()) -> tuple[Plan, str]:
    """The plan with the promised rule, and what was done. `used` are ids that the plan once had.

    Raises Refused at the field that the sentence left open.
    """
    fields = dict(promise.fields)
    if promise.records:
        plan = edit_rules.put_recorded(plan, promise.records, used=used)
        fields["subject"] = f"item {plan.recorded[-1].id}"
    return _MAKERS[promise.kind](plan, fields)


def _late(plan: Plan, fields: _Fields) -> tuple[Plan, str]:
    names = ("per_day", "of", "at_most", "grace_days", "last_day", "free_days")
    made = edit_rules.set_late(plan, fields["category"], edit_rules.TypedLate(*(fields[name] for name in names)))
    named = plan.category(fields["category"])
    rule = next(c.late for c in made.categories if c.late is not None and c.id == (fields["category"] or c.id))
    return made, f"{named.name if named else 'Every category'}: {late_words(rule).removesuffix('.')}"


def _replacement(plan: Plan, fields: _Fields) -> tuple[Plan, str]:
    typed = edit_rules.TypedReplacement(fields["source"], fields["into"], fields["count"], fields["missed"] != "no")
    made = edit_rules.put_replacement(plan, typed)
    return made, replacement_words(made, made.replacements[-1]).removesuffix(".")


def _alternative(plan: Plan, fields: _Fields) -> tuple[Plan, str]:
    weights = {name.removeprefix("weight-"): typed for name, typed in fields.items() if name.startswith("weight-")}
    made = edit_rules.put_alternative(plan, fields["name"], weights)
    own = {c.id: c.weight for c in plan.categories if not c.extra}
    if made.alternatives[-1].weights == own:
        raise Refused("name", "needs other weights than the plan’s own")
    return made, alternative_words(made, made.alternatives[-1]).removesuffix(".")


def _requirement(plan: Plan, fields: _Fields) -> tuple[Plan, str]:
    typed = edit_rules.TypedRequirement(
        fields.get("condition", ""), fields.get("subject", ""), fields.get("threshold", ""),
        fields.get("consequence", ""), fields.get("amount", ""), fields.get("for_each") == "1", fields.get("text", ""),
    )  # fmt: skip
    made = edit_rules.put_requirement(plan, typed)
    return made, requirement_words(made, made.requirements[-1]).removesuffix(".")


def _added(plan: Plan, fields: _Fields) -> tuple[Plan, str]:
    made = edit_rules.set_added(plan, fields["added"])
    if not made.added:
        raise Refused("added", "type the percentage points")
    return made, f"points for everyone: {exact_text(made.added)}"


_MAKERS: Mapping[str, Callable[[Plan, _Fields], tuple[Plan, str]]] = {
    "late": _late,
    "replacement": _replacement,
    "alternative": _alternative,
    "requirement": _requirement,
    "added": _added,
}
