"""From the computed grade to the rows that go out, and back."""

from tests.builders import AFTER, course, plan
from tests.core.small_class import small_class
from vinemark.core.audit import audit
from vinemark.core.course.course import Settled
from vinemark.core.submit.grade_row import grade_row
from vinemark.core.submit.progress import stem
from vinemark.core.submit.submission import AtRegistrar

SETTLED = {"ada": Settled("B"), "bo": Settled("P"), "cy": Settled("F")}


def test_the_stem_says_where_a_section_stands() -> None:
    of = small_class(SETTLED)
    held = {s: grade_row(of, s, settled) for s, settled in SETTLED.items()}
    before = stem(of, audit(of, AFTER), AtRegistrar({}))
    assert [(n.words, n.done) for n in before] == [
        ("weights fill 100", True), ("no blanks left", True), ("1 must fix", False), ("3 of 3", True),
        ("nothing sent yet", False),
    ]  # fmt: skip
    assert stem(of, [], AtRegistrar(held, held))[4].words == "3 of 3 received"
    assert stem(of, [], AtRegistrar(held, held, posted=True))[4].words == "posted"
    assert [n.words for n in stem(course(plan(), {"ada": []}), [], AtRegistrar({}))][:2] == [
        "no items yet",
        "no scores yet",
    ]
