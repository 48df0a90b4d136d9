"""Cutoffs moved to see who would change letter, and figures of the class."""

from fractions import Fraction

import pytest

from tests.builders import AFTER, category, course, plan
from vinemark.core.audit.cutoffs import class_figures, moved_cutoffs
from vinemark.core.base.refused import Refused
from vinemark.core.grade.class_columns import grades_of

PLAN = plan(category("100"))


def test_mean_median_and_letters_of_those_who_have_a_percent() -> None:
    """The median of an even count is the mean of the two in the middle: common practice, no source."""
    of = course(PLAN, {"ada": ["90"], "bo": ["81"], "cy": ["70"], "di": ["60"], "ed": [None]})
    figures = class_figures(of, grades_of(of, AFTER))
    assert (figures.mean, figures.median, figures.without) == ("75.25", "75.50", 1)
    assert figures.letters == (("A", 1), ("B", 1), ("C", 1), ("D", 1), ("F", 0))
    nobody = class_figures(course(PLAN, {"ada": [None]}), grades_of(course(PLAN, {"ada": [None]}), AFTER))
    assert (nobody.mean, nobody.median) == ("–", "–")


def test_a_cutoff_moves_between_its_neighbours() -> None:
    moved = moved_cutoffs(PLAN, {"from-A": " 91,5 ", "from-F": "50"})
    assert [(r.letter, r.cutoff) for r in moved.scale] == [
        ("A", Fraction(183, 2)), ("B", 80), ("C", 70), ("D", 60), ("F", 0),
    ]  # fmt: skip
    assert moved_cutoffs(PLAN, {"from-A": "100"}).scale[0].cutoff == 100


@pytest.mark.parametrize(
    ("typed", "field"),
    [
        ({"from-A": "80"}, "from-B"),
        ({"from-A": "79"}, "from-B"),
        ({"from-C": "81"}, "from-C"),
        ({"from-A": "101"}, "from-A"),
        ({"from-D": "0"}, "from-D"),
        ({"from-B": "x"}, "from-B"),
    ],
)
def test_what_cannot_be_is_refused_at_its_field(typed: dict[str, str], field: str) -> None:
    with pytest.raises(Refused) as caught:
        moved_cutoffs(PLAN, typed)
    assert caught.value.field == field
