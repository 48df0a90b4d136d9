"""The registrar's names of a section."""

from vinemark.core.submit.refs import joined_refs, refs_of


def test_one_name_is_itself_and_several_are_one_text() -> None:
    assert refs_of("2026FA-HYDR230-01") == ["2026FA-HYDR230-01"]
    both = joined_refs(["A-1", "B-2"])
    assert refs_of(both) == ["A-1", "B-2"]
    assert refs_of("") == []
