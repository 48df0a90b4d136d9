"""The set of amounts that hangs together."""

from dataclasses import replace
from fractions import Fraction

from vinemark.core.syllabus.read.choose import best_set, second_look
from vinemark.core.syllabus.read.prose import Said


def said(name: str, amount: int, score: int = 40, **more: object) -> Said:
    return Said(name, len(name), len(name) + 5, Fraction(amount), False, None, False, score, **more)  # type: ignore[arg-type]


def names(*found: Said) -> list[str]:
    return sorted(s.name for s in best_set(found, [Fraction(100)]).said)


def test_a_doubtful_amount_is_taken_where_it_makes_up_the_whole() -> None:
    assert names(said("Labs", 60), said("Final", 30), said("Jury", 10, score=0)) == ["Final", "Jury", "Labs"]
    assert names(said("Labs", 60), said("Final", 30), said("Jury", 5, score=0)) == ["Final", "Labs"]


def test_a_certain_one_that_breaks_the_whole_stays_out() -> None:
    assert names(said("Labs", 60), said("Final", 40), said("Cover", 45, score=30)) == ["Final", "Labs"]


def test_one_piece_of_work_said_twice_counts_once() -> None:
    assert names(said("Labs", 60, block=1), said("Lab", 60, block=2), said("Final", 40)) in (
        ["Final", "Labs"],
        ["Final", "Lab"],
    )


def test_midterm_1_and_midterm_2_are_two() -> None:
    assert names(said("Midterm 1", 40), said("Midterm 2", 60)) == ["Midterm 1", "Midterm 2"]


def test_what_no_wording_speaks_for_is_never_taken() -> None:
    assert names(said("Labs", 60), said("Tax", 40, score=-30)) == ["Labs"]


def test_each_or_all_is_told_by_the_sum() -> None:
    papers = Said("Papers", 0, 5, Fraction(20), False, 2, False, 40)
    assert [s.whole for s in best_set([papers, said("Final", 60)], [Fraction(100)]).said] == [40, 60]
    assert best_set([said("Labs", 60), said("Final", 40)], [Fraction(100)]).complete
    assert not best_set([said("Labs", 60)], [Fraction(100)]).complete


def test_what_is_left_after_the_drop_may_make_the_whole() -> None:
    """Arithmetic: six at 4% make 24, the five that count 20, and 20 + 80 is 100."""
    labs = Said("Labs", 0, 4, Fraction(4), True, 6, False, 40, kept=5)
    found = best_set([labs, said("Final", 80)], [Fraction(100)])
    assert ([s.whole for s in found.said], found.complete) == ([20, 80], True)
    assert not best_set([replace(labs, kept=None), said("Final", 80)], [Fraction(100)]).complete


def in_order(*found: Said) -> list[Said]:
    return [replace(s, start=n) for n, s in enumerate(found)]


def test_amounts_in_a_row_that_make_a_hundred_are_looked_at_again() -> None:
    doubted = in_order(said("Drawings", 60, 10), said("In-class tests", 20, 10), said("Clean-up", 20, -15))
    assert best_set(doubted, [Fraction(100)]).complete is False
    assert [s.name for s in second_look(doubted).said] == ["Drawings", "In-class tests", "Clean-up"]
    # What is left out between them, what is no work, and two of three speak against it.
    assert not second_look(in_order(*doubted[:2], said("Absences", 5, 0), doubted[2])).said
    assert not second_look(in_order(said("Content", 40, 0), said("Style", 30, 0), said("Grammar", 30, 0))).said
    assert not second_look(in_order(said("Labs", 60, 0), said("Final", 40, 0))).said
