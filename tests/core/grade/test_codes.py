"""From the computed grade to the rows that go out, and back."""

from tests.core.small_class import code_of, small_class


def test_the_pass_code_follows_the_offices_rule() -> None:
    assert (code_of(small_class(), "ada"), code_of(small_class(), "bo")) == ("B", "P")
    assert code_of(small_class(pass_from="C"), "bo") == "NP"
    assert code_of(small_class(pass_from="D"), "bo") == "P"
