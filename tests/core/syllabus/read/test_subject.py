"""Which category a stretch of a sentence speaks of."""

from vinemark.core.syllabus.facts import SaidCategory
from vinemark.core.syllabus.read.subject import named_after, named_before

CATEGORIES = [SaidCategory("Final exam"), SaidCategory("Midterm exams"), SaidCategory("Soil cores")]


def test_the_last_name_before_and_the_first_after() -> None:
    before = named_before("when i average the midterm exams, the ", CATEGORIES)
    assert before is not None
    assert before.name == "Midterm exams"
    after = named_after("of the soil cores and the final exam", CATEGORIES)
    assert after is not None
    assert after.name == "Soil cores"
    assert named_before("nothing here", CATEGORIES) is None
