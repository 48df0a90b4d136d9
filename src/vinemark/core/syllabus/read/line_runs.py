"""What lines are by those beside them: rows of a table, items of a list, headings over what belongs to them."""

import re
from collections.abc import Sequence
from itertools import groupby, pairwise, takewhile

from vinemark.core.syllabus.read.bare_lists import take_bare_lists
from vinemark.core.syllabus.read.lines import FILLER, Span, TextLine, cells_in, line_of
from vinemark.core.syllabus.read.normal import BULLETS


def lines_of(text: str) -> list[TextLine]:
    """The lines of a text, by their own signs and then by those beside them."""
    lines, start = [], 0
    for piece in text.split("\n"):
        lines.append(line_of(piece, start))
        start += len(piece) + 1
    _take_bare_pipes(text, lines)
    for place, line in enumerate(lines):
        if line.kind == "item" and _is_wrapped(text, lines, place):
            line.kind = "text"
    take_bare_lists(text, lines)
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
            line.kind, line.cells = "row", cells_in(text[line.start : line.end], 0, line.start, barred=True)
        elif line.kind == "rule" and DELIMITER_ROW.fullmatch(text, line.start, line.end):
            inside = "|" in text[above.start : above.end]
            if inside and above.kind == "text":
                above.kind, above.cells = "row", cells_in(text[above.start : above.end], 0, above.start, barred=True)
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


AMOUNT_LINE = re.compile(
    r"(?i)[ \t]{0,60}(?P<label>(?:weight(?:ing)?|worth|value|share|percent(?:age)?|counts|points)[ :=-]{1,4}(?:for )?)?"
    r"(?P<n>\d{1,4}(?:\.\d+)? ?(?:%|percent|points|pts))[ \t.]{0,60}"
)
LED_BY_KIND = re.compile(r"(?i)(?:component|assignment|item|task|category|activity|requirement|name): {1,9}(?=\S)")
LONGEST_NAME_LINE = 60


def _with_amounts_below(text: str, lines: list[TextLine]) -> list[TextLine]:
    """A short line with nothing but a percentage below it is one with it, where this is done several times."""
    below = {
        n: found
        for n in range(1, len(lines))
        if (found := AMOUNT_LINE.fullmatch(text, lines[n].start, lines[n].end)) and _is_name_line(text, lines[n - 1])
    }
    if len(below) < FEWEST_LABELS:
        return lines
    for n, found in below.items():
        _join_amount(text, lines[n - 1], found)
    return [line for n, line in enumerate(lines) if n not in below]


def _join_amount(text: str, line: TextLine, amount: re.Match[str]) -> None:
    """One line of a name and the amount below it; a row of two where the amount has a label of its own."""
    start, end = line.cells[0].start, line.end
    line.end = amount.end()
    if amount["label"] is None:
        line.cells = [Span(start, line.end)]
        return
    led = LED_BY_KIND.match(text, start, end)
    line.kind, line.cells = "row", [Span(led.end() if led else start, end), Span(*amount.span("n"))]


def _is_name_line(text: str, line: TextLine) -> bool:
    if line.kind not in {"text", "item"}:
        return False
    words = text[line.cells[0].start : line.end].strip()
    return 2 < len(words) < LONGEST_NAME_LINE and words[0].isupper() and words[-1] not in ".:;%"


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
