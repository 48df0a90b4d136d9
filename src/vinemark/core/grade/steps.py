"""The working: one student's grade as lines a person can redo on paper, taken from the calculation itself."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from vinemark.core.base.number import ends, exact_text, fixed, ratio_text, trimmed
from vinemark.core.grade.calculation import CategoryResult, Grade, ItemResult
from vinemark.core.grade.letters import letter_for, letter_value, next_letter
from vinemark.core.plan.plan import HUNDRED, Plan, Split


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


def percent_text(value: Fraction | None) -> str | None:
    """A percent for reading: every digit where it ends within six decimals, else six of them."""
    if value is None:
        return None
    return exact_text(value) if _short(value) else fixed(value, 6) + "…"


def _short(value: Fraction) -> bool:
    return ends(value) and len(exact_text(value).partition(".")[2]) <= 6


def steps_of(plan: Plan, grade: Grade) -> Steps:
    """The working of a grade under its plan."""
    nxt = None if grade.percent is None else next_letter(plan, grade.percent)
    return Steps(
        lines=[_line(plan, color, result) for color, result in enumerate(grade.categories)],
        steps=_steps(plan, grade),
        percent=percent_text(grade.percent),
        headline=_headline(plan, grade),
        exact=None if grade.percent is None else ratio_text(grade.percent),
        letter=grade.letter,
        distance=None if nxt is None else f"{_short_text(nxt.short_by)} below {nxt.letter}",
        blanks_zero=percent_text(grade.blanks_zero),
        blanks_zero_letter=_letter(plan, grade.blanks_zero),
        blanks_full=percent_text(grade.blanks_full),
        blanks_full_letter=_letter(plan, grade.blanks_full),
        counted_weight=_counted_weight(plan, grade),
    )


def _headline(plan: Plan, grade: Grade) -> str | None:
    """The rounded percent where the plan rounds, else two decimals; the steps give every digit."""
    if grade.percent is None:
        return None
    return trimmed(grade.percent, 2) if plan.rounding is None else fixed(grade.percent, max(2, plan.rounding.decimals))


def _short_text(value: Fraction) -> str:
    """Two decimals, or as many as show that it is not 0."""
    return next((t for t in (trimmed(value, n) for n in (2, 4, 6)) if t != "0"), "less than 0.000001")


def _letter(plan: Plan, percent: Fraction | None) -> str | None:
    return None if percent is None else letter_for(plan, percent)


def _counted_weight(plan: Plan, grade: Grade) -> str | None:
    """The sum of the weights that have a percentage, where some wait: 'on 60 of 100'."""
    if plan.basis == "points":
        return None
    ordinary = [r for r in grade.categories if not r.category.extra]
    if all(r.fraction is not None for r in ordinary):
        return None
    have = sum((r.category.weight or Fraction(0) for r in ordinary if r.fraction is not None), Fraction(0))
    return exact_text(have)


def _line(plan: Plan, color: int, result: CategoryResult) -> CategoryLine:
    split: Split = "by_points" if plan.basis == "points" else result.category.split
    return CategoryLine(
        name=result.category.name,
        color=color % 6,
        terms=[_term(split, item) for item in result.items],
        sum_text=_sum(split, result),
        percent=percent_text(None if result.fraction is None else HUNDRED * result.fraction),
        weight=percent_text(result.weight_now),
        contributes=percent_text(result.contributes),
        notes=_notes(result),
    )


def _term(split: Split, result: ItemResult) -> ItemTerm:
    return ItemTerm(result.item.name, _term_text(split, result), result.state, _state_words(split, result))


def _term_text(split: Split, result: ItemResult) -> str:
    if result.earned is None:
        return result.state
    if split == "by_points" or result.size is None:
        return trimmed(result.earned, 6)
    value = result.cell if isinstance(result.cell, Fraction) else Fraction(0)
    ratio = f"{exact_text(value)}/{exact_text(result.item.points)}"
    return ratio if split == "even" else f"{trimmed(result.size, 6)} × {ratio}"


def _state_words(split: Split, result: ItemResult) -> str:
    """What there is to say beside the text of an item, which has its points already where items do not go by them."""
    points = f"of {exact_text(result.item.points)}" if split == "by_points" else ""
    comma = ", " if points else ""
    words = {
        "kept": points,
        "dropped_lowest": f"{points}{comma}dropped as lowest",
        "dropped_highest": f"{points}{comma}dropped as highest",
        "waiting": "blank, not counted yet",
        "exempt": "exempt",
        "planned": "does not count yet",
        "extra": "extra credit",
    }[result.state]
    if result.cell == "missing":
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


def _notes(result: CategoryResult) -> list[str]:
    notes = [f"{r.item.name} dropped: the drop that gives the best result" for r in _dropped(result, "helps_most")]
    notes += [f"{r.item.name} dropped: the lowest percentage" for r in _dropped(result, "lowest_percent")]
    if result.capped and result.category.cap is not None:
        notes.append(f"limited by the cap of {exact_text(result.category.cap)}%")
    return notes


def _dropped(result: CategoryResult, drop_by: str) -> list[ItemResult]:
    if result.category.drop_by != drop_by:
        return []
    return [item for item in result.items if item.state == "dropped_lowest"]


def _steps(plan: Plan, grade: Grade) -> list[tuple[str, str]]:
    if grade.percent is None or grade.uncapped is None:
        return []
    steps = [("Total of the categories", f"{percent_text(grade.uncapped)}")]
    if grade.percent != grade.uncapped:
        steps.append(("Limited by the cap of the course", f"{percent_text(grade.percent)}"))
    if grade.rounded is not None and plan.rounding is not None:
        steps.append(("Rounded, half up", fixed(grade.rounded, plan.rounding.decimals)))
    if grade.letter is not None:
        value = letter_value(plan.rounding, grade.percent)
        row = max((r for r in plan.scale if r.cutoff <= value), key=lambda r: r.cutoff)
        steps.append((f"{row.letter} from {exact_text(row.cutoff)}", grade.letter))
    return steps
