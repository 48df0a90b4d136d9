"""A syllabus as a document on the screen, and two versions of it in words."""

from tests.core.syllabus.one_syllabus import PLAN, READING, TEXT
from vinemark.core.syllabus import read_syllabus
from vinemark.core.syllabus.compare.match import compare_rules
from vinemark.core.syllabus.compare.shown import ShownPiece, reading_changes, shown_document


def shown(text: str) -> list[ShownPiece]:
    return shown_document(text, read_syllabus(text))


def test_headings_lists_and_tables_stand_as_such() -> None:
    found = shown(
        "# Grading\n\nHow it **adds** up.\n\n- Labs: 40%\n  - ten of them\n- Final: 60%\n\n"
        "| Letter | From |\n|---|---|\n| A | 90 |\n| B | 80 |\n| C | 70 |\n"
    )
    assert [piece.kind for piece in found] == ["heading", "paragraph", "list", "table"]
    assert found[0].stretches[0].text == "Grading"
    assert found[1].stretches[0].text == "How it adds up."
    assert [(item.depth, item.stretches[0].text) for item in found[2].items] == [
        (1, "Labs: 40%"), (2, "ten of them"), (1, "Final: 60%"),
    ]  # fmt: skip
    assert [list(row.cells) for row in found[3].rows][:2] == [["Letter", "From"], ["A", "90"]]
    assert found[3].rows[1].mark.kinds == ("scale",)


def test_every_clause_lies_in_a_marked_sentence_and_places_are_the_texts() -> None:
    found = shown_document(TEXT, READING, compare_rules(PLAN, READING))
    marks = [s for piece in found for s in piece.stretches]
    marks += [s for piece in found for item in piece.items for s in item.stretches]
    marks += [row.mark for piece in found for row in piece.rows]
    for clause in READING.clauses:
        assert any(clause.kind in s.kinds and s.start < clause.end and clause.start < s.end for s in marks), clause
    assert any(s.rules for s in marks)
    assert all(0 <= s.start < s.end <= len(TEXT) for s in marks)


def test_two_versions_line_by_line() -> None:
    second = read_syllabus(
        TEXT.replace("| Seminar | | 10% |", "| Seminar | | 10% |").replace("two decimals", "one decimal")
    )
    lines = [(line.side, line.text) for line in reading_changes(READING, second) if line.side != "both"]
    assert lines == [("first", "Rounded to 2 decimals"), ("second", "Rounded to 1 decimals")]


def test_headings_of_one_level_stand_at_one_level_though_a_step_is_left_out() -> None:
    found = shown(
        "# Ethics\n\n### Weights\n\nLabs 40%.\n\n### Letters\n\nA 90.\n\n##### Note\n\nSo.\n\n## Rules\n\nSo.\n"
    )
    levels = [(piece.stretches[0].text, piece.level) for piece in found if piece.kind == "heading"]
    assert levels == [("Ethics", 2), ("Weights", 3), ("Letters", 3), ("Note", 4), ("Rules", 3)]
