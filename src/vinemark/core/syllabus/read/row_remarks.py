"""Counts, points of each and drops from the remarks of a row: its brackets, notes and the words around."""

import re
from collections.abc import Sequence
from fractions import Fraction

from vinemark.core.base.names import singular
from vinemark.core.syllabus.read.drops import find_drops
from vinemark.core.syllabus.read.naming import BRACKETS, stems
from vinemark.core.syllabus.read.normal import NUMBER, PERCENT_SIGN, POINTS_WORD, phrase, value_of, whole
from vinemark.core.syllabus.read.row_reading import A_NUMBER_OF, AT_POINTS, EACH_IN_BRACKET, PER_ITEM, TIMES, RowReading


def _read_bracket(made: RowReading, remark: str) -> None:
    """'(12 @ 10, best 10)', '(5, drop 1)', '(8)': a number of items, and perhaps the points of each."""
    times, counted = TIMES.search(remark), COUNT_IN_BRACKET.match(remark)
    drops = find_drops(remark.strip("()"))
    said = times and (OF_POINTS.search(remark, times.end("n")) or not NO_TIMES.fullmatch(remark, *_sign_of(times)))
    if times and said and not any(d.start + 1 < times.end() and times.start() < d.end + 1 for d in drops):
        made.count = made.count or whole(times["n"])
        if not re.match(PERCENT_SIGN, remark[times.end("each") :]):
            made.points_each = made.points_each or value_of(times["each"])
    elif counted:
        made.count = made.count or whole(counted["n"] or counted["needed"] or counted["often"] or counted["times"])
    elif (each := EACH_IN_BRACKET.match(remark)) and made.weight is None:
        made.points_each = made.points_each or value_of(each["n"])
    elif made.count and (one := POINTS_IN_BRACKET.fullmatch(remark)):
        each_one = value_of(one["n"])
        whole_is = (each_one or 0) * made.count
        made.points_each = each_one if whole_is in {made.points, made.weight} else made.points_each


def _sign_of(times: re.Match[str]) -> tuple[int, int]:
    return times.end("n"), times.start("each")


NO_TIMES = re.compile(r" ?(?:(?<![a-z])[a-z-]{1,20} )?of ?")
"""'36 of 40' is no 36 times 40."""
OF_POINTS = re.compile(rf"{NUMBER}{POINTS_WORD}")
POINTS_IN_BRACKET = phrase(r"\((?P<n>{number})(?: ?p(?:oin)?ts?\.?| ?marks?)\)")
COUNT_IN_BRACKET = phrase(
    r"\((?P<n>{number})(?: total| in all| in total| of them)?(?=[),;])(?!,\d)|"
    r"\((?P<needed>{number}) (?:required|assigned)\)|\(x ?(?P<often>{number})\)|\((?P<times>{number}) ?x\)"
)


def read_remarks(made: RowReading, low: str, name_text: str) -> None:
    """Counts, points each and drops from brackets, notes and the words around."""
    remarks = BRACKETS.findall(low)
    # 'Plan (50), materials (50)': numbers of parts, not of items.
    of_parts = sum(_bare_number(remark) is not None for remark in remarks) > 1
    outside = low.replace(name_text, " | ", 1) if name_text != low else low
    whole_is = _whole_in_bracket(made, low, remarks)
    for remark in remarks:
        if not (of_parts and COUNT_IN_BRACKET.match(remark)) and remark != whole_is:
            _read_bracket(made, remark)
    per = PER_ITEM.search(low)
    if per:
        made.points_each = made.points_each or value_of(per["each"])
    made.drops = made.drops or find_drops(outside) or find_drops(low)
    for piece in low.split("|"):
        times = AT_POINTS.fullmatch(piece.strip(" ;.,"))
        if times and made.points_each is None:
            made.count, made.points_each = made.count or whole(times["n"]), value_of(times["each"])
    of = next((drop.of for drop in made.drops if drop.of), None)
    made.count = made.count or of
    if made.count is None:
        made.count = _of_its_name(made.name, low)
    if made.count is None and not of_parts and not OF_SEVERAL_KINDS.search(low):
        made.count = _number_beside(made, outside)
    if made.count is not None and made.count > 200:
        made.count = None
    if made.weight is not None and PARTS_IN_POINTS.search(low):
        made.count = made.points = made.points_each = None


def _number_beside(made: RowReading, outside: str) -> int | None:
    found = A_NUMBER_OF.search(re.sub(r"[()]", "|", outside))
    said = whole(found["n"]) if found else None
    if found is None or found["n"] == "one" or _of_one_event(made.name, found[0]):
        return None
    if is_of_others(made.name, found[0]):
        return None
    return None if said in {made.points, made.weight} else said


ONE_EVENT = re.compile(r"\b(?:exam|examination|final|jury|test|midterm|recital|interview|defense|presentation)$")
MOST_OF_OTHERS = 30
OF_MANY = phrase(r"(?P<n>{number}) (?P<of>[a-z][a-z' -]{2,60})")
NUMBER_BEFORE = re.compile(r"^\W*[a-z0-9]+ ")


def is_of_others(name: str, counted: str) -> bool:
    """Whether 'sixty species' beside 'Leaf collection' counts what is in it: so many that the name should say so."""
    found = OF_MANY.search(counted)
    return (
        found is not None
        and (whole(found["n"]) or 0) > MOST_OF_OTHERS
        and not set(stems(found["of"])) & set(stems(name))
    )


def _of_one_event(name: str, counted: str) -> bool:
    """'Final jury: two pieces': what is counted is no jury."""
    if not ONE_EVENT.search(name.lower()):
        return False
    nouns = [singular(word) for word in re.findall(r"[a-z][a-z'-]+", NUMBER_BEFORE.sub("", counted, count=1))]
    return bool(nouns) and singular(name.lower().split()[-1]) not in nouns


PARTS_IN_POINTS = phrase(
    r"points (?:each|apiece)\W{1,3}(?:and )?(?:an?|one|the) [a-z][a-z -]{2,40} (?:is |are )?(?:worth|of|at|for) "
    r"(?:another )?{number} points\b"
)
"""'Lab (25%): five reports, 20 points each, and a practical worth 100 points': what is inside one category."""

OF_SEVERAL_KINDS = phrase(r": {number} [a-z]{3,20}, (?:and )?{number} (?!points?\b|pts\b|percent\b)[a-z]{3,20}\b")
"""'Species test: 40 plants, 20 birds': what one work is about."""


def _bare_number(remark: str) -> Fraction | None:
    """The number of a bracket that holds nothing else."""
    counted = COUNT_IN_BRACKET.match(remark)
    return value_of(counted["n"]) if counted and counted["n"] and counted.end() == len(remark) - 1 else None


def _whole_in_bracket(made: RowReading, low: str, remarks: Sequence[str]) -> str | None:
    """'Two, 25 points each (50)', '13 sets at 10 points; the best 10 count (100)': the bracket with the whole."""
    per = AT_POINTS.search(low) or PER_ITEM.search(low)
    said = A_NUMBER_OF.search(BRACKETS.sub("|", low))
    each = value_of(per["each"]) if per else None
    numbers = [whole(said["n"]) if said else None, whole(per["n"]) if per and "n" in per.groupdict() else None]
    numbers += [drop.best for drop in find_drops(low)]
    wholes = {each * number for number in numbers if number} if each else set()
    for remark in remarks:
        if _bare_number(remark) in wholes - {each}:
            made.points, made.points_each = _bare_number(remark), each
            made.count = made.count or next((number for number in numbers if number), None)
            return remark
    return None


def _of_its_name(name: str, low: str) -> int | None:
    """'Article critiques', beside it 'four critiques of published studies': a number with the noun of the name, or
    'a page for each of 12 concerts'."""
    one_each = ONE_FOR_EACH.search(low)
    if one_each is not None:
        return whole(one_each["n"])
    noun = singular(name.lower().split()[-1]) if name.split() else ""
    if noun in MEASURES:
        return None
    said = (whole(m["n"]) for m in COUNTED_NOUN.finditer(low) if singular(m["noun"]) == noun and m["noun"] != noun)
    return next((number for number in said if number), None)


ONE_FOR_EACH = phrase(r"\b(?:an?|one) [a-z-]{2,20} (?:for|on|about) each of (?:the |our |your )?(?P<n>{number}) [a-z]")
"""'One page for each of 12 concerts'."""
MEASURES = frozenset(["hour", "minute", "page", "word", "day", "week", "point", "question"])
"""'Shop hours (30 hours)' is one work."""
COUNTED_NOUN = phrase(
    r"(?:^|[|;.(] ?|\b(?:write|take|have|complete|submit|give|do|are|be) )"
    r"(?P<n>{number}) (?:[a-z-]{1,16} )?(?P<noun>[a-z]{3,20})\b"
)
