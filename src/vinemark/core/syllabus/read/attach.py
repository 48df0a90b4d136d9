"""Amounts joined to names within a sentence: every amount is tried with the names on both sides of it."""

import re
from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from vinemark.core.syllabus.read.lexicon import is_stop
from vinemark.core.syllabus.read.mentions import BRACKETED, OF_GRADE, OF_WORDS, Amount, WorkName, amounts, phrases
from vinemark.core.syllabus.read.normal import NUMBER, phrase, value_of, whole

WEIGHS = re.compile(
    r"\b(?:is|are|will be|counts?|counted|counting|worth|makes?(?: up)?|making up|carr(?:y|ies)|brings?|"
    r"contributes?|accounts?|weighs?|earns?|supplies|supply|adds?|forms?|represents?|comprises?|constitutes?|gives?|"
    r"gets?|has|have|provides?|yields?|totals?|equals?|amounts? to|adds? up to|delivers?|bears?|stands? (?:for|"
    r"at)|sits? at|runs? to|weighs? in|is good for|determines?|decides?|being|comes? to|takes?)\b"
    r"(?: (?:for|in|with|worth|up|to|as|only|about|exactly|you|together|another|also|a total of|the|both|all|just|"
    r"roughly|in total|altogether|another|further|remaining|other|last|final|an?|additional|equal to|counted|weighted|"
    r"set|at|an? (?:[a-z]+ )?(?:weight|share|value|total|part) of))*\W*$|\b(?:gone|went|going|raised|moved|"
    r"rises?|rose|risen|increased|lowered|drops?|dropped|shrinks?|shrunk|grown|grew|"
    r"changed)\b[^.;]{0,40} to (?:only )?$"
)
TIMES_BEFORE = phrase(r"(?<![\d.])(?P<n>{number}) ?(?:x|@|times|\*) ?$")
OF_THEM = phrase(
    r"\b(?P<n>{number}) of (?:them|these|which|those)\b,?(?: (?:at|worth|for|counting|with|scored|"
    r"carrying))?(?: out of)?\W*$"
)
PRONOUN = re.compile(
    r"\b(?P<word>they|these|those|it|this|both|together|which|that|all|each one|every one|each|(?:a|each|every) "
    r"(?:[a-z]+ )?one)\b(?: of (?:them|these|which))?(?: (?:together|all|both|each|will|alone|do|does))*\W*$"
)
RIGHT = re.compile(
    rf"(?P<of>{OF_WORDS})?[,:]?(?P<verb> ?(?:(?:will|that) )?\b(?:is|are|be|comes?|goes|go|depends?|"
    rf"rides?|rests?|"
    r"hangs?|derives?|will|of this|of it|set aside|reserved|awarded|given|earned|based|determined|decided))*"
    r"(?P<preposition> ?\b(?:for|from|on|to|by|through|upon|in|with|of|around))?(?: ?[:-])?(?: (?:how well you "
    r"do on|what you do in|"
    r"doing|writing|completing|taking|your performance (?:on|in)|the work on|the strength of))?"
    r"(?: ?(?:the |your )?(?:best|top|highest) (?:\d+|[a-z]+) (?:out )?of)?"
    r"(?P<article>(?:,? (?:the|your|a|an|our|all|each|both|my|of|these|those|every)\b)*) ?\(?"
)
TOTAL_WORDS = re.compile(
    r"^\W*(?:of (?:the|your) (?:course |final |total )?(?:grade|mark) )?(?:in (?:all|total)|together|altogether|"
    r"combined|total|all told|"
    r"between them|for (?:all|both|the set)|taken together|as a whole)\b"
)
TOTAL_BEFORE = re.compile(
    r"\b(?:together|altogether|combined|in all|in total|between them|both count|all told|as a group|collectively|"
    r"jointly)\b[^.:;)]{0,40}$"
)
EACH_AFTER = re.compile(
    r"^(?:,? of (?:the|your) [a-z ]{0,16}?(?:grade|mark|total))?,? ?\(?(?:each|apiece|a piece|per (?!cent|day|"
    r"week|hour|class|absence)[a-z-]+|for each|to each|every one|"
    r"for every|a (?:quiz|paper|test|lab|set|report|essay|entry|exam|speech|project|sheet|check|brief|memo))\b"
)
EACH_BEFORE = re.compile(
    r"(?<!page )(?<!pages )(?<!words )(?<!minutes )(?<!hours )\b(?:each|every|apiece)\b[^.;,]{0,40}$|\bx ?$|\btimes\W*$"
)


AT = re.compile(r"\bat\W*$")


@dataclass(frozen=True)
class Joined:
    """An amount with the name it belongs to; no name where a pronoun stands for it."""

    amount: Amount
    phrase: WorkName | None
    each: bool
    total: bool
    score: int
    """Evidence in tenths: how surely the name is the amount's."""
    count: int | None = None
    pronoun: bool = False


def joined(text: str, glossary: Collection[str] = (), in_points: bool = False, in_parts: bool = False) -> list[Joined]:
    """The amounts of a sentence in small letters with what they are of, best choice for all together.

    `in_points`: the sentences beside it speak of points, so that its bare numbers may be points too; `in_parts`: one
    before it shares the grade out in halves and quarters.
    """
    names = phrases(text, glossary)
    found = _without_parts(text, amounts(text, in_points, in_parts), names)
    names = [_before_amount(text, name, found) for name in names]
    names = [*names, *_gerunds(text, found), *_ordinals(text, found)]
    result: list[Joined] = []
    for unit in ("weight", "points"):
        own = [a for a in found if a.unit == unit]
        result += _best(text, names, own, found)
    if not result and len(found) == 1 and (_stands_alone(text, found[0]) or (not names and _for_all(text, found[0]))):
        result = [_made(text, found[0], None, 20, pronoun=True)]
    wider = [_with_partner(text, names, one) for one in result]
    wider = [both for one in wider for both in _to_both(text, names, one)]
    wider = [shared for one in wider for shared in _shared_evenly(text, names, one)]
    return sorted((j for one in wider for j in _apart(text, names, one)), key=lambda j: j.amount.start)


def _stands_alone(text: str, amount: Amount) -> bool:
    return AMOUNT_ALONE.fullmatch(text[: amount.start] + text[amount.end :]) is not None


def _for_all(text: str, amount: Amount) -> bool:
    """'I count the best four, for a total of 40% of the grade', of what was spoken of before."""
    return FOR_ALL.search(text[: amount.start]) is not None and OF_GRADE.match(text[amount.end :]) is not None


FOR_ALL = re.compile(r"\bfor (?:a total of |altogether |in all )?$")


def _without_parts(text: str, found: list[Amount], names: Sequence[WorkName]) -> list[Amount]:
    """'150 points from the trip: 100 for the report, 50 for coming along': what is behind the colon is inside, but not
    where the whole is of several works: 'forty percent for exercises and tests: the exercises 15, the tests 25'."""
    for place, one in enumerate(found):
        inner = [a for a in found[place + 1 :] if a.unit == one.unit]
        colon = text.find(":", one.end, inner[0].start) if inner else -1
        numbers = [value_of(m[0]) or 0 for m in A_NUMBER.finditer(text, colon)] if colon >= 0 else []
        if len(numbers) > 1 and sum(numbers) == one.value:
            several = sum(p.known and one.end <= p.start and p.end <= colon for p in names) > 1
            return [a for a in found if (a is not one if several else a not in inner)]
    return found


def _before_amount(text: str, name: WorkName, found: Sequence[Amount]) -> WorkName:
    """'The commentaries 25': a name without the number that is its amount."""
    inner = next((a for a in found if name.start < a.start < name.end), None)
    if inner is None:
        return name
    words = text[name.start : inner.start].rstrip()
    return replace(name, end=name.start + len(words), text=words)


A_NUMBER = re.compile(NUMBER)
EVENLY = re.compile(
    r",? ?(?:(?:is|are|will be|gets?) )?(?:split|divided|shared|distributed) (?:up )?(?:evenly|equally|in half|"
    r"in equal parts)? ?"
    r"(?:between|among|over|into) "
)
JOINED_BY = re.compile(r" and (?:the |your |a |an )?")


def _to_both(text: str, names: Sequence[WorkName], one: Joined) -> list[Joined]:
    """'The midterm and the final are 15% each': the amount is of each of two names."""
    named = one.phrase
    if named is None or not one.each or one.count or not named.known or named.each or named.end > one.amount.start:
        return [one]
    first = next((p for p in names if p.known and not p.count and JOINED_BY.fullmatch(text, p.end, named.start)), None)
    if first is None or not re.fullmatch(r"[a-z ,]{0,30}", text[named.end : one.amount.start]):
        return [one]
    return [replace(one, phrase=first, each=False), replace(one, each=False)]


LIST_SIGN = re.compile(r"\W*(?:and |or )?(?:the |your |a |an |my )?\W*")


def _shared_evenly(text: str, names: Sequence[WorkName], one: Joined) -> list[Joined]:
    """'The remaining 30% are split evenly between a notebook and a diary': to each its part."""
    led = EVENLY.match(text, one.amount.end)
    listed: list[WorkName] = []
    place = led.end() if led else len(text)
    for named in sorted((p for p in names if p.start >= place), key=lambda p: p.start):
        if LIST_SIGN.fullmatch(text, place, named.start):
            listed.append(named)
            last = len(listed) > 1 and re.search(r"\b(?:and|or)\b", text[place : named.start])
            place = len(text) if last else named.end
    if len(listed) < 2 or one.amount.value is None:
        return [one]
    part = replace(one.amount, value=one.amount.value / len(listed), parts=())
    score = max(one.score, 25)
    return [Joined(part, named, False, False, score, named.count) for named in listed]


AMOUNT_ALONE = re.compile(
    r"\W{0,12}(?:(?:its|their|the) (?:weight|share|value|worth)"
    r"(?: (?:in|of|toward) (?:the |your )?(?:(?:course|final) )?grade)? (?:is|are)|"
    r"(?:for|with) (?:this|these|it|them|that) (?:you|one) (?:can )?(?:gets?|earns?)|"
    r"i count (?:it|them|this)(?: as| for)?|weight|value|worth|share)?\W{0,12}"
    r"(?:of (?:the|your) (?:final |course )?grade|in all|together|total|each|apiece|a piece)?\W{0,12}"
)
"""'Its weight is 20%', 'for these you get 30%', '25% of the grade': of what was named before."""
PARTNER = re.compile(r"(?:,? and | ?& ?| ?/ ?)(?:class )?")


def _with_partner(text: str, names: Sequence[WorkName], one: Joined) -> Joined:
    """'Attendance and participation' is one name where only one amount follows or leads."""
    named = one.phrase
    if named is None or one.each or named.count or one.amount.parts:
        return one
    for other in names:
        first, second = (named, other) if other.start > named.start else (other, named)
        if (
            first is second
            or not (first.known and second.known)
            or other.count
            or not PARTNER.fullmatch(text, first.end, second.start)
        ):
            continue
        between = text[second.end : one.amount.start] if second.end <= one.amount.start else ""
        if (one.amount.end <= first.start and CLOSED.match(text, second.end)) or (
            second.end <= one.amount.start and not re.search(r"\d", between)
        ):
            return replace(one, phrase=WorkName(first.start, second.end, text[first.start : second.end], None, True))
    return one


CLOSED = re.compile(r"\W*(?:$|[.,;)(])")


def _apart(text: str, names: Sequence[WorkName], one: Joined) -> list[Joined]:
    """'Homework, quizzes and exams count 20%, 30% and 50%': as many names as amounts."""
    parts, named = one.amount.parts, one.phrase
    if not parts or named is None:
        return [one]
    pieces = [named] if " and " not in named.text else _pieces(named)
    before = [p for p in names if p.end <= one.amount.start and p.known and p is not named] + pieces
    run = before[-len(parts) :]
    listed = len(run) == len(parts) and all(
        re.fullmatch(r",? ?(?:and )?(?:the |your |a |an )?", text[a.end : b.start]) for a, b in pairwise(run)
    )
    if listed and pieces[-1] in run:
        amounts_apart = [replace(one.amount, value=value, parts=()) for value in parts]
        return [replace(one, phrase=p, amount=a, count=p.count) for p, a in zip(run, amounts_apart, strict=True)]
    return [replace(one, total=True, each=False)]


def _pieces(named: WorkName) -> list[WorkName]:
    """'Midterm and final exams', where each of them has its amount."""
    first, _, second = named.text.partition(" and ")
    place = named.start + len(first)
    return [
        replace(named, end=place, text=first, count=None),
        replace(named, start=place + len(" and "), text=second, count=None),
    ]


def _best(text: str, names: Sequence[WorkName], own: Sequence[Amount], every: Sequence[Amount]) -> list[Joined]:
    """One option for each amount so that no name is used twice; the highest sum wins."""
    best: list[tuple[int, list[Joined]]] = [(0, [])]
    for place, amount in enumerate(own):
        left = own[place - 1].end if place else 0
        right = own[place + 1].start if place + 1 < len(own) else len(text)
        options = [
            *_anywhere(text, names, amount),
            *_left(text, names, amount, left, len(own) == 1),
            *_right(text, names, amount, right),
        ]
        grown = [(score, kept) for score, kept in best]
        for score, kept in best:
            for option in options:
                if option.phrase is None or all(k.phrase is not option.phrase or k.each != option.each for k in kept):
                    grown.append((score + option.score + 10, [*kept, option]))
        best = sorted(grown, key=lambda b: -b[0])[:12]
    return best[0][1]


GERUND = re.compile(
    r"(?:(?<=\bfor )|(?<=\bby )|(?<=percent is )|(?<=% is ))[a-z]+ing (?:the |your |a |in |on |up |out )?"
    r"[a-z][a-z -]{2,40}(?=[,.;:(]|$)|what "
    r"(?:you [a-z]+|happens|goes on|we do) [a-z -]{2,30}?(?=[,.;:(]| is | counts?)"
)


def _gerunds(text: str, found: Sequence[Amount]) -> list[WorkName]:
    """'For keeping the studio in order', 'what you do in the room': a doing in place of a name."""
    doings = GERUND.finditer(text) if found else ()
    return [WorkName(m.start(), m.end(), m[0], known=text.endswith("is ", 0, m.start())) for m in doings]


_SAID_OF_IT = (
    r"(?= (?:\(|is\b|are\b|was\b|will\b|counts?\b|counting\b|worth\b|makes?\b|carries\b|brings\b|at\b|for\b|"
    r"earns\b|adds\b)|[,:(])"
)
ORDINAL = re.compile(
    r"(?<=\bthe )(?P<which>first|second|third|fourth|fifth|sixth|last|other)"
    rf"(?: (?P<n>two|three|four|five|six)(?:(?= \d)|{_SAID_OF_IT})|(?: one)?{_SAID_OF_IT}|"
    r"(?<!other)(?<!last)(?= \d{1,2}%?[,.;]))"
)


def _ordinals(text: str, found: Sequence[Amount]) -> list[WorkName]:
    """'The first is short and counts for 15%; the second counts for 25%': one of the work spoken of."""
    every = ORDINAL.finditer(text) if found else ()
    return [WorkName(m.start(), m.end(), m["which"], whole(m["n"] or "one"), known=True) for m in every]


FARTHEST = 90


def _anywhere(text: str, names: Sequence[WorkName], amount: Amount) -> list[Joined]:
    """Any known name of the sentence, where nothing speaks for another: a whole that adds up may want it."""
    near = [p for p in names if p.known and abs(p.start - amount.start) < FARTHEST]
    near.sort(key=lambda p: amount.start - p.end if p.end <= amount.start else p.start - amount.end + 10)
    return [_made(text, amount, p, -8 - 3 * n) for n, p in enumerate(near[:2])]


# --- names before the amount ---


@dataclass(frozen=True)
class _Before:
    """The stretch before an amount, its brackets hidden; places are in the sentence."""

    edge: int
    hidden: str
    stop: int
    verb: bool
    names: Sequence[WorkName]

    @property
    def subject(self) -> str:
        """What stands before the verb, or before the signs that lead to the amount."""
        return self.hidden[: self.stop - self.edge]


def _left(text: str, names: Sequence[WorkName], amount: Amount, edge: int, alone: bool) -> list[Joined]:
    opened = text.rfind("(", 0, amount.start)
    if opened >= 0 and ")" not in text[opened : amount.start]:
        return _before_bracket(text, names, amount, opened)
    before = _stretch_before(text, names, amount, edge)
    pronoun = PRONOUN.search(before.subject) if before.verb else None
    options = _by_pronoun(text, amount, before, pronoun)
    scored = [(_subject_score(before, name), name) for name in before.names]
    ranked = [*_by_label(before, alone), *sorted(scored, key=lambda s: -s[0])]
    for score, name in ranked[:2]:
        between = text[name.end : amount.start]
        bonus = 15 if before.verb else 5 if _tight(between) else _loose(between)
        options.append(_made(text, amount, name, score + bonus - (20 if pronoun else 0) - _measured(text, amount)))
    return options


OF_THIS = re.compile(r"(?<=\bgrade )(?:for|in|of) (?:this|the|our|my) [a-z]+(?= (?:is|consists|comes|has|will)\b)")
"""'The grade for this seminar is': what all of it is of."""
RELATIVE = re.compile(r", (?:(?:in|on|for|with|at|of) )?(?:which|who|whom|whose|where)\b[^,;.:()\d]{3,60},(?= )")
"""'Cleaning duty, which everybody has once, is worth': what is said by the way."""
BY_ITS_LENGTH = phrase(
    r"(?:,| of) (?:about )?{number}(?:(?: to |-){number})? (?:pages?|words?|minutes?|hours?)(?: (?:each|long))?"
    r"(?=[:,;]| -)|"
    r", in (?:two|three|four) (?:drafts|versions|stages|parts)(?=[:,;]| -)"
)
"""'Final paper of 12 to 15 pages, in two drafts: two fifths'."""
NO_MEASURE = frozenset(["credit", "toward", "towards", "overall", "altogether", "total"])


def _measured(text: str, amount: Amount) -> int:
    """Evidence against 'beer is 90% water': a share of the grade is followed by no noun of its own."""
    after = re.match(r" (?P<word>[a-z]+)", text[amount.end :]) if amount.unit == "weight" else None
    return 0 if after is None or is_stop(after["word"]) or after["word"] in NO_MEASURE else 25


def _stretch_before(text: str, names: Sequence[WorkName], amount: Amount, edge: int) -> _Before:
    hidden = BRACKETED.sub(lambda m: " " * len(m[0]), text[edge : amount.start])
    hidden = re.sub(r"^[^()]*\)", lambda m: " " * len(m[0]), hidden)
    hidden = OF_THIS.sub(lambda m: " " * len(m[0]), hidden)
    hidden = RELATIVE.sub(lambda m: " " * len(m[0]), hidden)
    hidden = BY_ITS_LENGTH.sub(lambda m: " " * len(m[0]), hidden)
    verb = WEIGHS.search(hidden)
    stop = edge + (verb.start() if verb else len(hidden.rstrip(" ,:;=-|(")))
    inside = [p for p in names if edge <= p.start and p.end <= stop and hidden[p.start - edge : p.end - edge].strip()]
    return _Before(edge, hidden, stop, verb is not None, inside)


def _by_pronoun(text: str, amount: Amount, before: _Before, pronoun: re.Match[str] | None) -> list[Joined]:
    """'There are eight of them at 20 points', 'each out of 15', 'together they make up 40%'."""
    options: list[Joined] = []
    of_them = OF_THEM.search(before.hidden)
    if of_them:
        first = next((p for p in before.names if p.known), None)
        options.append(replace(_made(text, amount, first, 35, pronoun=True), count=whole(of_them["n"])))
    if EACH_OUT.search(before.hidden):
        several = [p for p in before.names if (p.count or 0) > 1 or p.known]
        options.append(replace(_made(text, amount, several[-1] if several else None, 35, pronoun=True), each=True))
    if pronoun:
        options.append(_made(text, amount, _antecedent(before.names, pronoun), 15, pronoun=True))
    return options


def _by_label(before: _Before, alone: bool) -> list[tuple[int, WorkName]]:
    """'Homework: 10 assignments, 10 points each': what is said after a label is of the label's work."""
    label = LABEL.match(before.hidden) if before.edge == 0 else None
    if label is None or not (alone or not any(p.known and p.start >= label.end() for p in before.names)):
        return []
    labels = [p for p in before.names if p.end == label.end("label") and p.start == label.start("label")]
    if label["label"] in NO_WORK:
        return []
    counted = COUNT_LED.match(before.hidden, label.end())
    sure = alone and not before.verb and all(p.text not in LABELS for p in labels)
    return [(60 if sure else 35, replace(p, count=whole(counted["n"]) if counted else p.count)) for p in labels]


def _tight(between: str) -> bool:
    bare = BRACKETED.sub(" ", between)
    return (
        re.fullmatch(
            r"\W*(?:at|with|up to|about|only|for|of|worth|carrying|counts?|another|an additional|the|remaining|last|"
            r"final|other)?\W*",
            bare,
        )
        is not None
    )


def _loose(between: str) -> int:
    """A few plain words, among them a verb that no list has, may lead from a name to its amount."""
    bare = BRACKETED.sub(" ", between)
    return -5 if re.fullmatch(r"(?: [a-z0-9']+){1,5} ", bare) else -20


def _before_bracket(text: str, names: Sequence[WorkName], amount: Amount, opened: int) -> list[Joined]:
    """'Attendance (10%)', or, where what stands right before is no known name, 'attendance matters (10%)'."""
    near = [
        _counted_inside(text, p, amount, opened) for p in names if p.end <= opened and not text[p.end : opened].strip()
    ]
    options = [_made(text, amount, near[-1], 40 if near[-1].known else 25)] if near else []
    wider = _with_what(text, names, near[-1]) if near else None
    if wider is not None:
        options.append(_made(text, amount, wider, 41))
    led = _led_by_article(text, names, opened)
    before = text[max(0, near[-1].start - 20) : near[-1].start] if near else ""
    if near and led and led is not near[-1] and not near[-1].known and OF_SOMETHING.search(before):
        options.append(_made(text, amount, led, 30))
    known = [p for p in names if p.known and p.end <= opened and not re.search(r"[(,;]", text[p.end : opened])]
    if known and not (near and near[-1].known):
        options.append(_made(text, amount, known[-1], 30 if TIME_OR_PLACE.search(text[:opened]) else 12))
    return options


TIME_OR_PLACE = re.compile(
    r"\b(?:in|on|by|until) (?:early |late |mid-?)?"
    r"(?:january|february|march|april|may|june|july|august|september|october|november|december|"
    r"spring|fall|summer|winter|class|week|finals week|the library|the lab)\W*$"
)
"""'The final report is due in December (25%)'."""


def _counted_inside(text: str, named: WorkName, amount: Amount, opened: int) -> WorkName:
    """'Exams (3 exams including the final, 15% each)': how many, where the bracket says what each is worth."""
    led = COUNT_LED.match(text, opened + 1) if named.count is None and EACH_AFTER.match(text[amount.end :]) else None
    return replace(named, count=whole(led["n"])) if led and led.end() < amount.start else named


OF_SOMETHING = re.compile(r"\b(?:of|in|on|for|from|with|by|to) (?:an? |the |your |its |their )?$")
FIRST_OF_ITEM = re.compile(r"(?:[,;:)]|\band\b) ?(?:and )?(?:an? |the |your |one )(?=[^,;:()]{0,90}$)")


def _led_by_article(text: str, names: Sequence[WorkName], opened: int) -> WorkName | None:
    """'And a final edition in a process of your choice (25%)': the name that the item begins with."""
    first = FIRST_OF_ITEM.search(text, max(0, opened - 90), opened)
    return next((p for p in names if first and p.start == first.end() and p.end <= opened), None)


WITH = re.compile(r" (?:with|about)(?: an?| the| your)? ")


def _with_what(text: str, names: Sequence[WorkName], named: WorkName) -> WorkName | None:
    """'A group experiment with a poster (75 points)' is one name."""
    led = (p for p in names if p.known and p.end < named.start and WITH.fullmatch(text, p.end, named.start))
    first = next(led, None)
    if first is None:
        return None
    return WorkName(first.start, named.end, text[first.start : named.end], first.count, True, first.each)


def _antecedent(inside: Sequence[WorkName], pronoun: re.Match[str]) -> WorkName | None:
    """What a pronoun of the same sentence stands for: the nearest name for 'which', else the first."""
    known = [p for p in inside if (p.known or (p.count or 0) > 1) and p.text not in LABELS]
    if not known:
        return None
    counted = [p for p in known if p.count]
    if pronoun["word"] in {"which", "that", "each", "each one", "every one", "both"}:
        return (counted or known)[-1]
    return (counted or known)[0] if pronoun["word"] != "it" else known[0]


COUNT_LED = phrase(
    r" ?(?P<n>{number})(?=,| (?!points?\b|pts\b|percent\b|%|pages?\b|words?\b|minutes?\b|hours?\b|weeks?\b)[a-z@-]+\b)"
)
EACH_OUT = re.compile(
    r"\b(?:each|every one|each one|a (?:[a-z]+ )?one|one)(?: of (?:them|these|those|which))?,?(?: is| are| "
    r"being| gets?| receives?)?(?: scored| graded| marked)?"
    r"(?: out of| from| on| worth| at| for)\W*$|\b(?:a|each) (?:[a-z]+ )?one (?:gets|earns|brings|receives|is "
    r"worth)\W*$"
)
LABEL = re.compile(r"^\W*(?P<label>[a-z][a-z0-9 &/'-]{2,40}?) {0,12}(?::| - )")
LABELS = frozenset(["evaluation", "assessment", "assessments", "coursework", "final course", "letter"])
NO_WORK = frozenset(["grading", "grade", "grades", "weights", "final grade", "course grade", "your grade"])
"""Labels of a whole list: 'Grading: finished pots 50%; kiln duty 10%'."""
CLAUSE = re.compile(
    r";|: | - |,? (?:and|but|while|so|as|because) (?=(?:the|a|an|your|each|our|my|another|two|three|four|five|six|"
    r"seven|eight|ten|they|it)\b)|, (?=(?:the|a|an|your|each|our|my|two|three|four|five|six|another)\b)"
)
PREPOSED = re.compile(
    r"\b(?:in|on|of|about|from|with|to|at|by|after|before|during|until|without|into|over|when|if)(?: (?:the|a|an|"
    r"your|our|each|all|any|every|\d+|[a-z]+ing))*\W*$|\bin (?:two|three|four|five)\W*$"
)


FRONTED = re.compile(
    r"^\W*(?:for|with|in|on)(?: (?:the|your|our|my|all|each|every|one|of|these|those))*(?: (?:\d+|two|three|four|"
    r"five|six|seven|eight|nine|ten|eleven|twelve))? $"
)


def _subject_score(before: _Before, named: WorkName) -> int:
    """How likely a name is the subject of what is said of the amount, in tenths."""
    start, end = named.start - before.edge, named.end - before.edge
    clauses = [m.end() for m in CLAUSE.finditer(before.subject)]
    clause = max((c for c in clauses if c <= start), default=0)
    adjacent = not before.subject[end:].strip()
    score = 20 if named.known else 10 if named.each or (named.count or 0) > 1 else 0
    rivals = (p for p in before.names if p.known or not named.known)
    score += 0 if any(p.start - before.edge >= clause and p.start < named.start for p in rivals) else 8
    score += 10 if adjacent else 0
    led = before.hidden[clause:start]
    if FRONTED.search(led):
        # '50 points for the five projects, 15 for the test': right behind an amount it leads to that one's work.
        behind = before.edge > 0 and not clause and led[:1] == " "
        return score - 15 if behind else score + 15
    if PREPOSED.search(before.hidden[max(0, start - 30) : start]) and re.search(r"\w", led) and not named.each:
        score -= 12
    if any(c > start for c in clauses) and not before.subject.rstrip().endswith((",", "-")):
        score -= 15
    return score - (0 if named.known or adjacent else 15)


# --- names after the amount ---


SHARED_OUT = re.compile(
    r"\b(?:grade|mark|average|total|score|result)s?(?: (?:for|in|of) (?:this|the|our|my) [a-z]+)? (?:is|are|will be|"
    r"=|consists? of|is made up of|comes? from|"
    r"depends? on|is based on|"
    r"breaks? down as|has)\b|\b(?:grade|mark)s?: ?(?=\d)|\bas follows\b|\bmade (?:up )?of\b"
)
"""'Your grade is 40% garden work, 25% walks': here each amount leads its name."""


def _right(text: str, names: Sequence[WorkName], amount: Amount, edge: int) -> list[Joined]:
    opened = text.rfind("(", 0, amount.start)
    if opened >= 0 and ")" not in text[opened : amount.start] and ")" in text[amount.end :]:
        return []
    led = RIGHT.match(text, amount.end, edge)
    further = [*_further_right(text, names, amount, edge), *_it(text, names, amount, edge)]
    if led is None:
        return further
    place = led.end()
    near = [p for p in reversed(names) if place - 1 <= p.start <= place + 14 and _only_count(text[place : p.start])]
    if not near or near[0].end > edge:
        return further
    named = near[0]
    score = 10 if named.known else 5 if named.count else -10
    named_well = named.known or bool(named.count) or bool(led["of"])
    sure = bool(led["preposition"]) or (bool(led["verb"]) and named_well)
    score += 20 if sure else 0
    score += 7 if led["of"] or not re.search(r"[a-z]{3}", text[: amount.start]) else 0
    opened_by = SHARED_OUT.search(text[: amount.start])
    led_on = led["preposition"] or led["verb"] or opened_by or not re.search(r"[a-z]", text[: amount.start])
    score += 15 if opened_by and named.known else 8 if opened_by else 0
    score -= 0 if led_on else 25
    score -= (
        30
        if led["preposition"]
        and led["preposition"].strip() in {"of", "in", "on"}
        and not (led["of"] or led["verb"] or amount.unit == "points")
        else 0
    )
    return [_made(text, amount, named, score), *further]


FURTHER = re.compile(
    r"(?:,? [a-z']+){1,5}? (?:for|from|on|to|in|by|with|upon|into|through|among|between|across|over)(?: (?:the|your|"
    r"our|all|each|these|those|of))*[ (]*"
)


def _further_right(text: str, names: Sequence[WorkName], amount: Amount, edge: int) -> list[Joined]:
    """'150 points is at stake in the portfolio': a few words that no list has lead to a name."""
    led = FURTHER.match(text, amount.end, edge)
    near = [
        p
        for p in names
        if led and p.known and 0 <= p.start - led.end() <= 14 and _only_count(text[led.end() : p.start])
    ]
    return [_made(text, amount, near[0], 10)] if near and near[0].end <= edge else []


IT = re.compile(
    r"(?:,? [a-z']+){0,6}? (?:on|for|to|from|in|upon) (?:(?:each|all|both|every one) of )?(?:it|this|that|them|"
    r"these|those)\b"
)


def _it(text: str, names: Sequence[WorkName], amount: Amount, edge: int) -> list[Joined]:
    """'Since 15% of the grade hinges on it': what was named before in the sentence, or in the one before."""
    if not IT.match(text, amount.end, edge):
        return []
    before = [p for p in names if p.end <= amount.start and p.known]
    return [_made(text, amount, before[0] if before else None, 15, pronoun=True)]


def _only_count(between: str) -> bool:
    return re.fullmatch(r"[\s(]*(?:(?:\d{1,2}|[a-z]+)[- ]?)?", between) is not None


def _made(text: str, amount: Amount, named: WorkName | None, score: int, pronoun: bool = False) -> Joined:
    before, after = text[: amount.start], text[amount.end :]
    several = bool(named and named.count and named.count > 1)
    each_after = bool(EACH_AFTER.search(after))
    total = bool(TOTAL_WORDS.search(after[:60])) or (not each_after and bool(TOTAL_BEFORE.search(before[-60:])))
    each = (
        each_after
        or bool(EACH_BEFORE.search(before[-44:]))
        or (several and bool(AT.search(before)))
        or bool(named and named.each)
    )
    times = TIMES_BEFORE.search(before)
    count = (whole(times["n"]) if times else None) or (named.count if named else None)
    return Joined(amount, named, (each or times is not None) and not total, total, score, count, pronoun)
