"""What is dropped or kept, as syllabuses say it. To add a way of saying it, add a Saying with its example."""

import re
from collections.abc import Sequence
from typing import NamedTuple

from vinemark.core.syllabus.read.normal import Saying, saying, whole


class Drop(NamedTuple):
    """A drop rule found in a stretch: so many lowest, or the best so many (of how many, where it says so)."""

    start: int
    end: int
    lowest: int = 0
    best: int | None = None
    of: int | None = None


LOW = r"(?:lowest|worst|poorest|weakest|smallest|least)"
HIGH = r"(?:best|top|highest|strongest)"
FEW_WORDS = r"(?:[a-z'&/-]+ ){0,5}?"
NOT = (
    r"(?:(?:is|are|will be|gets?|get|can be|may be|shall be|being|has been|"
    r"have been) )?(?:automatically |simply |then )?"
)
UNCOUNTED = (
    r"(?:{goes}|do(?:es)? not count|don'?t count|doesn'?t count|will not (?:be )?count(?:ed)?|"
    r"won'?t count|not count(?:ed)?|"
    r"never counts?|is not included|are not included|count(?:s)? for nothing)"
)

KEPT: Sequence[Saying] = (
    saying(
        r"{of:number} (?:[a-z'-]+ ){1,3}?(?:and|of which|but) (?:only )?{n:number} (?:of them )?(?:will )?"
        r"(?:count|are counted|be counted)\b",
        "there are ten quizzes and nine count",
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
        rf"(?:only|count|counts|counting|keep|keeps|keeping|take|use|using|average of|averaging|sum of|by|from|on) "
        rf"(?:only )?(?:the |your |each student's |their )?{HIGH} {{n:number}}\b(?! ?%)",
        "I keep the best eight",
    ),
    saying(
        rf"(?:only|count|keep|take|use|look at|choose|record|grade|mark|average of|averaging|"
        rf"sum of) (?:only )?(?:the |your )?{{n:number}} {HIGH}\b",
        "I take your eight best",
    ),
    saying(rf"^\W*(?:the |your )?{HIGH} {{n:number}}\b(?! ?%)(?: [a-z' -]{{0,40}})?\W*$", "best 8"),
)
DROPPED: Sequence[Saying] = (
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
        r"{n:number} (?:of (?:them|these|which|the [a-z]+) )?(?:[a-z]+ ){0,2}?(?:is|are|will be|can be|may be|gets?) "
        r"(?:dropped|thrown out|discarded)\b",
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
    saying(r"(?:^|[(,;|:] ?|with )(?:the )?{n:number} (?:dropped|drops?)\b", "12 sets, 2 dropped"),
    saying(r"(?:^|[(,;|:] ?)drops? {n:number}\b(?! ?%)", "drop 2"),
    saying(
        r"(?:may|can) (?:miss|skip|leave out|omit) (?:any )?{n:number} (?!class|absence|meeting|"
        r"session|day|lecture|week)"
        r"(?:of (?:the|them|these|your) ?)?(?:[a-z'-]+ ){0,3}?(?:without|at no|with no|for free|freely)",
        "you may skip one quiz without penalty",
    ),
    saying(
        r"{n:number} (?:of (?:the|these|your) )?(?!class|absence|meeting|session|day|lecture|week)(?:[a-z'-]+ ){0,3}?"
        r"(?:may|can) be (?:missed|skipped|left out) (?:without|at no|with no|for free|freely)",
        "one quiz may be missed without penalty",
    ),
    saying(r"{n:number} free (?:skips?|misses|miss|pass(?:es)?)\b", "two free skips"),
    saying(rf"(?:^|[(,;|:] ?)(?:the |your )?(?:{{n:number}} )?{LOW}(?: {{m:number}})? (?:off|out)\b", "lowest 1 out"),
)
CONDITION = re.compile(
    r"\bprovided\b|\bas long as\b|\bonly if\b|\bon condition\b|\breplac|\bin exchange\b|"
    r"\bunless\b|^if\b|^when\b|^should\b|"
    r"\bif (?!you (?:miss|are|have|were|fall|must))[a-z]+ (?!miss)"
)
BUILT_IN = re.compile(r"(?:dropped|drop|count|quiz)[^,;]{0,120}?[,;-]? (?:so|thus|therefore|and) if\b")


def is_conditional(sentence: str) -> bool:
    """Whether a drop is made to depend on something: no rule holds that."""
    return bool(CONDITION.search(sentence)) and not BUILT_IN.search(sentence)


def find_drops(text: str) -> list[Drop]:
    """The drop rules of a sentence or row, in small letters; places are in it. A conditional one is none."""
    if is_conditional(text):
        return []
    kept = [_kept(match) for way in KEPT for match in way.pattern.finditer(text)]
    dropped = [_dropped(match) for way in DROPPED for match in way.pattern.finditer(text)]
    return _apart([*kept, *dropped])


def _kept(match: re.Match[str]) -> Drop:
    found = match.groupdict()
    return Drop(match.start(), match.end(), best=whole(found["n"]), of=whole(found.get("of") or ""))


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
