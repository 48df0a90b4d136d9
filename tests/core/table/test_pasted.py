"""Students pasted as text."""

import pytest

from vinemark.core.table.pasted import read_pasted_people


@pytest.mark.parametrize(
    ("text", "people"),
    [
        ("Ode, Marit\nPell, Jonas", [(None, "Ode", "Marit", None), (None, "Pell", "Jonas", None)]),
        ("1. Marit Ode\n2) Jonas Pell", [(None, "Ode", "Marit", None), (None, "Pell", "Jonas", None)]),
        ("S1001 Marit Ode", [("S1001", "Ode", "Marit", None)]),
        ("S1001, Ode, Marit, o@x.example", [("S1001", "Ode", "Marit", "o@x.example")]),
        ("S1001\tOde\tMarit\to@x.example", [("S1001", "Ode", "Marit", "o@x.example")]),
        ("Ode;Marit;900-12", [("900-12", "Ode", "Marit", None)]),
        ("Name\tID\nOde, Marit\t1001", [("1001", "Ode", "Marit", None)]),
        ("First name,Last name\nMarit,Ode\nJonas,Pell", [(None, "Ode", "Marit", None), (None, "Pell", "Jonas", None)]),
        ("Marit Ode <o@x.example>", [(None, "Ode", "Marit", "o@x.example")]),
        ("• Suharti\n\n• Ana van der Meer", [(None, "Suharti", "", None), (None, "Meer", "Ana van der", None)]),
    ],
)
def test_names_numbers_and_addresses(text: str, people: list[tuple[str | None, str, str, str | None]]) -> None:
    found = read_pasted_people(text)
    assert [(p.id, p.family_name, p.given_name, p.email) for p in found.people] == people
    assert not found.unread


def test_a_line_that_names_nobody_is_said_with_its_number() -> None:
    found = read_pasted_people("Ode, Marit\n12345\nPell, Jonas\n--")
    assert [p.line for p in found.people] == [1, 3]
    assert [text.partition(":")[0] for text in found.unread] == ["line 2", "line 4"]
