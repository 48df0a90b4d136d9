"""Audit: what was found, the evidence, and the class against the cutoffs."""

from flask import Blueprint, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.audit import Finding, checks_run, counts
from vinemark.core.audit.finding import Facts
from vinemark.core.distribution import strip
from vinemark.web.context import Standing, page, require_sign_in, settings, standing

blueprint = Blueprint("audit", __name__, url_prefix="/s/<int:section_id>/audit")
blueprint.before_request(require_sign_in)

PLACES = {"plan": "Open the plan", "scores": "Open the score", "settle": "Open in Settle", "submit": "Open Submit"}


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """All findings; the margin shows the evidence of one."""
    found = standing(section_id)
    facts = Facts(found.course, settings().clock.today())
    flagged = frozenset(f.student for f in found.findings if f.student)
    grades = {s.id: facts.grades[s.id] for s in facts.enrolled}
    wanted = request.args.get("place", "")
    chosen = next((f for f in found.findings if f.place == wanted), None) or next(iter(found.findings), None)
    return page(
        "audit",
        found,
        findings=found.findings,
        counts=counts(found.findings),
        checks_run=checks_run(),
        strip=strip(found.course.plan, grades, flagged),
        names={s.id: s.name for s in found.course.students},
        chosen=chosen,
        link=lambda finding: _link(found, finding),
        places=PLACES,
    )


def _link(found: Standing, finding: Finding) -> str:
    """Where a finding is mended: the page, and the place on it."""
    anchor = {
        "plan": f"category-{finding.category}" if finding.category else "work",
        "scores": f"cell-{finding.student}-{finding.item}" if finding.item else f"row-{finding.student}",
        "settle": f"row-{finding.student}",
        "submit": "work",
    }[finding.step]
    return url_for(f"{finding.step}.show", section_id=found.id, _anchor=anchor)
