"""The figures of a row: of its cells by their columns, of running words, and the whole beside its parts."""

import re
from collections.abc import Mapping, Sequence
from fractions import Fraction
from itertools import pairwise

from vinemark.core.plan.plan import HUNDRED
from vinemark.core.syllabus.read.drops import Drop, find_drops
from vinemark.core.syllabus.read.extra import most_of_row
from vinemark.core.syllabus.read.naming import BRACKETS, clean
from vinemark.core.syllabus.read.normal import NUMBER, PERCENT_SIGN, POINTS_WORD, phrase, value_of, whole
from vinemark.core.syllabus.read.roles import PRODUCT_SAID, ColumnRole, figure
from vinemark.core.syllabus.read.row_reading import AT_POINTS, EACH_IN_BRACKET, PENALTY_ROW, PER_ITEM, TIMES, RowReading


def read_cell_figures(made: RowReading, figures: Mapping[ColumnRole, str]) -> None:
    """What the cells of a row say, each in small letters under the role of its column."""
    if "weight" in figures:
        _read_weight_cell(made, figures["weight"])
    times = TIMES.search(figures.get("weight_each", ""))
    made.count = (whole(times["n"]) if times else None) or made.count
    if "weight_each" in figures and made.weight is None:
        _read_weight_cell(made, figures["weight_each"])
        whole_is = PRODUCT_SAID.search(figures["weight_each"]) or _each_after_whole(figures["weight_each"])
        made.weight_each = made.weight is not None and not whole_is
    for role in ("points", "each", "count"):
        if role in figures:
            _read_number_cell(made, role, figures[role])
    dropped = whole(figures["drop"]) if "drop" in figures else None
    if dropped:
        made.drops = [Drop(0, 0, lowest=dropped)]


def _read_weight_cell(made: RowReading, text: str) -> None:
    product = PRODUCT_SAID.search(text)
    if product:
        made.count, made.weight, made.weight_each = whole(product[1]), value_of(product[3]), False
        return
    found = re.search(rf"({NUMBER})(?:{PERCENT_SIGN})?", text)
    if found is None or re.search(POINTS_WORD, text):
        read_free(made, text)
        return
    made.weight = value_of(found[1])
    if each := _each_after_whole(text):
        made.count = made.count or _as_many(made.weight, [each])
        return
    made.weight_each = bool(re.search(r"\beach\b|apiece", text))
    if made.weight_each and (
        whole_said := re.search(rf"\(?= ?({NUMBER}){PERCENT_SIGN}|\(({NUMBER}){PERCENT_SIGN}", text)
    ):
        made.weight, made.weight_each = value_of(whole_said[1] or whole_said[2]), False


def _each_after_whole(text: str) -> Fraction | None:
    """'30% (15% each)': what each is worth, where the whole is said before."""
    each, first = EACH_SAID.search(text), re.search(NUMBER, text)
    return value_of(each[1]) if each and first and each.start() > first.start() else None


TIME_OF_DAY = re.compile(r"\d:[0-5]\d")


def _read_number_cell(made: RowReading, role: str, text: str) -> None:
    per = PER_ITEM.search(text)
    if role == "each" and per:
        led = re.match(NUMBER, text[: per.start()])
        made.points_each, made.count = value_of(per["each"]), (whole(led[0]) if led else None) or made.count
        return
    text = text if figure(text).value is not None else re.split(r"[;,]", text)[0]
    times = None if find_drops(text) else TIMES.search(text)
    found = re.search(NUMBER, text)
    if found is None or TIME_OF_DAY.search(text):
        return
    if times and role in {"count", "each"}:
        made.count, made.points_each = whole(times["n"]), value_of(times["each"])
    elif role == "count":
        made.count = whole(found[0]) or made.count
    elif role == "each":
        made.points_each = value_of(found[0])
    elif times and role == "points":
        made.count, made.points_each = whole(times["n"]), value_of(times["each"])
        led = re.match(rf"({NUMBER}){POINTS_WORD}", text[: times.start()])
        total = led or re.search(rf"= ?({NUMBER})", text)
        made.points = value_of(total[1]) if total else None
    elif bracket := EACH_IN_BRACKET.search(text):
        made.points, made.points_each = value_of(found[0]), value_of(bracket["n"])
    elif PER_ITEM.search(text) or re.search(r"\beach\b|apiece", text):
        made.points_each = value_of(found[0])
    elif re.search(PERCENT_SIGN, text):
        made.weight = value_of(found[0])
    else:
        made.points = value_of(found[0])


def read_most(made: RowReading, low: str) -> None:
    """Extra credit: the most that it gives."""
    said = most_of_row(low)
    if said is None or said[0].value is None:
        return
    amount, often = said
    most = (amount.value or Fraction(0)) * (often or 1)
    made.count = often or made.count
    if amount.unit == "weight" and made.weight is not None:
        made.weight, made.weight_each = most, False
    elif amount.unit == "points" and made.weight is None:
        made.points, made.points_each = most, amount.value if often else None


LED_BY_BRACKET = re.compile(rf"[a-z][a-z &/'-]{{2,40}} \(({NUMBER}){PERCENT_SIGN}\)")


def of_those_kept(made: RowReading, last: Fraction | None) -> Fraction | None:
    """'3 exams @ 100 points (the lowest does not count) | 200': the whole, if it is of so many items or of fewer."""
    each, count = made.points_each, made.count
    if last is None or not each or not count:
        return None
    return last if each < last < count * each and last % each == 0 else None


LISTED_NUMERALS = re.compile(r"\b(?:[IVX]{1,4}|\d)(?:, (?:[IVX]{1,4}|\d)){0,5},? ?(?:and|&) (?:[IVX]{1,4}|\d)$")
"""'Exams I and II', 'Papers 1, 2 and 3'."""


def read_numerals(made: RowReading, name: str) -> None:
    """As many as the name lists by their numerals, which are no part of it."""
    numerals = LISTED_NUMERALS.search(name)
    if numerals and re.search("[a-z]{2}", name[: numerals.start()]):
        made.name = clean(name[: numerals.start()]).text
        made.count = len(numerals[0].replace(" and ", ",").replace("&", ",").replace(",,", ",").split(","))


def read_free(made: RowReading, text: str) -> None:
    """Weight and points of running words: first what stands outside brackets."""
    outside = BRACKETS.sub(" ", text)
    led = LED_BY_BRACKET.match(text)
    if led and made.weight is None:
        made.weight, made.weight_each = value_of(led[1]), False
    for piece in (outside, text):
        if made.weight is None:
            _read_percents(made, piece)
    for piece in (outside, text):
        if made.points is None and made.points_each is None:
            _read_points(made, piece)
    if made.weight is None and made.points is None:
        bare = re.search(rf"(?:(?:[|=]|(?<!\d):|:(?= )| -|\.\.) *|(?<!\s)\s{{2,}})({NUMBER})\s*$", outside)
        said, each = value_of(bare[1]) if bare else None, made.points_each
        made.points = said if said is not None and (not each or (said > each and said % each == 0)) else None
    if made.count is None and not made.weight_each and not TIMES.search(text) and not OF_THE_BEST.search(text):
        made.count = _as_many(made.weight, [value_of(said[1]) for said in EACH_SAID.finditer(text)])


OF_THE_BEST = re.compile(r"\b(?:best|top|highest)\b")
"""'12 in all, the 10 best count 2% each' tells how many count."""
EACH_SAID = re.compile(rf"(?<![\d.])({NUMBER}){PERCENT_SIGN} ?(?:each|apiece)\b")


LISTED_PARTS = re.compile(
    rf"(?:(?<![a-z])[a-z][a-z' -]{{2,30}} {NUMBER}{PERCENT_SIGN}(?:, (?:and )?|; | and )?){{2,5}}"
)
"""'A term paper: first version 10 percent, revised version 30 percent': what one work is worth, part by part."""


EACH_IS = re.compile(
    r"\b(?:each|every one|all) (?:one |of (?:them|these|which) |[a-z]{3,16} )?(?:is |are |will be )?"
    r"(?:worth|counts?|counting) $|"
    r"\beach (?:one )?is [a-z0-9 -]{1,30} (?:long )?and (?:is )?worth $"
)


EACH_OF = re.compile(r" ?(?:each|apiece|per (?:exam|test|paper|quiz|project|essay|midterm|lab|item))")
SHARE_OF_COURSE = re.compile(
    r" (?:of|toward|towards) (?:the |your )?(?:(?:course|final|overall|total) )?(?:grade|mark|course)\b"
)
SENTENCE_ENDS = re.compile(r"[a-z0-9)%]\. ")


def _read_percents(made: RowReading, text: str) -> None:
    said = [
        m
        for m in re.finditer(rf"({NUMBER}){PERCENT_SIGN}", text)
        if not PENALTY_ROW.search(text[max(0, m.start() - 12) : m.end() + 14])
    ]
    of_grade = [m for m in said if SHARE_OF_COURSE.match(text, m.end())]
    # '**Journal.** Graded for care (40%) and depth (60%). It is worth 25% of the course grade.'
    said = of_grade if len(of_grade) == 1 and SENTENCE_ENDS.search(text[: of_grade[0].start()]) else said
    found = [
        (
            value_of(m[1]),
            bool(EACH_OF.match(text, m.end()) or EACH_IS.search(text[max(0, m.start() - 40) : m.start()])),
        )
        for m in said
    ]
    wholes = [value for value, each in found if not each]
    bracket = BRACKETS.search(text)
    within = bracket[0] if bracket and len(re.findall(PERCENT_SIGN, bracket[0])) == len(found) else text
    parts = (
        LISTED_PARTS.fullmatch(within[within.find(":") + 1 :].strip(" .()"))
        if within[0] == "(" or ":" in text
        else None
    )
    if wholes and parts and len(wholes) > 1 and sum(w or 0 for w in wholes) <= HUNDRED:
        made.weight, made.weight_each = sum((w or Fraction(0) for w in wholes), Fraction(0)), False
    elif wholes:
        made.weight, made.weight_each = wholes[0], False
    elif found:
        made.weight, made.weight_each = found[0][0], True
    # 'Photo essays (2 x 15%)'
    times = re.search(rf"({NUMBER}) ?(?:x|@|times|at) ?({NUMBER}){PERCENT_SIGN}", text)
    if times and value_of(times[2]) == made.weight:
        made.count, made.weight_each = made.count or whole(times[1]), True


def _as_many(whole_is: Fraction | None, each: Sequence[Fraction | None]) -> int | None:
    """'45% (15% each)': as many as the whole holds."""
    number = whole_is / each[0] if whole_is and len(each) == 1 and each[0] else Fraction(1)
    return int(number) if number.denominator == 1 and 1 < number <= MOST_IN_WHOLE else None


MOST_IN_WHOLE = 20


def _read_points(made: RowReading, text: str) -> None:
    per = PER_ITEM.search(text)
    if per:
        made.points_each = value_of(per["each"])
    masked = text[: per.start()] + " " * (per.end() - per.start()) + text[per.end() :] if per else text
    times = TIMES.search(masked) or AT_POINTS.search(masked)
    of_percent = times and re.match(PERCENT_SIGN, masked[times.end("each") :])
    if times and not of_percent and re.search(rf"{POINTS_WORD}|=", masked[times.start() : times.end() + 4]):
        made.count = made.count or whole(times["n"])
        made.points_each = made.points_each or value_of(times["each"])
        masked = masked[: times.start()] + " " * (times.end() - times.start()) + masked[times.end() :]
    total = re.search(rf"({NUMBER}){POINTS_WORD}(?! ?(?:each|apiece|per|off|scale))", masked)
    if total:
        made.points = value_of(total[1])
        _read_one_by_one(made, masked[: total.end()])


ONE_BY_ONE = phrase(
    r"(?<![a-z0-9])(?P<name>[a-z]{1,12} ?(?:\d{1,2})?)[:=]? (?P<n>{number})(?= ?p(?:oin)?ts\b| ?marks\b|,| and\b|$)"
)
ITEM_NAME = re.compile(r"(?<![a-z])[a-z]{1,12} ?\d{1,2}|first|second|third|fourth|fifth|sixth")


def _read_one_by_one(made: RowReading, text: str) -> None:
    """'P1 60, P2 80 and P3 100 points': the points of each, by its own name."""
    said = [m for m in ONE_BY_ONE.finditer(text) if ITEM_NAME.fullmatch(m["name"].strip())]
    if len(said) > 1 and all(text[a.end() : b.start()].strip(" ,") in {"", "and"} for a, b in pairwise(said)):
        made.points = sum((value_of(m["n"]) or Fraction(0) for m in said), Fraction(0))
        made.count = made.count or len(said)


def read_product(made: RowReading, cells: Sequence[str]) -> None:
    """A cell of its own with '3 x 100' beside one with the total."""
    product = next((text for text in cells if figure(text).product and not figure(text).unit), None)
    times = TIMES.search(product) if product and made.points is not None else None
    if times and made.points_each is None and made.count is None:
        made.count, made.points_each = whole(times["n"]), value_of(times["each"])


def read_total_kept(made: RowReading, low: str) -> None:
    """The total that stands in the row too, where it is what is left of the points of each after the drop."""
    each, count = made.points_each, made.count
    if each is None or count is None:
        return
    kept = {count} | {drop.best or count - drop.lowest for drop in made.drops}
    bare = BRACKETS.sub(lambda m: " " * len(m[0]), low)
    stated = {value_of(m[0]) for m in re.finditer(rf"(?:(?<=\s\s)|(?<=\|)|(?<=\| )){NUMBER}(?=\s\s|\s?\||\s?$)", bare)}
    stated |= {
        value_of(m[1]) for m in re.finditer(rf"(?:=|\bso|\bthat is|\bi\.e\.,?|\btotal\w*) ({NUMBER}){POINTS_WORD}", low)
    }
    wholes = [each * number for number in sorted(kept) if each * number in stated]
    if wholes and (made.points is None or made.points == each * count or made.points == each):
        made.points = wholes[0]
