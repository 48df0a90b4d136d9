"""A reading held against a gold: every stated fact right, wrong, missed or invented."""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from vinemark.core.base.names import singular
from vinemark.core.syllabus import Reading
from vinemark.core.syllabus.written import syllabus_json

FIELDS = ("weight", "points", "count", "points_each", "drop_lowest", "keep_best", "extra")


@dataclass
class Score:
    """Counts of facts, and each that is amiss in words."""

    facts: Counter[str] = field(default_factory=Counter)
    amiss: list[str] = field(default_factory=list)

    def note(self, verdict: str, place: str) -> None:
        """One fact more."""
        self.facts[verdict] += 1
        if verdict != "right":
            self.amiss.append(f"{verdict} {place}")

    def compare(self, place: str, wanted: Mapping[str, object], found: Mapping[str, object]) -> None:
        """Facts by their name, on both sides only those that are stated."""
        for key in {**wanted, **found}:
            if key in wanted and key in found:
                self.note("right" if wanted[key] == found[key] else "wrong", f"{place} {key}")
            else:
                self.note("missed" if key in wanted else "invented", f"{place} {key}")

    @property
    def precision(self) -> float:
        """Of what was read, how much is right."""
        return self.facts["right"] / max(1, self.facts["right"] + self.facts["wrong"] + self.facts["invented"])

    @property
    def recall(self) -> float:
        """Of what was stated, how much was read."""
        return self.facts["right"] / max(1, self.facts["right"] + self.facts["wrong"] + self.facts["missed"])


def scored(reading: Reading, gold: Mapping[str, Any]) -> Score:
    """All facts of one document."""
    mine, score = syllabus_json(reading), Score()
    score.compare("course", _course(gold), _course(mine))
    scale, wanted = _scale(mine), _scale(gold)
    if "0" not in wanted.values() and scale.get("F") == "0":
        scale.pop("F")
    score.compare("letter", wanted, scale)
    left = list(mine["categories"])  # type: ignore[call-overload]
    for category in gold["categories"]:
        like = next((c for c in left if _same(c["name"], category)), None)
        score.note("missed" if like is None else "right", f"{category['name']}: category")
        if like is None:
            score.compare(category["name"], _facts(category), {})
        else:
            left.remove(like)
            score.compare(category["name"], _facts(category), _stated(category, _facts(like)))
    for text in gold.get("unread", ()):
        left_over = any(text.lower() in one["text"].lower() for one in mine["unread"])  # type: ignore[attr-defined]
        score.note("right" if left_over else "missed", f"unread {text}")
    passed_over = {name.lower() for name in gold.get("ignore", ())}
    for category in (c for c in left if c["name"].lower() not in passed_over):
        score.note("invented", f"{category['name']}: category")
        score.compare(category["name"], {}, _facts(category))
    return score


def _course(found: Mapping[str, Any]) -> dict[str, object]:
    facts = {key: found[key] for key in ("basis", "scale_unit", "blanks") if found.get(key) is not None}
    return facts | ({"rounding": str(found["rounding"]["decimals"])} if found.get("rounding") else {})


def _scale(found: Mapping[str, Any]) -> dict[str, str]:
    return {row["letter"]: str(row["from"]) for row in found["scale"] or ()}


def _facts(category: Mapping[str, Any]) -> dict[str, object]:
    return {key: str(category[key]) for key in FIELDS if category.get(key)}


def _stated(gold: Mapping[str, Any], found: dict[str, object]) -> dict[str, object]:
    """What was read, without what follows from the gold's own figures where it is silent."""
    wanted, also = _facts(gold), gold.get("also", {})
    for key, values in also.items():
        if found.get(key) in values:
            found.pop(key, None)
            found |= {key: wanted[key]} if key in wanted else {}
    if "count" not in wanted and found.get("count") == "1":
        found.pop("count")
    for key in ("points", "points_each", "count"):
        if key not in wanted and {"points", "points_each", "count"} & set(wanted) and _follows(wanted, found):
            found.pop(key, None)
    return found


def _follows(wanted: Mapping[str, object], found: Mapping[str, object]) -> bool:
    figures = {**found, **wanted}
    count, each, points = (int(str(figures.get(k) or 1)) for k in ("count", "points_each", "points"))
    return points == count * each


def _same(name: str, gold: Mapping[str, Any]) -> bool:
    """Whether a name is the gold's, but for small words and plural, or one of its others."""
    words = _words(name)
    return any(words == other or (words and words < other and len(words) * 2 >= len(other)) or other < words
               for other in map(_words, (gold["name"], *gold.get("aliases", ()))))  # fmt: skip


def _words(name: str) -> frozenset[str]:
    return frozenset(singular(word) for word in name.lower().split()) - {"the", "of", "a", "and"}


def summed(scores: Sequence[Score]) -> Score:
    """Several documents as one."""
    total = Score()
    for one in scores:
        total.facts.update(one.facts)
        total.amiss += one.amiss
    return total
