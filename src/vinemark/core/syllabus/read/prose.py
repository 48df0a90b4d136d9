"""Categories from sentences.

'Homework is worth 20%', 'each of the three midterms counts 15%', 'a fifth comes from the log'.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import NamedTuple

from vinemark.core.syllabus.facts import SaidCategory
from vinemark.core.syllabus.read.layout import Page, Sentence
from vinemark.core.syllabus.read.naming import BRACKETS, clean, is_extra, mentioned
from vinemark.core.syllabus.read.normal import (
    MARKS,
    NUMBER,
    NUMBER_WORD,
    PART,
    PERCENT_SIGN,
    POINTS_WORD,
    part_of,
    phrase,
    value_of,
    whole,
)

OF_GRADE = (
    r"(?:(?: toward(?:s)?| of| to| in| for)? ?(?:the |your |their )?(?:(?:course|final|"
    r"overall|total|semester|term|class|whole|entire)(?:'s)? ){0,2}"
    r"(?:grades?|marks?|averages?|total)\b| of (?:it|this|the whole)\b)"
)
AMOUNT = re.compile(
    rf"(?P<percent>{NUMBER}){PERCENT_SIGN}(?P<of>{OF_GRADE})?|"
    rf"(?P<part>{PART})(?P<of2>{OF_GRADE})|(?P<bare>{PART})(?= (?:comes |is |goes )?(?:from|"
    rf"for|to|is)\b)|(?:(?<=\bis )|(?<=\bare )|(?<= up )|(?<=count )|(?<=counts )|(?<=worth )|"
    rf"(?<= for )|(?<=brings ))(?P<bare2>{PART})(?=[,.;]| and )"
)
POINTS_AMOUNT = re.compile(rf"(?P<points>{NUMBER}){POINTS_WORD}(?P<each> ?(?:each|apiece|a piece|per [a-z-]+))?")
FOR_EACH = re.compile(r"^ ?(?:of [a-z ]{3,30}? )?(?:each|apiece|a piece|per [a-z]+)\b")
WEIGHS = re.compile(
    r"\b(?:is|are|will be|be|counts?|counting|counted|worth|makes? up|making up|carr(?:y|ies)|"
    r"contributes?|contributing|accounts?(?: for)?|brings?|"
    r"forms?|constitutes?|represents?|weighs?|weighed|weighted|determines?|comprises?|earns?|"
    r"gives?|adds?|gets?|stands? for|is set at|good for|good|for|at|decides?)\b"
)
COMES_FROM = re.compile(
    r"^(?:,|:| -)? ?(?:(?:i|we) (?:give|award|keep|reserve) (?:for|to)|"
    r"(?:will )?(?:comes?|derives?|be (?:based|drawn)|is|are|will be|goes|"
    r"depends?|rests?) ?(?:from|to|on|based on|taken from|drawn from|"
    r"determined by|earned (?:by|for|with|through))?|for|from|on|goes to|by way of|through) "
)
# 'You earn 35 percent of it with the five repair jobs'
BY_WAY = re.compile(r"^ (?:with|by) (?!the (?:lowest|worst|best|top|two|three)|each)")
NOT_A_WEIGHT = re.compile(
    r"\blate\b|\bloses?\b|\blose\b|\blost\b|penalt|deduct|\btak(?:e|en) off\b|\boff\b|"
    r"\bper day\b|\ba day\b|each day|\bat least\b|\bat most\b|or better\b|or higher\b|"
    r"or more\b|"
    r"\bfewer\b|\bmore than\b|less than|\b(?:below|above|under|over) (?:an? |the )?\d|"
    r"\bpass(?:es|ed|ing)?\b(?! ?/)|of the (?:class|students|people|time|questions|points|"
    r"meetings|sessions|lectures|term|exam|paper|book|"
    r"hours|recitations|evenings|problems|course is|score|credit)|of (?:its|their|this|that|"
    r"an?) |plagiar|cheat|attendance of|must attend|"
    r"discount|round|last (?:year|term)|about \d+ ?%|around \d|roughly|yield|accura|confiden|"
    r"\bif\b|cut by|reduc|halv|of each (?:exam|report|paper)|of all"
)
LATE_ONLY = re.compile(
    r"\blate\b|\bloses?\b|penalt|deduct|\bif\b|per day|a day\b|\bpass\b|at least|discount|last (?:year|term)"
)
REST = re.compile(
    r"\b(?:the )?(?:rest|remainder|remaining(?: part)?|other half|balance)\b(?! of the (?:term|class|exam))"
)
LEADS_IN = re.compile(
    r"\b(?:based on|consists? of|made up of|composed of|comprised of|comes? from|"
    r"determined by|evaluated (?:through|by|on|from|with)|assessed (?:through|by|on|from|"
    r"with)|graded (?:through|by|on|from)|calculated from|computed from|worked out from|"
    r"the sum of|broken down into|includes?|as follows)\b"
)
RELATIVE = re.compile(r"^\s*(?:which|who|that|where)\b")
# 'Final grade = 0.4 x (average of projects) + 0.3 x (sketchbook)'
FORMULA = re.compile(r"(?:grade|mark|average|score) ?= ?(?=[.\d])")
FORMULA_TERM = re.compile(rf"(?P<percent>{NUMBER}{PERCENT_SIGN})|(?P<part>0?\.\d+)", re.I)
SUBORDINATE = re.compile(
    r"^\s*(?:equally|evenly|unequally|weighted|taken|together|which|who|that|where|when|given|held|due|in|on|at|during|covering|usually|mostly|"
    r"always|each|all|both|including|written|taken|"
    r"spread|one|two|about|with|after|before|as|so|from|not|than|but not|each of them|based|of which|of equal)\b"
)
WORK = re.compile(
    r"homework|quiz|exam|midterm|final|test|paper|essay|project|\blab|report|particip|attend|"
    r"discuss|present|portfolio|journal|problem|reading|"
    r"recitation|assignment|\blogs?\b|notebook|perform|respon|sketch|practical|workshop|"
    r"exercise|drill|poster|critique|review|memo|brief|"
    r"worksheet|check|set|field|studio|card|survey|draft|speech|debate|thesis|write|written|"
    r"oral|case|clinic|jury|recital|piece|map|talk|"
    r"blog|post|reflection|module|program|coding|design|exhibit|book|film|hearing|concert|"
    r"interview|proposal|practice|engagement|work|preparation"
)


@dataclass
class Said:
    """A category as one sentence says it."""

    name: str
    start: int
    end: int
    amount: Fraction | None
    each: bool
    count: int | None
    extra: bool
    sure: bool
    rest: bool = False
    unit: str = "weight"
    of_grade: bool = False
    """Whether it is said to be of the grade, in so many words."""

    @property
    def whole(self) -> Fraction | None:
        """The whole category's amount."""
        return self.amount * (self.count or 1) if self.amount is not None and self.each else self.amount


def said_weights(page: Page) -> list[Said]:
    """Every weight that a sentence gives to some work, in the order of the text."""
    found: list[Said] = []
    before = ""
    for sentence in page.sentences:
        if sentence.section.kind not in {"calendar", "rubric"} and sentence.kind != "row":
            found += [_named_before(said, before) for said in _weights(sentence) or _slashed(sentence)]
            before = sentence.text
    return found


PRONOUN = re.compile(r"^(?:together )?(?:they|these|those|them)(?: together)?$", re.I)
# 'There are response papers: eight of them'
SUBJECT_FIRST = phrase(
    r"(?:there are|you write|we have) (?P<what>[a-z][a-z ]{2,30}?)[:,] (?P<n>{number}) of (?:them|these)"
)
SUBJECT = phrase(
    r"(?P<n>{number}) (?P<what>(?!of|points?|percent|pages?|minutes?|weeks?)[a-z][a-z-]+(?: [a-z][a-z-]+){0,2})"
)


def _named_before(said: Said, before: str) -> Said:
    """'You pull five editions. Together they are worth half': they are what the sentence before counted."""
    first = SUBJECT_FIRST.search(before)
    counted = ([first] if first else list(SUBJECT.finditer(before))) if PRONOUN.match(said.name) else []
    if not counted:
        return said
    return replace(said, name=clean(counted[-1]["what"]).text, count=whole(counted[-1]["n"]), sure=True)


SLASHED = re.compile(rf"(?P<name>[a-z][a-z' -]{{1,30}}?) (?P<n>{NUMBER})(?= */|\W*\(?(?:percent|%)|[.;]|$)")


def _slashed(sentence: Sentence) -> list[Said]:
    """'quizzes 10 / lab 40 / final 50 (percent)': numbers between strokes that make up 100."""
    if sentence.text.count("/") < 2:
        return []
    label = re.match(r"^[a-z ]+:", sentence.text)
    start = label.end() if label else 0
    found = []
    for match in SLASHED.finditer(sentence.text, start):
        name = clean(match["name"])
        place = sentence.start + match.start(), sentence.start + match.end()
        found.append(Said(name.text, *place, value_of(match["n"]), False, name.number, False, True))
    return found if sum((said.amount or 0 for said in found), Fraction(0)) == 100 else []


class Amount(NamedTuple):
    """A percentage in a sentence: its place, its value, whether it is said to be of the grade, and of how many items.

    '20%, 20% and 30%' is one amount of three items; '3 x 20%' is 20 for each of three.
    """

    start: int
    end: int
    value: Fraction
    of_grade: bool
    listed: int = 1
    times: int | None = None


def _weights(sentence: Sentence) -> list[Said]:
    text = sentence.text
    amounts = _amounts(text)
    rest = REST.search(text)
    found: list[Said] = []
    edge = 0
    for place, amount in enumerate(amounts):
        following = amounts[place + 1].start if place + 1 < len(amounts) else len(text)
        said = _one(sentence, amount, edge, following)
        edge = said.end - sentence.start if said else amount.end
        if said:
            found.append(said)
    unsaid = rest and not any(s.start <= sentence.start + rest.start() <= s.end for s in found)
    if rest and unsaid and "%" not in text[rest.end() : rest.end() + 20]:
        found += _the_rest(sentence, rest)
    return found


def _amounts(text: str) -> list[Amount]:
    """The amounts of a sentence that can be weights, those of one list taken together."""
    found: list[Amount] = []
    for match in AMOUNT.finditer(text):
        value = value_of(match["percent"]) if match["percent"] else _percent_of_part(_part_in(match))
        if value is not None and 0 < value <= 100 and _may_be_weight(text, match):
            times = re.search(rf"({NUMBER}) ?(?:x|@|times|at) ?$", text[max(0, match.start() - 40) : match.start()])
            amount = Amount(
                match.start(), match.end(), value, _of_grade(match), times=whole(times[1]) if times else None
            )
            listed = found and re.fullmatch(r",? ?(?:and|or|,|/)? ?", text[found[-1].end : amount.start])
            if listed and text[found[-1].end : amount.start].strip():
                last = found.pop()
                amount = Amount(last.start, amount.end, last.value + value, amount.of_grade, last.listed + 1)
            found.append(amount)
    return sorted([*found, *_unmarked(text, found)]) if found else []


def _part_in(match: re.Match[str]) -> str:
    return match["part"] or match["bare"] or match["bare2"]


def _of_grade(match: re.Match[str]) -> bool:
    return bool(match["of"] or match["of2"] or match["bare"] or match["bare2"])


def _unmarked(text: str, found: Sequence[Amount]) -> list[Amount]:
    """'Papers are good for ten percent, and the debate for ten': a number that goes on without its sign."""
    made = []
    for match in re.finditer(rf"\b(?:for|at|counts?) ({NUMBER})(?=[.,;)]| and |$)", text):
        value = value_of(match[1])
        after_one = any(a.end <= match.start() for a in found) and not any(
            a.start <= match.start(1) < a.end for a in found
        )
        if after_one and value is not None and 0 < value < 100:
            made.append(Amount(match.start(1), match.end(1), value, False))
    return made


def _may_be_weight(text: str, match: re.Match[str]) -> bool:
    """Whether an amount can be a weight by the words of its own clause."""
    if (match["bare"] or match["bare2"]) and not re.search(rf"{PART}{OF_GRADE}|{NUMBER}{PERCENT_SIGN}", text):
        return _stands_for_another(match)
    left = max(text.rfind(c, 0, match.start()) for c in (";", ":")) + 1
    right = min([n for c in (";",) if (n := text.find(c, match.end())) >= 0], default=len(text))
    if _of_grade(match):
        return not LATE_ONLY.search(text[left:right])
    near = text[max(left, match.start() - 60) : min(right, match.end() + 45)]
    return not NOT_A_WEIGHT.search(near)


def _stands_for_another(match: re.Match[str]) -> bool:
    """'count another fifth': it goes on from a sentence before."""
    return _part_in(match).strip().startswith("another")


def _one(sentence: Sentence, amount: Amount, edge: int, following: int) -> Said | None:
    text = sentence.text
    left, right = text[edge : amount.start], text[amount.end : following]
    named = _named_right(left, right, amount.end) or _named_left(left, edge)
    if named is None:
        return None
    words = text[named[0] : named[1]]
    name = clean(words)
    if not re.search("[a-z]{3}", name.text.lower()) or len(name.text.split()) > 7:
        return None
    last = max(named[1], amount.end)
    around = text[max(0, named[0] - 30) : min(len(text), last + 60)]
    extra = is_extra(around) or bool(re.search(r"on top of|additional|beyond the 100", text[edge:following]))
    count = name.number or _count_left(left) or amount.times
    return Said(
        name.text,
        sentence.start + min(named[0], amount.start),
        sentence.start + last,
        amount.value,
        amount.times is not None or _for_each(text[edge : amount.start], right),
        count if amount.listed == 1 else amount.listed,
        extra,
        amount.of_grade or bool(WORK.search(words)),
        of_grade=amount.of_grade,
    )


def _for_each(left: str, right: str) -> bool:
    """Whether an amount is each one's: '15% each', 'each of the three midterms counts 15%'."""
    if FOR_EACH.match(right) or re.match(r"^,? ?(?:each|apiece)\b", right):
        return True
    together = re.search(r"\btogether\b|in all", left + right)
    return bool(re.search(r"\beach\b|\bevery\b", left)) and not together


def _count_left(left: str) -> int | None:
    """'each of the three midterms', 'there are three midterms, each worth'."""
    found = re.search(rf"each of (?:the |your )?({NUMBER_WORD}|\d+)\b", left)
    return whole(found[1]) if found else None


def _percent_of_part(text: str) -> Fraction | None:
    found = part_of(text)
    return None if found is None else 100 * found


def _named_right(left: str, right: str, end: int) -> tuple[int, int] | None:
    """The words after the amount, where they name the work: '30% comes from homework', '20% homework'."""
    comes = COMES_FROM.match(right) or BY_WAY.match(right)
    starts = not re.search(
        "[a-z]{2}",
        re.sub(
            r"\b(?:and|the|another|a|an|of|your|for|then|with|grade|plus|count|remaining|other|last|final|course)\b",
            "",
            left,
        ),
    )
    if comes is None and not (starts and re.match(r" ?(?:of )?[a-z(]", right)):
        return None
    if (
        comes is not None
        and not starts
        and re.match(r"^,? ?(?:for|on) ", right)
        and re.search(rf"{WEIGHS.pattern}\W*$", left)
    ):
        return None
    begin = comes.end() if comes else 0
    stop = re.search(
        r",(?! and [a-z]+ (?:together|$))| and (?:the |another |a |an )?(?:remaining |other |"
        r"last |final )?(?:\d|[a-z]+ ?(?:%|percent))|[.;:(]| - |, that is|, which| which |"
        r" that (?:you|we|is)|$",
        right[begin:],
    )
    piece = right[begin : begin + (stop.start() if stop else len(right))]
    return (end + begin, end + begin + len(piece)) if re.search("[a-z]{3}", piece) else None


def _named_left(left: str, edge: int) -> tuple[int, int] | None:
    """The words before the amount: the subject of 'is worth', or what stands right before it."""
    masked = BRACKETS.sub(lambda m: " " * len(m[0]), left)
    masked = re.sub(r"^[^()]*\)", lambda m: " " * len(m[0]), masked)
    masked = re.sub(r"\(\W*(?:worth |counts? )?$", lambda m: " " * len(m[0]), masked)
    # A colon or dash that introduces a list: the name stands after it.
    cut = max(masked.rfind(":", 0, max(0, len(masked) - 3)), masked.rfind(" - ", 0, max(0, len(masked) - 4)))
    leads = [m.end() - 1 for m in LEADS_IN.finditer(masked)]
    cut = max([cut, *leads])
    offset = cut + 1 if cut >= 0 and re.search("[a-z]{3}", masked[cut + 1 :]) else 0
    pieces: list[tuple[int, int]] = []
    begin = offset
    for mark in re.finditer(
        r",(?= )|;|\.(?= )| and (?=(?:each|the|a|an|your|two|three|four|five|six|seven|eight|ten|another)\b)|^ ?and ",
        masked[offset:],
    ):
        pieces.append((begin, offset + mark.start()))
        begin = offset + mark.end()
    pieces.append((begin, len(masked)))
    relative = next((n for n, piece in enumerate(pieces) if n and RELATIVE.match(masked[slice(*piece)])), len(pieces))
    for start, end in reversed(pieces[:relative]):
        piece = masked[start:end]
        words = re.sub(
            rf"{WEIGHS.pattern}|{MARKS['number']}|\b(?:the|a|an|each|up|to|only|also|another|and|"
            rf"together|will|of|them|these|they|it|both|all|you|i|we|remaining|rest)\b",
            " ",
            piece,
        )
        if re.search("[a-z]{3}", words) and not (
            SUBORDINATE.match(piece)
            and (start, end) != pieces[0]
            and not piece.lstrip().startswith(("each of the", "two ", "with"))
        ):
            return edge + start, edge + end
    pronoun = re.search(r"\b(?:they|these|those)\b", masked)
    return (edge + pronoun.start(), edge + pronoun.end()) if pronoun else None


def _the_rest(sentence: Sentence, rest: re.Match[str]) -> list[Said]:
    """'The rest is participation', without a number."""
    after = sentence.text[rest.end() :]
    comes = re.match(
        r"(?: of (?:the|your) (?:course |final |overall )?(?:grade|mark|"
        r"points))? (?:(?:will )?(?:comes?|is|are|goes|be|depends?|will be)) ?(?:from|to|for|on|"
        r"your|based on)? ?",
        after,
    )
    if not comes:
        return []
    stop = re.search(r"[,.;:(]| which | that ", after[comes.end() :])
    piece = after[comes.end() : comes.end() + (stop.start() if stop else len(after))]
    name = clean(piece)
    if not WORK.search(piece) or len(name.text.split()) > 6:
        return []
    start = sentence.start + rest.start()
    return [
        Said(
            name.text,
            start,
            sentence.start + rest.end() + comes.end() + len(piece),
            None,
            False,
            name.number,
            False,
            True,
            True,
        )
    ]


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
            name = clean(re.sub(r"^\W*x\b|[()*]|\baverage of\b", " ", piece[term.end() :])) if term else None
            if term and name and name.text:
                value = 100 * Fraction(term["part"]) if term["part"] else value_of(term["percent"])
                at = sentence.start + place
                found.append(Said(name.text, at, at + len(piece), value, False, name.number, False, True))
            place += len(piece) + 1
    return found


LABEL_ONLY = re.compile(r"^(?:course )?(?:points|grad(?:es?|ing)|assessment|evaluation|weights?|scoring|marks?)$")
LABELLED = phrase(
    r"^(?P<name>[a-z][a-z' -]{2,40}): (?P<n>{number})(?: [a-z][a-z -]{2,30})?,? (?:at |worth |of )?"
    r"(?P<each>{number})(?: ?(?:points?|pts?\.?|marks?)) (?:each|apiece)"
)


def said_points(page: Page) -> list[Said]:
    """Every amount of points that a sentence gives to some work."""
    found: list[Said] = []
    for sentence in page.sentences:
        if sentence.section.kind in {"calendar", "rubric"} or sentence.kind == "row":
            continue
        found += _points(sentence)
    return found


def _points(sentence: Sentence) -> list[Said]:
    text = sentence.text
    labelled = LABELLED.match(text)
    if labelled and not LABEL_ONLY.search(labelled["name"]):
        label = clean(labelled["name"]).text
        return [Said(label, sentence.start, sentence.start + labelled.end(), value_of(labelled["each"]), True,
                     whole(labelled["n"]), False, True, unit="points")]  # fmt: skip
    amounts = [m for m in POINTS_AMOUNT.finditer(text) if not _not_points(text, m)]
    found: list[Said] = []
    edge = 0
    for match in amounts:
        if not value_of(match["points"]):
            continue
        left = text[edge : match.start()]
        total = re.match(
            rf",? ?(?:that (?:is|makes)|which (?:is|makes)|for a total of|or|=|making|so|i\.e\.,?|"
            rf"for) (?:a total of )?({NUMBER})\b(?! ?%)",
            text[match.end() :],
        )
        named = _named_left(left, edge)
        edge = match.end() + (total.end() if total else 0)
        if named is None:
            continue
        words = text[named[0] : named[1]]
        name = clean(words)
        if not re.search("[a-z]{3}", name.text.lower()) or len(name.text.split()) > 6 or not WORK.search(words):
            continue
        each = bool(match["each"]) or bool(re.search(r"\beach\b|\bat\W*$", left)) or (bool(total) and bool(name.number))
        each = each or bool(name.number and name.number > 1 and re.search(r"\bof\W*$", left))
        place = sentence.start + named[0], sentence.start + edge
        count = name.number or _count_left(left)
        found.append(
            Said(name.text, *place, value_of(match["points"]), each, count, is_extra(text), True, unit="points")
        )
    return found


def _not_points(text: str, match: re.Match[str]) -> bool:
    near = text[max(0, match.start() - 50) : match.end() + 30]
    return bool(
        re.search(
            r"\blate\b|\bloses?\b|\boff\b|deduct|penalt|absen|and up\b|and above|or more|fewer|"
            r"less than|at least|the term comes|in all|total of \d|percentage$|"
            r"out of|\bif\b|it says|last year|ignore that|(?:is|are|gets?|earns?|for) an? [a-df]\b",
            near,
        )
        or re.match(r" percentage|-point", text[match.end() - 1 :])
    )


def as_categories(found: Sequence[Said]) -> list[SaidCategory]:
    """Categories in order, a name said twice taken once."""
    made: list[SaidCategory] = []
    for said in found:
        like = next((c for c in made if c.name.lower() == said.name.lower()), None)
        if like is not None or (mentioned(said.name, made) and said.name.lower() in [c.name.lower() for c in made]):
            continue
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
