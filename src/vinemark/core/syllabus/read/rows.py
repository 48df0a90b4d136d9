"""Categories from tables, lists and short lines: a name beside a weight or points."""

import re
from collections import Counter
from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import replace
from fractions import Fraction

from vinemark.core.base.names import singular
from vinemark.core.syllabus.read.extra import PART_OF_SOME
from vinemark.core.syllabus.read.layout import Page
from vinemark.core.syllabus.read.lexicon import is_work
from vinemark.core.syllabus.read.lines import Span, TextLine
from vinemark.core.syllabus.read.naming import BRACKETS, clean, is_extra, is_total
from vinemark.core.syllabus.read.normal import NUMBER, PERCENT_SIGN, POINTS_WORD, phrase, value_of
from vinemark.core.syllabus.read.roles import Roles, figure, laid_out
from vinemark.core.syllabus.read.row_figures import (
    of_those_kept,
    read_cell_figures,
    read_free,
    read_most,
    read_numerals,
    read_product,
    read_total_kept,
)
from vinemark.core.syllabus.read.row_reading import NOT_NAME, PART_WORDS, RowReading, is_one_piece
from vinemark.core.syllabus.read.row_remarks import read_remarks
from vinemark.core.syllabus.read.tables import TextTable, cell_words

_BARE_LETTER = re.compile(r"^[A-F][+-]?$")


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
        _count_by_range(page, entry)
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
        return _works_inside(page, made) or [made]
    names = clean(page.text[slice(*two.span("one"))]).text, singular(clean(page.text[slice(*two.span("two"))]).text)
    weights = value_of(two["x"]), value_of(two["y"])
    return [
        replace(made, name=name, weight=weight, weight_each=False) for name, weight in zip(names, weights, strict=True)
    ]


WORK_AT = re.compile(
    rf"(?:[.:;,(] |\(|\band )(?:an? |the )?(?P<name>[a-z][a-z -]{{2,30}}?)(?: is| are)?(?: worth| at| for|,|:)? "
    rf"\(?(?P<n>{NUMBER}){PERCENT_SIGN}"
)


def _works_inside(page: Page, made: RowReading) -> list[RowReading]:
    """'Exams (30%). A midterm worth 12% and a final worth 18%.': the works of a row whose weights make up its own."""
    said = list(WORK_AT.finditer(page.flat, made.start, made.end))
    weights = [value_of(one["n"]) or Fraction(0) for one in said]
    works = all(is_work(one["name"].split()[-1]) and not PART_WORDS.search(one["name"]) for one in said)
    if len(said) < 2 or sum(weights) != made.weight or made.count or made.weight_each or not works:
        return []
    if is_one_piece(made.name) or made.total or made.extra:
        return []
    return [
        replace(made, name=clean(page.text[slice(*one.span("name"))]).text, start=one.start("name"), end=one.end(),
                weight=weight)
        for one, weight in zip(said, weights, strict=True)
    ]  # fmt: skip


def _count_by_whole(made: RowReading) -> None:
    """'Assignments 1-6: 60 points (10 each)': as many as the whole holds."""
    if made.count is None and made.points and made.points_each and made.points % made.points_each == 0:
        number = int(made.points / made.points_each)
        made.count = number if 1 < number <= MOST_BY_WHOLE else None


MOST_BY_WHOLE = 40
RANGE_OF_ITEMS = re.compile(r"(?P<noun>[a-z]{3,20}s) (?P<first>\d{1,2}) ?- ?(?P<last>\d{1,2})\b(?! ?%)")


def _count_by_range(page: Page, made: RowReading) -> None:
    """'Quizzes 5-8': as many as from the first to the last."""
    said = RANGE_OF_ITEMS.search(page.flat, made.start, made.end) if made.count is None else None
    if said is not None and is_work(said["noun"]) and not re.search(r"[\d,;:(]", page.flat[made.start : said.start()]):
        number = int(said["last"]) - int(said["first"]) + 1
        made.count = number if number > 1 else None


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
    named = Counter(cell_words(page, row[roles.name]) for row in table.rows)
    for row, line in list(zip(table.rows, table.lines, strict=True))[roles.heading_rows :]:
        entry = _from_table(page, _by_item(page, named, row, roles.name), line, places[line.start], roles)
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


def _by_item(page: Page, named: Counter[str], row: Sequence[Span | None], name: int) -> Sequence[Span | None]:
    """A row whose name stands for several rows, under the name of the item beside it."""
    alike = named[cell_words(page, row[name])]
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


IS_LATE = re.compile(
    r"\b(?:is|are|comes?|(?:handed|turned) in) (?:up to |more than |\d+ days? )?(?:late|overdue|past due)\b"
)
"""'A story that is late by a day starts at 90 percent' is a rule, and no work."""


def _entry(page: Page, line: TextLine, number: int) -> RowReading | None:
    late = line.kind == "text" and IS_LATE.search(page.flat, line.start, line.end)
    made = None if late else _from_line(page, line, number)
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
    read_cell_figures(made, figures)
    plain = {text for text in figures.values() if figure(text).value is not None}
    worded = (page.flat[c.start : c.end] for c in cells)
    words = " | ".join(text for text in worded if _is_remark(text, plain))
    read_remarks(made, words, text.lower())
    read_product(made, [page.flat[c.start : c.end].strip() for c in cells[1:]])
    read_total_kept(made, f"{words} | ")
    made.extra = is_extra(" ".join(cell_words(page, c) for c in cells))
    if made.weight is None and made.points is None and made.points_each is None:
        read_free(made, page.flat[made.start : made.end])
    return made if made.weight is not None or made.points is not None or made.points_each is not None else None


def _is_remark(text: str, figures: Collection[str]) -> bool:
    """Whether a cell has words that may tell a number or a rule: no figure, and no dates or weeks."""
    dated = re.match(r"(?:due |by |in )?(?:weeks?|days?)\b", text) or NOT_NAME.match(text.removeprefix("by "))
    return bool(re.search("[a-z]{2}", text)) and text not in figures and not dated


def _from_line(page: Page, line: TextLine, number: int) -> RowReading | None:
    """An entry from an item, a row without a heading, or a line that is short enough to be one."""
    start = line.cells[0].start if line.cells else line.start
    span = page.tight(start, line.end)
    text, low = page.text[span.start : span.end], page.flat[span.start : span.end]
    led = LED_LINE.match(low) or LED_BY_POINTS.match(low)
    if line.kind == "text" and (TAKEN_OFF.search(BRACKETS.sub(" ", low)) or not (led or _short_line(low))):
        return None
    cut = _first_part(low)
    name_text = _name_part(text, low, cut)
    if name_text is None:
        return None
    name = clean(LEADER_TO_NUMBER.split(name_text)[0])
    if not name.text or (OF_ONE_WORK.search(name.text) and len(re.findall(PERCENT_SIGN, low)) > 1):
        return None
    assert line.section is not None  # noqa: S101
    made = RowReading(name.text, span.start, span.end, line.indent, line.section, number, count=name.number)
    made.total = is_total(name_text)
    read_free(made, cut)
    if line.kind == "row" and made.points is None:
        bare = made.points_each is None and made.weight is None
        made.points = _last_number(page, line) if bare else of_those_kept(made, _last_number(page, line))
    if made.weight is None and made.points is None and made.points_each is None:
        return None
    joined = " | ".join(page.flat[a:b] for a, b in line.cells if re.search("[a-z]{2}", page.flat[a:b]))
    read_remarks(made, joined, joined)
    read_product(made, [page.flat[a:b].strip() for a, b in line.cells[1:]] if line.kind == "row" else ())
    read_total_kept(made, low)
    if made.weight_each and made.count is None and (listed := LISTED_ITEMS.search(low)):
        made.count = listed[1].count(",") + 1
    if (made.weight_each or made.points_each) and made.count is None:
        read_numerals(made, name_text.strip(" ,:-"))
    made.extra = is_extra(low)
    if made.extra:
        read_most(made, low)
    return None if made.extra and PART_OF_SOME.search(low) else made


LISTED_ITEMS = re.compile(r": ((?:[a-z][a-z' -]{1,25}, ){1,7}(?:and )?[a-z][a-z' -]{1,25})")
"""'Build projects: flat, platform, prop … 10% each': as many as are named."""


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


LED_BY_POINTS = phrase(
    r"[a-z][a-z &/'-]{2,40}: (?:{number},? (?:at )?)?{number} ?(?:points|pts)(?: (?:each|apiece))?(?= ?[(.;,]|$)"
)
"""'Listening exams: four, 75 points each. I throw out the lowest.'"""
LEADER_TO_NUMBER = re.compile(r"(?<![._ ]) {0,3}(?:\.(?: ?\.){3,400}|_{3,400}) {0,3}(?=\d)")
"""'Logic quizzes ........ 4 at 5% = 20%': what leads from a name to its number."""


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
