"""A reading corrected by hand: facts typed over, and a sentence pointed at."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Literal, cast

from vinemark.core.base.refused import Refused, count, number, ratio
from vinemark.core.plan.edit import clean_name, typed_number
from vinemark.core.plan.scale_text import read_pasted_scale
from vinemark.core.syllabus.facts import Clause, Reading, SaidCategory, SaidRounding, SaidRow, Unread

Pointing = Literal["weight", "count", "drop", "extra", "scale", "rounding", "blanks", "unread", "nothing"]
POINTINGS: tuple[tuple[Pointing, str], ...] = (
    ("weight", "the weight of a category (percent)"),
    ("count", "how many items a category has"),
    ("drop", "what is dropped (“lowest 2”, “best 8”)"),
    ("extra", "extra credit on top (up to percent)"),
    ("scale", "the letter scale"),
    ("rounding", "how the final percent is rounded (decimals, or “none”)"),
    ("blanks", "that missed work scores zero"),
    ("unread", "a rule that no plan holds: I see to it by hand"),
    ("nothing", "nothing about the plan"),
)
WITH_CATEGORY = frozenset({"weight", "count", "drop", "extra"})


@dataclass(frozen=True)
class TypedFact:
    """A category's facts as typed."""

    name: str
    weight: str = ""
    points: str = ""
    count: str = ""
    each: str = ""
    drop: str = ""
    extra: bool = False


def corrected(reading: Reading, rows: Mapping[int, TypedFact], others: Mapping[str, str]) -> Reading:
    """The reading with its facts as typed; rows without a name are taken out. Places are 'name-2', 'scale' …

    `others` are basis, scale, rounding ('', 'none', '0' …) and blanks ('zero' or '').
    """
    before = dict(enumerate(reading.categories))
    categories = [_fact(index, row, before.get(index)) for index, row in rows.items() if row.name.strip()]
    basis = others.get("basis", "")
    scale, unit = _scale(others.get("scale", ""))
    return replace(
        reading,
        basis=cast(Literal["weighted", "points"], basis) if basis in {"weighted", "points"} else None,
        categories=categories,
        scale=scale,
        scale_unit=unit,
        rounding=_rounding(others.get("rounding", ""), "rounding"),
        blanks="zero" if others.get("blanks") == "zero" else None,
        clauses=_renamed(reading, rows),
    )


def _renamed(reading: Reading, rows: Mapping[int, TypedFact]) -> list[Clause]:
    """Clauses under the names as typed; those of a row taken out are no longer a category's."""
    names = {c.name: rows[n].name.strip() or None for n, c in enumerate(reading.categories) if n in rows}
    return [clause._replace(category=names.get(clause.category or "", clause.category)) for clause in reading.clauses]


def _fact(index: int, row: TypedFact, before: SaidCategory | None) -> SaidCategory:
    try:
        name = clean_name(row.name)
    except Refused as error:
        raise Refused(f"name-{index}", error.reason) from error
    lowest, best = _drops(row.drop, f"drop-{index}")
    return SaidCategory(
        name,
        weight=_amount(row.weight, f"weight-{index}"),
        points=_amount(row.points, f"points-{index}"),
        count=count(row.count.strip(), f"count-{index}") if row.count.strip() else None,
        points_each=_amount(row.each, f"each-{index}"),
        drop_lowest=lowest,
        keep_best=best,
        extra=row.extra,
        split=before.split if before else None,
    )


def without_category(reading: Reading, index: int) -> Reading:
    """The reading without a category; its sentences are no longer a category's."""
    name = _category_at(reading, index).name
    kept = [clause._replace(category=None) if clause.category == name else clause for clause in reading.clauses]
    return replace(reading, categories=[c for n, c in enumerate(reading.categories) if n != index], clauses=kept)


def merged_with_above(reading: Reading, index: int) -> Reading:
    """The reading with a category joined to the one above it: that one's name, both their shares and items."""
    below = _category_at(reading, index)
    if index < 1:
        raise Refused(f"name-{index}", "stands first; merge the one below into it")
    above = reading.categories[index - 1]
    joined = replace(
        above,
        weight=_both(above.weight, below.weight),
        points=_both(above.points, below.points),
        count=int(_both(above.count, below.count) or 0) or None,
        points_each=above.points_each if above.points_each == below.points_each else None,
    )
    clauses = [c._replace(category=above.name) if c.category == below.name else c for c in reading.clauses]
    categories = [*reading.categories[: index - 1], joined, *reading.categories[index + 1 :]]
    return replace(reading, categories=categories, clauses=clauses)


def _category_at(reading: Reading, index: int) -> SaidCategory:
    if not 0 <= index < len(reading.categories):
        raise Refused("name-0", "there is no such category by now; load the page again")
    return reading.categories[index]


def _both(one: Fraction | int | None, other: Fraction | int | None) -> Fraction | None:
    return None if one is None and other is None else Fraction(one or 0) + Fraction(other or 0)


def sum_of_weights(reading: Reading) -> Fraction:
    """What the stated weights come to, in percent, extra credit left out."""
    return sum((c.weight or Fraction(0) for c in reading.categories if not c.extra), Fraction(0))


def _amount(typed: str, field: str) -> Fraction | None:
    return ratio(typed_number(typed, field), field) if typed.strip() else None


def _drops(typed: str, field: str) -> tuple[int, int | None]:
    """'lowest 2', 'best 8', '2', or nothing."""
    kind, _, said = typed.strip().lower().rpartition(" ")
    if not said:
        return 0, None
    many = count(said, field)
    if kind not in {"", "lowest", "best"} or (kind == "best" and many < 1):
        raise Refused(field, "type “lowest 2” or “best 8”")
    return (0, many) if kind == "best" else (many, None)


def _scale(typed: str) -> tuple[list[SaidRow], Literal["percent", "points"] | None]:
    if not typed.strip():
        return [], None
    found = read_pasted_scale(typed)
    if found.unread or not found.rows:
        raise Refused("scale", f"this part is not understood: “{(found.unread or [typed])[0][:50]}”")
    rows = [SaidRow(row.letter, row.cutoff) for row in found.rows]
    return rows, "points" if max(row.cutoff for row in rows) > 110 else "percent"


def _rounding(typed: str, field: str) -> SaidRounding | None:
    if not typed.strip():
        return None
    return SaidRounding(None) if typed.strip() == "none" else SaidRounding(count(typed.strip(), field))


def pointed(reading: Reading, text: str, span: tuple[int, int], kind: Pointing, named: str, value: str) -> Reading:
    """The reading after a sentence was pointed at: what was read there goes, what is said to stand there comes.

    Refused at 'named' or 'value'.
    """
    start, end = span
    said = " ".join(text[start:end].split())
    kept = [c for c in reading.clauses if c.end <= start or c.start >= end]
    made = replace(reading, clauses=kept, unread=[u for u in reading.unread if u.end <= start or u.start >= end])
    if kind == "nothing":
        return made
    if kind == "unread":
        return replace(made, unread=sorted([*made.unread, Unread(start, end, said)]))
    category = None
    if kind in WITH_CATEGORY:
        category = _named(made, named)
        made = replace(
            made, categories=[*made.categories] if category in made.categories else [*made.categories, category]
        )
    made = _with_value(made, kind, category, value, said)
    clause = Clause(start, end, kind, category.name if category else None, said)
    return replace(made, clauses=sorted([*made.clauses, clause], key=lambda c: (c.start, c.end)))


def _named(reading: Reading, named: str) -> SaidCategory:
    """The stated category of that name, or a new one."""
    try:
        name = clean_name(named)
    except Refused as error:
        raise Refused("named", "say which category") from error
    return next((c for c in reading.categories if c.name.lower() == name.lower()), SaidCategory(name))


def _with_value(reading: Reading, kind: Pointing, category: SaidCategory | None, value: str, said: str) -> Reading:
    if kind == "scale":
        rows, unit = _scale_of(value or said)
        return replace(reading, scale=rows, scale_unit=unit)
    if kind == "rounding":
        return replace(reading, rounding=_rounding(value or "none", "value"))
    if kind == "blanks":
        return replace(reading, blanks="zero")
    assert category is not None  # noqa: S101
    _set(category, kind, value)
    return replace(reading, basis=reading.basis or "weighted")


def _scale_of(typed: str) -> tuple[list[SaidRow], Literal["percent", "points"] | None]:
    try:
        return _scale(typed)
    except Refused as error:
        raise Refused("value", error.reason) from error


def _set(category: SaidCategory, kind: Pointing, value: str) -> None:
    if kind == "count":
        category.count = count(typed_number(value, "value"), "value")
    elif kind == "drop":
        category.drop_lowest, category.keep_best = _drops(value or "lowest 1", "value")
    else:
        category.weight = number(typed_number(value, "value"), "value")
        category.extra = kind == "extra"
