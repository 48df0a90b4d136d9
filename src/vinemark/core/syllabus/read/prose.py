"""Categories from sentences: amounts and names found apart, joined within their sentence, weighed by context."""

import re
from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from itertools import islice
from typing import Literal, NamedTuple

from vinemark.core.base.names import singular
from vinemark.core.syllabus.facts import SaidCategory
from vinemark.core.syllabus.read.attach import ORDINAL, Joined, joined
from vinemark.core.syllabus.read.layout import Page, Sentence, TextBlock
from vinemark.core.syllabus.read.lexicon import is_stop, is_work
from vinemark.core.syllabus.read.mentions import BRACKETED, OF_GRADE, POINTS_SAID, Amount, amounts, phrases
from vinemark.core.syllabus.read.naming import clean, is_extra
from vinemark.core.syllabus.read.normal import NUMBER, PERCENT_SIGN, POINTS_WORD, phrase, value_of, whole
from vinemark.core.syllabus.read.row_reading import NOT_NAME

PENALTY = re.compile(
    r"\blate\b(?! in the)|\blowers\b|\bloses?\b|\blost\b|penalt|deduct|\boff\b|\bper day\b|\ba day\b|each day|"
    r"\bmarked down\b|"
    r"\btak(?:e|en|es) (?:off|[a-z0-9]{1,6} (?:points?|percent) (?:from|off))\b|"
    r"for (?:each|every) day|"
    r"plagiar|cheat|attendance of|must attend|discount|\brounded|\brounding|\brounds? (?:up|down)|\bcut by\b|"
    r"reduc|halv|\bhalf[- ]credit|\bdocked?\b|subtract|"
    r"\bcosts?\b(?! \$)|\bcapped\b|\bpartial credit\b|\babsen(?:ce|t)|\btard"
)
BOUND_BEFORE = re.compile(
    r"\b(?:at least|at most|no more than|no less than|more than|less than|fewer than|below|above|under|over|"
    r"roughly|about|around|"
    r"approximately|nearly|only about|up to|minimum of|a full|last (?:year|term|spring|fall),?.{0,40}|used to "
    r"be .{0,20}|historically .{0,60}) (?:an? |the )?$"
)
NOT_OF_GRADE = re.compile(
    r"^ of (?!(?:the |your |my |our |their |this |one's )*(?:(?:course|final|overall|total|semester|term|whole|"
    r"class|entire|cumulative|letter) )*"
    r"(?:grades?|marks?|averages?|total|course|evaluation|assessment|points|result|percentage)\b|it\b|this\b|"
    r"your final\b)|"
    r"^ (?:more|less|extra|longer|fewer|higher|lower|faster|larger)\b|^(?: solution|-strength| strength| stock| "
    r"silica| from (?:your|the) (?:(?:final|course|total) )?(?:grade|score|total|average|mark)\b|"
    r" chance| of the time| confidence| humidity| or (?:better|more|higher|above|less|lower|fewer)|"
    r" and (?:above|up|over|higher|better|below)|\+| of the score| attendance| participation rate| credit\b(?! "
    r"toward)| accuracy| interest| "
    r"extra time| bonus on)"
)
INNER = re.compile(r" of (?:the|each|every|your|an?|its) (?:\w+ )?(?P<work>[a-z]+)\b(?!'?s? grade)")
OWN_SHARE = re.compile(
    r"\b(?:of|in) (?:the|your|each|an?|every|its|that|this) (?!course|final grade|overall|semester|class|term|total|"
    r"grade|hundred|\d)[a-z -]{2,24}(?:'s)? (?:score|grade|mark|credit|points)\b"
)
GRADES = re.compile(
    r"\bgrad(?:e|es|ed|ing)\b|\bweights?\b|\bworth\b|\bcounts?\b|\bmade up\b|\bmakes? up\b|\bcontribut|\bevaluat|"
    r"\bassess|\bpoints?\b|\bcomponents?\b"
)
POLICY_HEADING = re.compile(
    r"\blate\b|attendance|absence|polic|honesty|integrity|conduct|make-?ups?|access|safety|materials|about|course "
    r"description|needs?|tools|rules|welcome|help"
)
SUM_SAID = re.compile(
    r"\b(?:that|this|which|altogether|sum|all of (?:it|this)|everything) (?:makes?|gives?|comes? to|adds? up to|"
    r"totals?|is)(?: a total of)? $"
)
MOST_TO_EARN = re.compile(r"\b(?:earn|get|gain|bring|receive|worth|give|be) (?:you )?(?:at most|up to|no more than) $")
NEEDED_BEFORE = re.compile(
    r"\b(?:needs?|needed|requires?|required|reach(?:es)?|scores?|scored|below|above|pass(?:es|ed)? with|minimum(?: "
    r"of| is)?) (?:an? |is |of |at least )*$"
)
RUBRIC = re.compile(
    r"\b(?:judged|scored|graded|marked|assessed)(?: as follows| like this)?:|\b(?:judged|marked|scored|assessed|"
    r"evaluated|read|(?<!you will be )(?<!you are )(?<!course is )(?<!class is )graded|points are given|looks? at) "
    r"(?:on|for|by|according)\b|"
    r"\bin marking\b|\brubric|\b(?:is|that's) how (?:an?|each|every|the|your|one) "
    r"(?!course|class|grade)[a-z -]{2,25} (?:is|are|will be) (?:judged|marked|scored|assessed|evaluated|graded)\b|"
    r"\bcriteri|\bof the credit\b|\bfor (?:style|content|grammar|accuracy|neatness|clarity|organi[sz]ation|"
    r"delivery|argument|evidence|method)\b"
)
RUN_IN = re.compile(
    r"^\W*(?:(?:\d{1,2}(?:\.\d{1,2})?[.)]?|[a-z][.)]) {1,9})?(?P<label>[a-z][a-z0-9 &/'-]{2,40}?)(?:\.|:| -)\s"
)
FORMULA = re.compile(
    r"(?:grade|mark|average|score|total) ?= ?(?=[(.\d])|"
    r"\b(?:calculated|computed|figured|worked out|formula)(?: (?:so|as follows|as|is|by))?: ?(?=\()"
)
FORMULA_TERM = re.compile(rf"(?P<percent>{NUMBER}{PERCENT_SIGN})|(?P<part>0?\.\d+)", re.I)
LABEL_ONLY = re.compile(
    r"^(?:this |the )?(?:class|course|semester|term|whole|sum)$|^(?:course |class |graded )?requirements?$|"
    r"^(?:the |your |course )?work (?:for|in|of) (?:the|this) (?:course|class)$|"
    r"^(?:course |final |semester )?(?:points|"
    r"grad(?:es?|ing)|assessments?|evaluation|weights?|scoring|marks?|"
    r"breakdown)$"
)


@dataclass
class Said:
    """A category as one sentence says it; `score` tells how surely the amount is a share of the grade."""

    name: str
    start: int
    end: int
    amount: Fraction | None
    each: bool
    count: int | None
    extra: bool
    score: int
    rest: bool = False
    unit: Literal["weight", "points"] = "weight"
    block: int = 0
    total: bool = False
    topic: str = ""
    kept: int | None = None
    """How many of them are left once the lowest are dropped, where that is said right after."""

    @property
    def whole(self) -> Fraction | None:
        """The whole category's amount."""
        return self.amount * (self.count or 1) if self.amount is not None and self.each else self.amount


def said_amounts(page: Page) -> list[Said]:
    """Every amount that a sentence gives to some work, in the order of the text."""
    found: list[Said] = []
    topic = _Topic(glossary_of(page))
    for number, block in enumerate(page.blocks):
        topic.enter(page, block)
        if block.kind == "heading":
            found += _of_text(page, heading_sentence(page, block), topic, number)
        elif block.kind != "row":
            topic.in_points = sum(POINTS_SAID.search(s.text) is not None for s in block.sentences) > 1
            for sentence in block.sentences:
                found += _of_text(page, sentence, topic, number)
                topic.hear(sentence)
                topic.in_parts = topic.in_parts or PART_OF_GRADE.search(sentence.text) is not None
    return found


def heading_sentence(page: Page, block: TextBlock) -> Sentence:
    """A heading as one sentence of its own, of no line."""
    return Sentence(block.start, block.end, page.flat[block.start : block.end], block.section, "sentence", -1)


def glossary_of(page: Page) -> frozenset[str]:
    """Names that headings and labels bear: what the text itself calls its work."""
    stressed = (clean(words).text.lower() for words in page.stressed)
    found: dict[str, None] = dict.fromkeys(name for name in stressed if not _asks(name))
    for block in page.blocks:
        words = page.flat[block.start : block.end].strip(" #*:=-")
        bold = page.bold_lead(block.start, block.end) if block.kind != "row" else None
        label = RUN_IN.match(words) if block.kind != "heading" and not bold else None
        name = clean(words if block.kind == "heading" else bold or (label["label"] if label else "")).text.lower()
        if NOT_NAME.match(name) or name.partition(" ")[0].strip(".") in TITLES_OF_PEOPLE:
            continue
        if label and any(is_stop(word) and word not in JOINING for word in name.split()):
            continue
        stops = [is_stop(word) for word in name.split()]
        if _asks(name) or (not bold and stops and (all(stops) or name.split()[-1] in NEVER_LAST)):
            continue
        if 0 < len(name.split()) <= MOST_WORDS and block.section.kind not in {"calendar", "scale"}:
            found[name] = None
    return frozenset(islice((name for name in found if name not in NOT_WORK), MOST_NAMES))


def _asks(name: str) -> bool:
    """'What you do', 'How it is graded': a heading of plain words that names nothing."""
    return name.split()[:1] in (["what"], ["how"], ["why"], ["who"]) and all(map(is_stop, name.split()))


TITLES_OF_PEOPLE = frozenset(["prof", "professor", "dr", "mr", "mrs", "ms", "instructor"])
"""What leads the name of a person."""
MOST_WORDS = 5
MOST_NAMES = 80
NEVER_LAST = frozenset(["its", "their", "the", "of", "and", "to", "in", "for", "my", "your", "our", "is", "are", "a"])
JOINING = frozenset(["and", "of", "the", "in", "for", "to", "on", "a"])
NOT_WORK = frozenset(
    [
        "grading",
        "grades",
        "evaluation",
        "assessment",
        "welcome",
        "materials",
        "policies",
        "calendar",
        "schedule",
        "honesty",
        "attendance",
        "access",
        "note",
        "notes",
        "points",
        "instructor",
        "office",
        "office",
        "hours",
        "email",
        "phone",
        "room",
        "textbook",
        "prerequisites",
        "total",
        "weights",
        "rounding",
        "example",
    ]
)


OPENING_NAME = re.compile(
    r"^\W*(?:\d{1,2}[.)] {1,4})?(?:(?:an?|the|your|one|two|three|four|five|six) )?"
    r"(?P<name>[a-z][a-z-]{2,15}(?: [a-z-]{3,15}){0,2}?)(?= (?:that|which|of|to|on|in|with|by|from|for|about)\b|[,.(])"
)
"""'A walking-tour map that you make with a partner. This is 20% of your grade.'"""


def _is_label(words: str) -> bool:
    """Whether the words before a stop name something, and are no sentence: 'You keep a field notebook.'"""
    name = clean(words).text.lower().split()
    return not NOT_NAME.match(words) and OF_SENTENCES.isdisjoint(name)


OF_SENTENCES = frozenset(
    ["i", "you", "we", "he", "she", "they", "it", "there", "this", "that", "these", "those", "is", "are",
     "was", "were", "be", "been", "will", "would", "can", "may", "must", "should", "has", "have", "had", "do",
     "does", "did", "write", "take", "keep", "hand", "give", "get", "make", "each", "every"]
)  # fmt: skip
"""Words of a sentence that no name has."""


class _Topic:
    """What a pronoun of the next sentence would stand for: the work named last, or that of the label or heading."""

    def __init__(self, glossary: Collection[str]) -> None:
        self.glossary = glossary
        self.label: str | None = None
        self.in_points = False
        self.in_parts = False
        self.bold = False
        self.spoken_of: str | None = None
        self._named: tuple[str | None, int | None] = (None, None)
        self._heard: list[Sentence] = []

    def enter(self, page: Page, block: TextBlock) -> None:
        """Go on to another block."""
        words = page.flat[block.start : block.end]
        led = RUN_IN.match(words) if block.kind not in {"heading", "row"} else None
        bold = page.bold_lead(block.start, block.end) if block.kind not in {"heading", "row"} else None
        label = bold or (led["label"] if led and _is_label(led["label"]) else None)
        work = _work_of(label, self.glossary) if label else None
        self.bold = bool(bold and work)
        if block.kind == "heading":
            self.in_parts = False
            self.label = None if COURSE_CODE.search(words) else _work_of(words, self.glossary)
            self._start(self.label)
        elif work:
            self._start(work)
        elif block.kind == "item" and (opening := OPENING_NAME.match(words)) and not label:
            self._start(opening["name"])
        elif self.label and block.kind == "sentence":
            self._start(self.label)
        elif block.kind == "sentence" and not self.label:
            self.spoken_of = None

    def _start(self, name: str | None) -> None:
        self._named, self._heard, self.spoken_of = (name, None), [], name

    def hear(self, sentence: Sentence) -> None:
        """Remember a sentence; what it names is worked out when somebody asks."""
        self._heard.append(sentence)

    def named(self) -> tuple[str | None, int | None]:
        """The work spoken of, and the number before it; under a label only another label's work is another."""
        for sentence in reversed(self._heard):
            every = phrases(sentence.text, self.glossary)
            known = [p for p in every if p.known] or [p for p in every if p.count and p.count > 1]
            if self.spoken_of:
                known = [p for p in known if p.text in self.glossary or self.spoken_of in (p.text, f"{p.text}s")]
            if known:
                last = next((p for p in known if p.count), known[0])
                self._named = (last.text, last.count)
                break
        self._heard = []
        return self._named


COURSE_CODE = re.compile(r"\b[a-z]{2,5}[ -]?\d{2,4}[a-z]?\b")
"""'PHIL 220 Logic and argument' is the title, and names no work."""


def _work_of(words: str, glossary: Collection[str]) -> str | None:
    known = [p for p in phrases(words, glossary) if p.known and not LABEL_ONLY.match(p.text)]
    return known[0].text if len(known) == 1 else None


def _of_text(page: Page, sentence: Sentence, topic: _Topic, block: int) -> Iterator[Said]:
    kind = sentence.section.kind
    spoken = topic.in_points or AMOUNT_SAID.search(sentence.text) is not None
    if (
        kind == "calendar"
        or sentence.kind == "row"
        or not spoken
        or len(AMOUNT_SAID.findall(sentence.text)) > MOST_IN_SENTENCE
    ):
        return
    every = joined(sentence.text, topic.glossary, topic.in_points, topic.in_parts)
    within = any(_is_inner(sentence.text, amount) for amount in amounts(sentence.text))
    for one in every:
        made = _said(page, sentence, one, topic, block)
        if made is not None:
            inner = within and not OF_GRADE.match(sentence.text[one.amount.end :])
            yield replace(made, score=made.score - 80) if inner else made


MOST_IN_SENTENCE = 60
"""So many shares and points in one sentence are no plan told in words."""
PART_OF_GRADE = re.compile(
    r"\b(?:half|thirds?|quarters?|fifths?|sixths?|tenths?) of (?:it\b|(?:the|your|my) "
    r"(?:(?:course|final|overall|whole) )?(?:grade|mark)\b)"
)
AMOUNT_SAID = re.compile(
    r"%|\bper ?cent|\bpct|\bpoint|\bpts?\b|\bmarks?\b|half|third|quarter|fourth|fifth|sixth|eighth|tenth|twelfth|"
    r"twentieth|\brest\b|remain|\bleft\b|\banother\b|\bfurther\b|[1-9]/[1-9]"
)


def _is_inner(text: str, amount: Amount) -> bool:
    """'20% of the paper': a share of one piece of work, and so are the others of its sentence."""
    match = INNER.match(text, amount.end)
    return match is not None and is_work(match["work"])


def _said(page: Page, sentence: Sentence, one: Joined, topic: _Topic, block: int) -> Said | None:
    amount = one.amount
    item = one.each and one.phrase is not None and _is_item(one.phrase.text) and topic.spoken_of
    which = _which(sentence, one, topic)
    if which:
        name, count, begin, end = which.name, which.number, min(which.start, amount.start), amount.end
    elif item:
        name, count, begin, end = str(topic.spoken_of), one.count, 0, amount.end
    elif one.phrase is not None and _names_itself(sentence, one, topic):
        place = sentence.start + one.phrase.start
        name, count = (
            page.text[place : sentence.start + one.phrase.end],
            one.count or _counted_beside(sentence, one, topic),
        )
        begin = min(one.phrase.start, amount.start)
        end = max(one.phrase.end, amount.end)
    else:
        spoken, number = topic.named()
        if spoken is None or OF_ALL.match(sentence.text):
            return None
        name, count = spoken, one.count or number
        begin, end = 0, amount.end
    if amount.unit == "points" and not one.each and SUM_SAID.search(sentence.text[: amount.start]):
        return None
    name = " ".join(name.split()).strip("*_ ")
    if LABEL_ONLY.match(name.lower()) or not re.search(r"[A-Za-z]{2}", name):
        return None
    headed = topic.label and sentence.section.kind == "other"
    score = one.score + _context(sentence, one) + (8 if headed else 0)
    return Said(
        name[:1].upper() + name[1:], sentence.start + begin, sentence.start + end, amount.value, one.each, count,
        is_extra(sentence.text), score, amount.rest, amount.unit, block, one.total,
        topic.label or topic.named()[0] or "",
    )  # fmt: skip


def _names_itself(sentence: Sentence, one: Joined, topic: _Topic) -> bool:
    """Whether the words beside an amount name its work, and not the label or heading above."""
    if one.phrase is None or NOT_NAME.match(one.phrase.text):
        return False
    if topic.label and not one.phrase.known and block_label(topic, sentence):
        return False
    return one.each or not (topic.bold and topic.spoken_of and _is_described(sentence, one, topic.spoken_of))


def _is_described(sentence: Sentence, one: Joined, label: str) -> bool:
    """'**Final** - essays, 30% of the grade': what stands between the label of a block and its one amount."""
    if one.phrase is None or label in one.phrase.text or len(amounts(sentence.text)) > 1:
        return False
    before = sentence.text[: one.phrase.start].lstrip(" *_")
    behind = before.removeprefix(label)
    return behind != before and AFTER_LABEL.fullmatch(behind) is not None


AFTER_LABEL = re.compile(r"\W{0,4}(?: -|:) [^.;:]*")


def _counted_beside(sentence: Sentence, one: Joined, topic: _Topic) -> int | None:
    """'Exams. There are two exams, each 18%': the number before the same name elsewhere in the sentence."""
    if not one.each or one.phrase is None:
        return None
    alike = (p.count for p in phrases(sentence.text, topic.glossary) if one.phrase and p.text == one.phrase.text)
    return next((count for count in alike if count), None)


class _Which(NamedTuple):
    """One or some of the work spoken of: 'second paper', 'other four stories'."""

    name: str
    number: int | None
    start: int


def _which(sentence: Sentence, one: Joined, topic: _Topic) -> _Which | None:
    """'The second counts for 25%', of the papers spoken of."""
    led = ORDINAL.match(sentence.text, one.phrase.start) if one.phrase is not None else None
    if one.phrase is None or led is None:
        return None
    before = [p for p in phrases(sentence.text[: one.phrase.start], topic.glossary) if p.known and (p.count or 0) > 1]
    work, count = (before[-1].text, before[-1].count) if before else topic.named()
    several = work is not None and ((count or 0) > 1 or singular(work) != work)
    if work is None or not several:
        return None
    name = f"{led['which']} {led['n']} {work}" if led["n"] else f"{led['which']} {singular(work)}"
    return _Which(name, one.phrase.count, one.phrase.start)


OF_ALL = re.compile(r"\W{0,6}(?:the )?(?:total|sum)\b")


def _is_item(name: str) -> bool:
    """'Each set earns 10 points': what the items of the work spoken of are called."""
    return singular(name) in {
        "set",
        "entry",
        "sheet",
        "piece",
        "one",
        "print",
        "sample",
        "page",
        "visit",
        "day",
        "item",
    }


def block_label(topic: _Topic, sentence: Sentence) -> bool:
    """Whether a sentence names the work of its own heading."""
    return bool(topic.label) and str(topic.label) in sentence.text


def _context(sentence: Sentence, one: Joined) -> int:
    """What the words around and the heading say for or against an amount of the grade."""
    text, amount = sentence.text, one.amount
    before, after = text[: amount.start], text[amount.end :]
    score = {"grading": 15, "scale": -5, "rubric": -30}.get(sentence.section.kind, 0)
    score -= 10 if POLICY_HEADING.search(sentence.section.heading) and sentence.section.kind != "grading" else 0
    score += 20 if OF_GRADE.match(after) else 0
    near = text[max(0, amount.start - 70) : amount.end + 50]
    score -= 40 if PENALTY.search(clause_around(text, amount.start, amount.end)) else 10 if PENALTY.search(near) else 0
    most_of = amount.unit == "points" and MOST_TO_EARN.search(before)
    score -= 30 if BOUND_BEFORE.search(before[-90:]) and not most_of else 0
    score -= 40 if NOT_OF_GRADE.match(after) or OWN_SHARE.search(near) else 0
    score -= 50 if RUBRIC.search(text) and not OF_GRADE.match(after) else 0
    score += 5 if GRADES.search(text) else 0
    score -= 40 if NEEDED_BEFORE.search(before) and not OF_GRADE.match(after) else 0
    score += 10 if re.search(r"\b(?:remaining|rest|other|last|final|additional) $", before) else 0
    if one.phrase is not None and not one.phrase.known:
        score -= 10
    return score - (20 if re.search(r"^if\b|\bif (?:you|your|a|the)\b", text) else 0)


def clause_around(text: str, start: int, end: int) -> str:
    """The stretch between the signs that end a clause around a place."""
    left = max(text.rfind(sign, 0, start) for sign in (", ", ";", ". ", ":", "(")) + 1
    right = min((n for sign in (", ", ";", ". ", ")") if (n := text.find(sign, end)) >= 0), default=len(text))
    return text[left:right]


def said_formula(page: Page) -> list[Said]:
    """Weights of a formula: each number with what it is multiplied by."""
    found: list[Said] = []
    for sentence in page.sentences:
        start = FORMULA.search(sentence.text)
        if start is None or "+" not in sentence.text:
            continue
        place = start.end()
        line_end = page.text.find("\n", sentence.start + place, sentence.end)
        formula = sentence.text[place : line_end - sentence.start if line_end >= 0 else len(sentence.text)]
        for piece in formula.split("+"):
            term = FORMULA_TERM.search(piece)
            name = clean(re.sub(r"^\W*[x*]\b|[()*]|\baverage of\b", " ", _without(piece, term))) if term else None
            if term and name and name.text:
                value = 100 * Fraction(term["part"]) if term["part"] else value_of(term["percent"])
                at = sentence.start + place
                found.append(Said(name.text, at, at + len(piece), value, False, name.number, False, 60))
            place += len(piece) + 1
    return found


LONGEST_LIST = 400
SLASHED = phrase(r"(?P<name>[a-z][a-z' -]{2,30}?) ?[:=-]? ?(?P<n>{number})%?(?= ?(?:/|$|[(.;,]))")


OF_ONE_PIECE = re.compile(
    r"\b(?:rubric|criteria)\b|"
    r"\b(?:each|every|an?) (?!course|class|final grade|grade)[a-z ]{2,30} (?:is|gets?|receives?|has|earns?) "
)
"""'Each report is graded on accuracy 40, legend 20, style 40': what one piece is made of."""


LED_TO_STROKES = re.compile(r"^[a-z ]{1,60}(?::| (?:is|are)(?: as follows)?:? (?=[a-z' -]{2,30} ?[:=] ?\d))")


def said_strokes(page: Page) -> list[Said]:
    """'Quizzes 10 / lab 40 / final 50 (percent)': names and bare numbers in one line that make up 100."""
    for sentence in page.sentences:
        if len(sentence.text) > LONGEST_LIST:
            continue
        if sentence.text.count("/") < 2 and sentence.text.count(",") < 2 and sentence.text.count(";") < 2:
            continue
        label = LED_TO_STROKES.match(sentence.text)
        if label and OF_ONE_PIECE.search(label[0]):
            continue
        found = []
        for match in SLASHED.finditer(sentence.text, label.end() if label else 0):
            name = clean(match["name"])
            place = sentence.start + match.start(), sentence.start + match.end()
            found.append(Said(name.text, *place, value_of(match["n"]), False, name.number, is_extra(match["name"]), 60))
        if len(found) > 2 and sum((said.amount or 0 for said in found), Fraction(0)) == 100:
            return found
    return []


TIMES_EACH = phrase(r"\b(?P<n>{number}) (?:[a-z-]+ )?(?:at|x|@) (?P<each>{number})")
AT_END = re.compile(rf"(?<!\S)({NUMBER})(?:{POINTS_WORD})?$")
STRETCH = re.compile(r"[^.]+")
WORDS_FIRST = re.compile(r"\W{0,6}[^,:;()\d]{3,50}")
FEWEST_LISTED = 3


def said_list(page: Page, totals: Collection[Fraction]) -> list[Said]:
    """'1,000 points: presentation, 250; paper, 200; two exams at 150 points, 300': a list that makes up a total."""
    stretches = (m for b in page.blocks if b.kind != "row" for m in STRETCH.finditer(page.flat, b.start, b.end))
    for match in stretches:
        colon = match[0].find(":")
        if match[0].count(";") < FEWEST_LISTED - 1 or len(match[0]) > 2 * LONGEST_LIST:
            continue
        found, place = [], colon + 1
        for piece in match[0][place:].split(";"):
            made = _listed_points(page, piece, match.start() + place)
            found += [made] if made is not None else []
            place += len(piece) + 1
        total = sum((said.whole or Fraction(0) for said in found), Fraction(0))
        if len(found) >= FEWEST_LISTED and total in totals:
            return found
    return []


def _listed_points(page: Page, piece: str, start: int) -> Said | None:
    bare = BRACKETED.sub("", piece).rstrip()
    amount, words = AT_END.search(bare), WORDS_FIRST.match(piece)
    value = value_of(amount[1]) if amount else None
    if words is None or value is None:
        return None
    name = clean(page.text[start : start + words.end()])
    times = TIMES_EACH.search(piece)
    count, each = (whole(times["n"]), value_of(times["each"])) if times else (name.number, None)
    several = each is not None and count is not None and each * count == value
    made = Said(
        name.text, start, start + len(piece), each if several else value, several, count, False, 60, unit="points"
    )
    return made if name.text else None


def _without(piece: str, term: re.Match[str]) -> str:
    after = piece[term.end() :]
    return after if re.search("[a-z]{2}", after) else re.sub(r"[x*\W]+$", "", piece[: term.start()])


def as_categories(found: Sequence[Said]) -> list[SaidCategory]:
    """Categories in order."""
    made: list[SaidCategory] = []
    for said in found:
        each = said.amount if said.each and said.unit == "points" else None
        made.append(
            SaidCategory(
                "Extra credit" if said.extra and is_extra(said.name.lower()) else said.name,
                said.whole if said.unit == "weight" else None,
                said.whole if said.unit == "points" else None,
                said.count, each, extra=said.extra, start=said.start, end=said.end,
            )
        )  # fmt: skip
    return made
