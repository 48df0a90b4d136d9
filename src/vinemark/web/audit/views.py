"""Audit: what was found, the evidence, fixing and accepting, and the class against the cutoffs."""

from collections.abc import Sequence
from typing import Any

from flask import Blueprint, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.audit import CODES, Finding, counts
from vinemark.core.audit.accept import ReviewedFinding
from vinemark.core.audit.codes import fix_for_all, fixes_of
from vinemark.core.audit.cutoffs import class_figures, moved_cutoffs
from vinemark.core.audit.effect import fix_effect
from vinemark.core.audit.finding import LEVEL_NAMES
from vinemark.core.audit.fix import Fix
from vinemark.core.audit.groups import FindingGroup, WantedFindings, finding_groups
from vinemark.core.audit.sketch import sketches
from vinemark.core.base.refused import Refused
from vinemark.core.grade.calculation import Grade
from vinemark.core.grade.distribution import strip
from vinemark.core.grade.preview import preview_plan
from vinemark.core.submit.progress import nothing_to_check
from vinemark.section.acts import audit as acts
from vinemark.section.state import SectionState, state_of
from vinemark.web.databases import database_of, my_sections
from vinemark.web.request import (
    instructors_section,
    new_act,
    page,
    person_id,
    require_sign_in,
    settings,
    snapshots,
    tell,
    whole_section,
)

blueprint = Blueprint("audit", __name__, url_prefix="/s/<int:section_id>/audit")
blueprint.before_request(require_sign_in)

OPEN_WORDS = {"plan": "Open the plan", "scores": "Open the score", "settle": "Open in Settle", "submit": "Open Submit"}
MOST_PARALLEL = 4
MOST_EFFECTS = 40
"""For so many findings it is said what a fix would do to the letter; a longer list is asked for by kind."""


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """All findings; the margin shows the evidence of one."""
    return _page(whole_section(section_id))


def _page(section: SectionState, refused: Refused | None = None) -> ResponseReturnValue:
    snapshot, course = section.snapshot, section.course
    flagged = frozenset(f.student for f in snapshot.open_findings if f.student)
    grades = _enrolled_grades(section)
    wanted = request.values.get("finding", "")
    wants = WantedFindings(*(request.values.get(name, "") for name in ("level", "code", "student")))
    groups = finding_groups([one for one in snapshot.reviewed if wants.wants(one)])
    ordered = [one for group in groups for one in group.findings]
    chosen = next((one for one in ordered if one.finding.key == wanted), None) or next(iter(ordered), None)
    return page(
        "audit",
        section,
        status=422 if refused else 200,
        nothing_to_check=nothing_to_check(section.course),
        groups=groups,
        wants=wants,
        **_choices(snapshot.reviewed),
        shown=ordered,
        margin_wanted=bool(wanted),
        counts=counts(snapshot.open_findings),
        checks_run=len(CODES),
        strip=strip(course.plan, grades, flagged),
        figures=class_figures(course, grades),
        names={s.id: s.name for s in course.students},
        others=[(other, class_figures(other.course, _enrolled_grades(other))) for other in _parallel(section)],
        chosen=chosen,
        drawn=sketches(snapshot.facts, chosen.finding) if chosen else [],
        fixes=fixes_of(course, chosen.finding) if chosen and not chosen.acceptance else [],
        ways=_ways(section, ordered),
        **_group_acts(section, groups),
        refused=refused,
        link=lambda finding: _link(section, finding),
        open_words=OPEN_WORDS,
    )


def _group_acts(section: SectionState, groups: Sequence[FindingGroup]) -> dict[str, Any]:
    """What can be done with a group at once, by code: the act on the plan, and what stands for its list."""
    many = [group for group in groups if group.many and not group.findings[0].acceptance]
    return {
        "for_all": {g.code: fix_for_all(section.course, g.findings[0].finding) for g in many},
        "listed_as": {g.code: acts.listed_fingerprint(one.finding for one in g.findings) for g in many},
    }


def _choices(reviewed: Sequence[ReviewedFinding]) -> dict[str, Any]:
    """All findings, and by what they can be asked for."""
    students = [one.finding.student for one in reviewed if one.finding.student]
    return {
        "reviewed": reviewed,
        "kinds": list(dict.fromkeys(one.finding.code for one in reviewed)),
        "with_findings": list(dict.fromkeys(students)),
        "level_names": LEVEL_NAMES,
    }


def _ways(section: SectionState, listed: Sequence[ReviewedFinding]) -> dict[str, list[tuple[Fix, str]]]:
    """The choices that fix each open finding, and what each would do to letters."""
    course, grades, calculators = section.course, section.snapshot.grades, section.snapshot.calculators
    return {
        one.finding.key: [
            (fix, fix_effect(course, fix, grades, calculators) if place < MOST_EFFECTS else "")
            for fix in fixes_of(course, one.finding)
        ]
        for place, one in enumerate(listed) if one.acceptance is None
    }  # fmt: skip


def _enrolled_grades(section: SectionState) -> dict[str, Grade]:
    return {s.id: section.snapshot.grades[s.id] for s in section.course.enrolled()}


def _parallel(section: SectionState) -> list[SectionState]:
    """The person's other sections of the same course, this term's or an earlier one's."""
    records = [r for r in my_sections() if r.id != section.id and r.name.course == section.name.course]
    now, who = settings().clock.now(), person_id()
    return [state_of(database_of(record.id), snapshots(), record, now, who) for record in records[:MOST_PARALLEL]]


def _link(section: SectionState, finding: Finding) -> str:
    """Where a finding is fixed: the page, and the place on it."""
    item = finding.item or finding.opens
    anchor = {
        "plan": f"category-{finding.category}" if finding.category else "work",
        "scores": (
            f"cell-{finding.student}-{item}"
            if finding.student and item
            else f"row-{finding.student}"
            if finding.student
            else f"item-{item}"
        ),
        "settle": f"row-{finding.student}",
        "submit": "work",
    }[finding.step]
    return url_for(f"{finding.step}.show", section_id=section.id, _anchor=anchor)


def _finding_key(section: SectionState) -> str:
    key = request.form.get("finding", "")
    if acts.finding_of(section, key) is None:
        abort(404, acts.FIXED_MEANWHILE.text)
    return key


@blueprint.post("/accept")
def accept(section_id: int) -> ResponseReturnValue:
    """Accept a finding as it is, with a written reason."""
    section = instructors_section(section_id)
    key = _finding_key(section)
    outcome = acts.accept(section, new_act(section_id), key, request.form.get("reason", ""))
    if isinstance(outcome, Refused):
        return _page(section, outcome)
    tell(outcome)
    return redirect(url_for("audit.show", section_id=section_id, finding=key))


@blueprint.post("/accept-all")
def accept_all(section_id: int) -> ResponseReturnValue:
    """Accept every open finding of a code as it is, with one written reason."""
    section = instructors_section(section_id)
    code, reason, looked_at = (request.form.get(name, "") for name in ("code", "reason", "looked_at"))
    outcome = acts.accept_all(section, new_act(section_id), code, reason, looked_at)
    if isinstance(outcome, Refused) and outcome.field == "reason":
        return _page(section, Refused("all", outcome.reason))
    tell(outcome)
    return redirect(url_for("audit.show", section_id=section_id))


@blueprint.post("/reopen")
def reopen(section_id: int) -> ResponseReturnValue:
    """A finding that was accepted is open again."""
    section = instructors_section(section_id)
    key = _finding_key(section)
    tell(acts.reopen(section, new_act(section_id), key))
    return redirect(url_for("audit.show", section_id=section_id, finding=key))


@blueprint.post("/fix")
def fix(section_id: int) -> ResponseReturnValue:
    """Do the one act that fixes a finding; what changes grades by the plan is previewed."""
    section = instructors_section(section_id)
    done = acts.fix(section, new_act(section_id), _finding_key(section), request.form.get("words", ""))
    if done is None:
        abort(404, "This cannot be fixed in one step.")
    way, outcome = done
    tell(outcome, "Not changed: ")
    to_plan = way.plan is not None and not isinstance(outcome, Refused)
    return redirect(url_for("plan.show" if to_plan else "audit.show", section_id=section_id))


@blueprint.post("/cutoffs")
def try_cutoffs(section_id: int) -> ResponseReturnValue:
    """Who would change letter under moved cutoffs; nothing is kept."""
    section, form = whole_section(section_id), request.form
    shown = {"section": section, "form": form, "scale": section.course.plan.scale}
    try:
        plan = moved_cutoffs(section.course.plan, form)
    except Refused as error:
        return render_template("audit/_cutoffs.html", refused=error, tried=None, **shown), 422
    tried = preview_plan(section.course, plan, section.as_of)
    names = {s.id: s.name for s in section.course.students}
    return render_template("audit/_cutoffs.html", refused=None, tried=tried, names=names, **shown)


@blueprint.post("/cutoffs/preview")
def preview_cutoffs(section_id: int) -> ResponseReturnValue:
    """Take moved cutoffs into the plan's preview."""
    section = instructors_section(section_id)
    outcome = acts.move_cutoffs(section, new_act(section_id), request.form)
    tell(Refused(outcome.field, f"{outcome.reason}.") if isinstance(outcome, Refused) else outcome, "Not changed: ")
    return redirect(url_for("plan.show", section_id=section_id))
