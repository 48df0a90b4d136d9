"""Where a pasted block goes."""

from tests.builders import category, course, plan
from vinemark.core.course.course import Course, Student
from vinemark.core.scores.paste import PasteTarget, ReadPaste, read_paste

PEOPLE = ("Ode, Marit", "Pell, Jonas", "Quist, Ana", "Rask, Bo")
STUDENTS = ["L1", "L2", "L3", "L4"]
ITEMS = ["t0", "t1", "t2"]


def made() -> Course:
    """Items 'T 0' to 'T 2' and four students."""
    found = course(plan(category("10", "20", "30", prefix="t")), {s: [None] for s in STUDENTS})
    pairs = [(student, *name.split(", ")) for student, name in zip(STUDENTS, PEOPLE, strict=True)]
    people = [Student(student, family, given, f"{student.lower()}@x.example") for student, family, given in pairs]
    return Course(found.term, found.section, found.plan, tuple(people))


def paste(text: str, row: int = 0, column: int = 0, hidden: int = 0, students: list[str] | None = None) -> ReadPaste:
    rows = [line.split("\t") for line in text.split("\n")]
    return read_paste(made(), rows, PasteTarget(students or STUDENTS, ITEMS, row, column, hidden))


def cells(read: ReadPaste) -> list[tuple[str, str, str]]:
    return [(one.student, one.item, one.typed) for one in read.cells]


def test_a_plain_block_lies_where_it_is_put_without_a_word() -> None:
    read = paste("8\t19\nm\t", row=1, column=1)
    assert cells(read) == [("L2", "t1", "8"), ("L2", "t2", "19"), ("L3", "t1", "m"), ("L3", "t2", "")]
    assert (read.said, read.left_out) == ([], 0)


def test_a_heading_is_not_pasted_and_says_which_item_it_is() -> None:
    read = paste("T 2\n25\n28", column=0)
    assert cells(read) == [("L1", "t2", "25"), ("L2", "t2", "28")]
    assert read.said == ["The first row is a heading and is not pasted: T 2."]
    unknown = paste("Quiz\n8\n9\n7", column=1)
    assert cells(unknown) == [("L1", "t1", "8"), ("L2", "t1", "9"), ("L3", "t1", "7")]
    assert unknown.said == ["The first row is a heading and is not pasted: Quiz."]


def test_names_say_whose_each_row_is_whatever_the_order() -> None:
    read = paste("Quist, Ana\t7\t17\nMarit Ode\t8\t18\nNo One\t1\t1")
    assert cells(read) == [("L3", "t0", "7"), ("L3", "t1", "17"), ("L1", "t0", "8"), ("L1", "t1", "18")]
    assert read.said == [
        "2 of 3 rows are found by name or ID.", "Nobody here, left out: No One.",
        "The order is not that of the sheet: each row goes to its own student.", "2 cells would not be pasted.",
    ]  # fmt: skip


def test_numbers_and_names_in_columns_of_their_own_with_headings() -> None:
    read = paste("ID\tFirst\tLast\tT 1\tOther\nL2\tJonas\tPell\t12\tx\nL1\tMarit\tOde\t15\t")
    assert cells(read) == [("L2", "t1", "12"), ("L1", "t1", "15")]
    assert "Not items of the plan, left out: Other." in read.said
    by_parts = paste("Pell\tJonas\t9\nOde\tMarit\t8")
    assert cells(by_parts) == [("L2", "t0", "9"), ("L1", "t0", "8")]
    assert cells(paste("l4@x.example\t3\nl1@x.example\t4")) == [("L4", "t0", "3"), ("L1", "t0", "4")]


def test_an_empty_cell_beside_a_name_changes_nothing() -> None:
    assert cells(paste("Ode, Marit\t\t18\nPell, Jonas\t9\t")) == [("L1", "t1", "18"), ("L2", "t0", "9")]


def test_what_would_fall_outside_is_counted_before_anything_is_done() -> None:
    read = paste("1\t2\t3\t4\n5\t6\t7\t8\n9\t9\t9\t9", row=2, column=1)
    assert cells(read) == [("L3", "t1", "1"), ("L3", "t2", "2"), ("L4", "t1", "5"), ("L4", "t2", "6")]
    assert (read.left_out, read.said) == (8, ["8 cells would not be pasted."])


def test_a_filter_is_said() -> None:
    read = paste("8\n9", hidden=2, students=["L2", "L4"])
    assert cells(read) == [("L2", "t0", "8"), ("L4", "t0", "9")]
    assert read.said == ["2 students are hidden: the block goes to those that are shown."]


def test_namesakes_are_nobody_for_sure() -> None:
    twice = made()
    twice = Course(twice.term, twice.section, twice.plan, (*twice.students, Student("L9", "Ode", "Marit")))
    read = read_paste(twice, [["Ode, Marit", "8"], ["Pell, Jonas", "9"]], PasteTarget(STUDENTS, ITEMS, 0, 0))
    assert cells(read) == [("L2", "t0", "9")]
    assert "Nobody here, left out: Ode, Marit." in read.said
