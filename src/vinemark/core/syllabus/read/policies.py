"""Rounding, missed work, the plan basis, and what no rule can hold.

To add a way of saying something, add a Saying with its example.
"""

import re
from collections.abc import Callable, Sequence

from vinemark.core.syllabus.facts import SaidRounding
from vinemark.core.syllabus.read.layout import Sentence
from vinemark.core.syllabus.read.normal import Saying, saying, whole

ABOUT_GRADES = re.compile(
    r"\b(?:final|course|overall|semester|term|letter|your|total|"
    r"all)\b[a-z ,'-]{0,40}\b(?:grades?|averages?|percentages?|percents?|scores?|totals?|"
    r"marks?|results?)|"
    r"\b(?:grades?|percentages?|averages?|marks|totals?|registrar)\b|^q: .*\bround|"
    r"^\W*(?:no )?rounding\b|\bletter\b|\b(?:i|"
    r"we) (?:do not|don't|never|will not|won't|neither) round(?: up| down| anything)?\b|"
    r"\b(?:i|we) (?:always )?round (?:up|down|to|half)\b|"
    r"^\W*(?:decimals?|fractions?|results?|they|these|this|it)\b"
)
ABOUT_WORK = re.compile(
    r"\b(?:answers?|significant|digits?|decimals? places? unless|measure|calculat|"
    r"concentration|result to|results to|your results?|numerical|readings?|"
    r"ml|mm|cm|grams?|seconds|dollars?|cents?|to the nearest (?:minute|hour|gram|dollar|cent|"
    r"mm|ml|degree|quarter hour))\b"
)
NONE_ROUNDED = (
    saying(
        r"(?:\bnot|\bnever|n't|\bno|\bwithout|\bnor)\b(?: be| get)?(?: [a-z]+){{0,3}} ?(?:round)".replace(
            "{{", "{"
        ).replace("}}", "}"),
        "final grades are not rounded",
    ),
    saying(r"\bround\b[^.]*\ba: no\b", "q: do you round? a: no"),
    saying(r"\brounds? nothing\b", "the registrar rounds nothing"),
    saying(r"\bunrounded\b", "the letter is read from the unrounded average"),
    saying(r"^\W*rounding\W+(?:none|no|never|not)\b", "rounding: none"),
    saying(r"\bno rounding\b", "there is no rounding"),
    saying(r"\bround(?:ing|ed)? (?:is|are) not\b", "rounding is not done"),
    saying(r"\b(?:exact|as computed|as it stands|as is)\b.*\bround", "the exact percent is used, without rounding"),
)
TO_PLACE: Sequence[tuple[Saying, Callable[[re.Match[str]], int | None]]] = (
    (
        saying(
            r"nearest (?:tenth|0?\.1|one tenth)|one decimal|first decimal|1 decimal|a single decimal|a tenth",
            "rounded to the nearest tenth",
        ),
        lambda m: 1,
    ),
    (saying(r"nearest (?:hundredth|0?\.01)|second decimal", "rounded to the nearest hundredth"), lambda m: 2),
    (saying(r"{n:number} (?:decimals?|decimal places?|places?)", "rounded to two decimals"), lambda m: whole(m["n"])),
    (
        saying(
            r"nearest (?:whole|integer|percent|full|point|1 ?%|one percent|unit)|whole (?:number|"
            r"percent|point|percentage)|nearest whole|integer|full (?:percent|point)|nearest %",
            "rounded to the nearest whole percent",
        ),
        lambda m: 0,
    ),
    (
        saying(
            r"(?:\.5|[0-9]\.5|half|five tenths|0\.5)[a-z %,()]*(?:and|or) (?:above|higher|more|up|"
            r"over|greater)|\.5[a-z0-9 %,]*(?:rounds?|rounded|goes|go|becomes?|is an?) (?:up|\d)|"
            r"[0-9]9\.5",
            "an 89.5 rounds up to 90",
        ),
        lambda m: 0,
    ),
    (saying(r"rounded up|round up|rounds up|rounded", "final averages are rounded up"), lambda m: 0),
)


def read_rounding(sentences: Sequence[Sentence]) -> tuple[SaidRounding, Sentence] | None:
    """How the final percentage is rounded, where a sentence says so."""
    for sentence in sentences:
        text = sentence.asked
        if not re.search(r"\b(?:un)?round", text) or sentence.section.kind in {"calendar", "rubric"}:
            continue
        for part in re.split(r";", text):
            found = _rounding(part, sentence)
            if found is not None:
                return found, sentence
    return None


OTHER_ROUNDS = re.compile(
    r"\brounds? of\b|\bround table\b|\byear round\b|\ball round\b|second round|first round|\brounds? \d"
)


def _rounding(text: str, sentence: Sentence) -> SaidRounding | None:
    if not re.search(r"\bround(?:s|ed|ing)?\b|\bunrounded\b", text) or not _about_the_grade(text, sentence):
        return None
    if any(policy.pattern.search(text) for policy in NONE_ROUNDED):
        return SaidRounding(None)
    found = ((decimals, policy.pattern.search(text)) for policy, decimals in TO_PLACE)
    return next((SaidRounding(decimals(match)) for decimals, match in found if match), None)


def _about_the_grade(text: str, sentence: Sentence) -> bool:
    """Whether a sentence rounds the final percentage, not an answer or a measurement."""
    if OTHER_ROUNDS.search(text):
        return False
    if not ABOUT_GRADES.search(text) and sentence.section.kind not in {"grading", "scale"}:
        return False
    return not ABOUT_WORK.search(text) or bool(re.search(r"\b(?:final|course|overall|letter|semester)\b", text))


MISSED = re.compile(
    r"\bmiss(?:ed|ing|es)?\b|\bno longer (?:take|accept|read)|"
    r"\bnot (?:be )?(?:handed|turned|submitted|done|completed|given|"
    r"sent|received|there|taken|posted|uploaded|delivered)|"
    r"\bn't (?:handed|turned|submit|hand|turn|do|done)|\bunsubmitted\b|\bnever (?:comes|came|"
    r"arrives?|handed|turned|submitted|reaches)|\bfail(?:s|ed|ure|ing)? to (?:submit|hand|"
    r"turn|take)|"
    r"\bnot submit|\bnot hand|\bnot turn|\bno submission|\bnothing (?:is )?(?:handed|turned|"
    r"submitted)|\bskip|\bdo not (?:submit|hand|turn|take|do|show)|\bwithout (?:a )?submi|"
    r"\bthat (?:is|are|was|were) not\b|\bundone\b|\bblank\b|\bno work\b|\bdid not|"
    r"\bdoes not (?:come|arrive|reach)|\bstill (?:missing|open)|\boutstanding\b|\bnot in by\b|"
    r"\bnever\b|\babsent from (?:a|an) (?:quiz|exam|test)|\bomitted\b"
)
SURE_ZERO = re.compile(r"\bzeros?\b|\bzeroes\b|(?<![\d.,])0(?![\d/%]|[.,]\d| ?percent)|\b0(?: points?| ?%)")
NOT_BLANKS = re.compile(
    r"\bcheat|\bplagia|\bcopied|\bcopying|dishonest|integrity|misconduct|\bcaught\b|\bphone|"
    r"\bnegative\b|not (?:a |be a )?zero|instead of (?:a )?zero|rather than (?:a )?zero|"
    r"\bno zeros?\b|\bexempt\b"
)


def says_zero_for_blanks(text: str) -> bool:
    """Whether missed or unsubmitted work is said to score zero."""
    return bool(MISSED.search(text) and SURE_ZERO.search(text) and not NOT_BLANKS.search(text))


UNREAD: Sequence[Saying] = (
    saying(r"\bif you\b.{0,90}\binstead\b", "if you finish a sixth job, you may hand that in instead of another"),
    saying(
        r"\bweight\b.{0,30}\b(?:moved|shifted|transferred|added|goes)\b",
        "the weight of a missed test is moved to the final",
    ),
    saying(
        r"\bif\b.{0,90}\b(?:i|we)(?: will|'ll)? (?:count|drop|leave out|take|use|weigh|double)\b",
        "if your last piece is your best, I count it twice",
    ),
    saying(
        r"\b(?:cannot|can not|can't|will not|won't) (?:get|earn|receive) (?:more|better|higher|a grade|above)\b",
        "students who miss two field days cannot get more than a C",
    ),
    saying(
        r"\breplac(?:e|es|ed|ing)\b.{0,60}\b(?:score|grade|exam|midterm|test|quiz|lowest|lower|"
        r"final)|(?:final|exam|midterm|score).{0,80}\breplac",
        "the final replaces the lower midterm",
    ),
    saying(
        r"\bif\b.{0,80}\b(?:grade|score|exam|final|midterm|average|percentage|"
        r"lowest)\b.{0,80}\b(?:count|drop|raise|lower|double|substitut|instead|higher|better)",
        "if the final is better, it counts twice",
    ),
    saying(
        r"\b(?:absen|miss(?:ed|ing)? (?:more than|class)|tard|"
        r"late arrivals?)\w*\b.{0,120}\b(?:lower|reduc|off your|deduct|points? off|letter grade|"
        r"drop|fail|cost|minus|take)",
        "after the third absence I take 10 points off your total",
    ),
    saying(
        r"\b(?:lower|reduc|deduct|take|subtract)\w*\b.{0,80}\b(?:absence|class missed|missed class)",
        "I deduct 2% for each absence",
    ),
    saying(
        r"\b(?:must|have to|need to)\b.{0,40}\b(?:pass|earn|score|take part|complete|"
        r"average)\b.{0,80}\b(?:to pass|in order to|for a c|the course)\b",
        "you must pass the final to pass the course",
    ),
    saying(
        r"\b(?:required|needed|necessary) (?:in order )?to pass\b|\bno one passes\b|\bcannot pass\b",
        "a passing grade on the final is required to pass the course",
    ),
    saying(r"\bcurv(?:e|ed|es|ing)\b(?!s? (?:of|in))", "exams may be curved"),
    saying(
        r"\b(?:highest|best) (?:score|grade|one|quiz)?\b.{0,30}\b(?:dropped|left out|not count)",
        "the highest and the lowest score are dropped",
    ),
    saying(
        r"\bif\b.{0,120}\b(?:i|we)(?: will|'ll) (?:drop|shorten|raise|add|lower|weigh|count|skip|cancel|give)",
        "if clouds keep us in, I will shorten the log",
    ),
    saying(
        r"\b(?:lowest|worst)\b.{0,60}\b(?:dropped|drop|not count).{0,80}\b(?:if|provided|"
        r"as long as|only|unless)\b(?! you miss)",
        "the lowest quiz is dropped if you come to every class",
    ),
    saying(
        r"\bif you\b.{0,80}\b(?:drop|dropped|skip|forgiven|excused|doubled?|counts? (?:twice|double))\b",
        "if you come to every class, one quiz is dropped",
    ),
    saying(
        r"\bimprov\w+\b.{0,80}\b(?:grade|raise|considered|taken into account|weigh)",
        "improvement is taken into account",
    ),
    saying(r"\b(?:grade|letter)\b.{0,40}\b(?:raised|bumped|lifted|moved up)\b", "a borderline grade may be raised"),
    saying(r"\b(?:higher|better|larger|greater|best) of (?:the|your)?\b", "the better of the two averages counts"),
)


def holds_no_rule(sentence: Sentence) -> bool:
    """Whether a sentence is about how the grade comes about in a way that no fact can hold."""
    if sentence.section.kind in {"calendar"} or len(sentence.text) < 20:
        return False
    return any(policy.pattern.search(sentence.text) for policy in UNREAD)


BY_POINTS = re.compile(
    r"points? (?:you )?(?:have )?earn(?:ed)? (?:are )?divided|divided by|"
    r"out of (?:a )?(?:total|possible)|total points|points? (?:in all|in total|possible|"
    r"altogether)|"
    r"(?:worth|total(?: of)?|totals|comes to|out of|sum of|accumulate|"
    r"based on) (?:a total of )?[\d,]+ (?:total )?points|sum of (?:all |the )?points|"
    r"points you (?:earn|collect)|pile of points"
)
