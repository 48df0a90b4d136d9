"""Finding a student or an item by a few letters."""

from dataclasses import dataclass
from typing import Literal

from vinemark.core.base.names import folded
from vinemark.core.course.course import Course
from vinemark.core.scores.sheet import RECORDED_ONLY

MOST_FOUND = 12


@dataclass(frozen=True)
class Hit:
    """A student or an item that fits what was typed, and a word beside its name."""

    kind: Literal["student", "item"]
    id: str
    name: str
    beside: str


def find(course: Course, typed: str) -> list[Hit]:
    """Students (name, id, email) and items (name, category) that have every typed word; the start of a word first."""
    words = [folded(word) for word in typed.split()]
    words = [word for word in words if word]
    if not words:
        return []
    people = [(Hit("student", s.id, s.name, s.id), f"{s.given_name} {s.family_name} {s.id} {s.email or ''}")
              for s in course.students]  # fmt: skip
    things = [(Hit("item", i.id, i.name, c.name), f"{i.name} {i.label} {c.name}") for c, i in course.plan.items()]
    things += [(Hit("item", o.id, o.name, RECORDED_ONLY), o.name) for o in course.plan.recorded]
    ranked = [(_rank(text, words), index) for index, text in [*people, *things]]
    fits = [(rank, index) for rank, index in ranked if rank is not None]
    return [index for _, index in sorted(fits, key=lambda fit: fit[0])][:MOST_FOUND]


def _rank(text: str, words: list[str]) -> int | None:
    """How many of the words start no word of the text; None where one is not in it at all."""
    whole = folded(text)
    if not all(word in whole for word in words):
        return None
    parts = [folded(part) for part in text.split()]
    return sum(not any(part.startswith(word) for part in parts) for word in words)
