"""The course file's meaning: parsed JSON values to a Course, and back.

Numbers arrive as text (NumberText where the JSON had a bare number), so that every digit is kept.
Everything refused raises Refused with the place, counted from 0: 'plan.categories[2].items[0].points'.
"""

import re
from collections.abc import Callable, Mapping, Sequence
from datetime import date
from fractions import Fraction
from typing import Any, TypeVar, cast

from vinemark.core.base.number import MAX_DIGITS, NotANumber, exact_text, parse_decimal, parse_ratio
from vinemark.core.course import course as c
from vinemark.core.grade.letters import scale_faults
from vinemark.core.plan import plan as p

FORMAT = "vine-mark-course/1"

T = TypeVar("T")
L = TypeVar("L", bound=str)


class NumberText(str):
    """The text of a bare JSON number, as it stood in the file."""


class Refused(ValueError):
    """What a file holds cannot be taken; `place` says where, `reason` why."""

    def __init__(self, place: str, reason: str) -> None:
        super().__init__(f"{place}: {reason}" if place else reason)
        self.place = place
        self.reason = reason


class Keys:
    """One JSON object being read: every key must be taken, an unknown one is refused."""

    def __init__(self, value: object, place: str, known: Sequence[str]) -> None:
        if not isinstance(value, Mapping):
            raise Refused(place, "must be an object")
        for key in value:
            if key not in known:
                raise Refused(_join(place, key), "unknown key")
        self.value = cast(Mapping[str, object], value)
        self.place = place

    def at(self, key: str) -> str:
        """The place of a key."""
        return _join(self.place, key)

    def needed(self, key: str, read: Callable[[object, str], T]) -> T:
        """A key that must be there."""
        if key not in self.value:
            raise Refused(self.at(key), "is missing")
        return read(self.value[key], self.at(key))

    def given(self, key: str, read: Callable[[object, str], T], default: T) -> T:
        """A key with a default that is not null: null is refused."""
        return read(self.value[key], self.at(key)) if key in self.value else default

    def maybe(self, key: str, read: Callable[[object, str], T]) -> T | None:
        """A key whose default is null."""
        value = self.value.get(key)
        return None if value is None else read(value, self.at(key))


def _join(place: str, key: str) -> str:
    return f"{place}.{key}" if place else key


# --- single values ----------------------------------------------------------------------------


def text(value: object, place: str) -> str:
    """Text that is not empty."""
    found = any_text(value, place)
    if not found.strip():
        raise Refused(place, "must not be empty")
    return found


def any_text(value: object, place: str) -> str:
    """Text, which may be empty."""
    if not isinstance(value, str) or isinstance(value, NumberText):
        raise Refused(place, "must be a text")
    if any("\ud800" <= sign <= "\udfff" for sign in value):
        raise Refused(place, "holds half of a sign (a lone surrogate)")
    return value


def flag(value: object, place: str) -> bool:
    """True or false."""
    if not isinstance(value, bool):
        raise Refused(place, "must be true or false")
    return value


def number(value: object, place: str) -> Fraction:
    """A number >= 0, as text or as a JSON number."""
    return _parsed(value, place, parse_decimal)


def ratio(value: object, place: str) -> Fraction:
    """A number >= 0, also a fraction of two whole numbers."""
    return _parsed(value, place, parse_ratio)


def above_zero(read: Callable[[object, str], Fraction]) -> Callable[[object, str], Fraction]:
    """A reader that also refuses 0."""

    def reader(value: object, place: str) -> Fraction:
        found = read(value, place)
        if found == 0:
            raise Refused(place, "must be more than 0")
        return found

    return reader


def _parsed(value: object, place: str, parse: Callable[[str], Fraction]) -> Fraction:
    if not isinstance(value, str):
        raise Refused(place, "must be a number")
    try:
        return _json_number(value) if isinstance(value, NumberText) else parse(value)
    except NotANumber as error:
        raise Refused(place, str(error)) from None


def _json_number(value: str) -> Fraction:
    match = re.fullmatch(r"(-?)([0-9]+)(?:\.([0-9]+))?(?:[eE]([+-]?[0-9]+))?", value, re.ASCII)
    if match is None:
        raise NotANumber("must be a number")
    sign, whole, decimals, exponent = match[1], match[2], match[3] or "", match[4] or "0"
    if len(exponent.lstrip("+-0")) > 4:
        raise NotANumber(f"has more than {MAX_DIGITS} digits")
    plain = _spelled_out(whole + decimals, len(whole) + int(exponent))
    if sign and plain.strip("0.") != "":
        raise NotANumber("must not be negative")
    return parse_decimal(plain)


def _spelled_out(digits: str, point: int) -> str:
    """Digits with the decimal point after `point` of them, zeros filled in."""
    if point <= 0:
        return "0." + "0" * -point + digits
    if point >= len(digits):
        return digits + "0" * (point - len(digits))
    return f"{digits[:point]}.{digits[point:]}"


def count(value: object, place: str) -> int:
    """A whole number >= 0, as number or text; '2.0' is refused."""
    if not isinstance(value, str) or not re.fullmatch(r"[0-9]+", value, re.ASCII):
        raise Refused(place, "must be a whole number, 0 or more")
    if len(value) > MAX_DIGITS:
        raise Refused(place, f"has more than {MAX_DIGITS} digits")
    return int(value)


def day(value: object, place: str) -> date:
    """A date as YYYY-MM-DD."""
    if isinstance(value, str) and re.fullmatch(r"[0-9]{4}-[0-9]{2}-[0-9]{2}", value, re.ASCII):
        try:
            return date.fromisoformat(value)
        except ValueError:
            pass
    raise Refused(place, "must be a date as YYYY-MM-DD")


def one_of(choices: tuple[L, ...]) -> Callable[[object, str], L]:
    """A reader for one word of a list."""

    def reader(value: object, place: str) -> L:
        for choice in choices:
            if value == choice and not isinstance(value, NumberText):
                return choice
        raise Refused(place, f"must be one of {', '.join(choices)}")

    return reader


def rows(read: Callable[[object, str], T]) -> Callable[[object, str], tuple[T, ...]]:
    """A reader for a list."""

    def reader(value: object, place: str) -> tuple[T, ...]:
        if not isinstance(value, list):
            raise Refused(place, "must be a list")
        return tuple(read(entry, f"{place}[{i}]") for i, entry in enumerate(value))

    return reader


# --- the plan ---------------------------------------------------------------------------------

_ITEM_KEYS = ("id", "name", "points", "extra", "share", "counts", "droppable", "due")
_CATEGORY_KEYS = (
    "id", "name", "weight", "extra", "split", "drop_lowest", "drop_highest", "keep_best",
    "drop_by", "blanks", "ceiling", "items",
)  # fmt: skip


def read_plan(value: object, place: str = "plan") -> p.Plan:
    """A plan; a broken scale is taken (the audit reports it)."""
    keys = Keys(value, place, ("basis", "ceiling", "rounding", "scale", "categories"))
    basis = keys.needed("basis", one_of(p.BASES))
    plan = p.Plan(
        basis=basis,
        categories=keys.needed("categories", rows(_read_category)),
        scale=keys.maybe("scale", rows(_read_scale_row)) or (),
        rounding=keys.maybe("rounding", _read_rounding),
        ceiling=keys.maybe("ceiling", number),
    )
    _refuse_weightless(plan, keys.at("categories"))
    _refuse_repeats(plan, keys.at("categories"))
    return plan


def _refuse_weightless(plan: p.Plan, place: str) -> None:
    if plan.basis != "weighted":
        return
    for i, category in enumerate(plan.categories):
        if category.weight is None:
            raise Refused(f"{place}[{i}].weight", "is missing: a weighted plan needs it")


def _refuse_repeats(plan: p.Plan, place: str) -> None:
    refuse_repeat([c_.id for c_ in plan.categories], lambda i: f"{place}[{i}].id")
    places = [f"{place}[{i}].items[{j}].id" for i, c_ in enumerate(plan.categories) for j in range(len(c_.items))]
    refuse_repeat([item.id for _, item in plan.items()], lambda i: places[i])


def refuse_repeat(ids: Sequence[str], place_of: Callable[[int], str]) -> None:
    """Refuse the second of two equal ids, at its place."""
    seen: set[str] = set()
    for i, found in enumerate(ids):
        if found in seen:
            raise Refused(place_of(i), f"“{found}” is there twice")
        seen.add(found)


def _read_category(value: object, place: str) -> p.Category:
    keys = Keys(value, place, _CATEGORY_KEYS)
    category = p.Category(
        id=keys.needed("id", text),
        name=keys.needed("name", text),
        weight=keys.maybe("weight", ratio),
        extra=keys.given("extra", flag, False),
        split=keys.given("split", one_of(p.SPLITS), "by_points"),
        drop_lowest=keys.given("drop_lowest", count, 0),
        drop_highest=keys.given("drop_highest", count, 0),
        keep_best=keys.maybe("keep_best", count),
        drop_by=keys.given("drop_by", one_of(p.DROP_BYS), "helps_most"),
        blanks=keys.given("blanks", one_of(p.BLANKS), "wait"),
        ceiling=keys.maybe("ceiling", number),
        items=keys.needed("items", rows(_read_item)) if "items" in keys.value else (),
    )
    _refuse_contradictions(category, place)
    return category


def _refuse_contradictions(category: p.Category, place: str) -> None:
    if category.keep_best is not None and category.keep_best < 1:
        raise Refused(f"{place}.keep_best", "must be 1 or more")
    if category.keep_best is not None and category.drop_lowest > 0:
        raise Refused(f"{place}.keep_best", "cannot stand beside drop_lowest")
    if category.split == "own_shares":
        for i, item in enumerate(category.items):
            if item.share is None:
                raise Refused(f"{place}.items[{i}].share", "is missing: own shares need one for every item")


def _read_item(value: object, place: str) -> p.Item:
    keys = Keys(value, place, _ITEM_KEYS)
    return p.Item(
        id=keys.needed("id", text),
        name=keys.needed("name", text),
        points=keys.needed("points", above_zero(number)),
        extra=keys.given("extra", flag, False),
        share=keys.maybe("share", above_zero(ratio)),
        counts=keys.given("counts", flag, True),
        droppable=keys.given("droppable", flag, True),
        due=keys.maybe("due", day),
    )


def _read_scale_row(value: object, place: str) -> p.ScaleRow:
    keys = Keys(value, place, ("letter", "from"))
    return p.ScaleRow(keys.needed("letter", text), keys.needed("from", ratio))


def _decimals(value: object, place: str) -> int:
    found = count(value, place)
    if found > MAX_DIGITS:
        raise Refused(place, f"must be {MAX_DIGITS} or less")
    return found


def _read_rounding(value: object, place: str) -> p.Rounding:
    keys = Keys(value, place, ("decimals", "letter_uses"))
    return p.Rounding(keys.needed("decimals", _decimals), keys.needed("letter_uses", one_of(p.LETTER_USES)))


# --- the course -------------------------------------------------------------------------------

_COURSE_KEYS = (
    "format", "term", "section", "plan", "students", "scores", "syllabus", "records", "settled", "midterm",
)  # fmt: skip


def read_course(value: object) -> c.Course:
    """A whole course file, as parsed JSON values."""
    keys = Keys(value, "", _COURSE_KEYS)
    if keys.needed("format", any_text) != FORMAT:
        raise Refused("format", f"must be {FORMAT}")
    plan = keys.needed("plan", read_plan)
    nobody: tuple[c.Student, ...] = ()
    students = keys.given("students", rows(_read_student), nobody)
    refuse_repeat([s.id for s in students], lambda i: f"students[{i}].id")
    known = {s.id for s in students}
    return c.Course(
        term=keys.needed("term", _read_term),
        section=keys.needed("section", _read_section),
        plan=plan,
        students=students,
        scores=_read_scores(keys, known, {item.id for _, item in plan.items()}),
        syllabus=keys.maybe("syllabus", any_text),
        records=keys.maybe("records", read_records),
        settled=_read_all_settled(keys, "settled", known),
        midterm=_read_all_settled(keys, "midterm", known),
    )


def refuse_broken_scale(plan: p.Plan) -> None:
    """Refuse a scale that gives no clear letter: what works with letters only calls this."""
    faults = scale_faults(plan.scale)
    if faults:
        raise Refused("plan.scale", "; ".join(faults))


def _read_term(value: object, place: str) -> c.Term:
    keys = Keys(value, place, ("name", "starts", "ends"))
    return c.Term(keys.needed("name", text), keys.needed("starts", day), keys.needed("ends", day))


def _read_section(value: object, place: str) -> c.SectionName:
    keys = Keys(value, place, ("course", "title", "number"))
    return c.SectionName(keys.needed("course", text), keys.needed("title", text), keys.needed("number", any_text))


def _read_student(value: object, place: str) -> c.Student:
    keys = Keys(value, place, ("id", "family_name", "given_name", "email", "set_aside"))
    return c.Student(
        keys.needed("id", text),
        keys.needed("family_name", text),
        keys.needed("given_name", any_text),
        keys.maybe("email", text),
        keys.maybe("set_aside", text),
    )


def _read_scores(keys: Keys, students: set[str], items: set[str]) -> dict[str, dict[str, c.Cell]]:
    value = keys.value.get("scores", {})
    if not isinstance(value, Mapping):
        raise Refused("scores", "must be an object")
    scores: dict[str, dict[str, c.Cell]] = {}
    for student, cells in value.items():
        place = f"scores.{student}"
        if student not in students:
            raise Refused(place, "unknown student")
        if not isinstance(cells, Mapping):
            raise Refused(place, "must be an object")
        row = _read_row(cells, place, items)
        if row:
            scores[student] = row
    return scores


def _read_row(cells: Mapping[str, object], place: str, items: set[str]) -> dict[str, c.Cell]:
    row: dict[str, c.Cell] = {}
    for item, cell in cells.items():
        if item not in items:
            raise Refused(f"{place}.{item}", "unknown item")
        if cell is not None:
            row[item] = read_cell(cell, f"{place}.{item}")
    return row


def read_cell(value: object, place: str) -> c.Cell:
    """One cell: a number, 'missing', 'exempt' or null."""
    if value is None:
        return None
    if value == "missing":
        return "missing"
    if value == "exempt":
        return "exempt"
    return number(value, place)


# --- records and settled grades ---------------------------------------------------------------

_RECORD_KEYS = (
    "roster", "codes", "incomplete_limit_days", "incomplete_fallback", "incomplete_finish_by",
    "never_attended", "pass_from",
)  # fmt: skip


def read_records(value: object, place: str = "records") -> c.Records:
    """The office's roster and rules."""
    keys = Keys(value, place, _RECORD_KEYS)
    records = c.Records(
        roster=keys.given("roster", rows(_read_roster_entry), ()),
        codes=keys.given("codes", rows(_read_code), ()),
        incomplete_limit_days=keys.maybe("incomplete_limit_days", count),
        incomplete_fallback=keys.maybe("incomplete_fallback", text),
        incomplete_finish_by=keys.maybe("incomplete_finish_by", day),
        never_attended=keys.given("never_attended", one_of(c.NEVER_ATTENDED), "first_day"),
        pass_from=keys.maybe("pass_from", text),
    )
    refuse_repeat([r.id for r in records.roster], lambda i: f"{place}.roster[{i}].id")
    refuse_repeat([r.code for r in records.codes], lambda i: f"{place}.codes[{i}].code")
    return records


def _read_roster_entry(value: object, place: str) -> c.RosterEntry:
    keys = Keys(value, place, ("id", "family_name", "given_name", "status", "basis"))
    return c.RosterEntry(
        keys.needed("id", text),
        keys.needed("family_name", text),
        keys.needed("given_name", any_text),
        keys.given("status", one_of(c.STATUSES), "enrolled"),
        keys.given("basis", one_of(c.GRADING_BASES), "letter"),
    )


def _read_code(value: object, place: str) -> c.CodeRule:
    keys = Keys(value, place, ("code", "basis", "needs", "office_only"))
    return c.CodeRule(
        keys.needed("code", text),
        keys.given("basis", rows(one_of(c.GRADING_BASES)), ()),
        keys.given("needs", rows(one_of(c.NEEDS)), ()),
        keys.given("office_only", flag, False),
    )


def _read_all_settled(keys: Keys, key: str, students: set[str]) -> dict[str, c.Settled]:
    value = keys.value.get(key, {})
    if not isinstance(value, Mapping):
        raise Refused(key, "must be an object")
    for student in value:
        if student not in students:
            raise Refused(f"{key}.{student}", "unknown student")
    return {student: read_settled(entry, f"{key}.{student}") for student, entry in value.items()}


_SETTLED_KEYS = ("grade", "reason", "last_attended", "fallback_grade", "finish_by", "never_attended", "owed")


def read_settled(value: object, place: str) -> c.Settled:
    """One settled grade."""
    keys = Keys(value, place, _SETTLED_KEYS)
    return c.Settled(
        keys.needed("grade", text),
        keys.maybe("reason", any_text),
        keys.maybe("last_attended", day),
        keys.maybe("fallback_grade", text),
        keys.maybe("finish_by", day),
        keys.given("never_attended", flag, False),
        keys.maybe("owed", any_text),
    )


# --- writing ----------------------------------------------------------------------------------

Json = dict[str, Any]


def _maybe(value: T | None, write: Callable[[T], Any]) -> Any:
    return None if value is None else write(value)


def write_plan(plan: p.Plan) -> Json:
    """The plan as JSON values, every key written."""
    return {
        "basis": plan.basis,
        "ceiling": _maybe(plan.ceiling, exact_text),
        "rounding": _maybe(plan.rounding, lambda r: {"decimals": r.decimals, "letter_uses": r.letter_uses}),
        "scale": [{"letter": r.letter, "from": exact_text(r.cutoff)} for r in plan.scale],
        "categories": [_write_category(category) for category in plan.categories],
    }


def _write_category(category: p.Category) -> Json:
    return {
        "id": category.id,
        "name": category.name,
        "weight": _maybe(category.weight, exact_text),
        "extra": category.extra,
        "split": category.split,
        "drop_lowest": category.drop_lowest,
        "drop_highest": category.drop_highest,
        "keep_best": category.keep_best,
        "drop_by": category.drop_by,
        "blanks": category.blanks,
        "ceiling": _maybe(category.ceiling, exact_text),
        "items": [_write_item(item) for item in category.items],
    }


def _write_item(item: p.Item) -> Json:
    return {
        "id": item.id,
        "name": item.name,
        "points": exact_text(item.points),
        "extra": item.extra,
        "share": _maybe(item.share, exact_text),
        "counts": item.counts,
        "droppable": item.droppable,
        "due": _maybe(item.due, date.isoformat),
    }


def write_cell(cell: c.Cell) -> str | None:
    """A cell as its text; None for blank."""
    return exact_text(cell) if isinstance(cell, Fraction) else cell


def write_records(records: c.Records) -> Json:
    """The office's roster and rules as JSON values."""
    return {
        "roster": [vars(entry).copy() for entry in records.roster],
        "codes": [
            {"code": r.code, "basis": list(r.basis), "needs": list(r.needs), "office_only": r.office_only}
            for r in records.codes
        ],
        "incomplete_limit_days": records.incomplete_limit_days,
        "incomplete_fallback": records.incomplete_fallback,
        "incomplete_finish_by": _maybe(records.incomplete_finish_by, date.isoformat),
        "never_attended": records.never_attended,
        "pass_from": records.pass_from,
    }


def write_settled(settled: c.Settled) -> Json:
    """One settled grade as JSON values."""
    return {
        "grade": settled.grade,
        "reason": settled.reason,
        "last_attended": _maybe(settled.last_attended, date.isoformat),
        "fallback_grade": settled.fallback_grade,
        "finish_by": _maybe(settled.finish_by, date.isoformat),
        "never_attended": settled.never_attended,
        "owed": settled.owed,
    }


def write_course(course: c.Course) -> Json:
    """The whole course file as JSON values."""
    term = course.term
    return {
        "format": FORMAT,
        "term": {"name": term.name, "starts": term.starts.isoformat(), "ends": term.ends.isoformat()},
        "section": vars(course.section).copy(),
        "plan": write_plan(course.plan),
        "students": [vars(student).copy() for student in course.students],
        "scores": {
            student: {item: write_cell(cell) for item, cell in cells.items() if cell is not None}
            for student, cells in course.scores.items()
        },
        "syllabus": course.syllabus,
        "records": _maybe(course.records, write_records),
        "settled": {student: write_settled(s) for student, s in course.settled.items()},
        "midterm": {student: write_settled(s) for student, s in course.midterm.items()},
    }
