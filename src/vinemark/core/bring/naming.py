"""Categories by the words of item names: 'Quiz 1' to 'Quiz 8' are Quizzes."""

import re
from collections.abc import Sequence

from vinemark.core.base.names import same_name, singular

_LAST_SIGN = frozenset({"I", "II", "III", "IV", "V", "VI", "VII", "VIII", *"ABCDEFGH"})
_COLLECTIVE = frozenset({"homework", "attendance", "participation", "work", "reading", "practice", "credit"})


def stem_of(name: str) -> str:
    """What items of one kind share: 'Quiz 3: Rivers' and 'Quiz 4' are 'Quiz'; a name without a number is its own."""
    first = re.search(r"\d", name)
    if first is not None:
        return name[: first.start()].strip(" .:_#-–—") or name
    before, _, last = name.rpartition(" ")
    return before if before and last in _LAST_SIGN else name


def plural(name: str) -> str:
    """The name of several: 'Quiz' is 'Quizzes', 'Lab' is 'Labs'. Short forms and what names a whole stay."""
    last = name.rsplit(maxsplit=1)[-1] if name.split() else name
    if last.isupper() or last.lower() in _COLLECTIVE or singular(name) != name or not last[-1:].isalpha():
        return name
    for ending, many in (("z", "zzes"), ("ch", "ches"), ("sh", "shes"), ("x", "xes"), ("ss", "sses"), ("sis", "ses")):
        if name.endswith(ending):
            return name[: -len(ending)] + many
    if name.endswith("y") and name[-2:-1] not in "aeiou":
        return name[:-1] + "ies"
    return name if name.endswith("s") else name + "s"


def category_names(items: Sequence[tuple[str, str]]) -> list[str]:
    """A category for each of some items, given by group and name: the group, else what the names share."""
    stems = [group or stem_of(name) for group, name in items]
    keys = [same_name(singular(stem)) for stem in stems]
    return [
        group or (plural(stem) if keys.count(key) > 1 else name)
        for (group, name), stem, key in zip(items, stems, keys, strict=True)
    ]
