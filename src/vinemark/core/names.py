"""Names for comparison: without case, accents, hyphens and extra spaces."""

import re
import unicodedata
from functools import lru_cache

# Letters that Unicode does not take apart into a plain letter and a sign.
PLAIN = str.maketrans({"ø": "o", "ł": "l", "đ": "d", "ð": "d", "þ": "th", "æ": "ae", "œ": "oe", "ı": "i", "ħ": "h"})


def folded(text: str) -> str:
    """A heading or name with letters and digits only: 'Søren-Ode ' and 'soren ode' are the same."""
    plain = unicodedata.normalize("NFKD", text.casefold()).translate(PLAIN)
    return "".join(c for c in plain if c.isalnum())


ENDINGS = (
    # quizzes: quiz
    (r"zzes$", "z"),
    # studies: study
    (r"([a-z])ies$", r"\1y"),
    # theses: thesis; analyses: analysis
    (r"(the|aly|oly)ses$", r"\1sis"),
    # classes: class; boxes: box; sketches: sketch
    (r"(ss|x|ch|sh)es$", r"\1"),
    # notebooks: notebook
    (r"([^siu])s$", r"\1"),
)


@lru_cache(maxsize=4096)
def singular(name: str) -> str:
    """The name of one out of several: 'Map quizzes' is 'Map quiz'. What is no plural stays."""
    for ending, one in ENDINGS:
        found, count = re.subn(ending, one, name, flags=re.IGNORECASE)
        if count:
            return found
    return name
