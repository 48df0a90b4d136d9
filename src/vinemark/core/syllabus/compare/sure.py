"""What of a reading is sure enough to be held against a plan: the rest is shown, and raises no alarm."""

import re
from fractions import Fraction

from vinemark.core.plan.plan import HUNDRED
from vinemark.core.syllabus.facts import Reading, SaidCategory
from vinemark.core.syllabus.read.naming import stems
from vinemark.core.syllabus.read.normal import WORDS

SLACK = Fraction(1, 2)
"""Six weights of 16.67 are 100.02."""
NOUNS_OF_WORK = frozenset({
    "assignment", "critique", "diary", "entry", "essay", "exam", "exercise", "experiment", "homework", "item",
    "journal", "lab", "labs", "midterm", "module", "notebook", "paper", "piece", "portfolio", "post", "practical",
    "presentation", "problem", "project", "quiz", "report", "response", "review", "set", "sheet", "survey", "task",
    "test", "worksheet", "write",
})  # fmt: skip
NO_NAME = frozenset({"cut", "grade", "it", "percent", "point", "score", "the", "they", "thing", "we", "you", "your"})
"""Words that no category is called by themselves: a sentence was taken for one."""
PLAIN_NUMBER = r"\d{1,3}(?:\.\d{1,4})?"
REACH = 3
"""How many words may stand between a number and the work that it counts."""


def sure_weights(reading: Reading) -> bool:
    """Whether the stated weights make a whole: one that is misread, invented or missed shows in their sum."""
    stated = [c.weight for c in reading.categories if c.weight is not None and not c.extra]
    return reading.basis == "points" or not stated or abs(sum(stated, Fraction(0)) - HUNDRED) <= SLACK


def sure_weight(said: SaidCategory, reading: Reading) -> bool:
    """Whether one weight is sure: within a sure whole, or in a plain line of its own ('Map quizzes: 15%')."""
    plain = f"{re.escape(said.name)}[\\s:|.,()=\u2013-]*{PLAIN_NUMBER}\\s*(?:%|percent)[\\s|.;)]*"
    texts = (c.text for c in reading.clauses if c.kind == "weight" and c.category == said.name)
    return sure_weights(reading) or any(re.fullmatch(plain, text.strip(), re.IGNORECASE) for text in texts)


def sure_category(said: SaidCategory, reading: Reading) -> bool:
    """Whether a category that the plan lacks is one at all: a sentence about a bonus is none, nor is a misread one."""
    if said.extra and said.weight is None and said.points is None:
        return False
    return not set(stems(said.name)) <= NO_NAME and (said.weight is None or sure_weight(said, reading))


def sure_count(said: SaidCategory, reading: Reading) -> bool:
    """Whether a count stands by the work it counts: not any number of the sentence, which may be weeks or pages."""
    if said.count is None:
        return False
    if said.points is not None and said.points_each is not None:
        return said.points == said.count * said.points_each
    nouns = set(stems(said.name)) | NOUNS_OF_WORK
    texts = [c.text for c in reading.clauses if c.kind in {"count", "weight"} and c.category == said.name]
    return any(_counts(text, said.count, nouns) for text in texts)


def _counts(text: str, count: int, nouns: set[str]) -> bool:
    cells = [cell.strip() for cell in text.split("|")]
    if len(cells) > 1 and str(count) in cells:
        return True
    words = re.findall(r"[a-z]+|\d+(?:\.\d+)?%?", text.lower().replace("'s", ""))
    said = {str(count), *(word for word, value in WORDS.items() if value == count)}
    for place, word in enumerate(words):
        after = words[place + 1 : place + 1 + REACH]
        if word in said and any(set(stems(other)) & nouns for other in after):
            return True
        # 'Map quizzes (8)', 'Quizzes: 8 x 10 points'
        before = words[place - 1] if place else ""
        if word in said and (set(stems(before)) & nouns) and not {"page", "week", "minute", "hour"} & set(after):
            return True
    return False
