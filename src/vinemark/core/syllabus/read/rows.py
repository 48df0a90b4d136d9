"""Categories from tables, lists and short lines: a name beside a weight or points."""

import re
from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass, field, replace
from fractions import Fraction
from itertools import pairwise

from vinemark.core.base.names import singular
from vinemark.core.plan.plan import HUNDRED
from vinemark.core.syllabus.read.drops import Drop, find_drops
from vinemark.core.syllabus.read.extra import most_of_row
from vinemark.core.syllabus.read.layout import Page, Span, TextLine, TextSection
from vinemark.core.syllabus.read.naming import BRACKETS, clean, is_extra, is_total
from vinemark.core.syllabus.read.normal import NUMBER, PERCENT_SIGN, POINTS_WORD, phrase, value_of, whole
from vinemark.core.syllabus.read.roles import ColumnRole, Roles, figure, laid_out
from vinemark.core.syllabus.read.tables import TextTable, cell_words

_BARE_LETTER = re.compile(r"^[A-F][+-]?$")
NOT_NAME = re.compile(
    r"^credits?(?: hours?)?$|^(?:final |course |letter )?grades?$|"
    r"^(?:week|weeks|day|session|meeting|class|unit|chapter|module)s? \d|^\d{1,2}[:/.]\d\d|"
    r"^(?:mon|tues?|wed(?:nes)?|thu(?:rs?)?|fri|sat(?:ur)?|sun)(?:day)?s?\b|"
    r"^(?:jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec)[a-z]*\.? \d|^\d{1,2} (?:jan|feb|"
    r"mar|apr|may|jun|jul|aug|sep|oct|nov|dec)"
)
PENALTY_ROW = re.compile(
    r"\blate\b(?! in the)|\bloses?\b|\blose\b|\bpenalt|"
    r"\bdeduct|\boff\b|\babsen|\bper day\b|\ba day\b|"
    r"\bat least\b|\bat most\b|\bminimum\b|\bor better\b|"
    r"\bpass\b|\bto pass\b|\bcheat|\bplagiar|\btard|\bof the (?:class|students|questions|"
    r"points|time|term|meetings|sessions)\b"
)
PART_WORDS = re.compile(
    r"\bpart\b|\bsection\b|multiple[- ]choice|short[- ]answer|\bof the (?:exam|paper|project|"
    r"report|grade for|log|final|score)\b|\bquestions?\b|"
    r"\bproblems\b|true[/ -]false|\bof (?:it|this|that|each)\b|\bdraft\b|\bproposal\b|"
    r"\boutline\b|content|delivery|grammar|clarity"
)
TIMES = phrase(
    r"(?P<n>{number}) ?(?:[a-z-]+ )?(?:x|@|at|of|times|\*) ?(?P<each>{number})(?: ?(?:points?|"
    r"pts?\.?|marks?))?(?: (?:each|apiece))?"
)
PER_ITEM = phrase(
    r"(?P<each>{number})(?: ?(?:points?|pts?\.?|marks?)) ?(?:each|apiece|a piece|ea\b|per (?!cent|day|week|"
    r"hour)[a-z-]+)"
)
AT_POINTS = phrase(r"(?P<n>{number}) (?:[a-z-]+ ){0,3}(?:x|@|at) (?P<each>{number}) ?(?:points?|pts?\.?|marks?)")
"""A cell with '12 records at 10 points'."""
A_NUMBER_OF = phrase(
    r"(?:^|[|(,;:] ?(?!{number} (?:required|needed)\b)|"
    r"(?<!\d) -{1,2} |(?<!jan)(?<!feb)(?<!mar)(?<!apr)(?<!jun)(?<!jul)(?<!aug)(?<!sep)(?<!sept)(?<!oct)"
    r"(?<!nov)(?<!dec)\. +|there (?:are|will be) |a total of |"
    r"we have )(?P<n>{number})(?!,\d)(?: (?!points?|pts|percent|minutes?|mins?|hours?|pages?|"
    r"weeks?|words?|days?|years?|(?:[a-z-]+ )?(?:questions?|items|choices?)\b|students?|people|lowest|best|worst|"
    r"highest|of |x |dropped|drops?|credits?|%|a\.m|"
    r"p\.m|per|each|free|and)[a-z][a-z'-]*(?: (?!dropped|drop|count)[a-z][a-z'-]*){0,2})?"
    r"(?= ?[|),;:.]|$| \(| - (?={number}%)| (?:in|over|during|throughout|through|across|lowest|the|your|altogether|"
    r"all|total|with|of (?:them|which|(?:about )?{number}(?: to {number}|-{number})? (?:words|pages|minutes))|best|"
    r"at|on|due|drop|worth|x|@|and (?:each|every|they))\b)"
)


@dataclass
class RowReading:
    """A row that names something with a weight or points, its numbers as read."""

    name: str
    start: int
    end: int
    indent: int
    section: TextSection
    line: int
    weight: Fraction | None = None
    weight_each: bool = False
    points: Fraction | None = None
    points_each: Fraction | None = None
    count: int | None = None
    drops: list[Drop] = field(default_factory=list)
    extra: bool = False
    total: bool = False

    @property
    def worth(self) -> Fraction | None:
        """The whole's weight: each one's times the count where it is said for each."""
        if self.weight is not None and self.weight_each:
            return self.weight * (self.count or 1)
        return self.weight


def entries(page: Page, tables: Sequence[TextTable]) -> list[RowReading]:
    """Every row, item and short line that could be a category, in the order of the text."""
    places = {line.start: number for number, line in enumerate(page.lines)}
    found: list[RowReading] = []
    for table in tables:
        found += _table_entries(page, table, places)
    for number, line in enumerate(page.lines):
        if line.kind in {"item", "text"}:
            made = _entry(page, line, number)
            if made is not None:
                found.append(made)
    for entry in found:
        _count_by_whole(entry)
    parted = [part for entry in found for part in _parted(page, entry)]
    return sorted(parted, key=lambda entry: entry.line)


TWO_OF_TWO = re.compile(
    rf"(?P<one>[a-z][a-z -]{{2,30}}) (?:and|&) (?P<two>[a-z][a-z -]{{2,30}}) "
    rf"\((?P<x>{NUMBER})% (?:and|&) (?P<y>{NUMBER})%\)"
)


def _parted(page: Page, made: RowReading) -> list[RowReading]:
    """'Midterm and final exams (15% and 25%)': a row of two works with a weight for each."""
    two = TWO_OF_TWO.search(page.flat, made.start, made.end)
    if two is None or made.count:
        return [made]
    names = clean(page.text[slice(*two.span("one"))]).text, singular(clean(page.text[slice(*two.span("two"))]).text)
    weights = value_of(two["x"]), value_of(two["y"])
    return [
        replace(made, name=name, weight=weight, weight_each=False) for name, weight in zip(names, weights, strict=True)
    ]


def _count_by_whole(made: RowReading) -> None:
    """'Assignments 1-6: 60 points (10 each)': as many as the whole holds."""
    if made.count is None and made.points and made.points_each and made.points % made.points_each == 0:
        number = int(made.points / made.points_each)
        made.count = number if 1 < number <= MOST_BY_WHOLE else None


MOST_BY_WHOLE = 40


def _table_entries(page: Page, table: TextTable, places: Mapping[int, int]) -> list[RowReading]:
    kept = _beside_scale(page, table)
    if len(kept) > 1:
        rest = [[row[c] for c in kept] for row in table.rows]
        return _table_entries(page, TextTable(rest, table.lines, table.section), places)
    if kept:
        return _of_cells(page, table, kept[0], places)
    laid = laid_out(page, table)
    if laid is None and (inner := _beside_label(table)) is not None:
        above = [_entry(page, line, places[line.start]) for line in table.lines[: -len(inner.lines)]]
        return [*(one for one in above if one is not None), *_table_entries(page, inner, places)]
    if laid is None and CALENDAR_HEAD.fullmatch(cell_words(page, table.rows[0][0])):
        return []
    if laid is None:
        each = (_entry(page, line, places[line.start]) for line in table.lines)
        return [made for made in each if made is not None]
    table, roles = laid
    found = []
    for row, line in list(zip(table.rows, table.lines, strict=True))[roles.heading_rows :]:
        entry = _from_table(page, _by_item(page, table, row, roles.name), line, places[line.start], roles)
        if entry is not None and _is_entry(entry):
            found.append(entry)
    return found


def _of_cells(page: Page, table: TextTable, column: int, places: Mapping[int, int]) -> list[RowReading]:
    """The entries of one column of cells, each a line of its own."""
    found = []
    for row, line in zip(table.rows, table.lines, strict=True):
        cell = row[column]
        alone = replace(line, kind="item", start=cell.start, end=cell.end, cells=[cell]) if cell else None
        made = _entry(page, alone, places[line.start]) if alone is not None else None
        found += [made] if made is not None else []
    return found


def _beside_scale(page: Page, table: TextTable) -> list[int]:
    """The columns left without a scale of letters beside them; none where there is no scale, or nothing else."""
    words = [[cell_words(page, row[c]) for row in table.rows] for c in range(table.width)]
    lettered = {c for c, texts in enumerate(words) if _several(_LETTER_ALONE.fullmatch, texts)}
    paired = {c for c, texts in enumerate(words) if _several(_LETTER_LED.match, texts)}
    gone = lettered | {c + 1 for c in lettered} | paired
    kept = [c for c in range(table.width) if c not in gone]
    amounts = any(re.search(rf"\d{PERCENT_SIGN}|\d{POINTS_WORD}", text) for c in kept for text in words[c])
    return kept if gone and amounts else []


def _several(found: Callable[[str], object], texts: Sequence[str]) -> bool:
    return len({text for text in texts if found(text) is not None}) >= SEVERAL_LETTERS


SEVERAL_LETTERS = 3
_LETTER_ALONE = re.compile(r"[a-f][+-]?")
_LETTER_LED = re.compile(r"[a-f][+-]? ?[:=]? ?[<>]?=? ?\d")
CALENDAR_HEAD = re.compile(r"weeks?|dates?|days?|sessions?|class(?:es)?|meetings?|lectures?|no\.?|#")


def _by_item(page: Page, table: TextTable, row: Sequence[Span | None], name: int) -> Sequence[Span | None]:
    """A row whose name stands for several rows, under the name of the item beside it."""
    alike = sum(cell_words(page, other[name]) == cell_words(page, row[name]) for other in table.rows)
    beside = row[name + 1] if name + 1 < len(row) else None
    if alike < 2 or beside is None or not re.search("[a-z]{3}", cell_words(page, beside)):
        return row
    return [*row[:name], beside, *row[name + 1 :]]


def _beside_label(table: TextTable) -> TextTable | None:
    """The last rows without their first column, where that holds one label for all of them: 'Weights  Homework  25'."""
    labelled = [n for n, row in enumerate(table.rows) if row[0] is not None]
    first = labelled[-1] if labelled else 0
    if table.width < FEWEST_BESIDE or len(table.rows) - first < FEWEST_BESIDE or not labelled:
        return None
    lines = [replace(line, indent=table.lines[first].indent) for line in table.lines[first:]]
    return TextTable([row[1:] for row in table.rows[first:]], lines, table.section)


FEWEST_BESIDE = 3


def _entry(page: Page, line: TextLine, number: int) -> RowReading | None:
    made = _from_line(page, line, number)
    return made if made is not None and _is_entry(made) else None


def _is_entry(made: RowReading) -> bool:
    if _BARE_LETTER.match(made.name) or NOT_NAME.match(made.name.lower()) or len(made.name) > 70:
        return False
    nothing = 0 in {made.weight, made.points} and not made.total
    return bool(re.search(r"[a-z]{2}", made.name.lower())) and not nothing


def _from_table(page: Page, row: Sequence[Span | None], line: TextLine, number: int, roles: Roles) -> RowReading | None:
    cells = [cell for cell in row if cell is not None]
    name_cell = row[roles.name] or (cells[0] if cells else None)
    if name_cell is None:
        return None
    text = page.text[name_cell.start : name_cell.end]
    name = clean(text.split(";")[0])
    section = line.section or page.sections[0]
    indent = line.indent if roles.name == 0 else 0
    upright = cells[-1].end <= line.end
    place = (cells[0].start, cells[-1].end) if upright else (name_cell.start, name_cell.end)
    made = RowReading(name.text or text.strip(), *place, indent, section, number,
                      count=name.number)  # fmt: skip
    made.total = is_total(text) or any(is_total(page.text[c.start : c.end]) for c in cells[:1])
    figures = {role: cell_words(page, row[column]) for column, role in roles.of.items() if row[column] is not None}
    _read_figures(made, figures)
    plain = {text for text in figures.values() if figure(text).value is not None}
    worded = (page.flat[c.start : c.end] for c in cells)
    words = " | ".join(text for text in worded if _is_remark(text, plain))
    _read_remarks(made, words, text.lower())
    _read_product(made, [page.flat[c.start : c.end].strip() for c in cells[1:]])
    _read_total_kept(made, f"{words} | ")
    made.extra = is_extra(" ".join(cell_words(page, c) for c in cells))
    if made.weight is None and made.points is None and made.points_each is None:
        _read_free(made, page.flat[made.start : made.end])
    return made if made.weight is not None or made.points is not None or made.points_each is not None else None


def _is_remark(text: str, figures: Collection[str]) -> bool:
    """Whether a cell has words that may tell a number or a rule: no figure, and no dates or weeks."""
    dated = re.match(r"(?:due |by |in )?(?:weeks?|days?)\b", text) or NOT_NAME.match(text.removeprefix("by "))
    return bool(re.search("[a-z]{2}", text)) and text not in figures and not dated


def _read_figures(made: RowReading, figures: Mapping[ColumnRole, str]) -> None:
    if "weight" in figures:
        _read_weight_cell(made, figures["weight"])
    times = TIMES.search(figures.get("weight_each", ""))
    made.count = (whole(times["n"]) if times else None) or made.count
    if "weight_each" in figures and made.weight is None:
        _read_weight_cell(made, figures["weight_each"])
        made.weight_each = made.weight is not None and not PRODUCT_SAID.search(figures["weight_each"])
    for role in ("points", "each", "count"):
        if role in figures:
            _read_number_cell(made, role, figures[role])
    dropped = whole(figures["drop"]) if "drop" in figures else None
    if dropped:
        made.drops = [Drop(0, 0, lowest=dropped)]


PRODUCT_SAID = re.compile(
    rf"({NUMBER}) ?(?:x|@|at|times|\*) {{0,3}}({NUMBER}){PERCENT_SIGN} ?= ?({NUMBER}){PERCENT_SIGN}"
)
"""'3 @ 15% = 45%'."""


def _read_weight_cell(made: RowReading, text: str) -> None:
    product = PRODUCT_SAID.search(text)
    if product:
        made.count, made.weight, made.weight_each = whole(product[1]), value_of(product[3]), False
        return
    found = re.search(rf"({NUMBER})(?:{PERCENT_SIGN})?", text)
    if found is None or re.search(POINTS_WORD, text):
        _read_free(made, text)
        return
    made.weight = value_of(found[1])
    made.weight_each = bool(re.search(r"\beach\b|apiece", text))
    if made.weight_each and (
        whole_said := re.search(rf"\(?= ?({NUMBER}){PERCENT_SIGN}|\(({NUMBER}){PERCENT_SIGN}", text)
    ):
        made.weight, made.weight_each = value_of(whole_said[1] or whole_said[2]), False


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
    elif PER_ITEM.search(text) or re.search(r"\beach\b|apiece", text):
        made.points_each = value_of(found[0])
    elif re.search(PERCENT_SIGN, text):
        made.weight = value_of(found[0])
    else:
        made.points = value_of(found[0])


def _from_line(page: Page, line: TextLine, number: int) -> RowReading | None:
    """An entry from an item, a row without a heading, or a line that is short enough to be one."""
    start = line.cells[0].start if line.cells else line.start
    span = page.tight(start, line.end)
    text, low = page.text[span.start : span.end], page.flat[span.start : span.end]
    if line.kind == "text" and (TAKEN_OFF.search(low) or not (LED_LINE.match(low) or _short_line(low))):
        return None
    cut = _first_part(low)
    name_text = _name_part(text, low, cut)
    if name_text is None:
        return None
    name = clean(name_text)
    if not name.text or (OF_ONE_WORK.search(name.text) and len(re.findall(PERCENT_SIGN, low)) > 1):
        return None
    assert line.section is not None  # noqa: S101
    made = RowReading(name.text, span.start, span.end, line.indent, line.section, number, count=name.number)
    made.total = is_total(name_text)
    _read_free(made, cut)
    if line.kind == "row" and made.points is None and made.points_each is None and made.weight is None:
        made.points = _last_number(page, line)
    if line.kind == "row" and made.points is None:
        made.points = _of_those_kept(made, _last_number(page, line))
    if made.weight is None and made.points is None and made.points_each is None:
        return None
    joined = " | ".join(page.flat[a:b] for a, b in line.cells if re.search("[a-z]{2}", page.flat[a:b]))
    _read_remarks(made, joined, joined)
    _read_product(made, [page.flat[a:b].strip() for a, b in line.cells[1:]] if line.kind == "row" else ())
    _read_total_kept(made, low)
    if made.weight_each and made.count is None and (listed := LISTED_ITEMS.search(low)):
        made.count = listed[1].count(",") + 1
    if (made.weight_each or made.points_each) and made.count is None:
        _read_numerals(made, name_text.strip(" ,:-"))
    made.extra = is_extra(low)
    if made.extra:
        _read_most(made, low)
    return made


LISTED_ITEMS = re.compile(r": ((?:[a-z][a-z' -]{1,25}, ){1,7}(?:and )?[a-z][a-z' -]{1,25})")
"""'Build projects: flat, platform, prop … 10% each': as many as are named."""


def _read_most(made: RowReading, low: str) -> None:
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


def _last_number(page: Page, line: TextLine) -> Fraction | None:
    """The bare number in the last cell of a row."""
    cell = page.flat[line.cells[-1].start : line.cells[-1].end]
    return value_of(cell) if re.fullmatch(NUMBER, cell) else None


OF_ONE_WORK = re.compile(
    r"(?i)^(?!.*\b(?:course|final|overall|total|semester|term|class|letter)\b).*[a-z] (?:grade|score|mark)$"
)
"""'The project grade: 50% performance, 50% report' is made inside one work."""
TAKEN_OFF = re.compile(r"\b(?:costs|loses?|lose) (?:you )?\d")
LED_LINE = re.compile(
    rf"[a-z][a-z &/'-]{{2,40}}(?:(?:,| -)? {NUMBER}{PERCENT_SIGN}| \({NUMBER}{PERCENT_SIGN}\)) ?[:;] ?[a-z]"
)
"""'Technique class, 45 %: a mark for each': a name and its weight lead the line."""


def _short_line(low: str) -> bool:
    """A line of its own that is a name and a number, not running text."""
    return bool(
        len(low) < 100
        and re.search(rf"{PERCENT_SIGN}|{POINTS_WORD}", low)
        and (
            re.search(
                rf"(?:{PERCENT_SIGN}|{POINTS_WORD})(?: (?:of (?:the |"
                rf"your )?(?:{'|'.join(('final', 'course', 'total', 'overall'))} )?grade|each|"
                rf"total))?\)?[.;,]?$",
                low,
            )
            or re.match(rf"{NUMBER}(?:{PERCENT_SIGN}|{POINTS_WORD})\W+[a-z]", low)
            or re.match(rf"[a-z][a-z &/'-]+ {NUMBER}{PERCENT_SIGN},", low)
            or re.match(rf"[a-z][a-z &/'-]+[:=-] ?{NUMBER}(?:{PERCENT_SIGN}|{POINTS_WORD})", low)
        )
        and not re.search(r"\b(?:is|are|will|you|must|i (?=[a-z])|we|if|than|when)\b", low)
    )


def _first_part(low: str) -> str:
    """The words up to the end of the first sentence; what follows are remarks."""
    found = re.search(r"(?<=[a-z%)])[.;](?= +[a-z])", low)
    if found is None:
        return low
    first = low[: found.start()]
    return first if WEIGHT_AT.search(first) or re.search(r"\d", BRACKETS.sub(" ", first)) else low


WEIGHT_AT = re.compile(rf"{NUMBER}(?:{PERCENT_SIGN}|{POINTS_WORD})")
VERB = re.compile(
    r"(?:,? which)?\b(?:is|are|will be|counts?|(?:is |are )?worth|makes? up|carr(?:y|ies)|"
    r"contributes?|accounts? for|brings?|weighs?)\b"
)


def _name_part(text: str, low: str, cut: str) -> str | None:
    """Where the name stands: before the weight or its separator, or after a weight that comes first."""
    masked = BRACKETS.sub(lambda m: " " * len(m[0]), cut)
    first = re.match(
        rf"\W*(?:up to )?(?:the (?:remaining|other|last) )?{NUMBER}(?:{PERCENT_SIGN}|{POINTS_WORD})"
        rf"(?: of (?:the |your )?(?:course |final |overall )?grade)?"
        rf"(?: (?:is|are|goes|go) (?:for|from|to)| for| from| comes from| -|:|,|\|)*\s*",
        masked,
    )
    if first and re.search("[a-z]{3}", masked[first.end() :]):
        rest = masked[first.end() :]
        stop = re.search(rf" \| | - |: |, (?!and )|[.;]|{WEIGHT_AT.pattern}", rest)
        return text[first.end() : first.end() + (stop.start() if stop else len(rest))]
    at = (
        WEIGHT_AT.search(masked)
        or re.search(rf"(?:(?<! ) {{3,}}|(?<!\t)\t+){NUMBER} *$", masked)
        or re.search(rf"(?:[|:=]| -|\.\.) *{NUMBER} *$", masked)
        or WEIGHT_AT.search(low)
    )
    if at is None or not re.search("[a-z]{2}", low[: at.start()]):
        return None
    before = masked[: at.start()]
    stop = re.search(
        rf"(?<=[a-z]{{3}})\. (?=[a-z])|: | - | \||\t|(?<! )  +(?=\S)|=|, (?=(?:the |weekly|daily|monthly|every |once|"
        rf"twice|best|lowest|each|which|of which|handed|due|held|written|given|"
        rf"graded|taken|with |{NUMBER}))|{VERB.pattern}",
        before,
    )
    return text[: stop.start() if stop and stop.start() > 1 else at.start()]


LED_BY_BRACKET = re.compile(rf"[a-z][a-z &/'-]{{2,40}} \(({NUMBER}){PERCENT_SIGN}\)")


def _of_those_kept(made: RowReading, last: Fraction | None) -> Fraction | None:
    """'3 exams @ 100 points (the lowest does not count) | 200': the whole, if it is of so many items or of fewer."""
    each, count = made.points_each, made.count
    if last is None or not each or not count:
        return None
    return last if each < last < count * each and last % each == 0 else None


LISTED_NUMERALS = re.compile(r"\b(?:[IVX]{1,4}|\d)(?:, (?:[IVX]{1,4}|\d)){0,5},? ?(?:and|&) (?:[IVX]{1,4}|\d)$")
"""'Exams I and II', 'Papers 1, 2 and 3'."""


def _read_numerals(made: RowReading, name: str) -> None:
    numerals = LISTED_NUMERALS.search(name)
    if numerals and re.search("[a-z]{2}", name[: numerals.start()]):
        made.name = clean(name[: numerals.start()]).text
        made.count = len(numerals[0].replace(" and ", ",").replace("&", ",").replace(",,", ",").split(","))


def _read_free(made: RowReading, text: str) -> None:
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
    if made.weight is None and made.points is None and made.points_each is None:
        bare = re.search(rf"(?:(?:[|=]|(?<!\d):| -|\.\.) *|(?<!\s)\s{{2,}})({NUMBER})\s*$", outside)
        made.points = value_of(bare[1]) if bare else None


LISTED_PARTS = re.compile(
    rf"(?:(?<![a-z])[a-z][a-z' -]{{2,30}} {NUMBER}{PERCENT_SIGN}(?:, (?:and )?|; | and )?){{2,5}}"
)
"""'A term paper: first version 10 percent, revised version 30 percent': what one work is worth, part by part."""


EACH_IS = re.compile(
    r"\b(?:each|every one|all) (?:one |of (?:them|these|which) )?(?:is |are |will be )?(?:worth|counts?|counting) $|"
    r"\beach (?:one )?is [a-z0-9 -]{1,30} (?:long )?and (?:is )?worth $"
)


def _read_percents(made: RowReading, text: str) -> None:
    found = [
        (
            value_of(m[1]),
            bool(
                re.match(
                    r" ?(?:each|apiece|per (?:exam|test|paper|quiz|project|essay|midterm|lab|item))", text[m.end() :]
                )
                or EACH_IS.search(text[max(0, m.start() - 40) : m.start()])
            ),
        )
        for m in re.finditer(rf"({NUMBER}){PERCENT_SIGN}", text)
        if not PENALTY_ROW.search(text[max(0, m.start() - 12) : m.end() + 14])
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


def _read_points(made: RowReading, text: str) -> None:
    per = PER_ITEM.search(text)
    if per:
        made.points_each = value_of(per["each"])
    masked = text[: per.start()] + " " * (per.end() - per.start()) + text[per.end() :] if per else text
    times = TIMES.search(masked)
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
        made.count = made.count or whole(counted["n"])
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
EACH_IN_BRACKET = phrase(r"\((?P<n>{number}) (?:each|apiece)\)")
COUNT_IN_BRACKET = phrase(r"\((?P<n>{number})(?: total| in all| in total| of them)?(?=[),;])")


def _read_remarks(made: RowReading, low: str, name_text: str) -> None:
    """Counts, points each and drops from brackets, notes and the words around."""
    remarks = BRACKETS.findall(low)
    # 'Plan (50), materials (50)': numbers of parts, not of items.
    counts = [COUNT_IN_BRACKET.match(remark) for remark in remarks]
    of_parts = (
        sum(said is not None and said.end() == len(remark) - 1 for said, remark in zip(counts, remarks, strict=True))
        > 1
    )
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
        found = A_NUMBER_OF.search(re.sub(r"[()]", "|", outside))
        said = whole(found["n"]) if found else None
        made.count = None if said is not None and said in {made.points, made.weight} else said
    if made.count is not None and made.count > 200:
        made.count = None


OF_SEVERAL_KINDS = phrase(r": {number} [a-z]{3,20}, (?:and )?{number} (?!points?\b|pts\b|percent\b)[a-z]{3,20}\b")
"""'Species test: 40 plants, 20 birds': what one work is about."""


def _whole_in_bracket(made: RowReading, low: str, remarks: Sequence[str]) -> str | None:
    """'Two, 25 points each (50)', '13 sets at 10 points; the best 10 count (100)': the bracket with the whole."""
    per = AT_POINTS.search(low) or PER_ITEM.search(low)
    said = A_NUMBER_OF.search(BRACKETS.sub("|", low))
    each = value_of(per["each"]) if per else None
    numbers = [whole(said["n"]) if said else None, whole(per["n"]) if per and "n" in per.groupdict() else None]
    numbers += [drop.best for drop in find_drops(low)]
    wholes = {each * number for number in numbers if number} if each else set()
    for remark in remarks:
        counted = COUNT_IN_BRACKET.match(remark)
        if counted and counted.end() == len(remark) - 1 and value_of(counted["n"]) in wholes - {each}:
            made.points, made.points_each = value_of(counted["n"]), each
            made.count = made.count or next((number for number in numbers if number), None)
            return remark
    return None


def _of_its_name(name: str, low: str) -> int | None:
    """'Article critiques', beside it 'four critiques of published studies': a number with the noun of the name."""
    noun = singular(name.lower().split()[-1]) if name.split() else ""
    if noun in MEASURES:
        return None
    said = (whole(m["n"]) for m in COUNTED_NOUN.finditer(low) if singular(m["noun"]) == noun and m["noun"] != noun)
    return next((number for number in said if number), None)


MEASURES = frozenset(["hour", "minute", "page", "word", "day", "week", "point", "question"])
"""'Shop hours (30 hours)' is one work."""
COUNTED_NOUN = phrase(r"(?:^|[|;.(] ?)(?P<n>{number}) (?:[a-z-]{1,16} )?(?P<noun>[a-z]{3,20})\b")


def _read_product(made: RowReading, cells: Sequence[str]) -> None:
    """A cell of its own with '3 x 100' beside one with the total."""
    product = next((text for text in cells if figure(text).product and not figure(text).unit), None)
    times = TIMES.search(product) if product and made.points is not None else None
    if times and made.points_each is None and made.count is None:
        made.count, made.points_each = whole(times["n"]), value_of(times["each"])


def _read_total_kept(made: RowReading, low: str) -> None:
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
