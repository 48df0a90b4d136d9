"""Runs every check, in one order, and after an edit only what the edit can have changed."""

from collections import Counter
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from functools import cached_property

from vinemark.core.audit.codes import CODES, Code
from vinemark.core.audit.finding import LEVELS, Facts, Finding, Level, Touched
from vinemark.core.course.course import Course

FINDINGS_FORMAT = "vine-mark-findings/1"


def audit(course: Course, as_of: date, submitting: bool = False) -> list[Finding]:
    """Every finding of a course on a day; `submitting` counts every grade that is not settled."""
    return audit_facts(Facts(course, as_of, submitting))


def audit_facts(facts: Facts, codes: Collection[str] = CODES.keys()) -> list[Finding]:
    """The findings of some codes, `stop` first, then `look`, then `note`."""
    found = {code.code: _findings(code, facts) for code in CODES.values() if code.code in codes}
    return _by_level(_one_of_a_fault(found))


_IN_ORDER = [code.code for level in LEVELS for code in CODES.values() if code.level == level]


def _by_level(found: Mapping[str, Sequence[Finding]]) -> list[Finding]:
    return [finding for code in _IN_ORDER for finding in found.get(code, ())]


OF_ONE_FAULT = (
    ("code-as-number", "slipped-key", "over-points", "outlier"),
    ("points-off", "points-odd"),
    ("due-outside", "due-later", "due-unordered"),
)
"""One fault is one finding: a cell, or an item, has the first of these that is due."""


def _one_of_a_fault(found: Mapping[str, Sequence[Finding]]) -> Mapping[str, Sequence[Finding]]:
    made = dict(found)
    for codes in OF_ONE_FAULT:
        taken: set[tuple[str | None, str | None]] = set()
        for code in codes:
            made[code] = [one for one in found.get(code, ()) if (one.student, one.item) not in taken]
            taken |= {(one.student, one.item) for one in made[code]}
    return made


def _findings(code: Code, facts: Facts) -> list[Finding]:
    return [Finding(**vars(found), code=code.code, level=code.level, step=code.step) for found in code.check(facts)]


@dataclass(frozen=True)
class Audit:
    """Everything that was found, kept by code, so that an edit looks again only at what it touched.

    What comes of it is exactly what looking at everything again would find, in the same order.
    """

    facts: Facts
    found: Mapping[str, Sequence[Finding]]
    premises: Mapping[str, object]

    @cached_property
    def findings(self) -> list[Finding]:
        """The findings, `stop` first, then `look`, then `note`."""
        return _by_level(_one_of_a_fault(self.found))

    def after(self, facts: Facts, touched: Touched) -> "Audit":
        """The audit of the same plan and people once cells or settled grades were edited."""
        premises, narrowed = _premises(facts), facts.narrowed(touched)
        found = dict(self.found)
        for code in CODES.values():
            if code.redo == "all" or premises.get(code.code) != self.premises.get(code.code):
                found[code.code] = _findings(code, facts)
            elif code.redo != "nothing":
                left = [one for one in self.found[code.code] if not _touches(touched, code, one)]
                fresh = _findings(code, narrowed)
                found[code.code] = _in_order(facts, code, [*left, *fresh]) if left and fresh else left or fresh
        return Audit(facts, found, premises)


def whole_audit(facts: Facts) -> Audit:
    """Everything looked at once."""
    return Audit(facts, {code.code: _findings(code, facts) for code in CODES.values()}, _premises(facts))


def _premises(facts: Facts) -> dict[str, object]:
    return {code.code: code.premise(facts) for code in CODES.values() if code.premise}


def _touches(touched: Touched, code: Code, finding: Finding) -> bool:
    """Whether a narrowed check would look at this finding again."""
    row, column = finding.student in touched.students, finding.item in touched.items
    return {"rows": row, "columns": column, "both": row or column}[code.redo]


def _in_order(facts: Facts, code: Code, found: list[Finding]) -> list[Finding]:
    """As the check itself finds them: row by row, or column by column."""
    students, items = facts.places

    def row_first(finding: Finding) -> tuple[int, int]:
        return students.get(finding.student or "", -1), items.get(finding.item or "", -1)

    return sorted(found, key=(lambda one: row_first(one)[::-1]) if code.redo == "columns" else row_first)


def findings_json(findings: Iterable[Finding]) -> dict[str, object]:
    """The findings as the format `vine-mark-findings/1` spells them."""
    keys = ("code", "level", "student", "category", "item", "message")
    return {
        "format": FINDINGS_FORMAT,
        "findings": [{key: getattr(finding, key) for key in keys} for finding in findings],
    }


def counts(findings: Iterable[Finding]) -> dict[Level, int]:
    """How many findings of each level."""
    found = Counter([finding.level for finding in findings])
    return {level: found[level] for level in LEVELS}
