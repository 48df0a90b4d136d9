"""The words by which rows and columns of tables are told apart; a hint beside what they hold."""

import re


def _words(*patterns: str) -> re.Pattern[str]:
    """Any of some patterns, capitals aside."""
    return re.compile("|".join(patterns), re.IGNORECASE)


def as_label(text: str) -> str:
    """A heading or label as it is matched: 'student_id' is 'student id', 'Points →' is 'Points'."""
    return text.replace("_", " ").rstrip(" :.=>→–—-")


ID_HEADING = _words(
    r"(?:student |registrar |sis |college |university |campus )?(?:id|i\.d\.?|id ?#|number|no\.?|#|sid)",
    r"sid",
    r"student id ?(?:number|no\.?|#)?",
    r"id ?(?:number|no\.?)",
    r"sis",
    r"matric\w{0,9}(?: no\.?)?",
)
FAMILY_HEADING = _words(r"(?:last|family|sur)[ _]?names?", r"last", r"family", r"surname", r"nachname")
GIVEN_HEADING = _words(r"(?:first|given|fore)[ _]?names?", r"first", r"given", r"forename", r"vorname")
NAME_HEADING = _words(
    r"(?:full |student )?names?", r"students?", r"student name", r"name \([^()]{1,30}\)", r"learners?"
)
EMAIL_HEADING = _words(r"e-?mail(?: address)?")
SECTION_HEADING = _words(
    r"sections?(?: (?:no\.?|number|#))?", r"sect?\.?", r"lab section", r"class", r"group", r"cohort", r"meets"
)
STATUS_HEADING = _words(r"(?:enrol?l?(?:ment)? |registration )?status", r"enrolled\??", r"standing")
USERNAME_HEADING = _words(r"user ?names?", r"login", r"user(?: ?id)?", r"net ?id", r"account")
RUNNING_HEADING = _words(r"#", r"no\.?", r"nr\.?", r"row", r"seq\.?", r"count")
OTHER_HEADING = _words(
    r"card(?: number| no\.?)?", r"middle(?: initial| name)?", r"m\.?i\.?", r"nick ?name", r"preferred(?: name)?",
    r"pronouns?", r"major", r"year", r"phone", r"seat", r"team",
    r"(?:total |# ?(?:of )?|no\. of |number of )?absen(?:ces?|t)", r"days (?:missed|absent)",
    r"(?:late|free|grace) (?:pass(?:es)?|days?|tokens?)(?: (?:used|left))?", r"tokens?(?: (?:used|left))?",
    r"tard(?:y|ies)", r"program", r"level", r"birthday", r"advisor",
)  # fmt: skip
REMARK_HEADING = _words(r"(?:comments?|notes?|remarks?)(?: [^\n]{0,40})?", r"feedback", r"memo")

_COURSE = (
    r"(?:course|overall|final|grand|running|current|semester|term|w(?:eigh)?td\.?|weighted|cumulative|class|total|"
    r"midterm|mid-?term|letter|raw|so far)"
)
_FIGURE = r"(?:total|tot\.?|percent(?:age)?|pct\.?|%|average|avg\.?|grade|score|points?|pts\.?|sum|mark|mean|result)"
TOTAL_HEADING = _words(
    rf"(?:{_COURSE}[ -]?){{0,4}}{_FIGURE}"
    rf"(?:[ -](?:{_FIGURE}|earned|so far|to date|\(?%\)?|\(?pts\.?\)?|\(?points\)?|out of [^\n]{{1,9}})){{0,3}}",
    r"overall", r"weighted", r"course", r"final %", r"\(?%\)?", r"rounded", r"blanks[_ ](?:zero|as 0|full)",
)  # fmt: skip
LETTER_HEADING = _words(
    r"(?:av(?:era)?ge?\.? |mean )letter(?: grade)?",
    rf"(?:{_COURSE}[ -]?){{0,4}}(?:letter|grade|letter grade|code|ltr\.?|gr\.?|let\.?)s?(?: (?:grade|to date|so far))?",
)
SMALL_NUMBERS = {"one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8, "nine": 9,
                 "ten": 10}  # fmt: skip
BEST_FEW = _words(r"\b(?:best|top|highest) (\d{1,2}|" + "|".join(SMALL_NUMBERS) + r")\b")
BARE_MIDTERM = _words(r"mid-?terms?(?: ?exam)?(?: ?%| percent)?")
PART_FIGURE = _words(
    r"\b(?:total|sum|subtotal|sub-total|avg\.?|average|mean|low|lowest|highest|best|percent|pct|score|dropped)\b", r"%"
)
ATTENDANCE_HEADING = _words(r"attendance", r"present")

REMARK_AT_END = _words(r"\b(?:comments?|notes?|remarks?|feedback)$")
POINTS_CELL = _words(
    r"(?=[(\[om/])(?:\(|\[)?(?:out of |of |max\.? |/ ?)?(\d{1,5}(?:\.\d{1,4})?)"
    r"(?: ?(?:pts?\.?|points?|marks?))?(?:\)|\])?"
)
"""Points of one column in a row of them; only the number is kept."""

POINTS_LABEL = _words(
    r"(?:total |max(?:imum)?\.? |full )?(?:points?|pts\.?|marks?)(?: ?possible| ?available| ?max(?:imum)?| ?each)?:?",
    r"possible(?: points?)?:?", r"out of:?", r"max(?:imum)?\.?(?: score)?:?", r"points? out of:?", r"worth:?",
    r"full (?:points|marks|score):?", r"total possible:?", r"\(?points possible\)?",
    r"\(?\d{0,5} ?(?:points? |pts\.? )?possible\)?", r"\((?:max(?:imum)?\.?|out of|points?|"
    r"pts\.?)\)", r"max\. [^\W\d_]{3,12}",
)  # fmt: skip
WEIGHT_LABEL = _words(
    r"weights?(?:ing|s)?(?: \(?%\)?)?:?", r"% of (?:the )?(?:course |final )?grade:?", r"percent of grade:?",
    r"worth %:?", r"share:?",
)  # fmt: skip
DATE_LABEL = _words(r"(?:due|date|due dates?|dates?|given|day|held)(?: due)?:?")
_STATISTIC = (
    r"(?:average|avg\.?|mean|median|mode|high(?:est)?|low(?:est)?|max(?:imum)?|min(?:imum)?|std\.?(?: ?dev\.?)?|"
    r"st\.? ?dev\.?|s\.?d\.?|standard deviation|count|n|range|passed|failed|missing)"
)
FIGURES_LABEL = _words(
    rf"(?:class |section |the )?{_STATISTIC}"
    r"(?: ?(?:score|grade|%|:|\([^()]{1,20}\)|of class|for [^\n]{1,20})){0,2}",
    r"quartile[^\n]{0,20}", r"number (?:of|who)[^\n]{0,40}", r"# [^\n]{1,30}", r"how many[^\n]{0,40}",
)  # fmt: skip
GRADE_COUNT = re.compile(r"(?:[A-F][+-]?s?|number of [A-F]s?):?")
TRIAL_STUDENT = _words(
    r"student,? ?test", r"test,? ?student", r"trial student", r"demo student", r"sample student", r"student,? sample",
    r"fake student",
)  # fmt: skip
HAS_LEFT = _words(
    r"\bw/d\b", r"\bno longer enrolled\b",
    r"\bwithdr(?:e|a)w\w{0,4}", r"\bw\b", r"\bleft the (?:course|class)\b",
    r"\bdropped\b(?! (?:the )?(?:lowest|worst|best|one|\w{1,12} (?:brief|quiz|score)))",
)  # fmt: skip
AUDITS = _words(r"\baudit(?:ing|s|or)?\b", r"\bau\b")
STATUS_WORD = _words(
    r"enrolled", r"registered", r"active", r"withdrawn?", r"withdrew", r"w", r"wd", r"dropped", r"drop", r"au",
    r"audit(?:ing)?", r"waitlist(?:ed)?", r"wl", r"e", r"add(?:ed)?",
)  # fmt: skip
COURSE_GRADE = _words(
    r"[A-DF][+−-]?", r"[A-F][+-]", r"F", r"I", r"W", r"P", r"NP", r"CR", r"NC", r"S", r"U", r"AU", r"IP", r"WF", r"WP",
    r"E", r"H", r"HP", r"LP", r"Y", r"NR",
)  # fmt: skip
NOTE_LINE = _words(
    r"=", r"\bmeans\b", r"\bnot yet\b", r"\bscores? (?:are|is)\b", r"\benter\b", r"\btype\b", r"\blegend\b", r"\bkey\b",
    r"\bnote\b", r"\blate\b", r"\bexcused\b", r"\bmissing\b", r"\bupdated\b", r"\bprinted\b", r"\bpage \d",
    r"\b\d{1,5} students\b", r"\bstudents?:? \d", r"\bdrop",
)  # fmt: skip
PART_OF_CLASS = _words(
    r"(?:section|sec\.?|group|lab|part)\b[^\n]{0,40}", r"withdr\w{1,5}[^\n]{0,20}", r"audit\w{0,5}", r"dropped",
    r"waitlist\w{0,3}", r"enrolled", r"w/?d\b[^\n]{0,10}", r"no longer enrolled[^\n]{0,20}",
)  # fmt: skip
MISSING_WORDS = frozenset({"m", "miss", "missing"})
EXEMPT_WORDS = frozenset({"ex", "exc", "excused", "exempt", "exc."})
