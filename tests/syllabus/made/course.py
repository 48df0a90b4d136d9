"""A syllabus from a seed: a course with its facts, written in the wordings and layouts of one half."""

import html
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from random import Random
from typing import Any, Literal

from tests.syllabus.made import scales, tables
from tests.syllabus.made.tables import Part
from tests.syllabus.made.wordings import SEEN, UNSEEN, Wordings

Half = Literal["seen", "unseen"]
NAMES: Mapping[Half, Sequence[tuple[str, str]]] = {
    "seen": (
        ("Map quizzes", "quiz"),
        ("Lab reports", "report"),
        ("Homework sets", "set"),
        ("Midterm exams", "exam"),
        ("Field notebook", ""),
        ("Final exam", ""),
        ("Participation", ""),
        ("Term paper", ""),
        ("Seminar talk", ""),
        ("Reading responses", "response"),
        ("Specimen drawings", "drawing"),
        ("Kiln logs", "log"),
        ("Unit tests", "test"),
        ("Source critiques", "critique"),
        ("Weekly letters", "letter"),
        ("Monologues", "monologue"),
        ("Wiring checks", "check"),
        ("Pop quizzes", "quiz"),
        ("Oral examination", ""),
        ("Capstone portfolio", ""),
        ("Class citizenship", ""),
        ("Archive visit report", ""),
        ("Comprehensive final", ""),
        ("Group simulation", ""),
        ("Trail survey", ""),
        ("Dissection notebook", ""),
        ("Lighting plots", "plot"),
        ("Site visits", "visit"),
        ("Term tests", "test"),
        ("Position papers", "paper"),
        ("Code reviews", "review"),
        ("Sketchbook checks", "check"),
        ("Bench trials", "trial"),
        ("Listening journals", "journal"),
        ("Closing essay", ""),
        ("Studio conduct", ""),
        ("Jury", ""),
        ("Cumulative exam", ""),
        ("Partner project", ""),
        ("Annotated map", ""),
        ("Field day", ""),
        ("Recital", ""),
        ("Soil cores", "core"),
        ("Rehearsal notes", "note"),
        ("Chapter tests", "test"),
        ("Policy briefs", "brief"),
        ("Design crits", "crit"),
        ("Herbarium sheets", "sheet"),
        ("Lab practicals", "practical"),
        ("Blog entries", "entry"),
        ("Closing symposium", ""),
        ("Shop etiquette", ""),
        ("Thesis statement", ""),
        ("Written final", ""),
        ("Team charter", ""),
        ("Oral history", ""),
        ("Poster session", ""),
        ("Juried show", ""),
    ),
    "unseen": (
        ("Wind tunnel runs", "run"),
        ("Reader responses", "response"),
        ("Hour exams", "exam"),
        ("Vocal juries", "jury"),
        ("Peer edits", "edit"),
        ("Studio sketches", "sketch"),
        ("Ledger pages", "page"),
        ("Flight plans", "plan"),
        ("Concluding exam", ""),
        ("Ensemble conduct", ""),
        ("Curated exhibit", ""),
        ("Final memo", ""),
        ("Community project", ""),
        ("Annotated score", ""),
        ("Debate night", ""),
        ("Studio visit", ""),
    ),
}
SECTIONS = (
    ("Welcome", "This course is about looking closely. Bring a pencil, boots and patience."),
    (
        "Materials",
        "One notebook of 80 pages, a hand lens, and the reader (about $35). Goggles are lent for 2 hours at a time.",
    ),
    ("Honesty", "Say whose words and ideas you use. Two people who hand in the same file will both be asked about it."),
    ("Access", "Students with a letter from the access office get 50% more time. Please see me in the first 2 weeks."),
)
CALENDAR = """| Week | Subject | Due |
|---|---|---|
| 1 | Ground | |
| 2-4 | Water: 3% salt | first set |
| 5 | Air | exam 1 |
| 6 | Fire | 2 quizzes |"""
WORDED = {1: "one", 2: "two", 3: "three", 4: "four", 5: "five", 6: "six", 8: "eight", 10: "ten", 12: "twelve"}


@dataclass
class Made:
    """A file with the facts that should come out, in the form of a gold."""

    name: str
    data: bytes
    gold: dict[str, Any]
    structure: str
    scale: str


def made(seed: int, half: Half) -> Made:
    """The syllabus of a seed."""
    random = Random(f"{half} {seed}")
    by_points = random.random() < 0.3
    parts = _parts(random, half, by_points)
    return _written(random, half, parts, by_points, seed)


def _parts(random: Random, half: Half, by_points: bool) -> list[Part]:
    picked = random.sample(list(NAMES[half]), random.randint(4, 6))
    parts = [Part(name, one) for name, one in picked]
    shares = _shares(random, len(parts))
    for part, share in zip(parts, shares, strict=True):
        part.count = random.choice([2, 3, 4, 5, 6, 8, 10, 12]) if part.one else None
        part.weight = None if by_points else share
        if by_points:
            part.points_each = random.choice([10, 15, 20, 25, 50]) if part.count else None
            part.points = part.points_each * part.count if part.points_each and part.count else share * 5
        if part.count and part.count > 3 and random.random() < 0.5:
            if random.random() < 0.6:
                part.drop = random.choice([1, 2])
            else:
                part.best = part.count - random.choice([1, 2])
    return parts


def _shares(random: Random, count: int) -> list[int]:
    while True:
        found = [5 * random.randint(1, 8) for _ in range(count - 1)]
        if sum(found) <= 95:
            return [*found, 100 - sum(found)]


def _written(random: Random, half: Half, parts: list[Part], by_points: bool, seed: int) -> Made:
    words = SEEN if half == "seen" else UNSEEN
    layouts = tables.SEEN if half == "seen" else tables.UNSEEN
    structure = random.choice(["table", "table", "prose", "sections"])
    if structure == "table":
        layout = random.choice(list(layouts))
        ending, grading = layout(parts, random)
        structure = layout.__name__
    else:
        ending, grading = ".txt", _prose(random, words, parts, by_points, structure)
    rest = _rules(random, words, parts)
    gold: dict[str, Any] = {"basis": "points" if by_points else "weighted", "difficulty": structure}
    extra = _extra(random, words, by_points, gold, parts)
    scale_words, scale_name = _scale(random, half, parts, by_points, gold)
    policies = _policies(random, words, gold)
    blocks = [
        ("", f"GEOL {100 + seed % 300}: Ground and Water\nLarkmoor College"),
        *random.sample(SECTIONS, 2),
        (random.choice(["Grading", "How you are graded", "Evaluation"]), grading),
        ("More about the work", " ".join([*rest, *extra])),
        ("Letter grades", scale_words),
        ("Policies", " ".join(policies)),
        ("Calendar", CALENDAR),
    ]
    text, ending = _file(blocks, ending)
    return Made(f"made-{seed}{ending}", text.encode(), gold, structure, scale_name)


def _said(random: Random, words: Wordings, kind: str, part: Part, **values: object) -> str:
    name = part.name[0].lower() + part.name[1:]
    each = f"{part.weight / part.count:g}%" if part.weight is not None and part.count else ""
    given = {
        "name": name,
        "Name": part.name,
        "one": part.one or "item",
        "n": _number(random, part.count),
        "w": f"{part.weight}%",
        "e": each,
        "p": part.points_each,
        "t": part.points,
        "k": _number(random, part.best or part.drop),
        **values,
    }
    clean = part.weight is None or not part.count or part.weight * 10 % part.count == 0
    ways = [way for way in words[kind] if clean or "{e}" not in way]
    said = random.choice(ways).format(**given)
    return said[0].upper() + said[1:]


def _number(random: Random, number: int | None) -> str:
    return WORDED[number] if number in WORDED and random.random() < 0.6 else str(number)


def _prose(random: Random, words: Wordings, parts: list[Part], by_points: bool, structure: str) -> str:
    said = []
    for n, part in enumerate(parts):
        if by_points:
            kind = "points_each" if part.count else "points"
            part.each_told = bool(part.count)
        else:
            kind = "weights" if part.count else "remaining" if n == len(parts) - 1 else "weight"
        part.counted = True
        sentence = _said(random, words, kind, part)
        if structure == "sections":
            said.append(f"{part.name}\n\n{sentence} {random.choice(words['noise'])}")
        else:
            said.append(sentence)
    if by_points:
        said.append(f"The course has {sum(p.points or 0 for p in parts)} points in all.")
    return ("\n\n" if structure == "sections" else " ").join(said)


def _rules(random: Random, words: Wordings, parts: list[Part]) -> list[str]:
    said = []
    for part in parts:
        if part.told or not (part.drop or part.best):
            continue
        kind = "best" if part.best else "drop_one" if part.drop == 1 else "drop"
        sentence = _said(random, words, kind, part)
        part.counted = part.counted or (
            (f"{part.count}" in sentence or WORDED.get(part.count or 0, "?") in sentence) and part.best is not None
        )
        said.append(sentence)
    said += random.sample(list(words["noise"]), 2)
    random.shuffle(said)
    return said


def _extra(random: Random, words: Wordings, by_points: bool, gold: dict[str, Any], parts: list[Part]) -> list[str]:
    gold["categories"] = [_category(part) for part in parts]
    if random.random() < 0.6:
        return []
    value = random.choice([2, 3, 5]) if not by_points else random.choice([10, 15, 20])
    kind = "extra_points" if by_points else "extra"
    sentence = random.choice(words[kind]).format(w=f"{value}%", t=value)
    key = "points" if by_points else "weight"
    gold["categories"].append(
        {
            **_EMPTY,
            "name": "Extra credit",
            key: str(value),
            "extra": True,
            "aliases": [
                "Bonus",
                "Poster",
                "Science fair",
                "Colloquia",
                "Archive",
                "Tutoring",
                "Book review",
                "Museum talks",
                "Walk",
                "Walks",
                "Leading a walk",
                "Talk",
            ],
        }
    )
    return [sentence]


_EMPTY: dict[str, Any] = {
    "weight": None,
    "points": None,
    "count": None,
    "points_each": None,
    "drop_lowest": 0,
    "keep_best": None,
    "extra": False,
}


def _category(part: Part) -> dict[str, Any]:
    return {
        **_EMPTY,
        "name": part.name,
        "weight": None if part.weight is None else str(part.weight),
        "points": None if part.points is None else str(part.points),
        "count": part.count if part.counted else None,
        "points_each": str(part.points_each) if part.points_each and part.each_told else None,
        "drop_lowest": part.drop,
        "keep_best": part.best,
    }


def _scale(random: Random, half: Half, parts: list[Part], by_points: bool, gold: dict[str, Any]) -> tuple[str, str]:
    layout = random.choice(list(scales.SEEN if half == "seen" else scales.UNSEEN))
    rows = scales.SCALES[random.choice(sorted(scales.SCALES))]
    whole = 100
    unit = "percent"
    if by_points and random.random() < 0.5 and layout.__name__ not in scales.PERCENT_ONLY:
        whole = sum(p.points or 0 for p in parts)
        rows, unit = [(letter, low * whole // 100) for letter, low in rows], "points"
    text, bottom = layout(rows, whole, random)
    gold["scale"] = [{"letter": letter, "from": str(low)} for letter, low in rows]
    gold["scale"] += [{"letter": "F", "from": "0"}] if bottom else []
    gold["scale_unit"] = unit
    return text, layout.__name__


def _policies(random: Random, words: Wordings, gold: dict[str, Any]) -> list[str]:
    said = random.sample(list(words["noise"]), 2)
    gold["rounding"] = gold["blanks"] = None
    if random.random() < 0.6:
        pair: Any = random.choice(words["rounded"])
        sentence, decimals = pair
        said.append(sentence)
        gold["rounding"] = {"decimals": decimals}
    if random.random() < 0.5:
        said.append(random.choice(words["blanks"]))
        gold["blanks"] = "zero"
    random.shuffle(said)
    return said


def _file(blocks: Sequence[tuple[str, str]], ending: str) -> tuple[str, str]:
    if ending == ".html":
        return _html(blocks), ending
    mark = "## " if ending == ".md" else ""
    parts = [f"{mark}{title if mark else title.upper()}\n\n{text}" if title else text for title, text in blocks]
    return "\n\n\n".join(parts) + "\n", ending


def _html(blocks: Sequence[tuple[str, str]]) -> str:
    made = []
    for title, text in blocks:
        made.append(f"<h2>{title}</h2>" if title else "")
        if text.startswith("<"):
            made.append(text)
        elif text.startswith("|"):
            made.append(_html_table(text))
        else:
            made.append("".join(f"<p>{html.escape(line)}</p>" for line in text.split("\n") if line.strip()))
    return f"<!doctype html><html><body>{''.join(made)}</body></html>"


def _html_table(text: str) -> str:
    rows = []
    for line in text.split("\n"):
        if not line.startswith("|---"):
            cells = re.split(r" ?\| ?", line.strip("| "))
            rows.append("<tr>" + "".join(f"<td>{html.escape(cell)}</td>" for cell in cells) + "</tr>")
    return "<table>" + "".join(rows) + "</table>"
