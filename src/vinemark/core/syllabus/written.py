"""A reading in its open format, `vine-mark-syllabus/1`."""

from collections.abc import Mapping
from fractions import Fraction

from vinemark.core.number import exact_text, trimmed
from vinemark.core.syllabus.facts import Clause, Reading, SaidCategory

FORMAT = "vine-mark-syllabus/1"


def number_text(value: Fraction | None) -> str | None:
    """A figure as the format writes it: '12.5', and '33.33' for a third."""
    if value is None:
        return None
    exact = exact_text(value)
    return trimmed(value, 2) if "/" in exact or len(exact) > 12 else exact


def as_json(reading: Reading) -> dict[str, object]:
    """The reading as JSON values."""
    rounding = reading.rounding
    return {
        "format": FORMAT,
        "basis": reading.basis,
        "categories": [_category(category) for category in reading.categories],
        "scale": [{"letter": row.letter, "from": number_text(row.cutoff)} for row in reading.scale],
        "scale_unit": reading.scale_unit,
        "rounding": None if rounding is None else {"decimals": rounding.decimals},
        "blanks": reading.blanks,
        "clauses": [_clause(clause) for clause in reading.clauses],
        "unread": [{"start": u.start, "end": u.end, "text": u.text} for u in reading.unread],
    }


def _category(said: SaidCategory) -> Mapping[str, object]:
    return {
        "name": said.name,
        "weight": number_text(said.weight),
        "points": number_text(said.points),
        "count": said.count,
        "points_each": number_text(said.points_each),
        "drop_lowest": said.drop_lowest,
        "keep_best": said.keep_best,
        "extra": said.extra,
    }


def _clause(clause: Clause) -> Mapping[str, object]:
    return {
        "start": clause.start,
        "end": clause.end,
        "kind": clause.kind,
        "category": clause.category,
        "text": clause.text,
    }
