"""What students see is kept and undone; whose sections an email address opens."""

from tests.store.conftest import Kept
from vinemark.core.statement.shown import StudentsSee
from vinemark.store.students_see import students_see, studied_section, studied_sections, write_students_see
from vinemark.store.undo import undo_entry


def test_a_choice_is_kept_and_undone(kept: Kept) -> None:
    assert students_see(kept.connection, kept.section) == StudentsSee()
    first = write_students_see(kept.connection, kept.act("1"), StudentsSee(figures=True))
    second = write_students_see(kept.connection, kept.act("2"), StudentsSee(points=False))
    assert students_see(kept.connection, kept.section) == StudentsSee(points=False)
    undo_entry(kept.connection, kept.act("3"), second)
    assert students_see(kept.connection, kept.section) == StudentsSee(figures=True)
    undo_entry(kept.connection, kept.act("4"), first)
    assert students_see(kept.connection, kept.section) == StudentsSee()


def test_a_student_is_whom_the_class_list_has_by_email(kept: Kept) -> None:
    kept.connection.execute("UPDATE student SET email = 'Ada@larkmoor.example' WHERE id = 'ada'")
    (found,) = studied_sections(kept.connection, " ada@LARKMOOR.example ")
    assert (found.student_id, found.record.id, found.record.role) == ("ada", kept.section, "student")
    assert studied_section(kept.connection, "ada@larkmoor.example", kept.section) == found
    assert studied_section(kept.connection, "ada@larkmoor.example", kept.section + 1) is None
    for nobody in ("", " ", "maren@larkmoor.example"):
        assert studied_sections(kept.connection, nobody) == []


def test_who_was_set_aside_is_none_and_a_copy_of_an_archive_has_none(kept: Kept) -> None:
    kept.connection.execute("UPDATE student SET email = 'ada@larkmoor.example', set_aside = 'left' WHERE id = 'ada'")
    assert studied_sections(kept.connection, "ada@larkmoor.example") == []
    kept.connection.execute("UPDATE student SET set_aside = NULL")
    for column in ("archive = 'x'", "practice = 1"):
        kept.connection.execute(f"UPDATE section SET {column}")  # noqa: S608
        assert studied_sections(kept.connection, "ada@larkmoor.example") == []
