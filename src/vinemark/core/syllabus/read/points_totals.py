"""How many points a text says there are in all."""

import re
from fractions import Fraction
from functools import lru_cache

from vinemark.core.syllabus.read.normal import NUMBER, POINTS_WORD, value_of

POINTS_TOTAL = re.compile(
    rf"(?:out of|built on|total(?: of)?|totals|comes to|worth|add(?:s)? (?:up )?to|sum(?:s)? to|of|"
    rf"divided by|=|possible|:|has|have)\s+(?:a total of )?({NUMBER})"
    rf"{POINTS_WORD}|({NUMBER}){POINTS_WORD} (?:in all|in total|total|altogether|possible|"
    rf"are possible|available|for the (?:course|term))|"
    rf"(?:total|sum)\W+(?:points?\W+)?({NUMBER})\b|divided by ({NUMBER})\b|(?:out of|"
    rf"beyond the) ({NUMBER})\b|\(({NUMBER}){POINTS_WORD}\)|\bthere are ({NUMBER}) of them|\bsum is ({NUMBER})"
)


@lru_cache(maxsize=4)
def points_totals(flat: str) -> frozenset[Fraction]:
    """Numbers that the text calls the total of points."""
    said = (value_of(next(g for g in match.groups() if g)) for match in POINTS_TOTAL.finditer(flat))
    return frozenset(found for found in said if found)
