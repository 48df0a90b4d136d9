"""Which database a new section is kept in, and what a databases.toml may say."""

import tomllib
from datetime import date

import pytest

from vinemark.core.base.refused import Refused
from vinemark.core.course.course import SectionName, Term
from vinemark.core.course.databases import (
    HOME,
    SPAN,
    Databases,
    KeptApart,
    department_of,
    number_of,
    plain_words,
    read_databases,
)

ALONE = KeptApart(HOME, "vinemark.sqlite")
FILE = """
[home]
address = "http://10.0.0.11:8600"

[[database]]
number = 1
file = "fall.sqlite"
terms = ["Fall 2026"]
departments = ["HYDR", "soil"]
address = "http://10.0.0.12:8600"

[[database]]
number = 7
file = "fibr.sqlite"
departments = ["FIBR"]
"""


def term(name: str) -> Term:
    return Term(name, date(2026, 8, 31), date(2026, 12, 18))


def read(text: str) -> Databases:
    every = read_databases(tomllib.loads(text), ALONE)
    return Databases(every, frozenset({HOME, 7}))


@pytest.mark.parametrize(
    ("of_term", "course", "number"),
    [
        ("Fall 2026", "HYDR 230", 1), (" fall  2026", "Soil-210", 1), ("Spring 2027", "HYDR 230", HOME),
        ("Fall 2026", "FIBR 120", 7), ("Spring 2027", "fibr120", 7), ("Fall 2026", "BOTN 105", HOME),
        ("Fall 2026", "HYDRO 230", HOME), ("Fall 2026", "105", HOME),
    ],
)  # fmt: skip
def test_the_first_that_takes_a_section_keeps_it_and_the_home_one_takes_the_rest(
    of_term: str, course: str, number: int
) -> None:
    assert read(FILE).taking(term(of_term), SectionName(course, "", "01")).number == number


def test_what_is_here_and_elsewhere() -> None:
    found = read(FILE)
    assert [one.number for one in found.here] == [HOME, 7]
    assert [(one.number, one.address) for one in found.elsewhere] == [(1, "http://10.0.0.12:8600")]
    assert (found.home.file, found.home.address) == ("vinemark.sqlite", "http://10.0.0.11:8600")
    assert found.numbered(7) is found.here[1]
    assert found.numbered(2) is None


def test_a_database_says_in_words_what_it_has() -> None:
    assert [one.words for one in read(FILE).every] == ["", "HYDR, SOIL, Fall 2026", "FIBR"]


def test_ids_tell_the_database() -> None:
    assert [number_of(one) for one in (1, SPAN - 1, SPAN + 1, 7 * SPAN + 12)] == [0, 0, 1, 7]


def test_words_are_compared_in_any_case_and_spacing() -> None:
    assert plain_words(" Fall\t 2026 ") == "fall 2026"
    assert [department_of(SectionName(name, "", "")) for name in ("HYDR 230", "hydr230", "ÖKO 1", "230", "")] == [
        "hydr",
        "hydr",
        "öko",
        "",
        "",
    ]


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("[[databases]]\nnumber = 1", "nothing else"),
        ("database = 3", "must be a list"),
        ("database = [3]", "must be a list"),
        ("[home]\nfile = 'a'", "has an address and nothing else"),
        ("home = 1", "has an address and nothing else"),
        ("[home]\naddress = '10.0.0.1'", "address that is none"),
        ("[[database]]\nfile = 'a'\nterms = ['x']", "needs a number"),
        ("[[database]]\nnumber = 0\nfile = 'a'\nterms = ['x']", "needs a number"),
        ("[[database]]\nnumber = 1000\nfile = 'a'\nterms = ['x']", "needs a number"),
        ("[[database]]\nnumber = true\nfile = 'a'\nterms = ['x']", "needs a number"),
        ("[[database]]\nnumber = 1\nterms = ['x']", "needs a file"),
        ("[[database]]\nnumber = 1\nfile = 'a'", "needs terms or departments"),
        ("[[database]]\nnumber = 1\nfile = 'a'\nterms = 'x'", "terms that are no list"),
        ("[[database]]\nnumber = 1\nfile = 'a'\nterms = [' ']", "terms that are no list"),
        ("[[database]]\nnumber = 1\nfile = 'a'\nterms = ['x']\nterm = 'x'", "term, which is not known"),
        ("[[database]]\nnumber = 1\nfile = 'a'\nterms = ['x']\naddress = 3", "address that is none"),
        ("[[database]]\nnumber = 1\nfile = 'vinemark.sqlite'\nterms = ['x']", "that another one has"),
        (FILE + "[[database]]\nnumber = 7\nfile = 'b'\nterms = ['x']", "that another one has"),
    ],
)
def test_a_file_that_is_wrong_is_refused_in_words(text: str, said: str) -> None:
    with pytest.raises(Refused, match=said):
        read(text)


def test_something_that_is_no_table_is_refused() -> None:
    with pytest.raises(Refused, match="nothing else"):
        read_databases([], ALONE)
