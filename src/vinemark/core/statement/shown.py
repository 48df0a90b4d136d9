"""What an instructor lets students see, in one sentence."""

from dataclasses import dataclass, fields
from typing import Final

from vinemark.core.base.refused import Refused

FEWEST_SCORES: Final = 5
"""So many scores an item needs before its average is shown: of fewer one's own would tell the others'."""
SEEN_WORDS: Final = {
    "points": "each score in points",
    "percent": "percents and how the grade is worked out",
    "letter": "the letter so far",
    "figures": f"the class’s average and median of each item that {FEWEST_SCORES} or more have",
    "what_if": "what scores still to come would do",
    "questions": "a way to ask about a score",
}


@dataclass(frozen=True)
class StudentsSee:
    """Of what is visible: points, percents with the working, the letter so far, class figures, what-if, questions."""

    points: bool = True
    percent: bool = True
    letter: bool = True
    figures: bool = False
    what_if: bool = True
    questions: bool = True

    @property
    def words(self) -> str:
        """In one sentence."""
        said = [words for name, words in SEEN_WORDS.items() if getattr(self, name)]
        if not said:
            return "Students see which work there is, and no figure."
        listed = f"{', '.join(said[:-1])} and {said[-1]}" if len(said) > 1 else said[0]
        return f"Of work that is visible students see {listed}."


def read_students_see(value: object) -> StudentsSee:
    """The same as it is kept: an object of switches, of which those that came later may be absent. Raises Refused."""
    names = {one.name for one in fields(StudentsSee)}
    if not isinstance(value, dict) or not set(value) <= names or not all(type(one) is bool for one in value.values()):
        raise Refused("students_see", f"must say yes or no to {', '.join(sorted(names))}")
    return StudentsSee(**value)
