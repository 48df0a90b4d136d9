"""Categories from tables, lists and short lines: a name beside a weight or points."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from itertools import islice
from typing import Literal

from vinemark.core.syllabus.read.drops import Drop, find_drops
from vinemark.core.syllabus.read.layout import Page, Span, TextLine, TextSection
from vinemark.core.syllabus.read.naming import BRACKETS, clean, is_extra, is_total
from vinemark.core.syllabus.read.normal import NUMBER, PERCENT_SIGN, POINTS_WORD, phrase, value_of, whole

ColumnRole = Literal["name", "count", "weight", "each", "points", "drop", "notes"]

ROLES: Sequence[tuple[ColumnRole, str]] = (
    # 'Points each', 'Each worth', 'Pts per item'
    ("each", r"\beach\b|apiece|\bper (?!cent)|points? ?/ ?(?:item|quiz|assignment)"),
    # 'Number', 'How many', 'Qty'
    ("count", r"^(?:number|no\.?|#|how many|count|quantity|qty|num|n|amount)\b|^# of|number of"),
    # 'Weight', '% of grade', 'Share', 'Percentage'
    ("weight", r"weight|%|percent|share|portion|worth|value|counts?\b|proportion"),
    # 'Points', 'Total points', 'Possible'
    ("points", r"points?|\bpts\b|possible|\bmax|marks|total"),
    # 'Drops', 'Dropped'
    ("drop", r"^drop"),
    # 'Component', 'Category', 'What'
    (
        "name",
        r"component|category|item|work|assign|activit|assessment|what|type|element|requirement|"
        r"task|course ?work|part|"
        r"area|exam|graded|kind",
    ),
    ("notes", r"note|detail|remark|comment|polic|descri|about|drop|when|due|date"),
)
_BARE_LETTER = re.compile(r"^[A-F][+-]?$")
NOT_NAME = re.compile(
    r"^(?:week|weeks|day|session|meeting|class|unit|chapter|module)s? \d|^\d{1,2}[:/.]\d\d|"
    r"^(?:mon|tue|wed|thu|fri|sat|sun)[a-z]*\b|"
    r"^(?:jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec)[a-z]*\.? \d|^\d{1,2} (?:jan|feb|"
    r"mar|apr|may|jun|jul|aug|sep|oct|nov|dec)"
)
PENALTY = re.compile(
    r"\blate\b|\bloses?\b|\blose\b|\bpenalt|\bdeduct|\boff\b|\babsen|\bper day\b|\ba day\b|"
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
    r"(?P<each>{number})(?: ?(?:points?|pts?\.?|marks?)) ?(?:each|apiece|a piece|per (?!cent|day|week|hour)[a-z-]+)"
)
A_NUMBER_OF = phrase(
    r"(?:^|[|(,;:] ?|\. +|there (?:are|will be) |a total of |"
    r"we have )(?P<n>{number})(?: (?!points?|pts|percent|minutes?|mins?|hours?|pages?|"
    r"weeks?|words?|days?|lowest|best|worst|highest|of |x |dropped|drops?|credits?|%|a\.m|"
    r"p\.m|per|each|free|and)[a-z][a-z'-]*(?: (?!dropped|drop|count)[a-z][a-z'-]*){0,2})?"
    r"(?= ?[|),;:.]|$| \(| (?:in|over|during|throughout|through|across|lowest|the|your|each|"
    r"all|total|with|of (?:them|which)|best|at|on|due|drop|worth|x|@)\b)"
)


# 'up to 3%', 'at most 2%'
MOST_OF = phrase(
    rf"(?:up to|at most|maximum(?: of)?|no more than|capped at|not more than|"
    rf"as much as) (?P<n>{{number}}){PERCENT_SIGN}"
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


def entries(page: Page) -> list[RowReading]:
    """Every row, item and short line that could be a category, in the order of the text."""
    found = []
    roles: Mapping[int, ColumnRole] | None = None
    for number, line in enumerate(page.lines):
        if line.kind in {"heading", "text"} or (line.kind == "blank" and not _table_goes_on(page.lines, number)):
            roles = None
        if line.kind == "row":
            heading = _roles(page, line)
            if heading:
                roles = heading
                continue
        if line.kind in {"row", "item", "text"}:
            entry = _entry(page, line, number, roles)
            if entry is not None:
                found.append(entry)
    return found


AIR = 40
"""So many empty lines and rules may stand between the rows of a table."""
AIRY = {"blank", "rule"}


def _table_goes_on(lines: Sequence[TextLine], number: int) -> bool:
    """Whether a row follows an empty line: tables of some files have air between their rows."""
    below = next((line for line in islice(lines, number + 1, number + 1 + AIR) if line.kind not in AIRY), None)
    return below is not None and below.kind == "row"


def _roles(page: Page, line: TextLine) -> Mapping[int, ColumnRole] | None:
    """What the columns of a table hold, where the line is its heading."""
    cells = [page.flat[a:b].strip(" *") for a, b in line.cells]
    if len(cells) < 2 or any(re.search(rf"\d ?(?:%|points?\b|pts\b)|^\d|^{NUMBER}$", cell) for cell in cells):
        return None
    found: dict[int, ColumnRole] = {}
    for place, cell in enumerate(cells):
        role = next((role for role, words in ROLES if re.search(words, cell)), None)
        if role and (role not in found.values() or role == "notes") and len(cell) < 40:
            found[place] = role
    if not {"weight", "points", "each"} & set(found.values()):
        return None
    if "name" not in found.values():
        free = [place for place in range(len(cells)) if place not in found]
        found[free[0] if free else 0] = "name"
    return found


def _entry(page: Page, line: TextLine, number: int, roles: Mapping[int, ColumnRole] | None) -> RowReading | None:
    cells = line.cells
    if roles and line.kind == "row" and len(cells) >= 2:
        by_role = _by_role(page, cells, roles)
        if by_role is None:
            return None
        made = _from_table(page, line, number, by_role)
    else:
        made = _from_line(page, line, number)
    if made is None or _BARE_LETTER.match(made.name) or NOT_NAME.match(made.name.lower()) or len(made.name) > 70:
        return None
    nothing = 0 in {made.weight, made.points} and not made.total
    return made if re.search(r"[a-z]{2}", made.name.lower()) and not nothing else None


def _by_role(page: Page, cells: Sequence[Span], roles: Mapping[int, ColumnRole]) -> Mapping[ColumnRole, Span] | None:
    """A row's cells by what their columns hold; a row that lacks cells is told by what stands in them."""
    if len(cells) == len(roles) or max(roles) == len(cells) - 1:
        named = {role: cells[place] for place, role in roles.items() if place < len(cells)}
        return {role: cell for role, cell in named.items() if cell.end > cell.start}
    found: dict[ColumnRole, Span] = {}
    wanted = [role for _, role in sorted(roles.items())]
    numbers: list[ColumnRole] = [role for role in wanted if role in {"count", "each", "points", "weight"}]
    for cell in cells:
        text = page.flat[cell.start : cell.end]
        if re.search(PERCENT_SIGN, text) and "weight" in numbers:
            found["weight"] = cell
        elif not found and re.search("[a-z]{2}", text):
            found["name"] = cell
        elif re.fullmatch(rf"{NUMBER}(?:{POINTS_WORD})?", text) and is_total(page.flat[cells[0].start : cells[0].end]):
            found.setdefault("points" if "points" in numbers else "weight", cell)
        elif re.fullmatch(rf"{NUMBER}(?:{POINTS_WORD})?", text):
            free = [role for role in numbers if role not in found]
            # A single number of a short row is the last of its kind: the total, not the count.
            if free:
                found[free[-1] if len(cells) == 2 else free[0]] = cell
        else:
            found.setdefault("notes", cell)
    return found if "name" in found else None


def _from_table(page: Page, line: TextLine, number: int, cells: Mapping[ColumnRole, Span]) -> RowReading | None:
    name_cell = cells.get("name")
    if name_cell is None:
        return None
    text = page.text[name_cell.start : name_cell.end]
    name = clean(text)
    start, end = line.cells[0].start, line.cells[-1].end
    assert line.section is not None  # noqa: S101
    made = RowReading(name.text or text.strip(), start, end, line.indent, line.section, number, count=name.number)
    made.total = is_total(text)
    rest = page.flat[start:end]
    weight = cells.get("weight")
    if weight is not None:
        _read_weight_cell(made, page.flat[weight.start : weight.end])
    for role in ("points", "each", "count"):
        cell = cells.get(role)
        if cell is not None:
            _read_number_cell(made, role, page.flat[cell.start : cell.end])
    gone = cells.get("drop")
    dropped = whole(page.flat[gone.start : gone.end]) if gone is not None else None
    if dropped:
        made.drops = [Drop(0, 0, lowest=dropped)]
    numeric = {cells[role] for role in ("weight", "points", "each", "count", "drop") if role in cells}
    words = " | ".join(
        page.flat[a:b] for a, b in line.cells if (a, b) not in numeric or re.search("[a-z]{3}", page.flat[a:b])
    )
    _read_remarks(made, words, text.lower())
    if made.weight is None and made.points is None and made.points_each is None:
        _read_free(made, page.flat[start:end])
    made.extra = is_extra(rest)
    return made if made.weight is not None or made.points is not None or made.points_each is not None else None


def _read_weight_cell(made: RowReading, text: str) -> None:
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


def _read_number_cell(made: RowReading, role: str, text: str) -> None:
    times = TIMES.search(text)
    found = re.search(NUMBER, text)
    if found is None:
        return
    if role == "count":
        made.count = whole(found[0]) or made.count
    elif role == "each":
        made.points_each = value_of(found[0])
    elif times and role == "points":
        made.count, made.points_each = whole(times["n"]), value_of(times["each"])
        total = re.search(rf"= ?({NUMBER})", text)
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
    if line.kind == "text" and not _short_line(low):
        return None
    cut = _first_part(low)
    name_text = _name_part(text, low, cut)
    if name_text is None:
        return None
    name = clean(name_text)
    if not name.text:
        return None
    assert line.section is not None  # noqa: S101
    made = RowReading(name.text, span.start, span.end, line.indent, line.section, number, count=name.number)
    made.total = is_total(name_text)
    _read_free(made, cut)
    if line.kind == "row" and made.points is None and made.points_each is None and made.weight is None:
        made.points = _last_number(page, line)
    if made.weight is None and made.points is None and made.points_each is None:
        return None
    joined = " | ".join(page.flat[a:b] for a, b in line.cells if re.search("[a-z]{2}", page.flat[a:b]))
    _read_remarks(made, joined, joined)
    made.extra = is_extra(low)
    most = MOST_OF.search(low)
    if made.extra and most and made.weight is not None:
        made.weight = value_of(most["n"])
    return made


def _last_number(page: Page, line: TextLine) -> Fraction | None:
    """The bare number in the last cell of a row."""
    cell = page.flat[line.cells[-1].start : line.cells[-1].end]
    return value_of(cell) if re.fullmatch(NUMBER, cell) else None


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
    return low[: found.start()] if found and re.search(r"\d|%", low[: found.start()]) else low


WEIGHT_AT = re.compile(rf"{NUMBER}(?:{PERCENT_SIGN}|{POINTS_WORD})")
VERB = re.compile(
    r"(?:,? which)?\b(?:is|are|will be|counts?|(?:is |are )?worth|makes? up|carr(?:y|ies)|"
    r"contributes?|accounts? for|brings?|weighs?)\b"
)


def _name_part(text: str, low: str, cut: str) -> str | None:
    """Where the name stands: before the weight or its separator, or after a weight that comes first."""
    masked = BRACKETS.sub(lambda m: " " * len(m[0]), cut)
    first = re.match(
        rf"\W*(?:up to )?{NUMBER}(?:{PERCENT_SIGN}|{POINTS_WORD})(?: of (?:the |your )?(?:course |"
        rf"final |overall )?grade)?(?: for| from| comes from| -|:|,|\|)*\s*",
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
        rf": | - | \||\t|(?<! )  +(?=\S)|=|, (?=(?:the |best|lowest|each|which|of which|handed|due|held|written|given|"
        rf"graded|taken|with |{NUMBER}))|{VERB.pattern}",
        before,
    )
    return text[: stop.start() if stop and stop.start() > 1 else at.start()]


def _read_free(made: RowReading, text: str) -> None:
    """Weight and points of running words: first what stands outside brackets."""
    outside = BRACKETS.sub(" ", text)
    for piece in (outside, text):
        if made.weight is None:
            _read_percents(made, piece)
    for piece in (outside, text):
        if made.points is None and made.points_each is None:
            _read_points(made, piece)
    if made.weight is None and made.points is None and made.points_each is None:
        bare = re.search(rf"(?:(?:[|:=]| -|\.\.) *|(?<!\s)\s{{2,}})({NUMBER})\s*$", outside)
        made.points = value_of(bare[1]) if bare else None


def _read_percents(made: RowReading, text: str) -> None:
    found = [
        (
            value_of(m[1]),
            bool(
                re.match(
                    r" ?(?:each|apiece|per (?:exam|test|paper|quiz|project|essay|midterm|lab|item))", text[m.end() :]
                )
            ),
        )
        for m in re.finditer(rf"({NUMBER}){PERCENT_SIGN}", text)
        if not PENALTY.search(text[max(0, m.start() - 12) : m.end() + 14])
    ]
    wholes = [value for value, each in found if not each]
    if wholes:
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
    if times and re.search(rf"{POINTS_WORD}|=", masked[times.start() : times.end() + 4]):
        made.count = made.count or whole(times["n"])
        made.points_each = made.points_each or value_of(times["each"])
        masked = masked[: times.start()] + " " * (times.end() - times.start()) + masked[times.end() :]
    total = re.search(rf"({NUMBER}){POINTS_WORD}(?! ?(?:each|apiece|per|off))", masked)
    if total:
        made.points = value_of(total[1])


def _read_remarks(made: RowReading, low: str, name_text: str) -> None:
    """Counts, points each and drops from brackets, notes and the words around."""
    for remark in BRACKETS.findall(low):
        times = TIMES.search(remark)
        bare = re.fullmatch(rf"\(({NUMBER})(?: (?:total|in all|in total))?\)", remark)
        if times and not find_drops(remark.strip("()")):
            made.count = made.count or whole(times["n"])
            if not re.search(rf"{re.escape(times['each'])}{PERCENT_SIGN}", remark):
                made.points_each = made.points_each or value_of(times["each"])
        elif bare:
            made.count = made.count or whole(bare[1])
    per = PER_ITEM.search(low)
    if per:
        made.points_each = made.points_each or value_of(per["each"])
    outside = low.replace(name_text, " | ", 1) if name_text != low else low
    made.drops = made.drops or find_drops(outside) or find_drops(low)
    of = next((drop.of for drop in made.drops if drop.of), None)
    made.count = made.count or of
    if made.count is None:
        found = A_NUMBER_OF.search(re.sub(r"[()]", "|", outside))
        made.count = whole(found["n"]) if found else None
    if made.count is not None and made.count > 200:
        made.count = None
