"""Audit: what was found, the evidence, mending and letting stand, and the class against the cutoffs."""

from contextlib import suppress

from flask import Blueprint, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.audit import Finding, checks_run, counts
from vinemark.core.audit.accept import facts_digest, reason_to_accept
from vinemark.core.audit.cutoffs import class_figures, moved_cutoffs
from vinemark.core.audit.finding import Facts
from vinemark.core.audit.fix import Fix, fix_of
from vinemark.core.base.refused import Refused
from vinemark.core.grade.calculation import Grade
from vinemark.core.grade.class_columns import grades_of
from vinemark.core.grade.distribution import strip
from vinemark.core.grade.preview import preview_plan
from vinemark.store import acceptances as store
from vinemark.store import scores, sections
from vinemark.store import settled as settling
from vinemark.store.history import AlreadyDoneError
from vinemark.store.scores import Change
from vinemark.web.context import (
    Standing,
    act,
    database,
    instructor_standing,
    leave_notice,
    page,
    person_id,
    require_sign_in,
    standing,
)
from vinemark.web.plan import change_plan
from vinemark.web.settle import add_entry

blueprint = Blueprint("audit", __name__, url_prefix="/s/<int:section_id>/audit")
blueprint.before_request(require_sign_in)

PLACES = {"plan": "Open the plan", "scores": "Open the score", "settle": "Open in Settle", "submit": "Open Submit"}


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """All findings; the margin shows the evidence of one."""
    return _page(standing(section_id))


def _page(found: Standing, refused: Refused | None = None) -> ResponseReturnValue:
    facts = Facts(found.course, found.as_of)
    flagged = frozenset(f.student for f in found.open_findings if f.student)
    grades = {s.id: facts.grades[s.id] for s in facts.enrolled}
    wanted = request.values.get("finding", "")
    ordered = sorted(found.reviewed, key=lambda one: one.stand is not None)
    chosen = next((one for one in ordered if one.finding.key == wanted), None) or next(iter(ordered), None)
    return page(
        "audit",
        found,
        status=422 if refused else 200,
        reviewed=ordered,
        counts=counts(found.open_findings),
        checks_run=checks_run(),
        strip=strip(found.course.plan, grades, flagged),
        figures=class_figures(found.course, grades),
        names={s.id: s.name for s in found.course.students},
        others=[(other, class_figures(other.course, grades_so_far(other))) for other in _parallel(found)],
        chosen=chosen,
        fix=fix_of(found.course, chosen.finding, found.as_of) if chosen and not chosen.stand else None,
        refused=refused,
        link=lambda finding: _link(found, finding),
        places=PLACES,
    )


def _parallel(found: Standing) -> list[Standing]:
    """The person's other sections of the same course, this term's or an earlier one's."""
    mine = found.section.name.course
    listed = sections.of_person(database(), person_id())
    return [Standing(s) for s in listed if s.id != found.id and s.name.course == mine][:4]


def grades_so_far(found: Standing) -> dict[str, Grade]:
    """The grades of a section's enrolled students."""
    grades = grades_of(found.course, found.as_of)
    return {s.id: grades[s.id] for s in found.course.enrolled()}


def _link(found: Standing, finding: Finding) -> str:
    """Where a finding is mended: the page, and the place on it."""
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
    return url_for(f"{finding.step}.show", section_id=found.id, _anchor=anchor)


def _finding(found: Standing) -> Finding:
    wanted = request.form.get("finding", "")
    finding = next((one.finding for one in found.reviewed if one.finding.key == wanted), None)
    if finding is None:
        abort(404, "This was mended meanwhile; load the page again.")
    return finding


@blueprint.post("/stand")
def let_stand(section_id: int) -> ResponseReturnValue:
    """Let a finding stand with a written reason; it stays listed, and comes back if its facts change."""
    found = instructor_standing(section_id)
    finding = _finding(found)
    try:
        reason = reason_to_accept(finding, request.form.get("reason", ""))
    except Refused as error:
        return _page(found, error)
    what = f"{finding.code} let stand: {reason}"
    with suppress(AlreadyDoneError):
        entry = store.let_stand(database(), act(section_id), finding.key, facts_digest(finding), reason, what)
        leave_notice(f"Let stand: {finding.message}", entry)
    return redirect(url_for("audit.show", section_id=section_id, finding=finding.key))


@blueprint.post("/take-up")
def take_up(section_id: int) -> ResponseReturnValue:
    """A finding that was let stand is open again."""
    finding = _finding(instructor_standing(section_id))
    with suppress(AlreadyDoneError):
        entry = store.take_back(database(), act(section_id), finding.key, f"{finding.code} taken up again")
        leave_notice(f"Taken up again: {finding.message}", entry)
    return redirect(url_for("audit.show", section_id=section_id, finding=finding.key))


@blueprint.post("/mend")
def fix(section_id: int) -> ResponseReturnValue:
    """Do the one act that mends a finding; what changes grades by the plan goes into rehearsal."""
    found = instructor_standing(section_id)
    finding = _finding(found)
    way = fix_of(found.course, finding, found.as_of)
    if way is None:
        abort(404, "There is no one act that mends this.")
    try:
        return redirect(_fix(found, finding, way))
    except Refused as error:
        leave_notice(f"Not changed: {error.reason}.", trouble=True)
    except AlreadyDoneError:
        pass
    return redirect(url_for("audit.show", section_id=section_id))


def _fix(found: Standing, finding: Finding, way: Fix) -> str:
    """Carry it out, say so, and where to look next."""
    done = f"{finding.message.rstrip('.')}: {way.words[:1].lower()}{way.words[1:]}"
    edit = way.plan
    if edit is not None:
        notice = change_plan(found, lambda plan: (edit(plan), way.words))
        if notice:
            leave_notice(notice.text, notice.undo)
        return url_for("plan.show", section_id=found.id)
    if way.add is not None:
        entry = found.course.records.entry(way.add) if found.course.records else None
        assert entry is not None  # noqa: S101
        add_entry(found, entry)
    elif way.cells:
        changes = [Change(student, item, cell) for (student, item), cell in way.cells.items()]
        leave_notice(f"{done}.", scores.write_cells(database(), act(found.id), changes, done))
    else:
        leave_notice(f"{done}.", settling.settle(database(), act(found.id), way.settled, done))
    return url_for("audit.show", section_id=found.id)


@blueprint.post("/cutoffs")
def try_cutoffs(section_id: int) -> ResponseReturnValue:
    """Who would change letter under moved cutoffs; nothing is kept."""
    found = standing(section_id)
    try:
        plan = moved_cutoffs(found.course.plan, request.form)
    except Refused as error:
        return render_template("audit/_cutoffs.html", at=found, refused=error, tried=None, form=request.form), 422
    tried = preview_plan(found.course, plan, found.as_of)
    names = {s.id: s.name for s in found.course.students}
    return render_template("audit/_cutoffs.html", at=found, refused=None, tried=tried, names=names, form=request.form)


@blueprint.post("/cutoffs/rehearse")
def rehearse_cutoffs(section_id: int) -> ResponseReturnValue:
    """Take moved cutoffs into the plan's rehearsal."""
    found = instructor_standing(section_id)
    form = request.form
    try:
        notice = change_plan(found, lambda plan: (moved_cutoffs(plan, form), "cutoffs moved"))
        if notice:
            leave_notice(notice.text, notice.undo)
    except Refused as error:
        leave_notice(f"Not changed: {error.reason}.", trouble=True)
    except AlreadyDoneError:
        pass
    return redirect(url_for("plan.show", section_id=section_id))
