"""Acts on findings: accepted as they are, reopened, fixed; and cutoffs moved as a preview."""

from collections.abc import Iterable, Mapping

from vinemark.core.audit import Finding
from vinemark.core.audit.accept import facts_digest, reason_to_accept
from vinemark.core.audit.codes import CODES, fix_for_all, fixes_of
from vinemark.core.audit.cutoffs import moved_cutoffs
from vinemark.core.audit.fix import Fix
from vinemark.core.base.refused import Refused
from vinemark.core.scores.typed_cells import CellWrite
from vinemark.section.acts.plan import edited_plan
from vinemark.section.acts.settle import added_from_roster
from vinemark.section.meanwhile import fingerprint, refuse_other
from vinemark.section.outcome import Conflict, Done, Outcome, act
from vinemark.section.state import SectionState
from vinemark.store import acceptances, scores, settled
from vinemark.store.history import Act

FIXED_MEANWHILE = Conflict("This was fixed meanwhile. Load the page again.")


def finding_of(section: SectionState, key: str) -> Finding | None:
    """The finding of a key, as long as it is found."""
    return next((one.finding for one in section.snapshot.reviewed if one.finding.key == key), None)


def _needed(section: SectionState, key: str) -> Finding:
    finding = finding_of(section, key)
    if finding is None:
        raise Refused("finding", FIXED_MEANWHILE.text)
    return finding


@act
def accept(section: SectionState, request: Act, key: str, typed: str) -> Done:
    """Accept a finding as it is, with a written reason; it stays listed, and comes back if its facts change."""
    finding = _needed(section, key)
    reason = reason_to_accept(finding, typed)
    what = f"{CODES[finding.code].name}: accepted as is: {reason}"
    entry = acceptances.write_acceptances(section.connection, request, {key: facts_digest(finding)}, reason, what)
    return Done(f"Accepted as is: {finding.message}", entry)


def listed_fingerprint(findings: Iterable[Finding]) -> str:
    """Stands for the findings that a page lists."""
    return fingerprint([one.key for one in findings])


@act
def accept_all(section: SectionState, request: Act, code: str, typed: str, looked_at: str = "") -> Done:
    """Accept every open finding of a code as it is, with one written reason, in one act with one undo; `looked_at`
    stands for those that the page listed."""
    open_ = [one for one in section.snapshot.open_findings if one.code == code]
    if not open_:
        raise Refused("finding", FIXED_MEANWHILE.text)
    reason = reason_to_accept(open_[0], typed)
    refuse_other(looked_at, [one.key for one in open_], "These findings")
    count = f"{len(open_)} findings" if len(open_) > 1 else "1 finding"
    what = f"{CODES[code].name}: {count} accepted as is: {reason}"
    facts = {one.key: facts_digest(one) for one in open_}
    entry = acceptances.write_acceptances(section.connection, request, facts, reason, what)
    return Done(f"{CODES[code].name}: {count} accepted as is.", entry)


@act
def reopen(section: SectionState, request: Act, key: str) -> Done:
    """A finding that was accepted is open again."""
    finding = _needed(section, key)
    what = f"{CODES[finding.code].name}: reopened"
    entry = acceptances.remove_acceptance(section.connection, request, key, what)
    return Done(f"Reopened: {finding.message}", entry)


def fix(section: SectionState, request: Act, key: str, words: str = "") -> tuple[Fix, Outcome] | None:
    """Do the one act that fixes a finding, of several the one with these words, and what came of it; None where there
    is no such finding or act."""
    finding = finding_of(section, key)
    way = _way(section, finding, words) if finding else None
    return (way, _fix(section, request, key, words)) if way else None


def _way(section: SectionState, finding: Finding, words: str) -> Fix | None:
    whole = fix_for_all(section.course, finding)
    ways = [*fixes_of(section.course, finding), *([whole] if whole else [])]
    return next((way for way in ways if words in {"", way.words}), None)


@act
def _fix(section: SectionState, request: Act, key: str, words: str) -> Done:
    finding = _needed(section, key)
    way = _way(section, finding, words)
    if way is None:
        raise Refused("finding", FIXED_MEANWHILE.text)
    return _carried_out(section, request, finding, way)


def _carried_out(section: SectionState, request: Act, finding: Finding, way: Fix) -> Done:
    edit, done = way.plan, f"{finding.message.rstrip('.')}: {way.words[:1].lower()}{way.words[1:]}"
    if edit is not None:
        return edited_plan(section, request, lambda plan: (edit(plan), way.words))
    if way.add is not None:
        return added_from_roster(section, request, way.add)
    if way.cells:
        changes = [CellWrite(student, item, cell) for (student, item), cell in way.cells.items()]
        return Done(f"{done}.", scores.write_cells(section.connection, request, changes, done))
    return Done(f"{done}.", settled.write_grades(section.connection, request, way.settled, done))


@act
def move_cutoffs(section: SectionState, request: Act, typed: Mapping[str, str]) -> Done:
    """Take moved cutoffs into the plan, previewed where they touch a grade."""
    return edited_plan(section, request, lambda plan: (moved_cutoffs(plan, typed), "cutoffs moved"))
