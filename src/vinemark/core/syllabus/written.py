"""A reading in its open format, `vine-mark-syllabus/1`."""

from collections.abc import Mapping
from fractions import Fraction
from typing import Any, cast

from vinemark.core.base.number import exact_text, trimmed
from vinemark.core.syllabus.facts import Clause, Reading, SaidCategory, SaidRounding, SaidRow, Unread

SYLLABUS_FORMAT = "vine-mark-syllabus/1"


def number_text(value: Fraction | None) -> str | None:
    """A figure as the format writes it: '12.5', and '33.33' for a third."""
    if value is None:
        return None
    exact = exact_text(value)
    return trimmed(value, 2) if "/" in exact or len(exact) > 12 else exact


def syllabus_json(reading: Reading) -> dict[str, object]:
    """The reading as JSON values."""
    rounding = reading.rounding
    return {
        "format": SYLLABUS_FORMAT,
        "basis": reading.basis,
        "categories": [_category(category) for category in reading.categories],
        "scale": [{"letter": row.letter, "from": number_text(row.cutoff)} for row in reading.scale],
        "scale_unit": reading.scale_unit,
        "rounding": None if rounding is None else _rounding(rounding),
        "blanks": reading.blanks,
        "clauses": [_clause(clause) for clause in reading.clauses],
        "unread": [{"start": u.start, "end": u.end, "text": u.text, "about": u.about} for u in reading.unread],
    }


def _rounding(said: SaidRounding) -> Mapping[str, object]:
    return {"decimals": said.decimals} | ({} if said.way == "nearest" else {"way": said.way})


def _category(said: SaidCategory) -> Mapping[str, object]:
    split = {} if said.split is None else {"split": said.split}
    return {
        "name": said.name,
        "weight": number_text(said.weight),
        "points": number_text(said.points),
        "count": said.count,
        "points_each": number_text(said.points_each),
        "drop_lowest": said.drop_lowest,
        "keep_best": said.keep_best,
        "extra": said.extra,
        **split,
    }


def _clause(clause: Clause) -> Mapping[str, object]:
    return {
        "start": clause.start,
        "end": clause.end,
        "kind": clause.kind,
        "category": clause.category,
        "text": clause.text,
    }


def from_json(value: object) -> Reading:
    """A reading as it was written by `as_json`."""
    kept = cast(dict[str, Any], value)
    rounding = kept["rounding"]
    return Reading(
        basis=kept["basis"],
        categories=[_read_category(row) for row in kept["categories"]],
        scale=[SaidRow(row["letter"], Fraction(row["from"])) for row in kept["scale"]],
        scale_unit=kept["scale_unit"],
        rounding=None
        if rounding is None
        else SaidRounding(_whole(rounding["decimals"]), rounding.get("way", "nearest")),
        blanks=kept["blanks"],
        clauses=[_read_clause(row) for row in kept["clauses"]],
        unread=[Unread(int(row["start"]), int(row["end"]), row["text"], row.get("about")) for row in kept["unread"]],
    )


def _read_category(row: Mapping[str, Any]) -> SaidCategory:
    amounts = {key: None if row[key] is None else Fraction(row[key]) for key in ("weight", "points", "points_each")}
    drops = {"drop_lowest": int(row["drop_lowest"]), "keep_best": _whole(row["keep_best"])}
    said = SaidCategory(row["name"], count=_whole(row["count"]), extra=row["extra"], **amounts, **drops)  # type: ignore[arg-type]
    said.split = row.get("split")
    return said


def _read_clause(row: Mapping[str, Any]) -> Clause:
    return Clause(int(row["start"]), int(row["end"]), row["kind"], row["category"], row["text"])


def _whole(value: object) -> int | None:
    return None if value is None else int(str(value))
