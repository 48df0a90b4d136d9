"""What the columns of a table hold: told by their cells and by what adds up; headings are only a hint."""

import re
from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import product
from typing import Literal, NamedTuple

from vinemark.core.syllabus.read.layout import Page
from vinemark.core.syllabus.read.lexicon import is_work
from vinemark.core.syllabus.read.naming import clean, is_extra, is_total
from vinemark.core.syllabus.read.normal import NUMBER, PERCENT_SIGN, POINTS_WORD, value_of, whole
from vinemark.core.syllabus.read.points_totals import points_totals
from vinemark.core.syllabus.read.tables import TextTable, cell_words

ColumnRole = Literal["weight", "weight_each", "points", "each", "count", "drop", "none"]
ROLES: Sequence[ColumnRole] = ("weight", "points", "count", "each", "weight_each", "drop", "none")
HINTS: Mapping[ColumnRole, re.Pattern[str]] = {
    "weight": re.compile(
        r"weight|%|percent|share|portion|worth|proportion|fraction|contribut|of (?:course|final)? ?grade"
    ),
    "weight_each": re.compile(r"\beach\b|apiece|\bper (?!cent)|single"),
    "points": re.compile(r"points?|\bpts\b|possible|\bmax|marks|total|worth|value|together|altogether|sum"),
    "each": re.compile(r"\beach\b|apiece|\bper (?!cent)|/ ?(?:item|quiz|assignment)|\bone\b|single"),
    "count": re.compile(r"number|\bno\b\.?|#|how many|count|quantity|qty|\bnum\b|^n$|\bx\b|times|quantity|given"),
    "drop": re.compile(r"drop|discard|lowest|removed|left out"),
    "none": re.compile(
        r"grade points|gpa|\bdates?\b|week|due|chapter|page|\bday\b|session|outcome|objective|\bclo\b|slo|"
        r"\bto pass\b|\bpassing\b|edition|\bsize|length|minutes|hours|pages|words|\broom"
    ),
}
MOST_NUMBERS = 5
"""Tables with more columns of numbers are no plan of grades."""
MOST_TABLE_ROWS = 60
MOST_DROPPED = 4
LEAST_SCORE = 25
"""Tenths of evidence below which a table is no plan of grades."""
LEAST_IN_GRADING = 15
"""The same for one without headings, of which the heading above speaks."""
SMALL_NUMBER = 20
ROUND_SUM = 50
"""A column of numbers no larger than this, without a unit, rather counts than weighs."""
FIGURE = re.compile(
    rf"\W{{0,6}}(?:up to |about |max(?:imum)?\.? |\+ ?)?({NUMBER})({PERCENT_SIGN}|{POINTS_WORD})?"
    r"(?: (?:each|apiece|total|in all|max))?\W{0,6}"
)
UNIT_WORDS = re.compile(r"\b(?:points?|pts|marks?|percent|each|apiece|times|at|of|total)\b")
SPOKEN_COUNTS = {"once": Fraction(1), "one time": Fraction(1), "twice": Fraction(2)}
PRODUCT = re.compile(rf"({NUMBER}) ?(?:x|@|at|of|times|\*) {{0,3}}({NUMBER})")
OFTEN_SAID = re.compile(
    r"(?:weekly|biweekly|monthly|daily|every (?:other )?(?:day|week|month|class|unit)) \((\d{1,2})\)"
)
"""'weekly (12)', in a column of how often."""
PRODUCT_SAID = re.compile(
    rf"({NUMBER}) ?(?:x|@|at|times|\*) {{0,3}}({NUMBER}){PERCENT_SIGN} ?= ?({NUMBER}){PERCENT_SIGN}"
)
"""'3 @ 15% = 45%'."""


class CellFigure(NamedTuple):
    """What a cell holds: its number, its unit and whether it is a product or has words beside it."""

    value: Fraction | None
    unit: Literal["percent", "points", ""]
    product: bool
    each: bool = False


@dataclass(frozen=True)
class Roles:
    """Columns by their place: the name's, and what the columns of numbers are."""

    name: int
    of: Mapping[int, ColumnRole]
    heading_rows: int
    score: int


def figure(text: str) -> CellFigure:
    """The number of a cell in small letters, None where it holds words or nothing."""
    if said := PRODUCT_SAID.fullmatch(text):
        return CellFigure(value_of(said[3]), "percent", False)
    if PRODUCT.search(text) and not re.search("[a-z]{3}", UNIT_WORDS.sub("", text)):
        return CellFigure(None, "percent" if re.search(PERCENT_SIGN, text) else "", True)
    often = OFTEN_SAID.fullmatch(text)
    plain = FIGURE.fullmatch(often[1] if often else text)
    if text in SPOKEN_COUNTS:
        return CellFigure(SPOKEN_COUNTS[text], "", False)
    each = bool(re.search(r"\d.{0,12}\b(?:each|apiece)\b", text))
    if plain is None:
        return CellFigure(None, "", False, each)
    unit: Literal["percent", "points", ""] = ""
    if plain[2]:
        unit = "percent" if re.fullmatch(PERCENT_SIGN, plain[2]) else "points"
    return CellFigure(value_of(plain[1]), unit, False, each)


def laid_out(page: Page, table: TextTable) -> tuple[TextTable, Roles] | None:
    """A table with its roles, turned where the work stands across; None where it is no plan of grades."""
    roles = roles_of(page, table)
    if roles is not None:
        return table, roles
    if not (3 <= table.width <= MOST_ACROSS and 2 <= len(table.rows) <= MOST_DOWN):
        return None
    turned = TextTable(
        [list(column) for column in zip(*table.rows, strict=True)], [table.lines[0]] * table.width, table.section
    )
    roles = roles_of(page, turned)
    return (turned, roles) if roles is not None and roles.score >= SURE else None


MOST_ACROSS, MOST_DOWN = 12, 6
SURE = 60
"""A turned table must speak for itself more than one that stands upright."""


def roles_of(page: Page, table: TextTable) -> Roles | None:
    """The best reading of a table as a plan of grades, or None where it is none."""
    texts = [[cell_words(page, cell) for cell in row] for row in table.rows[:MOST_TABLE_ROWS]]
    if table.width < 2 or len(texts) < 2:
        return None
    heads = _heading_rows(texts)
    body = texts[heads:]
    headings = [" ".join(dict.fromkeys(row[c] for row in texts[:heads])) for c in range(table.width)]
    figures = [[figure(text) for text in row] for row in body]
    numeric = [
        c for c in range(table.width)
        if _is_numeric([row[c] for row in figures], [row[c] for row in body])
        and not _is_numbering(headings[c], [row[c] for row in figures])
    ]  # fmt: skip
    name = _name_column(body, headings, numeric)
    if name is None or not numeric or len(numeric) > MOST_NUMBERS:
        return None
    outermost = min(line.indent for line in table.lines)
    rows = [
        n
        for n, row in enumerate(body)
        if row[name] and not _is_sum(row, name) and not is_extra(" ".join(row))
        and table.lines[heads + n].indent == outermost
    ]  # fmt: skip
    named = [_number_in(row[name]) for row in body]
    stated = {total for total in points_totals(page.flat) if total >= ROUND_SUM}
    best = max(_readings(body, figures, headings, numeric, rows, named, stated), key=lambda r: r[0], default=None)
    worth = {"weight", "points", "each", "weight_each"} & set(best[1].values()) if best else set()
    if best is not None and not worth and _named_worth(body, name):
        return Roles(name, best[1], heads, SURE)
    graded = table.section is not None and table.section.kind == "grading" and not heads
    plain = not any(row[c].product for row in figures for c in numeric)
    least = LEAST_IN_GRADING if graded and plain else LEAST_SCORE
    if best is None or best[0] < least or not worth:
        return None
    return Roles(name, best[1], heads, best[0])


def _named_worth(body: Sequence[Sequence[str]], name: int) -> bool:
    """Whether most names bring their weight or points along: 'Labs (20%)'."""
    bearing = sum(bool(re.search(rf"\d ?%|\d(?:{POINTS_WORD})", row[name])) for row in body)
    return bearing * 3 >= len(body) * 2 and bearing > 1


LED_BY_AMOUNT = re.compile(rf"{NUMBER}{POINTS_WORD}")


def _heading_rows(texts: Sequence[Sequence[str]]) -> int:
    """Leading rows without a number of their own."""
    for n, row in enumerate(texts[:3]):
        figures = any(
            figure(text).value is not None or figure(text).product or LED_BY_AMOUNT.match(text) for text in row
        )
        if figures or re.search(r"\d ?%", " ".join(row)):
            return n
    return min(1, len(texts) - 1)


def _is_numeric(column: Sequence[CellFigure], texts: Sequence[str]) -> bool:
    filled = sum(1 for text in texts if text and text not in {"-", "--", "n/a", "none"})
    numbers = sum(1 for f in column if f.value is not None or f.product)
    return numbers > 0 and numbers * 2 >= filled


def _is_numbering(heading: str, column: Sequence[CellFigure]) -> bool:
    """Whether a column numbers its rows: 1, 2, 3 below '#' or nothing; the row of the total may have none."""
    values = [one.value for one in column if one.value is not None]
    plain = not any(one.unit or one.product for one in column)
    counted = plain and len(values) >= FEWEST_NUMBERED and values == list(range(1, len(values) + 1))
    return counted and ROW_NUMBERS.fullmatch(heading.strip()) is not None


FEWEST_NUMBERED = 3
ROW_NUMBERS = re.compile(r"(?:#|no\.?|nr\.?|n\.?|number|item(?: no\.?)?)?")


def _name_column(body: Sequence[Sequence[str]], headings: Sequence[str], numeric: Sequence[int]) -> int | None:
    """The column of names: words, mostly different from row to row; a weekday or date is none."""
    worded = [
        c for c in range(len(headings))
        if c not in numeric and 2 * sum(bool(re.search("[a-z]{2}", row[c])) for row in body) > len(body)
    ]  # fmt: skip
    every, worded = len(worded), _from_names_on(body, headings, worded)
    dated = len(worded) > 1 and _of_dates([row[worded[0]] for row in body])
    worded = worded[1:] if dated else worded
    if not worded or re.search(r"letter|^grade$", headings[worded[0]]):
        return None
    if len(worded) == every and HINTS["none"].search(headings[worded[0]]):
        return None
    named = worded[:2] if len(worded) > 1 and worded[1] == worded[0] + 1 else worded[:1]
    columns = [[row[column] for row in body if row[column] and not is_total(row[column])] for column in named]
    repeats = [len(texts) - len(set(texts)) for texts in columns]
    grouped = (
        len(named) > 1
        and repeats[0] > repeats[1]
        and max(map(len, columns[1]), default=LONG_CELL_NAME) < LONG_CELL_NAME
        and not _mostly_remarks(body, named)
    )
    return named[1] if grouped else named[0]


BESIDE_NAMES = re.compile(
    r"descri|^notes?$|remark|detail|comment|format|length|outcome|objective|rubric|^dates?\b|\bdue\b|^when$|^where$|"
    r"\bplace$|\broom\b|^time|^chapters?$|^units?$|^submit|feedback|late|individual|^who$|^type$"
)


def _from_names_on(body: Sequence[Sequence[str]], headings: Sequence[str], worded: list[int]) -> list[int]:
    """Columns of words without those that, by their heading, stand before the names: 'Description | Assignment'."""
    for n, column in enumerate(worded[:-1]):
        beside = BESIDE_NAMES.search(headings[column]) and _work_named(body, column) < _work_named(body, worded[n + 1])
        if not beside or 2 * _work_named(body, worded[n + 1]) < len(body):
            return worded[n:]
    return worded[-1:]


def _work_named(body: Sequence[Sequence[str]], column: int) -> int:
    """How many cells of a column are no more than a name of work."""
    named = [clean(row[column]).text.lower().split() for row in body if len(row[column]) < LONG_CELL_NAME]
    return sum(any(is_work(word) for word in words) for words in named)


A_DATE = re.compile(
    r"(?:(?:mon|tues?|wed(?:nes)?|thu(?:rs)?|fri|sat(?:ur)?|sun)(?:day)?\.?,? )?"
    r"(?:(?:jan|feb|mar|apr|may|june?|july?|aug|sept?|oct|nov|dec)[a-z]{0,6}\.? \d{1,2}(?:(?:st|nd|rd|th)\b)?|"
    r"\d{1,2}/\d{1,2})"
)


def _of_dates(cells: Sequence[str]) -> bool:
    filled = [cell for cell in cells if cell and not is_total(cell)]
    return bool(filled) and 3 * sum(A_DATE.fullmatch(cell.strip()) is not None for cell in filled) >= 2 * len(filled)


def _mostly_remarks(body: Sequence[Sequence[str]], named: Sequence[int]) -> bool:
    """Whether the words beside names that stand once tell how many or what is dropped: they are no names."""
    first = [row[named[0]] for row in body]
    beside = [row[named[1]] for row in body if first.count(row[named[0]]) == 1 and row[named[1]]]
    return 2 * sum(REMARK.search(text) is not None for text in beside) > len(beside) > 0


REMARK = re.compile(r",|;|\bcount|\bdrop|\blowest|\bbest\b|\beach\b|^\d+ ")
LONG_CELL_NAME = 60
"""Words longer than this are remarks, no name."""


def _is_sum(row: Sequence[str], name: int) -> bool:
    return is_total(row[name]) or any(is_total(text) for text in row[:name]) or not re.search("[a-z]", row[name])


RolesReading = tuple[int, dict[int, ColumnRole]]


def _readings(
    body: Sequence[Sequence[str]],
    figures: Sequence[Sequence[CellFigure]],
    headings: Sequence[str],
    numeric: Sequence[int],
    rows: Sequence[int],
    named: Sequence[Fraction | None],
    stated: Collection[Fraction],
) -> Iterator[RolesReading]:
    alone = {
        (role, c): _column_score(role, c, body, figures, headings[c], rows, stated) for role in ROLES for c in numeric
    }  # fmt: skip
    for chosen in product(ROLES, repeat=len(numeric)):
        taken = [r for r in chosen if r != "none"]
        if len(taken) != len(set(taken)):
            continue
        roles = dict(zip(numeric, chosen, strict=True))
        score = sum(alone[role, c] for c, role in roles.items())
        yield score + _together(roles, figures, rows, named), roles


def _column_score(
    role: ColumnRole, column: int, body: Sequence[Sequence[str]], figures: Sequence[Sequence[CellFigure]], heading: str,
    rows: Sequence[int], stated: Collection[Fraction],
) -> int:  # fmt: skip
    cells = [figures[n][column] for n in rows]
    values = [c.value for c in cells if c.value is not None]
    if role == "none":
        return (10 if HINTS["none"].search(heading) else -10) - (20 if any(c.unit for c in cells) else 0)
    if not values and not any(c.product for c in cells):
        return -90
    score = 20 if HINTS[role].search(heading) else 0
    score -= 30 if HINTS["none"].search(heading) else 0
    sums = {_total_in(figures[n], column) for n in range(len(body)) if n not in rows} - {None}
    return score + _UNIT_SCORES[role](cells, values, heading) + _sum_score(role, values, sums | set(stated))


def _whole_weight_cells(cells: Sequence[CellFigure], values: Sequence[Fraction], heading: str) -> int:
    return _weight_cells(cells, values, heading) - (40 if any(c.product for c in cells) else 0)


def _weight_cells(cells: Sequence[CellFigure], values: Sequence[Fraction], heading: str) -> int:
    if any(c.unit == "points" or (c.product and not c.unit) for c in cells) or any(v > 100 for v in values):
        return -80
    percent = sum(c.unit == "percent" for c in cells)
    if percent:
        return 30 if percent * 2 > len(cells) else 5
    return 0 if re.search(r"%|percent", heading) else -60 if re.search(r"points|pts", heading) else -10


def _points_cells(cells: Sequence[CellFigure], values: Sequence[Fraction], heading: str) -> int:
    if any(c.unit == "percent" for c in cells) or re.search(r"%|percent", heading):
        return -80
    score = 30 if any(c.unit == "points" for c in cells) else 5 if max(values, default=0) > SMALL_NUMBER else 0
    return score - (30 if _mostly_each(cells) else 0)


def _mostly_each(cells: Sequence[CellFigure]) -> bool:
    filled = sum(1 for c in cells if c.value is not None or c.each or c.product)
    return 2 * sum(c.each for c in cells) > filled


def _each_cells(cells: Sequence[CellFigure], values: Sequence[Fraction], heading: str) -> int:
    own = 50 if _mostly_each(cells) else 20 if any(c.product for c in cells) else 0
    return own - 20 + _points_cells(cells, values, heading)


def _each_weight_cells(cells: Sequence[CellFigure], values: Sequence[Fraction], heading: str) -> int:
    own = 30 if any(c.each or c.product for c in cells) else 0
    return own - 20 + _weight_cells(cells, values, heading)


def _count_cells(cells: Sequence[CellFigure], values: Sequence[Fraction], heading: str) -> int:
    whole = all(v.denominator == 1 and 0 < v <= 60 for v in values)
    if not whole or any(c.unit for c in cells) or 2 * sum(c.product for c in cells) > len(cells):
        return -80
    return 10 if any(v > 1 for v in values) else 0


def _drop_cells(cells: Sequence[CellFigure], values: Sequence[Fraction], heading: str) -> int:
    small = all(v.denominator == 1 and 0 <= v <= 6 for v in values) and not any(c.unit for c in cells)
    return 20 if small and HINTS["drop"].search(heading) else -90


_UNIT_SCORES = {
    "weight": _whole_weight_cells, "points": _points_cells, "each": _each_cells, "weight_each": _each_weight_cells,
    "count": _count_cells, "drop": _drop_cells,
}  # fmt: skip


def _sum_score(role: ColumnRole, values: Sequence[Fraction], sums: Collection[Fraction | None]) -> int:
    """What adds up: weights to 100 or 1, points to what a row, or a sentence of the text, calls the total."""
    if role not in {"weight", "points"} or len(values) < 2:
        return 0
    total = sum(values, Fraction(0))
    if role == "weight":
        return 50 if total in {100, 1} else 20 if total in sums else 0
    return 30 if total in sums else 10 if total % ROUND_SUM == 0 else 0


def _total_in(row: Sequence[CellFigure], column: int) -> Fraction | None:
    """The number of a row of sums, which may stand in any column where it is the only one."""
    numbers = [cell.value for cell in row if cell.value is not None]
    return row[column].value if len(numbers) != 1 else numbers[0]


def _number_in(name: str) -> Fraction | None:
    """'Labs (8)', 'Two essays': the number that a name brings along."""
    number = clean(name).number or next((whole(m) for m in re.findall(r"\((\d{1,2})(?:[),;]| [a-z]+\))", name)), None)
    return None if number is None else Fraction(number)


def _together(
    roles: Mapping[int, ColumnRole],
    figures: Sequence[Sequence[CellFigure]],
    rows: Sequence[int],
    named: Sequence[Fraction | None],
) -> int:
    """Count times each is the total, row by row."""
    places = {role: column for column, role in roles.items()}
    score = 0
    pairs: Sequence[tuple[ColumnRole, ColumnRole]] = (("each", "points"), ("weight_each", "weight"))
    for each, total in pairs:
        if each in places:
            if "count" not in places and total not in places:
                score -= 5
            score += _products(places.get("count"), places[each], places.get(total), figures, rows, named)
    return score


def _products(
    count: int | None, each: int, total: int | None, figures: Sequence[Sequence[CellFigure]], rows: Sequence[int],
    named: Sequence[Fraction | None],
) -> int:  # fmt: skip
    if total is None or (count is None and not any(named)):
        return 0
    fits = misses = 0
    for n in rows:
        number = figures[n][count].value if count is not None else named[n]
        one, total_of = figures[n][each].value, figures[n][total].value
        if one is not None and total_of is not None:
            fit = _fits(number or Fraction(1), one, total_of)
            fits, misses = fits + fit, misses + (not fit)
    return 60 if fits and not misses else 20 if fits > 2 * misses else -60


def _fits(number: Fraction, one: Fraction, whole: Fraction) -> bool:
    """Whether so many of so much are the whole, before or after a few are dropped."""
    return any((number - dropped) * one == whole for dropped in range(MOST_DROPPED + 1) if dropped < number)
