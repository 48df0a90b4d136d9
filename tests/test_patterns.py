"""No pattern takes much longer than its text is long: every pattern of the source is fed growing texts."""

import ast
import importlib
import re
import time
from collections.abc import Callable, Iterator
from itertools import pairwise
from pathlib import Path
from typing import Any

import pytest

from vinemark.core.syllabus.read import normal

pytestmark = pytest.mark.many
SOURCE = Path(__file__).parent.parent / "src" / "vinemark"
CALLS = {"compile", "sub", "subn", "search", "match", "fullmatch", "split", "findall", "finditer"}
SIZES = (200, 800, 3_200)
"""A pattern whose time grows with the square of the text takes 16 times as long for the next one."""
MOST_GROWTH = 9
LOOKS = 3
AT_LEAST = 0.008
"""Seconds that a pattern must take for its growth to be measured."""
TOKENS = (
    "1", "0.", ".", ",", " ", "\n", "\t", "a", "a ", "A", "%", "1%", "1 ", "1, ", "1-", "(", ")", "(1", "[", "-", "- ",
    "–", "*", "|", "| ", ":", ";", "/", "1/", "'", '"', "=", "+", "a1", "1a", "a.", "a. ", "a, ", "a and ", "the ",
    "one ", "of ", "each ", "points ", "10 points ", "10% ", "a 10% ", "10 x ", "lowest ", "drop ", "A 90 ", "90-",
    "best 5 of 6 ", "drop the lowest ", "the lowest two ", "homework (40%) ", "1-2 ", "1/2 ", "twenty-", "12,", "1 1",
    "a-", "extra credit ", "if ", "90-100 a ", ". ", "; ", "…", "is worth ", "10 x 10 ", "quiz, ", "(a", "a:", "a; ",
    "\u00a0", "\u2028", "²", "\u0301", "<", ">", "_", "#", "x", "&",
)  # fmt: skip


BUILDERS = {"phrase": lambda pattern, _: normal.phrase(pattern), "saying": lambda pattern, _: normal.phrase(pattern)}
"""Functions of the source that make a pattern of a text."""
# Patterns that are made when they are used, with an example of what they are made of.
MADE_WHEN_USED = {
    "vinemark.core.plan.edit": {"prefix": "i"},
    "vinemark.core.syllabus.read.mentions": {"names": r"map\ quizzes|field\ day|what\ you\ do"},
    "vinemark.core.syllabus.compare.sure": {"plain": r"quiz[\s:|.,()=\u2013-]*[0-9]{1,3}\s*(?:%|percent)[\s|.;)]*"},
}
# Loops over patterns that stand in a table of their module.
IN_TABLES: dict[str, Callable[[Any], list[tuple[str, int]]]] = {
    "vinemark.core.base.names": lambda m: [(ending, re.IGNORECASE) for ending, _ in m.ENDINGS],
    "vinemark.core.plan.scale_text": lambda m: [(pattern, 0) for pattern in m._ROWS],
    "vinemark.core.table.words": lambda m: [
        (p.pattern, p.flags) for p in vars(m).values() if isinstance(p, re.Pattern)
    ],
    "vinemark.core.syllabus.read.layout": lambda m: [(words, 0) for _, words in m.SECTION_KINDS],
}
ELSEWHERE = ("ending", "pattern", "patterns", "words", "filled", "times['each']")
"""What runs through such a table, and what only a call knows."""


def _patterns() -> Iterator[tuple[str, str, int]]:
    """Place, pattern and flags of every pattern of the source, worked out in its module."""
    for path in sorted(SOURCE.rglob("*.py")):
        text = path.read_text(encoding="utf-8")
        if not re.search(r"\bre\.|phrase\(|saying\(", text):
            continue
        name = ".".join(path.relative_to(SOURCE.parent).with_suffix("").parts).removesuffix(".__init__")
        module = importlib.import_module(name)
        yield from ((name, pattern, flags) for pattern, flags in (IN_TABLES[name](module) if name in IN_TABLES else []))
        known = {**vars(module), **MADE_WHEN_USED.get(name, {})}
        for node in ast.walk(ast.parse(text)):
            if isinstance(node, ast.Call) and node.args and _builder(node.func):
                yield from ((f"{name}:{node.lineno}", pattern, flags) for pattern, flags in _made(node, known))


def _made(call: ast.Call, known: dict[str, Any]) -> Iterator[tuple[str, int]]:
    said, builder = ast.unparse(call.args[0]), _builder(call.func)
    if any(
        said == name or f"{{{name}}}" in said or f"({name})" in said or name in said.split(", ") for name in ELSEWHERE
    ):
        return
    given = eval(said, known)  # noqa: S307  # our own source
    flags = re.findall(r"\bre\.[A-Z]+\b", " ".join(ast.unparse(part) for part in [*call.args[1:], *call.keywords]))
    made = re.compile(given, _flags(flags)) if builder is re.compile or builder is None else builder(given, "")
    yield _as_called(call, made.pattern), made.flags


def _as_called(node: ast.Call, pattern: str) -> str:
    """A pattern that is only tried at the start of a text has a start."""
    at_start = isinstance(node.func, ast.Attribute) and node.func.attr in {"match", "fullmatch"}
    return rf"\A(?:{pattern})" if at_start else pattern


def _flags(names: list[str]) -> int:
    return sum(int(getattr(re, name.removeprefix("re."))) for name in set(names))


def _builder(function: ast.expr) -> Callable[..., re.Pattern[str]] | None:
    """What makes a pattern of the first argument of a call."""
    if isinstance(function, ast.Name):
        return BUILDERS.get(function.id)
    if not isinstance(function, ast.Attribute) or not isinstance(function.value, ast.Name):
        return None
    return re.compile if function.attr in CALLS and function.value.id == "re" else None


PATTERNS = list(_patterns())


def _leads(pattern: str) -> list[str]:
    """Words that stand in a pattern: what may come before the part that grows."""
    words = re.findall(r"(?<![\\\w])[a-z]{2,}(?:[ -][a-z]+)*", re.sub(r"\(\?[P<a-z_>:=!]+|\\[a-zA-Z]", " ", pattern))
    return ["", "94 - 100", "A", *sorted(set(words), key=len, reverse=True)[:1]]


def seconds(pattern: re.Pattern[str], text: str) -> float:
    start = time.process_time()
    for _ in pattern.finditer(text):
        pass
    pattern.fullmatch(text)
    return time.process_time() - start


def _steady(pattern: re.Pattern[str], text: str) -> float:
    """The least of three times, each of as many runs as a clock needs that goes in steps."""
    found = []
    for _ in range(3):
        spent = [seconds(pattern, text)]
        while sum(spent) < AT_LEAST:
            spent.append(seconds(pattern, text))
        found.append(sum(spent) / len(spent))
    return min(found)


def grows(pattern: re.Pattern[str], lead: str, token: str) -> float:
    """How many times as long a text takes that is four times as long; 0 where even the longest takes no time."""
    texts = [lead + " " * bool(lead) + (token * size)[:size] for size in SIZES]
    for short, long in pairwise(texts):
        if seconds(pattern, long) > AT_LEAST:
            return _steady(pattern, long) / _steady(pattern, short)
    return 0


def test_there_are_patterns() -> None:
    assert len(PATTERNS) > 100


def is_square(pattern: re.Pattern[str], lead: str, token: str) -> bool:
    """Whether it grows too much each time that it is looked at: a busy machine disturbs one look or another."""
    return all(grows(pattern, lead, token) >= MOST_GROWTH for _ in range(LOOKS))


def test_a_square_pattern_is_seen() -> None:
    assert any(grows(re.compile(r"\d+x"), "", "1") >= MOST_GROWTH for _ in range(20))
    assert not is_square(re.compile(r"(?<!\d)\d{1,9}x"), "", "1")


@pytest.mark.parametrize(("place", "pattern", "flags"), PATTERNS, ids=[place for place, _, _ in PATTERNS])
def test_a_pattern_is_linear(place: str, pattern: str, flags: int) -> None:
    compiled = re.compile(pattern, flags)
    fed = [(lead, token) for lead in _leads(pattern) for token in TOKENS if not lead or len(token) < 3]
    assert not [each for each in fed if is_square(compiled, *each)]
