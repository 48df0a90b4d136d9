"""Tables of scores made from a seed, each with what a person reads in it."""

import csv
import io
import random
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any

from openpyxl import Workbook
from openpyxl.worksheet.worksheet import Worksheet

from tests.table.vocabulary import HALVES, Half
from vinemark.core.base.number import exact_text, rounded_to

FAMILIES = (
    "Adair", "Bloom", "Crane", "Dahl", "Eads", "Finn", "Gant", "Hull", "Ives", "Judd",
    "Knox", "Lowe", "Moss", "Nash", "Orr", "Pike", "Quinn", "Rowe", "Sato", "Tull",
)  # fmt: skip
GIVEN = (
    "Ana", "Bo", "Cy", "Di", "Eva", "Flo", "Gus", "Hal", "Ines", "Joy",
    "Kai", "Liv", "Mo", "Ned", "Ola", "Pia", "Rex", "Sky", "Tia", "Una",
)  # fmt: skip
LETTERS = ((90, "A"), (80, "B"), (70, "C"), (60, "D"), (0, "F"))
Row = list[str]


@dataclass
class MadeColumn:
    """A column: heading, what is read of it, and for each student the cell as shown and as it is read."""

    heading: str
    role: str
    shown: list[str] = field(default_factory=list)
    scores: list[Fraction | None] = field(default_factory=list)
    said: list[Any] = field(default_factory=list)
    name: str = ""
    group: str | None = None
    points: Fraction | None = None
    points_in_heading: bool = False
    weight: Fraction | None = None
    due: str | None = None
    extra: bool = False
    unit: str | None = None


@dataclass(frozen=True)
class Made:
    """A file with its gold."""

    data: bytes
    gold: dict[str, Any]


class _Maker:
    """One table, drawn."""

    def __init__(self, seed: int, half: Half) -> None:
        self.draw = random.Random(f"{half} {seed}")
        self.words = HALVES[half]
        self.half = half
        self.size = self.draw.randint(5, 24)
        self.columns: list[MadeColumn] = []
        self.families = [self.draw.choice(FAMILIES) for _ in range(self.size)]
        self.given = [self.draw.choice(GIVEN) for _ in range(self.size)]
        self.ids = [f"{n:05d}" for n in self.draw.sample(range(10_000, 99_999), self.size)]
        self.left = [self.chance(0.06) for _ in range(self.size)]
        self.points_by = self.draw.choice(("row", "heading", "none"))

    def chance(self, share: float) -> bool:
        return self.draw.random() < share

    def plain(self, heading: str, role: str, cells: list[str]) -> None:
        self.columns.append(MadeColumn(heading, role, cells, said=list(cells)))

    def people(self) -> None:
        if self.chance(0.25):
            self.plain(self.draw.choice(self.words.running), "other", [str(n + 1) for n in range(self.size)])
        ids = ("id", self.ids) if self.chance(0.75) else None
        if ids and self.chance(0.5):
            self.plain(self.draw.choice(self.words.ids), *ids)
        style = self.draw.choice(("comma", "words", "two"))
        pairs = list(zip(self.families, self.given, strict=True))
        if style == "two":
            family, given = self.draw.choice(self.words.two_names)
            self.plain(family, "family_name", self.families)
            self.plain(given, "given_name", self.given)
        else:
            shown = [f"{f}, {g}" if style == "comma" else f"{g} {f}" for f, g in pairs]
            self.plain(self.draw.choice(self.words.names), "name", shown)
        if ids and not any(one.role == "id" for one in self.columns):
            self.plain(self.draw.choice(self.words.ids), *ids)
        self.has_ids = bool(ids)
        self.emails = [f"{g}.{f}{n}@larkmoor.example".lower() for n, (f, g) in enumerate(pairs)]
        self.has_emails = self.chance(0.3)
        if self.has_emails:
            self.plain("Email", "email", self.emails)
        if self.chance(0.2):
            self.plain(self.draw.choice(self.words.sections), "section", [self.draw.choice("12") for _ in self.ids])
        self.has_status = self.chance(0.3)
        if self.has_status:
            said = ["Withdrawn" if left else "Enrolled" for left in self.left]
            self.plain(self.draw.choice(self.words.statuses), "status", said)
        else:
            self.left = [False] * self.size

    def work(self) -> None:
        """Groups of works with a figure for each now and then, works on their own, extra credit."""
        self.grouped = self.chance(0.35)
        for group, work in self.draw.sample(self.words.work, self.draw.randint(1, 3)):
            members = [
                self.item(f"{work} {n + 1}", group if self.grouped else None) for n in range(self.draw.randint(2, 5))
            ]
            if self.chance(0.4):
                self.part(self.draw.choice(self.words.parts).format(work), members, group if self.grouped else None)
        for name in self.draw.sample(self.words.single, self.draw.randint(0, 2)):
            self.item(name, None)
        if self.chance(0.2):
            self.item(self.draw.choice(self.words.extra), None, extra=True)

    def item(self, name: str, group: str | None, extra: bool = False) -> MadeColumn:
        points = Fraction(self.draw.choice((10, 20, 25, 40, 50, 100)))
        one = MadeColumn(name, "item", name=name.replace(" (EC)", ""), group=group, extra=extra)
        if self.points_by == "heading" and not extra:
            one.heading = self.draw.choice(self.words.points_in_heading).format(name).replace("10", exact_text(points))
            one.points_in_heading = True
        one.points = points if self.points_by == "row" or one.points_in_heading else None
        ability = [self.draw.uniform(0.45, 1) for _ in range(self.size)]
        for part in ability:
            self.cell(one, points, part)
        self.columns.append(one)
        return one

    def cell(self, one: MadeColumn, points: Fraction, part: float) -> None:
        kind = self.draw.random()
        if kind < 0.06:
            shown, score, said = "", None, None
        elif kind < 0.08:
            shown, score, said = self.draw.choice(self.words.missing), None, "missing"
        elif kind < 0.1:
            shown, score, said = self.draw.choice(self.words.exempt), None, "exempt"
        else:
            score = min(points, rounded_to(Fraction(part) * points * 2, 0, "nearest") / 2)
            shown, said = exact_text(score), exact_text(score)
        one.shown.append(shown)
        one.scores.append(score)
        one.said.append(said)

    def part(self, heading: str, members: list[MadeColumn], group: str | None) -> None:
        """What some works come to: their sum, or their mean where they are worth the same."""
        mean = any(word in heading for word in ("avg", "mean")) or (self.chance(0.3) and "um" not in heading)
        figures = []
        for n in range(self.size):
            scores = [score for one in members if (score := one.scores[n]) is not None]
            value = sum(scores, Fraction(0)) / (len(scores) if mean and scores else 1)
            figures.append(exact_text(rounded_to(value, 1, "nearest")))
        self.plain(heading, "subtotal", figures)
        self.columns[-1].group = group

    def course(self) -> None:
        """What the course comes to, in points or percent, and the letter."""
        works = [one for one in self.columns if one.role == "item"]
        possible = sum((one.points or Fraction(0) for one in works if not one.extra), Fraction(0))
        kind = self.draw.choice(("points", "percent", "none") if possible else ("points", "none"))
        sums = [sum((one.scores[n] or Fraction(0) for one in works), Fraction(0)) for n in range(self.size)]
        if kind != "none":
            values = sums if kind == "points" else [rounded_to(100 * s / possible, 1, "nearest") for s in sums]
            words = self.words.sums if kind == "points" else self.words.percents
            self.plain(self.draw.choice(words), "total", [exact_text(value) for value in values])
            self.columns[-1].unit = kind
            if kind == "points" and self.points_by == "row":
                self.columns[-1].points = possible
        if kind != "none" and self.chance(0.6):
            percents = [100 * s / (possible or max(sums) or 1) for s in sums]
            said = [next(letter for cutoff, letter in LETTERS if p >= cutoff) for p in percents]
            self.plain(self.draw.choice(self.words.letters), "letter", said)
        if self.chance(0.25):
            said = ["late in week two" if self.chance(0.2) else "" for _ in self.ids]
            said[0] = "asks good questions"
            self.plain(self.draw.choice(self.words.remarks), "remark", said)

    def rows(self) -> tuple[list[tuple[str, Row]], int]:
        """Every row with its kind, from the first; and where students begin."""
        blank = [("", [""] * len(self.columns))]
        found = self._above() + self._under() + (blank if self.chance(0.15) else [])
        begin = len(found)
        found += [("student", [one.shown[n] for one in self.columns]) for n in range(self.size)]
        found += blank if self.chance(0.15) else []
        for word in self.draw.sample(self.words.figures, self.draw.choice((0, 1, 2))):
            found.append(self._labelled("figures", (word,), [self._mean(one) for one in self.columns]))
        if self.chance(0.25):
            found.append(self._alone("note", self.draw.choice(self.words.notes)))
        return found, begin

    def _labelled(self, kind: str, words: tuple[str, ...], cells: Row) -> tuple[str, Row]:
        place = next(n for n, one in enumerate(self.columns) if one.role in {"name", "family_name"})
        cells[place] = self.draw.choice(words)
        return kind, cells

    def _alone(self, kind: str, text: str) -> tuple[str, Row]:
        return kind, [text] + [""] * (len(self.columns) - 1)

    def _above(self) -> list[tuple[str, Row]]:
        titles = self.draw.sample(self.words.titles, self.draw.choice((0, 0, 1, 2)))
        found = [self._alone("title", title) for title in titles]
        if self.grouped:
            groups = [one.group or "" for one in self.columns]
            found.append(("group", [g if n == 0 or groups[n - 1] != g else "" for n, g in enumerate(groups)]))
        return [*found, ("heading", [one.heading for one in self.columns])]

    def _under(self) -> list[tuple[str, Row]]:
        """Rows of points, weights and days under the headings."""
        found: list[tuple[str, Row]] = []
        works = [one for one in self.columns if one.role == "item" and not one.extra]
        if self.points_by == "row":
            cells = [_amount(one.points) for one in self.columns]
            found.append(self._labelled("points", self.words.points_labels, cells))
        if self.chance(0.2):
            for one in works:
                one.weight = Fraction(100 // len(works))
            works[-1].weight = 100 - (len(works) - 1) * Fraction(100 // len(works))
            cells = [_amount(one.weight, "%") for one in self.columns]
            found.append(self._labelled("weight", self.words.weight_labels, cells))
        if self.chance(0.25):
            for n, one in enumerate(works):
                one.due = f"2026-{9 + n // 9:02d}-{1 + 3 * (n % 9):02d}"
            style = self.draw.choice(("iso", "slash"))
            found.append(
                self._labelled("date", self.words.date_labels, [self._day(o.due, style) for o in self.columns])
            )
        return found

    def _day(self, due: str | None, style: str) -> str:
        if not due or style == "iso":
            return due or ""
        year, month, day = due.split("-")
        return f"{int(month)}/{int(day)}/{year}"

    def _mean(self, one: MadeColumn) -> str:
        scores = [score for score in one.scores if score is not None]
        return exact_text(rounded_to(sum(scores, Fraction(0)) / len(scores), 2, "nearest")) if scores else ""

    def gold(self, rows: list[tuple[str, Row]], begin: int) -> dict[str, Any]:
        numbers = [begin + n + 1 for n in range(self.size)]
        students = [
            {
                "row": row,
                "id": self.ids[n] if self.has_ids else None,
                "family_name": self.families[n],
                "given_name": self.given[n],
                "email": self.emails[n] if self.has_emails else None,
                "status": "withdrawn" if self.left[n] else "enrolled",
            }
            for n, row in enumerate(numbers)
        ]
        works = [(str(c), one) for c, one in enumerate(self.columns, 1) if one.role == "item"]
        cells = {
            str(row): {c: one.said[n] for c, one in works if one.said[n] is not None} for n, row in enumerate(numbers)
        }
        return {
            "students": students,
            "columns": [self._column(c, one) for c, one in enumerate(self.columns, 1)],
            "cells": {row: kept for row, kept in cells.items() if kept},
            "left_out": [{"row": n, "why": why} for n, (why, _) in enumerate(rows, 1) if why not in {"", "student"}],
        }

    def _column(self, number: int, one: MadeColumn) -> dict[str, Any]:
        made: dict[str, Any] = {"column": number, "role": one.role}
        points = None if one.points is None else exact_text(one.points)
        if one.role == "total":
            return {**made, "unit": one.unit, "points": points}
        if one.role != "item":
            return made
        return {
            **made,
            "name": one.name,
            "points": points,
            "points_from": None if one.points is None else "heading" if one.points_in_heading else "row",
            "group": one.group,
            "weight": None if one.weight is None else exact_text(one.weight),
            "extra": one.extra,
            "due": one.due,
        }

    def file(self, rows: list[tuple[str, Row]]) -> bytes:
        kind = self.draw.choice(("comma", "tab", "semicolon", "xlsx"))
        if kind == "xlsx":
            return self._workbook(rows)
        out = io.StringIO()
        sign = {"comma": ",", "tab": "\t", "semicolon": ";"}[kind]
        for _, row in rows:
            cells = [_comma(cell) for cell in row] if kind == "semicolon" else row
            csv.writer(out, delimiter=sign).writerow(cells)
        return out.getvalue().encode(self.draw.choice(("utf-8", "utf-8-sig", "utf-16")))

    def _workbook(self, rows: list[tuple[str, Row]]) -> bytes:
        book, out = Workbook(), io.BytesIO()
        sheet = book.active
        assert isinstance(sheet, Worksheet)
        for number, (kind, row) in enumerate(rows, 1):
            for place, cell in enumerate(row, 1):
                if cell:
                    sheet.cell(number, place, float(cell) if _is_number(cell) and kind != "heading" else cell)
        book.save(out)
        return out.getvalue()


def _amount(value: Fraction | None, sign: str = "") -> str:
    return "" if value is None else exact_text(value) + sign


def _is_number(text: str) -> bool:
    return text.replace(".", "", 1).isdigit() and len(text) < 5


def _comma(text: str) -> str:
    return text.replace(".", ",") if text.replace(".", "", 1).isdigit() else text


def made(seed: int, half: Half) -> Made:
    """The table of a seed."""
    maker = _Maker(seed, half)
    maker.people()
    maker.work()
    maker.course()
    rows, begin = maker.rows()
    gold = maker.gold(rows, begin)
    return Made(maker.file(rows), gold)
