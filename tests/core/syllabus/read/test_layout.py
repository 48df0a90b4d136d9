"""Reading a syllabus: every way of saying something by its example, whole documents, and places in the text."""

from vinemark.core.syllabus.read.layout import section_kind


def test_sections_by_their_headings() -> None:
    kinds = [
        section_kind(h)
        for h in ("how bench projects are judged", "course calendar", "letter grades", "evaluation", "safety")
    ]
    assert kinds == ["rubric", "calendar", "scale", "grading", "other"]
