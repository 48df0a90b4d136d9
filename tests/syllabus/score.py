"""How well a reading fits what a document says: facts right, wrong, missed and invented."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from tests.syllabus.documents import Document, Said
from vinemark.core.base.number import trimmed
from vinemark.core.syllabus import Reading, SaidCategory, read_syllabus


@dataclass
class Tally:
    """Counts over a document, with what went wrong in words."""

    right: int = 0
    wrong: int = 0
    missed: int = 0
    invented: int = 0
    trouble: list[str] = field(default_factory=list)

    def compare(self, what: str, mine: object, gold: object) -> None:
        """One fact, where either side states it."""
        if mine == gold:
            self.right += gold is not None
        elif mine is None:
            self.missed += 1
            self.trouble.append(f"{what}: missed {gold}")
        elif gold is None:
            self.invented += 1
            self.trouble.append(f"{what}: invented {mine}")
        else:
            self.wrong += 1
            self.trouble.append(f"{what}: {mine}, not {gold}")


def tally(document: Document, reading: Reading | None = None) -> Tally:
    """A document read and compared."""
    found = reading or read_syllabus(document.text)
    counts = Tally()
    counts.compare("basis", found.basis, document.basis)
    counts.compare("unit", found.scale_unit, document.unit)
    rounding = "silent" if found.rounding is None else found.rounding.decimals
    counts.compare("rounding", None if rounding == "silent" else f"to {rounding}",
                   None if document.rounding == "silent" else f"to {document.rounding}")  # fmt: skip
    counts.compare("blanks", found.blanks, document.blanks)
    _scale(counts, found, document)
    _categories(counts, found, document)
    for text in document.unread:
        read = any(text.split()[3] in u.text and text[:25].lower() in u.text.lower() for u in found.unread)
        counts.compare("unread", text if read else None, text)
    return counts


def _scale(counts: Tally, found: Reading, document: Document) -> None:
    mine = {row.letter: trimmed(row.cutoff, 2) for row in found.scale}
    gold = dict(row.split(" ") for row in document.scale.split(", ")) if document.scale else {}
    for letter in {**gold, **mine}:
        counts.compare(f"letter {letter}", mine.get(letter), gold.get(letter))


def _categories(counts: Tally, found: Reading, document: Document) -> None:
    named = {name.lower(): said for said in document.categories for name in (said.name, *said.also)}
    seen = []
    for category in found.categories:
        said = named.get(category.name.lower())
        if said is None or said.name in seen:
            counts.compare(f"category {category.name}", category.name, None)
            continue
        seen.append(said.name)
        counts.right += 1
        _fields(counts, category, said)
    for said in document.categories:
        if said.name not in seen:
            counts.compare(f"category {said.name}", None, said.name)


def _fields(counts: Tally, category: SaidCategory, said: Said) -> None:
    for what, (mine, gold) in fields(category, said).items():
        counts.compare(f"{said.name} {what}", mine, gold)


def fields(category: SaidCategory, said: Said) -> Mapping[str, tuple[object, object]]:
    """Each stated figure, mine and the document's; 0 drops and no extra are silence."""

    def text(value: object) -> str | None:
        return None if value is None else trimmed(value, 2)  # type: ignore[arg-type]

    return {
        "weight": (text(category.weight), said.weight),
        "points": (text(category.points), said.points),
        "count": (category.count, said.count),
        "points each": (text(category.points_each), said.each),
        "lowest dropped": (category.drop_lowest or None, said.drop or None),
        "best kept": (category.keep_best, said.best),
        "extra": (category.extra or None, said.extra or None),
    }
