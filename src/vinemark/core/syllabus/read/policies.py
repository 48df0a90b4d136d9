"""Rounding, missed work, the plan basis, and what no rule can hold.

To add a way of saying something, add a Saying with its example.
"""

import re
from collections.abc import Callable, Sequence
from typing import Literal

from vinemark.core.base.number import RoundingWay
from vinemark.core.syllabus.facts import About, SaidRounding
from vinemark.core.syllabus.read.layout import Sentence
from vinemark.core.syllabus.read.normal import Saying, saying, whole

ABOUT_GRADES = re.compile(
    r"\bboundar(?:y|ies)\b|\bcut-?offs?\b|\bextra credit\b|\bat the (?:very )?end\b|"
    r"\bend of (?:the )?(?:term|semester|course)\b|\b[5-9]\d\.\d|\b(?:final|"
    r"course|overall|semester|term|letter|"
    r"your|total|"
    r"all)\b[a-z ,'-]{0,40}\b(?:grades?|averages?|percentages?|percents?|scores?|totals?|"
    r"marks?|results?)|"
    r"\b(?:grades?|percentages?|averages?|marks|totals?|registrar)\b|^q: .*\bround|"
    r"^(?:do|will|are|is|when|how|what) [^?]*\bround\w*\?|"
    r"^\W*(?:no )?rounding\b|\bletter\b|\b(?:i|"
    r"we) (?:do not|don't|never|will not|won't|neither) round(?: up| down| anything)?\b|"
    r"\b(?:i|we) (?:always )?round (?:up|down|to|half)\b|"
    r"^\W*(?:an? )?(?:decimals?|fractions?|results?|they|these|this|it)\b"
)
ABOUT_WORK = re.compile(
    r"\b(?:answers?|significant|digits?|decimals? places? unless|measure|calculat|"
    r"concentration|result to|results to|your results?|numerical|readings?|"
    r"ml|mm|cm|grams?|seconds|dollars?|cents?|to the nearest (?:minute|hour|gram|dollar|cent|"
    r"mm|ml|degree|quarter hour))\b"
)
NONE_ROUNDED = (
    saying(r"\bnothing\b.{0,20}\bround", "nothing is rounded"),
    saying(r"\b(?:neither|none)\b.{0,60}\bround", "none of the averages is rounded"),
    saying(r"\bround(?:s|ed|ing)?\b.{0,16}\b(?:nothing|never|none)\b", "we round nothing"),
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
            r"(?:\.5|[0-9x]\.5|half|five tenths|0\.5)[a-z %,()]*(?:and|or) (?:above|higher|more|up|"
            r"over|greater)|\.5[a-z0-9 %,]*(?:rounds?|rounded|goes|go|becomes?|is an?) (?:up|\d)|"
            r"[0-9]9\.5",
            "an 89.5 rounds up to 90",
        ),
        lambda m: 0,
    ),
    (
        saying(
            r"\bround\b.{0,30}\bup$|\bround\b.{0,30}\bup\b[.;]|rounded up|round up|rounds up|rounded",
            "final averages are rounded up",
        ),
        lambda m: 0,
    ),
)


PRECISE = re.compile(
    r"\b(?:final|course|overall|semester|term) (?:\w+ )?(?:averages?|percentages?|grades?|scores?|percents?|"
    r"totals?)\b.{0,60}"
    r"\b(?:nearest (?:whole|integer|percent|tenth|hundredth|point|full)|decimals?\b|decimal places?)|"
    r"\b(?:grades?|averages?|percentages?) (?:is|are) (?:computed|calculated|figured|worked out|carried|kept|recorded|"
    r"reported)\b.{0,30}\b(?:decimals?\b|decimal places?)|"
    r"\baverages?\b.{0,40}\.5 (?:or|and) (?:above|higher|more|up|over)\b.{0,20}\bup\b"
)
EXAMPLE = re.compile(
    r"\b(?P<tens>[678])9\.[5-9]\d? ?%? (?:is|stays|remains|gets|means|becomes)(?: still| only|"
    r" just)? an? (?P<letter>[a-d])\b"
)
"""'89.9 is still a B': nothing is rounded; '89.5 is an A': to the nearest whole percent."""
BELOW_TENS = {"8": "b", "7": "c", "6": "d"}
BECOMES = re.compile(
    r"\b(?:[5-9]9|[5-9]\d)\.[5-9] ?%? (?:becomes|counts as|turns into|goes to|is treated as|is raised to|gets you) "
    r"(?:an? )?\d0\b|\baverage of (?P<below>[5-9]\d)\.5 ?%? (?:is|becomes|counts as) (?:an? )?(?P<next>\d\d)\b"
)


LABELLED_NONE = re.compile(r"(?:no|none|never|not done)\W*")


def read_rounding(sentences: Sequence[Sentence]) -> tuple[SaidRounding, Sentence] | None:
    """How the final percentage is rounded, where a sentence says so."""
    for sentence in sentences:
        if sentence.section.kind in {"calendar", "rubric"}:
            continue
        found = _by_example(sentence) or next(
            filter(None, (_rounding(p, sentence) for p in sentence.asked.split(";"))), _by_grade(sentence.asked)
        )
        if found is not None:
            return found._replace(way=_way(sentence.asked)) if found.decimals is not None else found, sentence
    return None


ALWAYS_UP = re.compile(r"\balways\b.{0,40}\bround\w*\b.{0,20}\bup\b|\bround\w*\b.{0,20}\balways up\b|\balways up\b")
ALWAYS_DOWN = re.compile(r"\balways\b.{0,40}\bround\w*\b.{0,20}\bdown\b|\btruncated\b|\balways down\b")

UP_TO_NEXT = re.compile(r"\bround\w*\b.{0,20}\bup to the next\b|\b(?:any|every|all) fractions?\b.{0,40}\bround\w* up\b")
FROM_HALF = re.compile(r"\.\d|\bhalf\b|\bor (?:higher|above|more|better|over|up)\b|\bif\b|\bwhen\b")


def _way(text: str) -> RoundingWay:
    """Up or down where the text says always, or up to the next; 'rounded up' alone means to the nearest."""
    if ALWAYS_UP.search(text) or (UP_TO_NEXT.search(text) and not FROM_HALF.search(text)):
        return "up"
    return "down" if ALWAYS_DOWN.search(text) else "nearest"


def _by_example(sentence: Sentence) -> SaidRounding | None:
    """Rounding said by an example, by its precision, or as the answer to a question."""
    text = sentence.asked
    example = BECOMES.search(text)
    if example and (not example["below"] or int(example["next"]) == int(example["below"]) + 1):
        return SaidRounding(0)
    if PRECISE.search(text):
        places = ((decimals, policy.pattern.search(text)) for policy, decimals in TO_PLACE)
        return next((SaidRounding(decimals(match)) for decimals, match in places if match), None)
    asked = sentence.question or (sentence.section.heading if LABELLED_NONE.fullmatch(sentence.text) else "")
    if re.search(r"\bround", asked) and re.match(r"(?:a: )?(?:no|none|never|not)\b", sentence.text):
        return SaidRounding(None)
    return None


def _by_grade(text: str) -> SaidRounding | None:
    """Rounding that only the letter of an average tells."""
    said = EXAMPLE.search(text)
    return SaidRounding(None if said["letter"] == BELOW_TENS[said["tens"]] else 0) if said else None


OTHER_ROUNDS = re.compile(
    r"\brounds? of\b|\bround table\b|\byear round\b|\ball round\b|second round|first round|\brounds? \d"
)


OF_ROUNDING = re.compile(r"\bround(?:s|ed|ing)?\b|\bunrounded\b|\bgo(?:es)? up to the next whole\b")


def _rounding(text: str, sentence: Sentence) -> SaidRounding | None:
    if not OF_ROUNDING.search(text) or not _about_the_grade(text, sentence):
        return None
    none = any(policy.pattern.search(text) for policy in NONE_ROUNDED)
    if none and not re.search(r"\brounded (?:any )?(?:further|again|more)\b", text):
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
    r"\bmiss(?:ed|ing|es)?\b|\babsen(?:ce|t) from (?:an?|the|any) (?:exam|test|quiz|midterm)|"
    r"\babsent (?:means|is|counts as|=)|\bno longer (?:take|accept|read)|"
    r"\bno-shows?\b|"
    r"\b(?:absen(?:ce|t) on|missing) (?:an?|the|any) (?:day of (?:an?|the|any) )?(?:test|exam|quiz|midterm)\b|"
    r"^\W*no (?:work|paper|entry|show)[,:] |\babsent from (?:an?|the|any) [a-z-]+[:,] |"
    r"\bnot (?:be |been |yet )?(?:handed|filed|turned|submitted|signed|checked|finished|done|completed|given|"
    r"sent|come in|received|shown|seen|presented|there|taken|posted|uploaded|delivered)|"
    r"n't (?:be |been )?(?:handed|turned|submit\w*|hand|turn|do|done|given|taken?|sit|write|enter)|\bun(?:submitted|"
    r"answered|finished)\b|\bopen [a-z]+ (?:turn|become)s? |"
    r"\bnever "
    r"(?:comes|came|"
    r"arrives?|handed|turned|submitted|reaches)|\bfail(?:s|ed|ure|ing)? to (?:submit|hand|"
    r"turn|take)|"
    r"\bnot submit|\bnot hand|\bnot turn|"
    r"\bdo(?:es)? not (?:complete|finish)\b|\bno submission|\bnothing (?:is )?(?:handed|turned|"
    r"submitted)|\bskip|\bdo not (?:submit|hand|turn|take|do|show)|\bwithout (?:a )?submi|"
    r"\bthat (?:is|are|was|were) not\b|\bundone\b|\bblanks?\b|\bforget|\bnot (?:being there|coming|showing up|"
    r"attending)\b|\bno work\b|\bnothing at all\b|\bdid not|"
    r"\bempty (?:gradebook |grade |score )?(?:cells|entries|boxes|spaces|fields)\b|"
    r"\bdoes not (?:take|submit|hand|"
    r"turn|sit|show|do)\b|"
    r"\bdoes not (?:come|arrive|reach)|\bstill (?:missing|open)|\boutstanding\b|\bnot in by\b|"
    r"\bnever\b|\b(?:hand|turn|send|give|bring)s? (?:me )?(?:in )?nothing\b|\bnothing (?:on record|is there|to "
    r"grade|arrives)|\bmissing\b|\bhave nothing\b|\bempty (?:cell|entry|box|space)|"
    r"\bdo(?:es)? not (?:get|receive|see|have)\b|\bnever (?:get|see|receive|have)\b|"
    r"\bno (?:score|record|paper|entry|submission|attempt)\b|\babsent from (?:a|an) (?:quiz|exam|test)|\bomitted\b"
)
SURE_ZERO = re.compile(
    r"\b(?:earns?|gets?|receives?|scores?|is worth|are worth|counts? (?:for|as)) (?:no credit|no points|nothing)\b|"
    r"\bno (?:credit|points)(?: (?:is|are|will be) (?:given|awarded|earned))? for\b|"
    r"^\W*(?:no |absent |not )[a-z' -]{3,40}[,:] no (?:credit|points)\b|"
    r"\bzeros?\b|\bzeroes\b|(?<![\d.,])0(?![\d/%]|[.,]\d| ?percent)|\b0(?: points?| ?%)"
)
NOT_BLANKS = re.compile(
    r"\bcheat|\bplagia|\bcopied|\bcopying|dishonest|integrity|misconduct|\bcaught\b|\bphone|"
    r"\bnegative\b|not (?:a |be a )?zero|instead of (?:a )?zero|rather than (?:a )?zero|"
    r"\bno zeros?\b|\bexempt\b|not your own|\bunsafe|\bown work\b|someone else|manuscript"
)


def says_zero_for_blanks(text: str) -> bool:
    """Whether missed or unsubmitted work is said to score zero."""
    if NOT_BLANKS.search(text) or not SURE_ZERO.search(text):
        return False
    late = re.search(r"\blate\b|\bafter (?:the|that|this|\w+ days?)", text) and not re.search(r"\bzeros?\b|\b0\b", text)
    return bool(MISSED.search(text)) and not late


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
        r"\b(?:i|we) (?:may|might|can|reserve the right to) (?:adjust|change|reweigh|raise|lower|weigh|move|shift)\b|"
        r"\binto account\b",
        "i may adjust what counts",
    ),
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
    saying(
        r"\b(?:bonus|extra)\b.{0,60}\bpoints?\b.{0,40}\b(?:added|adds?|goes|go)\b.{0,20}"
        r"\bto (?:your|the|each|that|an?)\b",
        "bonus: two points are added to your final exam",
    ),
    saying(r"\b(?:higher|better|larger|greater|best) of (?:the|your)?\b", "the better of the two averages counts"),
)


ABOUT: Sequence[tuple[About, Saying]] = (
    (
        "late",
        saying(
            r"\b(?:late|overdue|past (?:its|the) (?:due|deadline)|after (?:the|its) (?:deadline|due date|"
            r"key))\b.{0,110}"
            r"(?:\b(?:los(?:e|es|ing)|penal\w*|deduct\w*|percent|points?|half|accepted|zeros?|reduc\w*|at most|"
            r"credit)\b|%)",
            "a paper that is late loses 10% a day",
        ),
    ),
    (
        "late",
        saying(
            r"\b(?:los(?:e|es)|deduct(?:s|ed)?|subtract(?:s|ed)?|take[sn]? off|costs?|drops? "
            r"by)\b.{0,60}\b(?:per|a|each|every) "
            r"(?:day|hour|meeting)\b",
            "journal entries lose 10% a day",
        ),
    ),
    (
        "alternative",
        saying(
            r"\bwhichever\b|\b(?:higher|better|larger|greater|best) of (?:the|your|these|two)\b|\bcounts? "
            r"(?:twice|double)\b|"
            r"\bweight\b.{0,40}\b(?:moved|shifted|transferred|added|goes)\b|\bfor both\b",
            "the higher of the two averages counts",
        ),
    ),
    (
        "replacement",
        saying(
            r"\breplac(?:e|es|ed|ing|ement)\b|\bin place of\b|\b(?:takes?|taking) (?:that|its|the) .{0,20}\bplace\b|"
            r"\bstands? in for\b|\bsubstitut\w*|\binstead of\b|\binstead$|\bskip the final\b",
            "it takes that test's place",
        ),
    ),
    (
        "requirement",
        saying(
            r"\b(?:must|have to|has to|needs? (?:to|an? [a-f])|required|needed|necessary)\b.{0,80}\bto pass\b|"
            r"\bcannot pass\b|\bno one passes\b|"
            r"\b(?:must|required)\b.{0,60}\b(?:passed|pass the course)\b|\bcannot (?:get|earn|receive)\b",
            "you must pass the final to pass the course",
        ),
    ),
    (
        "requirement",
        saying(
            r"\bmiss(?:es|ed|ing)?\b.{0,80}\b(?:no (?:more|higher|better) than an? [a-f]\b|at most an? [a-f]\b|"
            r"fails? the (?:course|class)|cannot pass)",
            "more than one missed field day: no more than a c",
        ),
    ),
    (
        "attendance",
        saying(
            r"\b(?:absen(?:t|ce|ces)|tard(?:y|ies|iness)|attend(?:ance|s|ing)?|"
            r"miss(?:es|ed|ing)? (?:more than|two|three|four|five|\d))\b.{0,120}"
            r"\b(?:grade|lower\w*|reduc\w*|points?|fail\w*|drop\w*|letter|los(?:e|es)|off)\b",
            "from the fourth absence on i lower the grade",
        ),
    ),
    (
        "curve",
        saying(
            r"\bcurv(?:e|ed|es|ing)\b(?!s? (?:of|in))|\b(?:scale|cutoffs?)\b.{0,40}\b(?:lowered|adjusted|moved)\b",
            "the scale may be lowered",
        ),
    ),
)


def about_of(text: str) -> About | None:
    """What a rule that no fact can hold is about, where its sentence tells."""
    return next((about for about, way in ABOUT if way.pattern.search(text)), None)


def holds_no_rule(sentence: Sentence) -> bool:
    """Whether a sentence is about how the grade comes about in a way that no fact can hold."""
    if sentence.section.kind == "calendar" or len(sentence.text) < LEAST_RULE or DENIED.search(sentence.text):
        return False
    return any(policy.pattern.search(sentence.text) for policy in UNREAD) or about_of(sentence.text) is not None


LEAST_RULE = 20
DENIED = re.compile(r"^\W*(?:there (?:is|will be) no|no) (?:curve|replacement)\b|\bis not curved\b")


EVEN_SPLIT = re.compile(
    r"\b(?:equally weighted|weighted equally|(?:of|with|have|carry) equal weight|(?:all )?count(?:s|ing)? "
    r"(?:the same|equally)|"
    r"worth the same|weigh(?:s|ing)? (?:the same|equally|as much as)|(?:split|divided|shared) (?:evenly|"
    r"equally)|same weight)\b"
)
POINTS_SPLIT = re.compile(
    r"\b(?:in proportion to|weighted by|according to) (?:their|its|the) (?:number of )?points\b|\bby (?:their "
    r")?points\b"
)


def split_of(text: str) -> Literal["even", "by_points"] | None:
    """How the items of some work share its weight, where a sentence says so."""
    if EVEN_SPLIT.search(text):
        return "even"
    return "by_points" if POINTS_SPLIT.search(text) else None
