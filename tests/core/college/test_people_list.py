"""People from a list: each address once, and what is wrong is said at its line."""

from vinemark.core.college.people_list import listed_people

DEPARTMENTS = ["Earth and Water"]


def wrong(**values: str) -> str:
    (found,) = listed_people([(2, values)], DEPARTMENTS)
    return found.wrong


def test_names_come_whole_or_in_two_columns() -> None:
    whole, parts = listed_people(
        [(2, {"email": "a@b", "name": " Ada  Mai "}), (3, {"email": "c@d", "given": "Bo", "family": "Lund"})],
        [],
    )
    assert (whole.name, parts.name) == ("Ada Mai", "Bo Lund")
    assert not whole.wrong
    assert not parts.wrong


def test_a_part_comes_with_its_department() -> None:
    (chair,) = listed_people([(2, {"email": "a@b", "role": "Chair", "department": "earth and  water"})], DEPARTMENTS)
    assert (chair.role, chair.department, chair.wrong) == ("chair", "Earth and Water", "")
    assert wrong(email="a@b", role="administrator") == ""
    assert wrong(email="a@b", role="instructor") == ""


def test_what_is_wrong_is_said() -> None:
    assert "no email address" in wrong(email="Ada", name="Ada")
    assert "too long" in wrong(email="a@b", name="x" * 1000)
    assert "the part dean" in wrong(email="a@b", role="dean")
    assert "no department here" in wrong(email="a@b", role="chair", department="Alchemy")
    assert "no department, which" in wrong(email="a@b", role="chair")


def test_an_address_counts_once() -> None:
    found = listed_people([(2, {"email": "a@b"}), (3, {"email": "A@B"}), (4, {"email": "c@d"})], [])
    assert [one.wrong for one in found] == ["", "stands in the list above", ""]
