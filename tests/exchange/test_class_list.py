"""Class lists as they come."""

import pytest

from vinemark.core.base.refused import Refused
from vinemark.core.course.course import Student
from vinemark.exchange.class_list import read_class_list

ZOE = Student("1", "Nuñez", "Zoë", "zoe@larkmoor.example")


@pytest.mark.parametrize(
    "text",
    [
        "id,family name,given name,email\n1,Nuñez,Zoë,zoe@larkmoor.example\n",
        "Student ID;Last Name;First Name;Email\r\n1;Nuñez;Zoë;zoe@larkmoor.example\r\n",
        "SID\tSurname\tForename\tMail\n1\tNuñez\tZoë\tzoe@larkmoor.example\n",
        'Email,Name,Student Number\nzoe@larkmoor.example,"Nuñez, Zoë",1\n',
        "\n\nE-MAIL address,given_name,FAMILY_NAME,Id,Notes\nzoe@larkmoor.example, Zoë ,Nuñez,1,x\n,,,,\n",
    ],
)
@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "cp1252", "utf-16"])
def test_any_sensible_file(text: str, encoding: str) -> None:
    found = read_class_list(text.encode(encoding))
    assert (list(found.students), found.errors) == ([ZOE], [])


def test_names_with_commas_particles_and_one_word() -> None:
    text = 'id,last,first\n1,"van der Meer, Jr.",Åse\n2,Suharti,\n3,,Prince\n'
    found = read_class_list(text.encode())
    assert [(s.family_name, s.given_name) for s in found.students] == [
        ("van der Meer, Jr.", "Åse"), ("Suharti", ""), ("Prince", ""),
    ]  # fmt: skip


def test_every_bad_line_is_named() -> None:
    found = read_class_list(b"id,last\n1,Ode\n,Pell\n2,\n1,Quist\n")
    assert found.errors == [
        "line 3: an id is missing",
        "line 4: a family name is missing",
        "line 5: the id 1 is on line 2 already",
    ]


@pytest.mark.parametrize(
    ("data", "reason"),
    [
        (b"", "needs a row of headings"),
        (b"id,last\n", "needs a row of headings"),
        (b"last,first\nOde,Marit\n", "no column is headed “id”"),
        (b"id,first\n1,Marit\n", "family name"),
        (b"PK\x03\x04\x00\x00", "is not a text file"),
        (b'id,last\n1,"Ode\n', "could not be read as a table"),
        (b"x" * (5 * 1024 * 1024 + 1), "larger than 5 MB"),
    ],
)
def test_what_is_no_class_list_is_refused_with_the_reason(data: bytes, reason: str) -> None:
    with pytest.raises(Refused) as caught:
        read_class_list(data)
    assert reason in caught.value.reason
