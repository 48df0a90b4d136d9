"""A row that names something with a weight or points, and the words by which rows say how many and how much."""

import re
from dataclasses import dataclass, field
from fractions import Fraction

from vinemark.core.syllabus.read.drops import Drop
from vinemark.core.syllabus.read.lines import TextSection
from vinemark.core.syllabus.read.normal import phrase

NOT_NAME = re.compile(
    r"^credits?(?: hours?)?$|^(?:final |course |letter )?grades?$|^(?:course )?(?:grading|evaluation|points)$|"
    r"^(?:weight|weighting|value|share|worth|percent|percentage|number|quantity|due(?: date)?)$|"
    r"^(?:week|weeks|day|session|meeting|class|unit|chapter|module)s? \d|^\d{1,2}[:/.]\d\d|"
    r"^(?:mon|tues?|wed(?:nes)?|thu(?:rs?)?|fri|sat(?:ur)?|sun)(?:day)?s?\b|"
    r"^(?:jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec)[a-z]*\.? \d|^\d{1,2} (?:jan|feb|"
    r"mar|apr|may|jun|jul|aug|sep|oct|nov|dec)"
)
PENALTY_ROW = re.compile(
    r"\blate\b(?! in the)|\bloses?\b|\blose\b|\bpenalt|"
    r"\bdeduct|\boff\b|\babsen|\bper day\b|\ba day\b|"
    r"\bat least\b|\bat most\b|\bminimum\b|\bor better\b|"
    r"\bpass\b|\bto pass\b|\bcheat|\bplagiar|\btard|\bof the (?:class|students|questions|"
    r"points|time|term|meetings|sessions)\b"
)
PART_WORDS = re.compile(
    r"\bpart\b|\bsection\b|multiple[- ]choice|short[- ]answer|\bof the (?:exam|paper|project|"
    r"report|grade for|log|final|score)\b|\bquestions?\b|"
    r"\bproblems\b|true[/ -]false|\bof (?:it|this|that|each)\b|\bdraft\b|\bproposal\b|"
    r"\boutline\b|content|delivery|grammar|clarity"
)
TIMES = phrase(
    r"(?P<n>{number}) ?(?:[a-z-]+ )?(?:x|@|at|of|times|\*) {0,3}(?P<each>{number})(?: ?(?:points?|"
    r"pts?\.?|marks?))?(?: (?:each|apiece))?"
)
PER_ITEM = phrase(
    r"(?P<each>{number})(?: ?(?:points?|pts?\.?|marks?)) ?(?:each|apiece|a piece|ea\b|per (?!cent|day|week|"
    r"hour)[a-z-]+)"
)
AT_POINTS = phrase(r"(?P<n>{number}) (?:[a-z-]+ ){0,3}(?:x|@|at) (?P<each>{number}) ?(?:points?|pts?\.?|marks?)")
"""A cell with '12 records at 10 points'."""
EACH_IN_BRACKET = phrase(r"\((?P<n>{number}) (?:each|apiece)\)")
"""'60 points (10 each)'."""
A_NUMBER_OF = phrase(
    r"(?:^|(?:[|(,;]|(?<!\d):) ?(?!{number} (?:required|needed)\b)|"
    r"(?<!\d) -{1,2} |(?<!jan)(?<!feb)(?<!mar)(?<!apr)(?<!jun)(?<!jul)(?<!aug)(?<!sep)(?<!sept)(?<!oct)"
    r"(?<!nov)(?<!dec)\. +|there (?:are|will be) (?:about |around |roughly )?|a total of |"
    r"we have )(?P<n>{number})(?!,\d|:\d)(?: (?!points?|pts|percent|[ap]m\b|minutes?|mins?|hours?|pages?|pp\b|"
    r"weeks?|words?|days?|years?|(?:[a-z-]+ )?(?:questions?|items|choices?)\b|students?|people|lowest|best|worst|"
    r"highest|of |x |dropped|drops?|credits?|%|a\.m|"
    r"p\.m|per|each|free|and|may|can|must|will)[a-z][a-z'-]*(?: (?!dropped|drop|count)[a-z][a-z'-]*){0,2})?"
    r"(?= ?[|),;:.]|$| \(| - (?={number}%)| (?:in|over|during|throughout|through|across|lowest|the|your|altogether|"
    r"all|total|with|of (?:them|which|(?:about )?{number}(?: to {number}|-{number})? (?:words|pages?|minutes))|best|"
    r"at|on|due|drop|worth|x|@|and (?:each|every|they))\b)"
)


@dataclass
class RowReading:
    """A row that names something with a weight or points, its numbers as read."""

    name: str
    start: int
    end: int
    indent: int
    section: TextSection
    line: int
    weight: Fraction | None = None
    weight_each: bool = False
    points: Fraction | None = None
    points_each: Fraction | None = None
    count: int | None = None
    drops: list[Drop] = field(default_factory=list)
    extra: bool = False
    total: bool = False

    @property
    def worth(self) -> Fraction | None:
        """The whole's weight: each one's times the count where it is said for each."""
        if self.weight is not None and self.weight_each:
            return self.weight * (self.count or 1)
        return self.weight


_PIECES = frozenset(
    ["project", "paper", "portfolio", "presentation", "report", "thesis", "capstone", "exhibition", "campaign", "study"]
)
"""What a group may be called that is one piece of work in parts: 'Team project', over its proposal and its report."""


def is_one_piece(name: str) -> bool:
    """Whether a name is that of one piece of work, whatever parts are said of it."""
    return any(word in _PIECES for word in name.lower().split()[-1:])
