"""The text as lines, table rows, list items, sections under headings, and sentences, each with its place.

Places are [start, end) in the text as it was given. Tables come as rows, a row a line, cells apart by '|', tabs,
dot leaders or wide gaps; list items begin with a sign or number; headings stand on a line of their own.
"""

import re
from bisect import bisect_left, bisect_right
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from itertools import groupby, pairwise, takewhile
from typing import Literal, NamedTuple

from vinemark.core.syllabus.read.normal import BULLETS, NOTE_SIGN, even, lowered

SectionKind = Literal["grading", "scale", "rubric", "calendar", "other"]

LONGEST_SENTENCE = 4000
"""A longer paragraph is no prose; cutting it keeps reading time even."""
LONGEST_ABBREVIATION = 40
"""So many signs before a stop say whether it ends an abbreviation."""
FILLER = "\x01"
ITEM = re.compile(
    rf"^(\s*)([-*+o{BULLETS}]|\(?(?:\d{{1,2}}|[a-zA-Z]|[ivx]{{1,4}}|[IVX]{{1,4}})[.)]|\d{{1,2}}\.\d{{1,2}}\.?(?=\s+[A-Z]))\s+(?=\S)"
)
EMPHASIS = re.compile(r"\*\*|__|`|(?<![\w*])[*_](?=\w)|(?<=[\w.,!?:])[*_](?![\w*])")
BOLD_LEAD = re.compile(r"^[ \t]*(?:[-*+][ \t]+)?\*\*(?P<lead>[^*\n]{2,60})\*\*", re.M)
"""A name in bold that runs into its text."""
SECTION_NUMBER = re.compile(r"^([ \t]{0,60}\*\*)(\d{1,2}(?:\.\d{1,2}){0,2}\.? {1,9})(?=[A-Z])", re.M)
"""'2 Quizzes.' in bold at the beginning of a paragraph: no two quizzes."""
STRESSED = re.compile(
    r"(?<![\w*])(?:\*{1,2}|_)(?P<words>[A-Za-z][A-Za-z'&-]+(?: [A-Za-z'&-]+){0,4})[.:]?(?:\*{1,2}|_)(?![\w*])"
)
"""Words in bold or italics: a name that the text itself sets off."""
RULE = re.compile(r"^[\s|:+=_*~.#-]*$")
LEADER = re.compile(
    r"(?<!\s)\s*(?:\.(?: ?\.){3,}|(?<=\s)\.(?: ?\.){2}|(?<= )\.{1,2}(?= \d{1,4}(?:\.\d+)? ?(?:%|points|pts)?$)|"
    r"_{3,}|-{4,})\s*"
)
GAP = re.compile(r"\t+\s*|(?<! x)(?<! =) {3,}|(?<! x)(?<! =)(?<![.!?:@]) {2}(?=\S)")
ABBREVIATIONS = re.compile(
    r"(?:\b(?:dr|mr|ms|mrs|prof|st|vs|etc|e\.g|i\.e|approx|pts?|pct|no|nos|max|min|incl|ca|cf|ch|sec|p|pp|ext|dept|"
    r"a\.m|p\.m|jan|feb|mar|apr|jun|jul|aug|sept?|oct|nov|dec|mon|tue|wed|thu|fri|bldg|rm)|\b[a-z])\.$"
)

# 'Outline of grading', 'Assessment schedule', 'Topics, tasks, and weights', 'Rubric for the course grade'
GRADING_ABOVE_ALL = re.compile(
    r"^(?:grading|grades|assessments?|evaluation|(?:course )?requirements)\b.*\b(?:outline|schedule|calendar|topics)\b|"
    r"\b(?:outline|schedule|calendar|meetings|topics|weekly work)\b.*"
    r"\b(?:grading|grades?|weights?|weighting|evaluation|assessments?)\b|"
    r"\b(?:rubric|criteria) (?:for|of) (?:the |your )?(?:course|final) (?:grades?|marks?)\b"
)
SECTION_KINDS: Sequence[tuple[SectionKind, str]] = (
    # 'How bench projects are judged', 'Essay rubric', 'What I look for'
    (
        "rubric",
        r"rubric|(?<!evaluation )(?<!grading )(?<!assessment )criteria(?! (?:for|of) (?:grad|eval|assess))|"
        r"exam format|format of|on the exam|\bjudged\b|look for|how "
        r"(?!(?:the |your |my |our |this |these |all |all the |any )?(?:(?:course |final |letter )?grades?\b|"
        r"you\b|we\b|it\b|work\b|course\b|class\b|semester\b|term\b|students?\b|everything\b|performance\b|learning\b))"
        r".*\b(?:is|are|will be) (?:graded|marked|scored|assessed|evaluated|read)",
    ),
    # 'Course calendar', 'Meetings', 'Week by week'
    (
        "calendar",
        r"calendar|schedule|outline|time ?table|meetings?\b|week by week|weekly (?:plan|topics|reading)|"
        r"topics|^(?:important |key |due )?dates\b(?!.*\b(?:weights?|points|grades?)\b)|readings by|"
        r"^(?:the )?(?:\w+ by )?(?:weeks?|months?|days?)$",
    ),
    # 'Letter grades', 'Grading scale'
    (
        "scale",
        r"\bletter (?:grades?|scale|marks?)|^(?:marks and |the |grades and |final )?letters?(?: here| grades?)?$|"
        r"what (?:the )?(?:letters|points)|\b(?:numbers?|points|percent\w*) (?:in)?to (?:letters?|grades?)$|\bscale\b|"
        r"cut ?-?offs?",
    ),
    # 'How your grade is worked out', 'Evaluation', 'Points'
    (
        "grading",
        r"\bgrad(?:e|es|ed|ing)\b|evaluation|assessments?\b|weights?|weighting|\bpoints\b|\bmarks?\b|\bmarking\b|"
        r"requirements|components|scoring|breakdown|coursework|what counts|course work",
    ),
)


class Span(NamedTuple):
    """A stretch of the text."""

    start: int
    end: int


@dataclass
class TextLine:
    """One line: its kind, how deep it stands, and its cells where it is a row."""

    start: int
    end: int
    kind: Literal["blank", "rule", "heading", "item", "row", "text"]
    indent: int = 0
    cells: list[Span] = field(default_factory=list)
    section: "TextSection | None" = None


@dataclass
class TextSection:
    """A heading with the lines below it."""

    heading: str
    kind: SectionKind
    number: int


@dataclass
class Sentence:
    """A sentence, list item or table row; `text` in small letters on one line, as long as the original."""

    start: int
    end: int
    text: str
    section: TextSection
    kind: Literal["sentence", "item", "row"]
    paragraph: int
    question: str = ""

    @property
    def asked(self) -> str:
        """The sentence with the question it answers ('Q: Do you round? A: No.')."""
        return f"{self.question} {self.text}" if self.question else self.text


@dataclass
class TextBlock:
    """Lines that belong together: a heading, a paragraph, an item with its wrapped lines, a row."""

    kind: Literal["heading", "sentence", "item", "row"]
    start: int
    end: int
    indent: int
    section: TextSection
    sentences: list[Sentence] = field(default_factory=list)


class Page:
    """A text taken apart."""

    def __init__(self, raw: str) -> None:
        self.raw = raw
        # Emphasis is taken out only after the cells are found: two blanks in its place would look like a gap.
        numbered = SECTION_NUMBER.sub(lambda m: m[1] + FILLER * len(m[2]), even(raw))
        marked = EMPHASIS.sub(lambda m: FILLER * len(m[0]), numbered)
        self.leads = {m.start("lead"): m["lead"] for m in BOLD_LEAD.finditer(numbered)}
        self.stressed = [lowered(even(m["words"])).strip(" .:,-") for m in STRESSED.finditer(raw)]
        self.text = marked.replace(FILLER, " ")
        self.line = self.text.replace("\n", " ")
        self.flat = lowered(self.line)
        self.lines = _lines(marked)
        self.starts = [line.start for line in self.lines]
        _find_headings(self.text, self.lines)
        self.sections = _sections(self.text, self.lines)
        self.blocks = list(_text_blocks(self))
        self.sentences = [sentence for block in self.blocks for sentence in block.sentences]
        for asked, answer in pairwise(self.sentences):
            told = asked.text.startswith("q:") and answer.text.startswith("a:")
            if told or (asked.text.endswith("?") and re.match(r"(?:no|yes|never|not?)\b", answer.text)):
                answer.question = asked.text
        self._ask_by_headings()

    def _ask_by_headings(self) -> None:
        """A heading that asks is the question of the paragraph below it."""
        for heading, below in pairwise(self.blocks):
            words = self.flat[heading.start : heading.end].strip(" #*=-")
            if heading.kind == "heading" and words.endswith("?"):
                for sentence in below.sentences[:1]:
                    sentence.question = sentence.question or words

    def said(self, start: int, end: int) -> str:
        """The original words of a stretch, on one line."""
        return " ".join(self.raw[start:end].split())

    def bold_lead(self, start: int, end: int) -> str | None:
        """The words in bold at the beginning of a block, in small letters and without their last sign."""
        found = next((words for place, words in self.leads.items() if start <= place < end), None)
        return lowered(even(found)).strip(f"{FILLER} .:-") if found else None

    def sections_between(self, start: int, end: int) -> Sequence[TextSection]:
        """The sections that a stretch lies in."""
        first = max(0, bisect_right(self.starts, start) - 1)
        last = max(first + 1, bisect_left(self.starts, end))
        found = {id(line.section): line.section for line in self.lines[first:last] if line.section}
        return list(found.values())

    def lines_between(self, start: int, end: int) -> Sequence[TextLine]:
        """The lines that begin in a stretch."""
        return self.lines[bisect_left(self.starts, start) : bisect_left(self.starts, end)]

    def tight(self, start: int, end: int) -> Span:
        """A stretch without blanks at its ends."""
        piece = self.text[start:end]
        return Span(start + len(piece) - len(piece.lstrip()), start + len(piece.rstrip()))


def _lines(text: str) -> list[TextLine]:
    lines, start = [], 0
    for piece in text.split("\n"):
        lines.append(line_of(piece, start))
        start += len(piece) + 1
    _take_bare_pipes(text, lines)
    for place, line in enumerate(lines):
        if line.kind == "item" and _is_wrapped(text, lines, place):
            line.kind = "text"
    _take_group_lines(text, lines)
    _take_share_lines(text, lines)
    lines = _with_amounts_below(text, lines)
    _take_label_lines(text, lines)
    _take_parents(text, lines)
    return _without_labels(text, lines)


DELIMITER_ROW = re.compile(r" {0,3}:?-{2,60}:? {0,20}(?:\| {0,20}:?-{2,60}:? {0,20}){1,12}")
"""The second line of a table in Markdown whose rows have no pipes at their ends."""


def _take_bare_pipes(text: str, lines: Sequence[TextLine]) -> None:
    """'Labs | 30' above and below '--- | ---' are the rows of a table: pipes at their ends may be left out.

    Source: GitHub Flavored Markdown Spec 0.29, 4.10 (from memory).
    """
    inside = False
    for above, line in pairwise([*lines[:1], *lines]):
        piped = line.kind not in {"blank", "rule"} and "|" in text[line.start : line.end]
        if inside and piped:
            line.kind, line.cells = "row", _cells(text[line.start : line.end], 0, line.start, barred=True)
        elif line.kind == "rule" and DELIMITER_ROW.fullmatch(text, line.start, line.end):
            inside = "|" in text[above.start : above.end]
            if inside and above.kind == "text":
                above.kind, above.cells = "row", _cells(text[above.start : above.end], 0, above.start, barred=True)
        else:
            inside = False


GROUP_LINE = re.compile(r"[ \t]{0,60}[A-Z][A-Za-z &/'-]{2,40}:?[ \t]{0,60}")


def _take_group_lines(text: str, lines: Sequence[TextLine]) -> None:
    """'Team project' alone, between rows typed in columns and above deeper ones: the row of a group."""
    for above, line, below in zip(lines, lines[1:], lines[2:], strict=False):
        typed = above.kind == below.kind == "row" and line.kind == "text"
        if typed and above.indent == line.indent < below.indent and GROUP_LINE.fullmatch(text, line.start, line.end):
            line.kind = "row"


SHARE_LINE = re.compile(
    r"[ \t]{0,60}[A-Z0-9][^%.;!?]{3,70}\(\d{1,3}(?:\.\d{1,3})? ?(?:%|percent)[a-z, ]{0,20}\)[ \t]{0,60}"
)


def _take_share_lines(text: str, lines: Sequence[TextLine]) -> None:
    """Several paragraphs one below the other, each 'Field notebook, checked twice (20%)', are the items of a list."""
    written = [line for line in lines if line.kind != "blank"]
    for shared, run in groupby(written, key=lambda line: line.kind == "text" and _is_share_line(text, line)):
        items = list(run)
        if shared and len(items) >= FEWEST_LABELS:
            for line in items:
                line.kind = "item"


def _is_share_line(text: str, line: TextLine) -> bool:
    return SHARE_LINE.fullmatch(text, line.start, line.end) is not None


LABEL_LINE = re.compile(r"[ \t]{0,60}[A-Z][A-Za-z &/'-]{2,40}(?:: | - )[^%]{0,80}\d ?%")


def _take_label_lines(text: str, lines: Sequence[TextLine]) -> None:
    """Several lines one below the other, each 'Keys and quizzes: ten quizzes, 25%', are the items of a list."""
    for _, run in groupby(lines, key=lambda line: (line.kind == "text", line.indent)):
        listed = list(run)
        items = [line for line in listed if line.kind == "text" and _is_label_line(text, line)]
        others = [line for line in listed if line not in items]
        if len(items) < FEWEST_LABELS or not all(_is_wrapped_label(text, line) for line in others):
            continue
        for line in items:
            line.kind = "item"
        for line in others:
            line.indent += 1


def _is_wrapped_label(text: str, line: TextLine) -> bool:
    """Whether a line among those that begin with labels goes on with the one above it."""
    return text[line.start : line.end].lstrip()[:1].islower()


def _is_label_line(text: str, line: TextLine) -> bool:
    return LABEL_LINE.match(text, line.start, line.end) is not None


SHARE_CHILD = re.compile(
    r"[ \t]{0,60}\S{1,3}[ \t]{1,9}(?:(?:weight|worth|value|share|counts?|percent(?:age)?|points)\b[^%\d]{0,30})?"
    r"\d{1,3}(?:\.\d+)? ?(?:%|percent\b|points?\b|pts\b)",
    re.I,
)
LONGEST_PARENT, MOST_CHILDREN = 60, 15


def _take_parents(text: str, lines: Sequence[TextLine]) -> None:
    """Items without a number, each over deeper ones of which one is no more than its share, 'Weight: 20%': headings."""
    listed = [line for line in lines if line.kind != "blank"]
    families = [(line, _children(listed, n)) for n, line in enumerate(listed) if _may_be_parent(text, line)]
    families = [(line, below) for line, below in families if _one_share(text, below)]
    if len(families) < FEWEST_LABELS:
        return
    for line, below in families:
        line.kind = "heading"
        for child in below:
            child.kind = "text"


def _may_be_parent(text: str, line: TextLine) -> bool:
    words = text[line.start : line.end].lstrip(f" \t-*+o{BULLETS}")
    return line.kind == "item" and len(words) < LONGEST_PARENT and not re.search(r"\d", words)


def _children(listed: Sequence[TextLine], place: int) -> list[TextLine]:
    near = listed[place + 1 : place + 1 + MOST_CHILDREN]
    return list(takewhile(lambda line: line.kind == "item" and line.indent > listed[place].indent, near))


def _one_share(text: str, below: Sequence[TextLine]) -> bool:
    return sum(SHARE_CHILD.match(text, line.start, line.end) is not None for line in below) == 1


AMOUNT_LINE = re.compile(r"[ \t]{0,60}\d{1,3}(?:\.\d+)? ?%[ \t]{0,60}")
LONGEST_NAME_LINE = 60


def _with_amounts_below(text: str, lines: list[TextLine]) -> list[TextLine]:
    """A short line with nothing but a percentage below it is one with it, where this is done several times."""
    below = {
        n for n in range(1, len(lines))
        if AMOUNT_LINE.fullmatch(text, lines[n].start, lines[n].end) and _is_name_line(text, lines[n - 1])
    }  # fmt: skip
    if len(below) < FEWEST_LABELS:
        return lines
    for n in below:
        lines[n - 1].end = lines[n].end
        lines[n - 1].cells = [Span(lines[n - 1].cells[0].start, lines[n].end)]
    return [line for n, line in enumerate(lines) if n not in below]


def _is_name_line(text: str, line: TextLine) -> bool:
    words = text[line.start : line.end].strip()
    return line.kind == "text" and 2 < len(words) < LONGEST_NAME_LINE and words[0].isupper() and words[-1] not in ".:;%"


FORM_LABEL = re.compile(
    r"(?i)\W{0,6}(?:course(?: (?:title|number|name|description|goals|objectives|grade))?|instructors?|teachers?|"
    r"professor|meetings?|meeting times?|times?|rooms?|location|office(?: hours)?|e-?mail|phone|contact|credits?|"
    r"prerequisites?|text(?:book)?s?|materials|(?:required )?readings?|description|objectives|outcomes|evaluation|"
    r"assessments?|grad(?:es?|ing)(?: (?:policy|scale|scheme|breakdown))?|letter grades|rounding|"
    r"(?:[a-z-]{1,20} ){1,2}policy|policies|late work|make-?up work|missed work|academic (?:honesty|integrity)|"
    r"accommodations?|accessibility)\W{0,6}"
)
"""What stands on the left of a form."""
FEWEST_LABELS = 3


def _without_labels(text: str, lines: list[TextLine]) -> list[TextLine]:
    """A table that is a form, a label and what it says in each row, as headings with text below them."""
    found: list[TextLine] = []
    lines = _without_run_in_labels(text, lines)
    for is_form, rows in groupby(lines, key=lambda line: _is_pair(text, line)):
        run = list(rows)
        labels = [_is_label(text, line) for line in run] if is_form else []
        if 2 * sum(labels) < max(2 * FEWEST_LABELS, len(run)):
            found += run
            continue
        for line in run:
            label, said = line.cells
            found += [TextLine(label.start, label.end, "heading", line.indent, [label])]
            found += [TextLine(said.start, said.end, "text", line.indent, [said])] if said.end > said.start else []
    return found


def _without_run_in_labels(text: str, lines: list[TextLine]) -> list[TextLine]:
    """Items and paragraphs that begin with labels, '3. Grading. Students are graded on …', as headings with text."""
    labels = {
        line.start: LED_BY_LABEL.match(text, line.start, line.end)
        for line in lines
        if line.kind == "item" or text.startswith(FILLER, line.start)
    }
    if sum(label is not None for label in labels.values()) < FEWEST_LABELS:
        return lines
    found: list[TextLine] = []
    for number, line in enumerate(lines):
        label = labels.get(line.start)
        if label is None:
            found.append(line)
            continue
        heading, said = Span(*label.span("label")), Span(label.end(), line.end)
        below = TextLine(*said, "text", line.indent, [said])
        if line.kind == "row":
            # The rows below it may stand deeper, under what follows the label.
            indent = next(
                (deeper.indent for deeper in lines[number + 1 : number + 3] if deeper.kind == "row"), line.indent
            )
            below = TextLine(*said, "row", indent, [Span(label.end(), line.cells[0].end), *line.cells[1:]])
        found += [TextLine(*heading, "heading", line.indent, [heading]), below]
    return found


LED_BY_LABEL = re.compile(
    rf"[ \t]{{0,60}}(?:(?:[-*+o{BULLETS}]|\(?\d{{1,2}}[.)])[ \t]{{1,20}}|{FILLER})"
    rf"(?P<label>{FORM_LABEL.pattern.removeprefix('(?i)')})(?:(?<=[.:])|(?<=[.:]{FILLER}{FILLER}))\s+(?=\S)",
    re.I,
)


def _is_label(text: str, line: TextLine) -> bool:
    return FORM_LABEL.fullmatch(text[line.cells[0].start : line.cells[0].end]) is not None


def _is_pair(text: str, line: TextLine) -> bool:
    return line.kind == "row" and len(line.cells) == FORM_WIDTH and text[line.start : line.end].lstrip().startswith("|")


FORM_WIDTH = 2


NUMBER_SIGN = re.compile(r"[ \t]{0,60}\(?\d{1,2}[.)]\s")
LONG_LINE = 50


def _is_wrapped(text: str, lines: Sequence[TextLine], place: int) -> bool:
    """'… the commentaries', then '25. The midterm …' below: a number that ends a sentence, and begins no list."""
    line, above = lines[place], lines[place - 1] if place else None
    if above is None or above.kind != "text" or not NUMBER_SIGN.match(text, line.start, line.end):
        return False
    words = text[above.start : above.end].strip()
    below = lines[place + 1] if place + 1 < len(lines) else None
    listed = below is not None and NUMBER_SIGN.match(text, below.start, below.end)
    return len(words) > LONG_LINE and words[-1] not in ".:;!?" and not listed


def line_of(piece: str, start: int) -> TextLine:
    """A line by itself, told by its signs: a list item, a row of cells, a rule, blank or text."""
    end = start + len(piece)
    indent = len(piece) - len(piece.lstrip())
    if not piece.strip():
        return TextLine(start, end, "blank")
    if RULE.match(piece):
        return TextLine(start, end, "rule", indent)
    item = ITEM.match(piece)
    inner = item.end() if item else indent
    cells = _cells(piece, inner, start)
    if item and not piece.lstrip().startswith("#"):
        return TextLine(start, end, "item", indent, cells)
    piped = piece.strip().startswith("|") and piece.strip().endswith("|") and len(piece.strip()) > 2
    return TextLine(start, end, "row" if piped or len(cells) > 1 else "text", indent, cells)


def _cells(piece: str, inner: int, start: int, barred: bool = False) -> list[Span]:
    """The stretches between the cell marks of a line; of one that is known to be barred, between its bars."""
    if barred or piece.strip().startswith("|") or piece.count("|") > 1:
        marks = [m.span() for m in re.finditer(r"\|", piece)]
    else:
        marks = [m.span() for m in re.finditer(rf"{LEADER.pattern}|{GAP.pattern}", piece[inner:].rstrip())]
        marks = [(a + inner, b + inner) for a, b in marks]
    edges = [inner, *(edge for mark in marks for edge in mark), len(piece)]
    found = []
    piped = piece.strip().startswith("|")
    for index, (left, right) in enumerate(zip(edges[::2], edges[1::2], strict=True)):
        cell = piece[left:right]
        inside = piped and 0 < index < len(marks)
        if cell.strip() or inside:
            found.append(
                Span(
                    start + right - len(cell.lstrip()),
                    start + max(left + len(cell.rstrip()), right - len(cell.lstrip())),
                )
            )
    return found


def _find_headings(text: str, lines: list[TextLine]) -> None:
    for index, line in enumerate(lines):
        words = text[line.start : line.end].strip()
        numbered = line.kind == "item" and re.match(r"\d+[.)]|[IVX]+\.", words)
        if numbered and (_stands_alone(text, lines, index) or CAPITALS.fullmatch(words)):
            words = re.sub(r"^\S+\s+", "", words)
        elif line.kind != "text":
            continue
        if words.startswith("#") or _is_heading(words, text, lines, index):
            line.kind = "heading"


CAPITALS = re.compile(r"(?:\d{1,2}[.)]|[IVX]{1,6}\.) {1,20}[A-Z][A-Z &/,'-]{3,60}")
"""'2. GRADING', with numbered items below it."""


def _stands_alone(text: str, lines: list[TextLine], index: int) -> bool:
    """A numbered line that is no list item: the next line is neither numbered nor of its paragraph."""
    beside = [lines[n].kind for n in (index - 1, index + 1) if 0 <= n < len(lines)]
    words = text[lines[index].start : lines[index].end]
    return "item" not in beside and not re.search(r"[%.,;]\s*$|\d\s*%", words) and len(words.split()) < 8


def _is_heading(words: str, text: str, lines: list[TextLine], index: int) -> bool:
    below = lines[index + 1] if index + 1 < len(lines) else None
    if below and below.kind == "rule" and re.fullmatch(r"\s*[=-]{3,}\s*", text[below.start : below.end]):
        return len(words) < 80
    # 'GRADING (700 points)'
    if re.fullmatch(r"[A-Z][A-Za-z ]{3,40}\([\d,]+ [a-z]+\)", words):
        return True
    if len(words) > 70 or re.search(r"[.,;!?]$|%", words) or not re.search(r"[A-Za-z]{3}", words):
        return False
    if words.isupper():
        return not re.search(r"^\W*TOTAL|\d$", words)
    above = lines[index - 1] if index else None
    opens = above is None or above.kind in {"blank", "rule", "heading", "row", "item"} or _ends(text, above)
    return opens and _looks_like_title(words) and _stands_over(words, text, below)


def _looks_like_title(words: str) -> bool:
    points = re.search(r"(?<!\d)\d{1,9} ?(?:points|pts)\b", words)
    return not points and len(words.split()) <= 8 and words[0].isupper() and ":" not in words[:-1]


LONGEST_LED = 2
"""In words: 'Grading:' right above a list is a heading, 'Your grade is made of these:' leads to it."""


def _stands_over(words: str, text: str, below: TextLine | None) -> bool:
    """Whether what follows a line is what it could be the title of."""
    if below is None:
        return False
    if below.kind in {"item", "row"} and words.endswith(":") and section_kind(words.lower()) in {"grading", "scale"}:
        return len(words.split()) <= LONGEST_LED
    if below.kind in {"blank", "item", "row"}:
        return not words.endswith(":") and len(words.split()) <= 7
    next_words = text[below.start : below.end].strip()
    longer = len(words.split()) <= 5 and len(next_words) > len(words)
    return below.kind == "text" and next_words[:1].isupper() and longer


def _ends(text: str, line: TextLine) -> bool:
    return text[line.start : line.end].rstrip().endswith((".", "!", "?", ":"))


def _sections(text: str, lines: list[TextLine]) -> list[TextSection]:
    found = [TextSection("", "other", 0)]
    for line in lines:
        if line.kind == "heading":
            heading = lowered(text[line.start : line.end]).strip(" #:=-")
            found.append(TextSection(heading, section_kind(heading), len(found)))
        line.section = found[-1]
    return found


def section_kind(heading: str) -> SectionKind:
    """What a heading announces."""
    if GRADING_ABOVE_ALL.search(heading):
        return "grading"
    return next((kind for kind, words in SECTION_KINDS if re.search(words, heading)), "other")


def _text_blocks(page: Page) -> Iterator[TextBlock]:
    for number, block in enumerate(_blocks(page)):
        first, last = block[0], block[-1]
        section = first.section or page.sections[0]
        made = TextBlock(_BLOCK_KINDS[first.kind], first.start, last.end, first.indent, section)
        if made.kind != "heading":
            made.sentences = list(_sentences(page, made, number))
        yield made


_BLOCK_KINDS: Mapping[str, Literal["heading", "sentence", "item", "row"]] = {
    "heading": "heading", "row": "row", "item": "item", "text": "sentence",
}  # fmt: skip


def _sentences(page: Page, block: TextBlock, number: int) -> Iterator[Sentence]:
    kind: Literal["sentence", "item", "row"] = "sentence" if block.kind == "heading" else block.kind
    spans = _split(page.flat, block.start, block.end) if kind != "row" else [Span(block.start, block.end)]
    for start, end in spans:
        span = page.tight(start, end)
        if span.end > span.start:
            yield Sentence(span.start, span.end, page.flat[span.start : span.end], block.section, kind, number)


def _blocks(page: Page) -> Iterator[list[TextLine]]:
    """Lines that belong together: a paragraph, an item with its wrapped lines, a row."""
    block: list[TextLine] = []
    for line in page.lines:
        goes_on = block and line.kind == "text" and block[0].kind != "row"
        if goes_on and block[0].kind == "item":
            goes_on = line.indent > block[0].indent
        elif goes_on:
            goes_on = not _line_of_its_own(page.text, block[-1], line)
        if goes_on:
            block.append(line)
            continue
        if block:
            yield block
        if line.kind == "heading":
            yield [line]
        block = [line] if line.kind in {"text", "item", "row"} else []
    if block:
        yield block


FOOTNOTE_BELOW = re.compile(rf"{NOTE_SIGN} ?[A-Z]")


def _line_of_its_own(text: str, line: TextLine, below: TextLine) -> bool:
    """A short line that ends without a sign, above one that begins anew, or a footnote below: no wrapped prose."""
    words, next_words = text[line.start : line.end].strip(), text[below.start : below.end].strip()
    short = len(words) < 50 and (words[-1:].isalnum() or words[-1:] == "%")
    return ((short or " = " in words) and next_words[:1].isupper()) or FOOTNOTE_BELOW.match(next_words) is not None


def _split(flat: str, start: int, end: int) -> Iterator[Span]:
    """Sentences of a paragraph; a stop within a number or after an abbreviation is none."""
    while end - start > LONGEST_SENTENCE:
        cut = flat.rfind(" ", start + 1, start + LONGEST_SENTENCE)
        cut = cut if cut > start else start + LONGEST_SENTENCE
        yield from _split(flat, start, cut)
        start = cut
    begin, looked_at, worded = start, start, False
    for match in re.finditer(r"(?<![.!?;])[.!?;]+[\"')\]]*(?=\s+\S)", flat[start:end]):
        stop = start + match.end()
        worded = worded or re.search(r"\w{3}", flat[looked_at:stop]) is not None
        looked_at = stop
        before, last = flat[begin:stop], flat[max(begin, stop - LONGEST_ABBREVIATION) : stop]
        if match[0][0] == "." and ABBREVIATIONS.search(last) and not re.search(r"\b(?:pts?|pct)\.$", last):
            continue
        if match[0][0] == "." and begin == start and len(before.split()) < 4 and not re.search(r"\d", before):
            continue
        if before.count("(") > before.count(")"):
            continue
        if match[0][0] == ";" and not worded:
            continue
        yield Span(begin, stop)
        begin, worded = stop, False
    yield Span(begin, end)
