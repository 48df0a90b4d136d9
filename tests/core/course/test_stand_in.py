"""Numbers that stand in for ones not known yet."""

from vinemark.core.course.stand_in import is_stand_in, stand_ins, student_id_words


def test_they_go_on_after_the_highest_and_are_shown_as_none() -> None:
    made = stand_ins(2, ["L1", "no-id-7", "no-id-x"])
    assert made == ["no-id-8", "no-id-9"]
    assert all(map(is_stand_in, made))
    assert [student_id_words(one) for one in (*made[:1], "L1")] == ["no ID yet", "L1"]
