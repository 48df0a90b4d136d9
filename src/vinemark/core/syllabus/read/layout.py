"""The text as lines, sections under headings, and sentences, each with its place.

Places are [start, end) in the text as it was given; headings stand on a line of their own.
"""

import re
from bisect import bisect_left, bisect_right
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Literal

from vinemark.core.syllabus.read.line_runs import lines_of
from vinemark.core.syllabus.read.lines import FILLER, SectionKind, Span, TextLine, TextSection
from vinemark.core.syllabus.read.normal import NOTE_SIGN, even, lowered

LONGEST_SENTENCE = 4000
"""A longer paragraph is no prose; cutting it keeps reading time even."""
LONGEST_ABBREVIATION = 40
"""So many signs before a stop say whether it ends an abbreviation."""
EMPHASIS = re.compile(r"\*\*|__|`|(?<![\w*])[*_](?=\w)|(?<=[\w.,!?:])[*_](?![\w*])")
BOLD_LEAD = re.compile(r"^[ \t]*(?:[-*+][ \t]+)?\*\*(?P<lead>[^*\n]{2,60})\*\*", re.M)
"""A name in bold that runs into its text."""
SECTION_NUMBER = re.compile(r"^([ \t]{0,60}\*\*)(\d{1,2}(?:\.\d{1,2}){0,2}\.? {1,9})(?=[A-Z])", re.M)
"""'2 Quizzes.' in bold at the beginning of a paragraph: no two quizzes."""
STRESSED = re.compile(
    r"(?<![\w*])(?:\*{1,2}|_)(?P<words>[A-Za-z][A-Za-z'&-]+(?: [A-Za-z'&-]+){0,4})[.:]?(?:\*{1,2}|_)(?![\w*])"
)
"""Words in bold or italics: a name that the text itself sets off."""
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
        self.lines = lines_of(marked)
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
    if LED_TO_AMOUNT.fullmatch(words) and not _is_listed(text, lines, index):
        return True
    if len(words) > 70 or re.search(r"[.,;!?]$|%", words) or not re.search(r"[A-Za-z]{3}", words):
        return False
    if words.isupper():
        return not re.search(r"^\W*TOTAL|\d$", words)
    above = lines[index - 1] if index else None
    opens = above is None or above.kind in {"blank", "rule", "heading", "row", "item"} or _ends(text, above)
    return opens and _looks_like_title(words) and _stands_over(words, text, below)


LED_TO_AMOUNT = re.compile(r"[A-Z][A-Za-z ]{3,40}\([\d,]{1,9} [a-z]{1,20}\)")
"""'GRADING (700 points)'."""
AMOUNT_BEHIND = re.compile(r"\([\d,]{1,9} [a-z]{1,20}\)$")


def _is_listed(text: str, lines: Sequence[TextLine], index: int) -> bool:
    """Whether the line above or below ends alike, so that neither is a heading."""
    beside = [lines[n] for n in (index - 1, index + 1) if 0 <= n < len(lines)]
    return any(AMOUNT_BEHIND.search(text[line.start : line.end].strip()) for line in beside)


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
            goes_on = not _line_of_its_own(page.text, block[-1], line) and not _is_labelled_anew(page.text, block, line)
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


LABEL_LED = re.compile(r"[ \t]{0,60}[A-Z][A-Za-z][A-Za-z &/'-]{1,40}\. +[A-Z0-9]")


def _is_labelled_anew(text: str, block: Sequence[TextLine], line: TextLine) -> bool:
    """'Stories. You write two …' right below a paragraph that begins with such a label too."""
    labels = (LABEL_LED.match(text, one.start, one.end) for one in (block[0], line))
    return _ends(text, block[-1]) and all(label is not None for label in labels)


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
