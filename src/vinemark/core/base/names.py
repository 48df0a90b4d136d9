"""Names for comparison: without case, accents, hyphens and extra spaces."""

import re
import unicodedata
from functools import lru_cache

from vinemark.core.base.limits import NAME_LIMIT

# Letters that Unicode does not take apart into a plain letter and a sign.
PLAIN = str.maketrans({"ø": "o", "ł": "l", "đ": "d", "ð": "d", "þ": "th", "æ": "ae", "œ": "oe", "ı": "i", "ħ": "h"})


def folded(text: str) -> str:
    """A heading or name with letters and digits only: 'Søren-Ode ' and 'soren ode' are the same."""
    plain = unicodedata.normalize("NFKD", text.casefold()).translate(PLAIN)
    return "".join(c for c in plain if c.isalnum())


SPACES_AND_HYPHENS = frozenset(" -‐‑‒–—\u00a0")


def plain(text: str) -> str:
    """Without case and accents, typographic apostrophes made plain: 'Søren O’Neil' is "soren o'neil"."""
    split = unicodedata.normalize("NFKD", text.casefold().replace("’", "'")).translate(PLAIN)
    return "".join(c for c in split if not unicodedata.combining(c))


@lru_cache(maxsize=8192)
def same_name(text: str) -> str:
    """A key that two spellings of one name share: without case, accents, spaces and hyphens.

    Other signs stay: 'Lab 1.1' and 'Lab 11' are two.
    """
    return "".join(c for c in plain(text) if c not in SPACES_AND_HYPHENS and not c.isspace())


def words_of(text: str) -> list[str]:
    """The words of a name without their digits: 'Map quiz 4' is map, quiz."""
    found = (re.sub(r"\d+", "", word) for word in re.findall(r"[^\W_]+", plain(text)))
    return [word for word in found if word]


def word_forms(word: str) -> frozenset[str]:
    """Forms of a word that count as the same: as it stands, without a final s or es, and its singular."""
    return frozenset({word, word.removesuffix("s"), word.removesuffix("es"), singular(word)} - {""})


def one_letter_apart(one: str, other: str) -> bool:
    """Whether one letter put in, left out or changed makes one text the other."""
    if one == other or abs(len(one) - len(other)) > 1:
        return False
    short, long = sorted((one, other), key=len)
    start = next((i for i, (a, b) in enumerate(zip(short, long, strict=False)) if a != b), len(short))
    return short[start + (len(short) == len(long)) :] == long[start + 1 :]


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


def is_email_address(text: str) -> bool:
    """Whether a text looks like an email address, and is no longer than a name may be: something on both sides of an @.

    Whether it is one is shown by a letter that arrives (RFC 5321 lets in more than any pattern would).
    """
    return len(text) <= NAME_LIMIT.most and re.fullmatch(r"[^@\s]+@[^@\s]+", text) is not None
