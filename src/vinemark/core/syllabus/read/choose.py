"""Of all amounts that sentences give to some work, the set that hangs together: 100 percent, or the stated points."""

import re
from collections.abc import Collection, Sequence
from dataclasses import replace
from fractions import Fraction
from math import lcm
from typing import NamedTuple

from vinemark.core.plan.plan import HUNDRED
from vinemark.core.syllabus.read.lexicon import is_work
from vinemark.core.syllabus.read.naming import stems
from vinemark.core.syllabus.read.prose import Said

LEAST = 25
"""An amount below this score counts against a set."""
COMPLETE = 70
"""What it is worth that a set makes up the whole."""
NEVER = -15
"""An amount below this score is no share of the grade, whatever adds up."""
NEVER_AT_ALL = -45
FEWEST_OF_A_WHOLE = 3
MOST_SUMS = 800
MOST_WEIGHT, MOST_POINTS = 250, 100_000
MOST_GROUPS = 60

_Kept = tuple[int, tuple[Said, ...]]


class BestSet(NamedTuple):
    """Amounts that hang together, how much they speak for themselves in tenths, and whether they make up a whole."""

    said: Sequence[Said]
    worth: int
    complete: bool


def best_set(found: Sequence[Said], totals: Collection[Fraction]) -> BestSet:
    """The best set of amounts of one unit, each piece of work once."""
    groups = _groups([s for s in found if not (s.rest and s.amount is None)])[:MOST_GROUPS]
    fold = lcm(*(s.whole.denominator for group in groups for s in group if s.whole), *(t.denominator for t in totals))
    goals = {int(total * fold) for total in totals}
    most = int((MOST_WEIGHT if HUNDRED in totals else MOST_POINTS) * fold)
    best = _sums(groups, fold, most)
    rest = next((s for s in found if s.rest and s.amount is None), None)
    hundred = 100 * fold if HUNDRED in totals else 0
    tried = (_finished(total, kept, rest if total < hundred else None, goals, fold) for total, kept in best.items())
    worth, said, complete = max(tried, key=lambda t: t[0])
    return BestSet(sorted(said, key=lambda s: s.start), worth, complete)


def second_look(found: Sequence[Said]) -> BestSet:
    """Amounts one after the other that make exactly 100, mostly of what is called work, though their words speak
    against some of them; nothing between them is left out."""
    said = [s for s in sorted(found, key=lambda s: s.start) if s.whole and s.score > NEVER_AT_ALL]
    best: Sequence[Said] = ()
    for first in range(len(said)):
        total = Fraction(0)
        for last in range(first, min(len(said), first + MOST_GROUPS)):
            total += said[last].whole or 0
            run = said[first : last + 1]
            if total == HUNDRED and len(run) > len(best) and len(run) >= FEWEST_OF_A_WHOLE and _of_work(run):
                best = run
    return BestSet(best, COMPLETE if best else 0, bool(best))


def _of_work(run: Sequence[Said]) -> bool:
    named = [any(is_work(word) for word in said.name.lower().split()) for said in run]
    return len({said.name.lower() for said in run}) == len(run) and 3 * sum(named) >= 2 * len(run)


def _sums(groups: Sequence[Sequence[Said]], fold: int, most: int) -> dict[int, _Kept]:
    """For every sum that can be made, times `fold`, the best way to make it."""
    best: dict[int, _Kept] = {0: (0, ())}
    for group in groups:
        grown = dict(best)
        steps = [(said, int((said.whole or 0) * fold), said.score - LEAST) for said in group]
        for total, (score, kept) in best.items():
            for said, step, worth in steps:
                value = total + step
                if value <= most and (value not in grown or score + worth > grown[value][0]):
                    grown[value] = (score + worth, (*kept, said))
        best = dict(sorted(grown.items(), key=lambda kv: -kv[1][0])[:MOST_SUMS])
    return best


def _finished(
    total: int, kept: _Kept, rest: Said | None, goals: Collection[int], fold: int
) -> tuple[int, tuple[Said, ...], bool]:
    score, said = kept
    if rest is not None and total > 0:
        made = replace(rest, amount=HUNDRED - Fraction(total, fold))
        return score + COMPLETE + rest.score - LEAST, (*said, made), True
    complete = total in goals and bool(said)
    return score + (COMPLETE if complete else 0), said, complete


def _groups(found: Sequence[Said]) -> list[list[Said]]:
    """Amounts of the same work together, with what else an unclear one may mean."""
    groups: dict[tuple[str, ...], list[Said]] = {}
    for said in found:
        if said.whole and said.score > NEVER:
            groups.setdefault(_key(said, groups), []).extend(_meanings(said))
    return list(groups.values())


def _key(said: Said, groups: dict[tuple[str, ...], list[Said]]) -> tuple[str, ...]:
    numbers = re.findall(r"\d+|\b[IVX]+\b", said.name)
    words = tuple(sorted({*stems(said.name), *numbers})) or (said.name.lower(),)
    same = (key for key in groups if set(key) <= set(words) or set(words) <= set(key))
    for key in same:
        if key == words or any(g.whole == said.whole and g.block != said.block for g in groups[key]):
            return key
    return words


def _meanings(said: Said) -> list[Said]:
    """'Two practicals carry 15%' may mean each of them, where it does not say; 'six at 4%, the lowest is dropped' may
    mean 20%."""
    if said.count and said.count > 1 and said.amount is not None and not said.total:
        turned = replace(said, each=not said.each, score=said.score - (40 if said.each else 20))
        left = [replace(said, amount=said.amount * said.kept, each=False)] if said.each and said.kept else []
        return [said, turned, *left]
    return [said]
