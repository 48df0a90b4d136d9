"""The working: one student's grade as lines a person can redo on paper, taken from the calculation itself."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Final

from vinemark.core.base.number import exact_text, fixed, percent_text, ratio_text, trimmed
from vinemark.core.course.cell import DetailedScore
from vinemark.core.grade.calculation import CategoryResult, Grade, ItemResult, ItemState
from vinemark.core.grade.earned import earned_points, points_words
from vinemark.core.grade.final_steps import companion_letters, final_steps, is_lowered
from vinemark.core.grade.letters import NextLetter, next_letter
from vinemark.core.plan.plan import HUNDRED, Plan, Split
from vinemark.core.plan.rule_words import category_rounding_words, item_name, late_words

BECAME: Final[Mapping[ItemState, str]] = {
    "kept": "counts", "extra": "counts, extra credit", "planned": "does not count yet", "waiting": "not counted: blank",
    "exempt": "not counted: exempt", "dropped_lowest": "dropped as a lowest", "dropped_highest": "dropped as a highest",
    "replaced": "replaced by a better score",
}  # fmt: skip
"""What became of an item, in words."""


@dataclass(frozen=True)
class ItemTerm:
    """One item in a category's sum: what stands in the line and its state."""

    name: str
    text: str
    state: str
    note: str


@dataclass(frozen=True)
class CategoryLine:
    """A category's part: '35 of 40 = 87.5%', times its weight in force, gives what it contributes."""

    name: str
    color: int
    terms: Sequence[ItemTerm]
    sum_text: str
    percent: str | None
    weight: str | None
    contributes: str | None
    notes: Sequence[str]


@dataclass(frozen=True)
class Steps:
    """The whole working of one student."""

    lines: Sequence[CategoryLine]
    steps: Sequence[tuple[str, str]]
    percent: str | None
    headline: str | None
    exact: str | None
    letter: str | None
    distance: str | None
    blanks_zero: str | None
    blanks_zero_letter: str | None
    blanks_full: str | None
    blanks_full_letter: str | None
    counted_weight: str | None
    points: str | None = None


def steps_of(plan: Plan, grade: Grade, reason: str = "") -> Steps:
    """The working of a grade under its plan; `reason` is that of the student's adjustment."""
    nxt = None if grade.percent is None or is_lowered(grade) else next_letter(plan, grade.percent)
    zero_letter, full_letter = companion_letters(plan, grade)
    return Steps(
        lines=[_line(plan, color, result) for color, result in enumerate(grade.categories)],
        steps=final_steps(plan, grade, reason),
        percent=percent_text(grade.percent),
        headline=_headline(plan, grade),
        exact=None if grade.percent is None else ratio_text(grade.percent),
        letter=grade.letter,
        distance=None if nxt is None else f"{_short_text(nxt.short_by)} below {nxt.letter}{_in_points(grade, nxt)}",
        blanks_zero=percent_text(grade.blanks_zero),
        blanks_zero_letter=zero_letter,
        blanks_full=percent_text(grade.blanks_full),
        blanks_full_letter=full_letter,
        counted_weight=_counted_weight(plan, grade),
        points=points_words(grade),
    )


def _in_points(grade: Grade, nxt: NextLetter) -> str:
    """The same distance in points of what was possible so far, under the points basis."""
    earned = earned_points(grade)
    return "" if earned is None else f" ({_short_text(nxt.short_by * earned.possible / HUNDRED)} points)"


def _headline(plan: Plan, grade: Grade) -> str | None:
    """The rounded percent where the plan rounds, else two decimals; the steps give every digit."""
    if grade.percent is None:
        return None
    return trimmed(grade.percent, 2) if plan.rounding is None else fixed(grade.percent, max(2, plan.rounding.decimals))


def _short_text(value: Fraction) -> str:
    """Two decimals, or as many as show that it is not 0."""
    return next((t for t in (trimmed(value, n) for n in (2, 4, 6)) if t != "0"), "less than 0.000001")


def _counted_weight(plan: Plan, grade: Grade) -> str | None:
    """The sum of the weights that have a percentage, where some wait: 'on 60 of 100'."""
    if plan.basis == "points":
        return None
    ordinary = [r for r in grade.categories if not r.category.extra]
    if all(r.fraction is not None for r in ordinary):
        return None
    have = sum((r.weight for r in ordinary if r.fraction is not None), Fraction(0))
    return exact_text(have)


def _line(plan: Plan, color: int, result: CategoryResult) -> CategoryLine:
    split: Split = "by_points" if plan.basis == "points" else result.category.split
    return CategoryLine(
        name=result.category.name,
        color=color % 6,
        terms=[_term(plan, split, item) for item in result.items],
        sum_text=_sum(split, result),
        percent=percent_text(None if result.fraction is None else HUNDRED * result.fraction),
        weight=percent_text(result.weight_now),
        contributes=_points_added(result) if plan.basis == "points" else percent_text(result.contributes),
        notes=_notes(plan, result),
    )


def _points_added(result: CategoryResult) -> str | None:
    """What a category adds under the points basis: its points, as far as its cap lets them."""
    if result.contributes is None or result.whole is None or not (result.size or result.earned):
        return None
    return trimmed(result.contributes * result.whole / HUNDRED, 6)


def _term(plan: Plan, split: Split, result: ItemResult) -> ItemTerm:
    words = "; ".join(filter(None, (_state_words(plan, split, result), _symbol_words(result), _late_words(result))))
    return ItemTerm(result.item.name, _term_text(split, result), result.state, words)


def _symbol_words(result: ItemResult) -> str:
    """What a symbol is worth: '“check+” is 9.5'."""
    symbol = result.cell.symbol if isinstance(result.cell, DetailedScore) else None
    if symbol is None or result.earned is None:
        return ""
    return f"“{symbol}” is {trimmed(result.late.value if result.late else result.value, 6)}"


def _late_words(result: ItemResult) -> str:
    """What late days took: '2 days late: 8.5 becomes 6.5'. Free days are said."""
    work = result.late
    if work is None:
        return ""
    days = f"{work.days} day{'s' if work.days > 1 else ''} late"
    free = f", {work.free} of them free" if work.free else ""
    became = f": {trimmed(work.value, 6)} becomes {trimmed(work.left, 6)}" if work.taken else ", loses nothing"
    return days + free + became


def _term_text(split: Split, result: ItemResult) -> str:
    if result.earned is None:
        return result.state
    if split == "by_points" or result.size is None:
        return trimmed(result.earned, 6)
    if result.state == "replaced":
        return trimmed(result.earned, 6)
    ratio = f"{exact_text(result.value)}/{exact_text(result.item.points)}"
    return ratio if split == "even" else f"{trimmed(result.size, 6)} × {ratio}"


def _state_words(plan: Plan, split: Split, result: ItemResult) -> str:
    """What there is to say beside the text of an item, which has its points already where items do not go by them."""
    points = f"of {exact_text(result.item.points)}" if split == "by_points" else ""
    comma = ", " if points else ""
    better = item_name(plan, result.replaced_by) if result.replaced_by else ""
    words = {
        "kept": points,
        "replaced": f"{points}{comma}replaced by {better}, which is better than {trimmed(result.value, 6)}",
        "dropped_lowest": f"{points}{comma}dropped as lowest",
        "dropped_highest": f"{points}{comma}dropped as highest",
        "waiting": "blank, not counted yet",
        "exempt": "exempt",
        "planned": "does not count yet",
        "extra": "extra credit",
    }[result.state]
    if result.cell == "missing" and result.state != "replaced":
        return f"missing, counts as 0; {words}".removesuffix("; ")
    return (
        f"blank, counts as 0; {words}".removesuffix("; ")
        if result.cell is None and result.earned is not None
        else words
    )


def _sum(split: Split, result: CategoryResult) -> str:
    if result.size == 0:
        return "nothing to count yet"
    earned, size = trimmed(result.earned, 6), trimmed(result.size, 6)
    return f"{earned} of {size}" if split == "by_points" else f"{earned} ÷ {size}"


def _notes(plan: Plan, result: CategoryResult) -> list[str]:
    notes = [f"{r.item.name} dropped: the drop that gives the best result" for r in _dropped(result, "helps_most")]
    notes += [f"{r.item.name} dropped: the lowest percentage" for r in _dropped(result, "lowest_percent")]
    if result.capped and result.category.cap is not None:
        notes.append(f"limited by the cap of {exact_text(result.category.cap)}%")
    rule = result.category.late
    if rule is not None and any(item.late for item in result.items):
        notes.append(late_words(rule).removesuffix("."))
    notes += [
        f"{item.item.name} replaced by {item_name(plan, item.replaced_by)}: {percent_text(_percent_of(item))}%"
        for item in result.items
        if item.replaced_by
    ]
    if result.category.rounding is not None and result.unrounded is not None:
        rounded = category_rounding_words(result.category.rounding).removesuffix(".")
        notes.append(f"{rounded[:1].lower()}{rounded[1:]}: {percent_text(HUNDRED * result.unrounded)}% before")
    return notes


def _percent_of(item: ItemResult) -> Fraction | None:
    return HUNDRED * item.earned / item.size if item.earned is not None and item.size else None


def _dropped(result: CategoryResult, drop_by: str) -> list[ItemResult]:
    if result.category.drop_by != drop_by:
        return []
    return [item for item in result.items if item.state == "dropped_lowest"]
