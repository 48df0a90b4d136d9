"""What is dropped or kept, as syllabuses say it. To add a way of saying it, add a Saying with its example."""

import re
from collections.abc import Sequence
from typing import NamedTuple

from vinemark.core.syllabus.read.normal import Saying, phrase, saying, whole


class Drop(NamedTuple):
    """A drop rule found in a stretch: so many lowest, or the best so many (of how many, where it says so)."""

    start: int
    end: int
    lowest: int = 0
    best: int | None = None
    of: int | None = None


LOW = (
    r"(?:lowest|worst|poorest|weakest|smallest|least|fewest|bottom|"
    r"low(?= (?:[a-z-]+ ){0,2}?(?:score|grade|mark|quiz|test|exam|exercise|lab|report|one)s?\b))"
)
HIGH = r"(?:best|top|highest|strongest)"
FEW_WORDS = r"(?:[a-z'&/-]+ ){0,5}?"
NOT = (
    r"(?:(?:is|are|will be|gets?|get|can be|may be|shall be|being|has been|"
    r"have been) )?(?:automatically |simply |then )?"
)
NOT_DROPPABLE = (
    r"(?:(?:letter|full|half|whole|final|course) )?(?:grades?|marks?)\b|%|"
    r"(?:[a-z'-]+ ){0,2}?(?:classes|class|absences?|meetings?|sessions?|days?|lectures?|weeks?|letters?|levels?|steps?|"
    r"points?|pts|percent\w*|minutes?|hours?|courses?|people|person|third|half|full|of|questions?|pages?|problems|"
    r"chapters?|sections?|lines?|words?)\b"
)
"""What is no work of its own, dropped, skipped or lost: meetings, parts of one grade, parts of one work."""
UNCOUNTED = (
    r"(?:{goes}|do(?:es)? not count|don'?t count|doesn'?t count|will not (?:be )?count(?:ed)?|"
    r"won'?t count|not count(?:ed)?\b(?! twice)|"
    r"never counts?|is not included|are not included|count(?:s)? for nothing)"
)

KEPT: Sequence[Saying] = (
    saying(
        r"(?:^|[(,;|:.] ?|- ){of:number} (?:given|assigned|offered|set|planned|due|total|in all)[,;]? "
        r"(?:and |of which |but )?(?:only )?{n:number} (?:are |will be )?count(?:ed|ing)?\b",
        "6 given, 5 counted",
    ),
    saying(r"{of:number} \({n:number} count(?:ed|ing)?\)", "6 (5 count)"),
    saying(
        rf"\b(?:we|you) (?:do|write|take|have|hand in|get) {{of:number}}(?: [a-z]+)?,? (?:and|but|of which) "
        rf"(?:your |the |only )?{HIGH} {{n:number}} (?:will )?count\b",
        "we do 6, and your best 5 count",
    ),
    saying(
        r"{of:number} (?:[a-z'-]+ ){1,3}?(?:and|of which|but) (?:only )?{n:number} (?:of them )?(?:will )?"
        r"(?:count|are counted|be counted)\b",
        "there are ten quizzes and nine count",
    ),
    saying(
        r"{of:number} (?:[a-z'-]+ ){0,6}?[a-z'-]+[;,] (?:but |and )?(?:only )?{n:number} (?:of them )?"
        r"(?:will )?(?:count|are counted|be counted)(?=[.,;)]|$| towards?\b)",
        "of the six exercises, five count",
    ),
    saying(rf"[(;,] ?(?:the )?{HIGH} {{n:number}}\b(?= ?[),;]|$)", "eight sketches (40%; best seven)"),
    saying(
        rf"{HIGH} {{n:number}} (?:[a-z'-]+ ){{0,4}}?(?:out )?of (?:the |your |all )?{{of:number}}", "best 8 of 10 count"
    ),
    saying(
        rf"{{n:number}} {HIGH} (?:[a-z'-]+ ){{0,4}}?(?:out )?of (?:the |your |all )?{{of:number}}",
        "the eight best of ten",
    ),
    saying(
        r"{n:number} (?:out )?of (?:the |your )?{of:number} (?:[a-z'-]+ ){0,3}?(?:will )?(?:count|"
        r"be counted|are counted)",
        "8 of 10 quizzes count",
    ),
    saying(
        rf"{HIGH} {{n:number}}\b(?! ?%)(?: {FEW_WORDS})? ?(?:(?:will|do|are|is|being) )?(?:be )?"
        r"(?:count|counts|counted|kept|used|taken|averaged|graded|recorded|included|considered)\b",
        "only your best eight problem sets will count",
    ),
    saying(
        rf"{{n:number}} {HIGH}(?: {FEW_WORDS})? ?(?:(?:will|do|are|is|being) )?(?:be )?"
        r"(?:count|counts|counted|kept|used|taken|averaged|graded|recorded|included|considered)\b",
        "your eight best quizzes count",
    ),
    saying(
        rf"(?:only|count|counts|counting|grade|keep|keeps|keeping|take|use|using|average of|averaging|"
        rf"sum of|by|from|on) (?:only )?(?:the |your |each student's |their )?{HIGH} {{n:number}}\b(?! ?%)",
        "I keep the best eight",
    ),
    saying(
        rf"(?:only|count|keep|take|use|look at|choose|record|grade|mark|average of|averaging|"
        rf"sum of) (?:only )?(?:the |your )?{{n:number}} {HIGH}\b",
        "I take your eight best",
    ),
    saying(rf"^\W*(?:the |your )?{HIGH} {{n:number}}\b(?! ?%)(?: [a-z' -]{{0,40}})?\W*$", "best 8"),
)
OF_SO_MANY = phrase(r"\((?P<n>{number}) (?:out )?of (?P<of>{number})\)")
"""'Weekly questions (10 of 13)': the best ten."""
MOST_OF_SO_MANY = 40
DROPPED: Sequence[Saying] = (
    saying(r"\bdrops?:? {n:number} (?:out )?of (?:the |your )?{of:number}\b", "drop 1 of 6"),
    saying(
        r"(?:^|[(,;|:.] ?|- ){n:number} (?:out )?of (?:the |your )?{of:number} (?:[a-z'-]+ ){0,2}?"
        r"(?:is |are |will be |gets? )?(?:dropped|discarded|thrown out)\b",
        "1 of 6 dropped",
    ),
    saying(
        rf"(?:^|[(,;|:.] ?|- ){{of:number}}(?: [a-z]+)?,? (?:minus|less|-) (?:the |your )?(?:{{n:number}} )?{LOW}\b",
        "6 minus the lowest",
    ),
    saying(
        rf"{{n:number}} (?:[a-z'-]+ ){{1,4}}?with the {LOW} (?:[a-z]+ )?{NOT}{UNCOUNTED}",
        "the two papers with the lowest marks will not be counted",
    ),
    saying(
        rf"{{n:number}} (?:[a-z-]+ ){{0,2}}?[a-z-]+, (?:the )?{LOW}(?: ones?)?, ?{NOT}{{goes}}(?: (?:out )?of (?:the |"
        rf"your )?{{of:number}})?",
        "one report, the lowest, is dropped out of the seven",
    ),
    saying(
        rf"(?:{{n:number}} )?{LOW}(?:[- ]scor(?:ing|ed))?(?: {{m:number}})?(?: {FEW_WORDS})? ?{NOT}{UNCOUNTED}",
        "the two lowest homework scores are dropped",
    ),
    saying(
        r"(?:drop|discard|throw out|throw away|ignore|forget|remove|exclude|disregard|omit|"
        r"eliminate|forgive|leave out|"
        r"cut|toss)(?:s|ped|ping|ed|ing|d|es)? (?:off |out |away )?(?:of )?"
        rf"(?:the |your |each student's |everyone's |everybody's |their |its |a |my )?(?:{{n:number}} )?"
        rf"(?:{LOW})(?: {{m:number}})?",
        "I drop your two lowest quizzes",
    ),
    saying(
        rf"(?:without|excluding|except|minus|less|not counting|but|apart from) (?:for )?(?:the |"
        rf"your )?(?:{{n:number}} )?{LOW}"
        rf"(?: {{m:number}})?",
        "all quizzes but the lowest two",
    ),
    saying(
        r"{n:number} (?:of (?:them|these|which|the [a-z]+) )?(?:(?!you\b)[a-z]+ ){0,2}?(?:is|are|will be|can be|"
        r"may be|gets?) (?:dropped|thrown out|discarded)\b",
        "one of them is dropped",
    ),
    saying(
        rf"(?:{{n:number}} )?{LOW}(?: {{m:number}})? (?:[a-z'-]+ ){{1,4}}?(?=and (?:the |"
        rf"your )?(?:{{number}} )?{LOW}.{{0,60}}{UNCOUNTED})",
        "the two lowest homework scores and the lowest quiz score are dropped",
    ),
    saying(
        rf"\b(?:so|as) (?:is|are|will be) (?:the |your )?(?:{{n:number}} )?{LOW}(?: {{m:number}})?",
        "and so are the two lowest quizzes",
    ),
    saying(
        rf"\b(?:(?:i|we|you|may|can|will|allowed to|free to|students?) (?:drop|forgive|discard|excuse|throw out|"
        rf"leave out)|(?:may|can|allowed to|free to) skip) {{n:number}}"
        rf"(?: of (?:them|the|these|your|my))?(?=[.,;)]|$| (?!{NOT_DROPPABLE}))"
        rf"(?![^.]{{0,60}}\b{HIGH}\b)",
        "we drop one map exercise",
    ),
    saying(
        r"\ball but {n:number} (?:of (?:the|your|these) )?(?:[a-z'-]+ ){1,4}?(?:will )?(?:count|be counted|are counted|"
        r"are kept|are averaged)\b",
        "all but one of the exercises count",
    ),
    saying(
        r"\b(?:is|are|has|have|gets?|with) {n:number} drops?(?=[.,;:)]|$| (?:for|in|on|per|each)\b)|"
        r"{m:number} free (?:[a-z'-]+ ){1,3}drops?\b",
        "there is one drop for exercises",
    ),
    saying(
        r"{n:number} of (?:the|your) [a-z]+(?:, [a-z ]{3,20},)? (?:(?:do|does|will|are|need) not|don't|"
        r"won't) (?:be )?count",
        "two of the notes, your choice, do not count",
    ),
    saying(r"(?:^|[(,;|:] ?|with )(?:the )?{n:number} (?:dropped|drops?)\b", "12 sets, 2 dropped"),
    saying(r"(?:^|[(,;|:] ?)drops?:? {n:number}\b(?! ?%)", "drop 2"),
    saying(
        r"(?:may|can) (?:miss|skip|leave out|omit) (?:any )?{n:number} (?!class|absence|meeting|"
        r"session|day|lecture|week)"
        r"(?:of (?:the|them|these|your) ?)?(?:[a-z'-]+ ){0,4}?(?:without|at no|with no|for free|freely)",
        "you may skip one quiz without penalty",
    ),
    saying(
        r"{n:number} (?:of (?:the|these|your) )?(?!class|absence|meeting|session|day|lecture|week)(?:[a-z'-]+ ){0,3}?"
        r"(?:may|can) be (?:missed|skipped|left out) (?:without|at no|with no|for free|freely)",
        "one quiz may be missed without penalty",
    ),
    saying(
        r"(?:may|can) (?:skip|miss) (?:any )?{n:number}(?: of (?:them|these))?(?=[.,;)]|$)",
        "twelve over the semester, and you can skip two",
    ),
    saying(
        r"(?:^|[(,;|:.] ?)(?:any )?{n:number}(?: of (?:them|these|those))? (?:may|can) be (?:missed|skipped|left out)"
        r"(?=[.,;)|]|$)",
        "20 at 2 points; 3 may be missed",
    ),
    saying(r"{n:number} free (?:skips?|misses|miss|pass(?:es)?)\b", "two free skips"),
    saying(rf"(?:^|[(,;|:] ?)(?:the |your )?(?:{{n:number}} )?{LOW}(?: {{m:number}})? (?:off|out)\b", "lowest 1 out"),
)
REMOVED = (
    r"drop(?:s|ped|ping)?|leav(?:e|es|ing) [a-z' ]{1,60} out|cross(?:es|ed|ing)? (?:out|off)|discard\w*|"
    r"ignor\w*|forg(?:et|ets|otten|ive|iven|ives)|vanish\w*|disappear\w*|thr(?:ow|ows|own)|"
    r"toss\w*|falls? (?:away|out|off)|left out|leaves? out|leaving out|exclud\w*|omit\w*|remov\w*|eliminat\w*|"
    r"disregard\w*|"
    r"wip(?:e|es|ed)|eras\w*|delet\w*|strikes?|struck|cut|set aside|leaves? aside|tak(?:e|en) out|go(?:es)? "
    r"away|cancel\w*|excus\w*|"
    r"purged?|pardon\w*|waiv\w*|scrap\w*|shed|ditch\w*|not enter|not matter|not (?:be )?(?:us(?:ed|e)|part|"
    r"included|considered|averaged|taken)|not (?:be )?count\w*\b(?! twice)|"
    r"n't (?:be )?count\w*|uncounted|never counts?|without|all but|except|minus|excluding|not counting"
)
LOWEST = phrase(
    rf"(?:\b{{n:number}} )?(?:of (?:the|your) )?(?:single |very )?\b{LOW}(?:[- ]scor(?:ing|ed))?(?: "
    rf"{{m:number}}\b(?!%))?"
)
OTHER_SUPERLATIVE = phrase(
    r"\b{n:number} (?!best|highest|latest|nearest|earliest|strongest|test|quest|rest|honest|guest|longest|"
    r"largest|newest|oldest)"
    r"[a-z]{2,9}est\b(?P<m>)"
)
"""'The two thinnest entries': a superlative of few words that is no praise, with its number."""
HIGHEST = phrase(rf"(?:\b{{n:number}} )?\b{HIGH}(?:[- ]scor(?:ing|ed))?(?: {{m:number}}\b(?! ?%))?")
BEFORE_LOWEST = phrase(
    r"\b(?P<m>{number}) (?:(?!points?\b|pts\b)[a-z]+ (?=that |which ))?(?:that|which|with the|having the|"
    r"whose [a-z]+ (?:is|are)) (?:[a-z]+ ){0,2}$|"
    r"\b(?P<n>{number}) (?!points?\b|pts\b|percent\b|minutes?\b|pages?\b|marks?\b)(?:of (?:the |your |these |my "
    r")?(?:{number} )?)?(?:[a-z]+ )?[a-z][a-z -]{2,40}, (?:the |"
    r"your |those with the |with the )?$"
)
OUT_OF = phrase(r"(?: [a-z]+)? (?:out )?of (?:the |your )?(?P<of>{number})\b")
OF_IN_BRACKETS = phrase(r"\((?:out )?of (?P<of>{number})\)")
DROPPED_FROM = phrase(r"\b(?:dropped|left out) (?:from|out of) (?:the |your )?(?P<of>{number})\b")
NEAR_BRACKET = 60
COUNTING_WORDS = re.compile(
    r"\b(?:counts?|counted|counting|kept|keep|keeps|used|use|taken|take|averaged?|included|considered|recorded|"
    r"entered?|matter|"
    r"make up|go into|added|based on|contribute|graded|comput\w*|calculat\w*|enters?|look|determine)\b"
)
REMOVAL = re.compile(rf"(?:\b|(?<=[a-z])(?=n't))(?:{REMOVED})\b")
CLAUSE_END = re.compile(r"[;:]|\. |, (?:and|but|so) (?=(?:i|you|we|the|your|a|no|there)\b)")
CONDITION = re.compile(
    r"\bprovided\b|\bas long as\b|\bonly if\b|\bon condition\b|\breplac|\bin exchange\b|"
    r"\bunless\b|^if\b(?! you [a-z ]{2,20} more\b)|^when (?!i |we |the )|^should\b|"
    r"\bif (?!you (?:miss|are|have(?! (?:come|attended|taken|handed|turned|done|completed)\b)|were|"
    r"fall|must|[a-z ]{2,20} more\b))[a-z]+ (?!miss)"
)
BUILT_IN = re.compile(r"(?:dropped|drop|count|quiz)[^,;]{0,120}?[,;-]? (?:so|thus|therefore|and) if\b")


def is_conditional(sentence: str) -> bool:
    """Whether a drop is made to depend on something: no rule holds that."""
    return bool(CONDITION.search(sentence)) and not BUILT_IN.search(sentence)


SPOKEN = re.compile(
    rf"\(\w+ (?:out )?of \w+\)|{LOW}|[a-z]{{3}}est\b|{HIGH}|\bdrop|\bskip|\bmiss|\bcount|\bfree\b|thrown|"
    rf"discard|forgiv"
)
"""A text without any of these speaks of no drop."""


def find_drops(text: str) -> list[Drop]:
    """The drop rules of a sentence or row, in small letters; places are in it. A conditional one is none."""
    if not SPOKEN.search(text) or is_conditional(text):
        return []
    kept = [_kept(match) for way in KEPT for match in way.pattern.finditer(text)]
    kept += [drop for match in OF_SO_MANY.finditer(text) if _most_of(drop := _kept(match))]
    dropped = [_numbered(text, match) for way in DROPPED for match in way.pattern.finditer(text)]
    every = (drop for drop in (*kept, *dropped, *_loose(text)) if not OF_A_RANGE.match(text, drop.end))
    found = [drop for drop in every if not NOT_DROPPED.match(text, drop.start)]
    return _apart(found)


OF_A_RANGE = re.compile(r" (?:percent(?:age)? )?points? (?:of|in) (?:each|every|the|an?) (?:range|band|letter|grade)\b")
"""'Plus and minus for the top and bottom three points of each range'."""
NOT_DROPPED = re.compile(
    r"[^.;,]{0,80}\b(?:not|never|n't|no longer) (?:be |get )?(?:dropped|discarded|thrown out|removed|excluded)\b"
)


def _most_of(drop: Drop) -> bool:
    """Whether it keeps the better part of a number of items: '(9 of 90)' does not."""
    best, of = drop.best or 0, drop.of or 0
    return best < of <= min(2 * best, MOST_OF_SO_MANY)


def _loose(text: str) -> list[Drop]:
    """A lowest score with any word of removal in its clause, a best one with any word of counting."""
    lowest = (_lowest(text, m) for pattern in (LOWEST, OTHER_SUPERLATIVE) for m in pattern.finditer(text))
    best = (_best(text, match) for match in HIGHEST.finditer(text))
    return [drop for drop in (*lowest, *best) if drop is not None]


def _lowest(text: str, match: re.Match[str]) -> Drop | None:
    if not REMOVAL.search(text, *_clause(text, match)) or re.match(r" (?:passing|possible)\b", text[match.end() :]):
        return None
    drop = _dropped(match)._replace(of=_out_of(text, match.end()))
    before = None if match["n"] or match["m"] else _number_before(text, match)
    return drop._replace(lowest=before or drop.lowest)


def _best(text: str, match: re.Match[str]) -> Drop | None:
    said = match["n"] or match["m"]
    count = whole(said) if said else _number_before(text, match)
    counted = COUNTING_WORDS.search(text, *_clause(text, match))
    return Drop(match.start(), match.end(), best=count) if count and counted else None


def _number_before(text: str, match: re.Match[str]) -> int | None:
    """'Two of the labs, the lowest ones': the number that stands apart from its word."""
    before = BEFORE_LOWEST.search(text, max(0, match.start() - 70), match.start())
    low = LOWEST_WORD.search(text, match.start())
    if before is None or (before["n"] and low and not APPOSED.match(text, low.end())):
        return None
    return whole(before["n"] or before["m"])


LOWEST_WORD = re.compile(rf"{LOW}|[a-z]{{2,9}}est\b|{HIGH}")
APPOSED = re.compile(r" ones?\b|,|\W*$|\)|;|\.| (?:in|by|of|with) ")
"""'Two of them, the lowest,': what is said of the ones before, no clause of its own."""


def _clause(text: str, match: re.Match[str]) -> tuple[int, int]:
    ends = [m.end() for m in CLAUSE_END.finditer(text, max(0, match.start() - 100), match.start())]
    left = max(ends, default=max(0, match.start() - 100))
    stop = CLAUSE_END.search(text, match.end(), min(len(text), match.end() + 100))
    return left, stop.start() if stop else min(len(text), match.end() + 100)


def _kept(match: re.Match[str]) -> Drop:
    found = match.groupdict()
    return Drop(match.start(), match.end(), best=whole(found["n"]), of=whole(found.get("of") or ""))


def _numbered(text: str, match: re.Match[str]) -> Drop:
    """A drop with the number that its words give, or the one that stands apart before them."""
    found = match.groupdict()
    drop = _dropped(match)
    apart = LOWEST_WORD.match(text, match.start()) and not (found.get("n") or found.get("m"))
    before = _number_before(text, match) if apart else None
    low = LOWEST_WORD.search(text, match.start(), match.end())
    return drop._replace(lowest=before or drop.lowest, of=drop.of or (_out_of(text, low.end()) if low else None))


def _out_of(text: str, place: int) -> int | None:
    """'The lowest of ten', 'the lowest two sets (out of 12)': of how many."""
    said = (
        OUT_OF.match(text, place)
        or DROPPED_FROM.search(text, place, place + NEAR_BRACKET)
        or OF_IN_BRACKETS.search(text, place, place + NEAR_BRACKET)
    )
    return whole(said["of"]) if said else None


def _dropped(match: re.Match[str]) -> Drop:
    found = match.groupdict()
    said = found.get("n") or found.get("m")
    lowest = (whole(said) or 0) if said else 1
    return Drop(match.start(), match.end(), lowest=lowest, of=whole(found.get("of") or ""))


def _apart(drops: list[Drop]) -> list[Drop]:
    """Of rules read from the same words the first; in the order of the text."""
    found: list[Drop] = []
    for drop in drops:
        if (drop.best or drop.lowest) and not any(drop.start < other.end and other.start < drop.end for other in found):
            found.append(drop)
    return sorted(found)
