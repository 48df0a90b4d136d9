"""A file of scores: everything it would change is known before it does."""

from fractions import Fraction

import pytest

from tests.builders import category, course, plan
from vinemark.core.course_format import Refused
from vinemark.exchange.score_file import CellChange, read_scores, shown

COURSE = course(plan(category("10", "20")), {"ada": ["9", None], "bo": ["7", "7"]})


def test_new_changed_same_refused_and_unknown() -> None:
    found = read_scores("ID;i 0;I-1;Total\nada;9;15,5;1\nbo;8;m;2\ncy;1;1;3\nbo;1;1;1\n", COURSE)
    assert found.new == [CellChange("ada", "i1", None, Fraction("15.5"))]
    assert [shown(c) for c in found.changed] == ["7 → 8", "7 → missing"]
    assert (found.same, found.unknown, found.left_out) == (1, ["line 4: cy"], ["Total"])
    assert found.refused == ["line 5: bo stands in the file twice"]


def test_a_refused_value_names_its_line_and_empty_cells_change_nothing() -> None:
    found = read_scores("id,I 0,I 1\nada,nine,\nbo,-1,\n", COURSE)
    assert found.changes == []
    assert [r.split(":")[0] for r in found.refused] == ["line 2, I 0", "line 3, I 0"]


@pytest.mark.parametrize("text", ["", "id,Quiz\nada,1\n", "name,I 0\nada,1\n"])
def test_a_file_that_fits_nothing_is_refused(text: str) -> None:
    with pytest.raises(Refused):
        read_scores(text, COURSE)
