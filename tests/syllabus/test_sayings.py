"""Ways of saying one thing, each in the same short syllabus: with it or without it, nothing else may be read otherwise.

A line of `tests/cases/syllabus_sayings` that begins with '? ' is known not to be read as it should.
"""

from collections.abc import Callable
from fractions import Fraction
from itertools import product

import pytest

from tests.conftest import CASES
from vinemark.core.base.number import RoundingWay
from vinemark.core.syllabus import Reading, SaidCategory, read_syllabus

WORKS = (("Field notebook", 25), ("Six map exercises", 30), ("Midterm", 20), ("Final report", 25))
LISTED = "\n".join(f"- {name}: {weight}%" for name, weight in WORKS)
UNCOUNTED = LISTED.replace("Six map", "Map")
SAID = " ".join(f"The {name.lower()} count for {weight}%." for name, weight in WORKS)
TABLE = "| Part | Share |\n|---|---|\n" + "\n".join(f"| {name} | {weight}% |" for name, weight in WORKS)
ONE_DROPPED = "The lowest map exercise is dropped."
SCALE = "A 90-100, B 80-89, C 70-79, D 60-69, F below 60"


def lines(name: str) -> list[str]:
    return (CASES / "syllabus_sayings" / f"{name}.txt").read_text(encoding="utf-8").splitlines()


def read(*parts: str, heading: str = "Grading") -> Reading:
    told = "\n\n".join(parts)
    return read_syllabus(
        f"# GEOG 110 Mapping\n\nThis course is about maps.\n\n## {heading}\n\n{told}\n\n## Contact\n\nWrite to me.\n"
    )


def weights(found: Reading) -> list[Fraction | None]:
    return [one.weight for one in found.categories]


def is_whole(found: Reading) -> bool:
    return weights(found) == [Fraction(weight) for _, weight in WORKS]


def dropped(one: SaidCategory) -> int:
    return one.drop_lowest or (6 - one.keep_best if one.keep_best else 0)


def drops(found: Reading) -> list[int]:
    return [dropped(one) for one in found.categories]


def counts(found: Reading) -> list[int | None]:
    return [one.count if one.count != 1 else None for one in found.categories]


def of_heading(line: str) -> bool:
    found = [read(told, ONE_DROPPED, heading=line) for told in (LISTED, SAID, TABLE)]
    return all(is_whole(one) and drops(one) == [0, 1, 0, 0] for one in found)


def of_line(line: str) -> bool:
    form = line.replace("\\n", "\n").replace("\\t", "\t")
    told = (sign.join(form.format(n=name, w=weight) for name, weight in WORKS) for sign in ("\n", "\n\n"))
    found = [read(one, ONE_DROPPED) for one in told]
    return all(is_whole(one) and counts(one) == [None, 6, None, None] and drops(one) == [0, 1, 0, 0] for one in found)


def of_drop(line: str) -> bool:
    found = read(LISTED, line)
    return is_whole(found) and drops(found) == [0, 1, 0, 0] and counts(found) == [None, 6, None, None]


def of_no_drop(line: str) -> bool:
    found = read(LISTED, line)
    return is_whole(found) and not any(drops(found)) and counts(found) == [None, 6, None, None]


def of_count(line: str) -> bool:
    found = read(UNCOUNTED, line)
    return is_whole(found) and counts(found) == [None, 6, None, None] and not any(drops(found))


def of_no_count(line: str) -> bool:
    found = read(UNCOUNTED, line)
    return is_whole(found) and not any(counts(found)) and not any(drops(found))


def of_scale(line: str) -> bool:
    found = read(LISTED, line.replace(" / ", "\n"))
    cutoffs = [(one.letter, one.cutoff) for one in found.scale or ()]
    return is_whole(found) and cutoffs[:4] == [("A", 90), ("B", 80), ("C", 70), ("D", 60)]


def of_extra(line: str) -> bool:
    found = read(LISTED, line)
    extra = [(one.weight, one.points) for one in found.categories if one.extra]
    return len(found.categories) == len(WORKS) + 1 and extra == [(3, None)]


def of_no_extra(line: str) -> bool:
    found = read(LISTED, line)
    return is_whole(found) and not any(one.extra for one in found.categories)


def of_weights(line: str) -> bool:
    names = {"notebook": 25, "map exercises": 30, "midterm": 20, "final report": 25}
    return {one.name.lower(): one.weight or one.points for one in read(line).categories} == names


def of_points(line: str) -> bool:
    found = read(line.replace("\\n", "\n"))
    told = {one.name.lower(): (worth(one), one.count if one.count != 1 else None) for one in found.categories}
    whole = {
        "field notebook": (50, None),
        "map exercises": (120, 6),
        "midterm": (80, None),
        "final report": (150, None),
    }
    return found.basis == "points" and told == whole


def worth(one: SaidCategory) -> Fraction | None:
    if one.points is None and one.points_each is not None and one.count is not None:
        return one.points_each * one.count
    return one.points


SPOKEN_OF = (
    ("You keep a field notebook all term.", "There are six map exercises, one every other week.",
     "The midterm is in week 8.", "The final report is due in December."),
    ("There is a field notebook, with a page for each outing.", "We do six map exercises in class.",
     "There is one midterm, on October 14.", "At the end you write a final report of ten pages."),
    ("A field notebook is kept all term and handed in twice.", "Every other week there is a map exercise, six in all.",
     "In October you take a midterm of 75 minutes.", "You finish with a final report, 8 to 10 pages long."),
)  # fmt: skip


def of_pronoun(line: str) -> bool:
    """In a sentence that comes after the one which names the work, all in one paragraph or in one for each."""
    one, several = line.split(" / ")
    for spoken, sign in product(SPOKEN_OF, (" ", "\n\n")):
        told = [f"{named} {(several if n == 1 else one).format(w=WORKS[n][1])}" for n, named in enumerate(spoken)]
        told[1] += " The lowest is dropped."
        found = read(sign.join(told))
        if not is_whole(found) or drops(found) != [0, 1, 0, 0] or counts(found) != [None, 6, None, None]:
            return False
    return True


COUNTED = ("- Map exercises ({s}): 30%", "- Map exercises: 30% ({s})", "| Map exercises | 30% | {s} |")


def of_counted_drop(line: str) -> bool:
    """How many and how many of them are dropped, in brackets beside the name or in a column of its own."""
    for form in COUNTED:
        other = "| {n} | {w}% | |" if "|" in form else "- {n}: {w}%"
        rows = [other.format(n=name, w=weight) for name, weight in WORKS]
        found = read("\n".join([rows[0], form.format(s=line), *rows[2:]]))
        if not is_whole(found) or drops(found) != [0, 1, 0, 0] or counts(found) != [None, 6, None, None]:
            return False
    return True


BELOW = ("**{n}.** {s}", "### {n}\n\n{s}", "**{n}**\n{s}", "- {n}: {s}", "**{n}**\n\n{s}")


def of_name(line: str) -> bool:
    """Said below or behind the name of each."""
    forms = ("\n".join(form.format(n=name, s=line.format(w=weight)) + "\n" for name, weight in WORKS) for form in BELOW)
    return all(is_whole(read(told)) for told in forms)


def of_beside(line: str) -> bool:
    """Numbers of something else, in the same section, another one, or before it."""
    other = line.replace("\\n", "\n")
    return all(
        said == plain
        for told in (LISTED, TABLE, SAID)
        for plain in [facts(read(told, ONE_DROPPED))]
        for said in (
            facts(read(told, ONE_DROPPED, other)),
            facts(read(told, ONE_DROPPED, "## More about the work", other)),
            facts(read("This is how it goes.", "## Before we begin", other, "## Grades", told, ONE_DROPPED)),
        )
    )


def facts(found: Reading) -> list[tuple[object, ...]]:
    rows = [(c.name, c.weight, c.points, c.count, c.points_each, dropped(c), c.extra) for c in found.categories]
    return [*rows, (found.basis, found.scale, found.blanks, found.rounding)]


PLAN = [("Quizzes", 20), ("Midterms", 30), ("Lab", 20), ("Final", 30)]


def of_plan(line: str) -> bool:
    text = line.replace("\\n", "\n").replace("\\t", "\t")
    return [(one.name, one.weight or one.points) for one in read_syllabus(f"{text}\n").categories] == PLAN


def of_rounding(decimals: int | None, way: RoundingWay) -> Callable[[str], bool]:
    def said(line: str) -> bool:
        found = read(LISTED, SCALE, line)
        return is_whole(found) and found.rounding == (decimals, way)

    return said


def of_blanks(zero: bool) -> Callable[[str], bool]:
    def said(line: str) -> bool:
        found = read(LISTED, SCALE, line)
        return is_whole(found) and (found.blanks == "zero") == zero

    return said


@pytest.mark.parametrize(
    ("name", "is_read"),
    [
        ("headings", of_heading), ("lines", of_line), ("weights", of_weights), ("points", of_points),
        ("drops", of_drop), ("no-drops", of_no_drop), ("counts", of_count), ("no-counts", of_no_count),
        ("under-a-name", of_name), ("after-its-name", of_pronoun),
        ("counts-with-drops", of_counted_drop), ("beside-it", of_beside),
        ("extra", of_extra), ("no-extra", of_no_extra), ("scales", of_scale),
        ("rounded-up", of_rounding(0, "up")), ("rounded-to-nearest", of_rounding(0, "nearest")),
        ("not-rounded", of_rounding(None, "nearest")), ("blanks-zero", of_blanks(True)), ("not-zero", of_blanks(False)),
        ("whole-plans", of_plan),
    ],
)  # fmt: skip
def test_each_way_of_saying_it_is_read(name: str, is_read: Callable[[str], bool]) -> None:
    amiss = {line for line in lines(name) if not is_read(line.removeprefix("? "))}
    assert amiss == {line for line in lines(name) if line.startswith("? ")}
