"""The syllabus beside the plan: put in, read, corrected, taken as the plan, and held against it."""

from collections.abc import Callable, Mapping
from contextlib import suppress
from typing import Any

from flask import Blueprint, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.base.refused import Refused
from vinemark.core.plan.plan import Plan
from vinemark.core.plan.sentences import plan_text
from vinemark.core.syllabus import Reading, read_syllabus
from vinemark.core.syllabus.compare import notes as matching
from vinemark.core.syllabus.compare.draft import drafted
from vinemark.core.syllabus.compare.follow import follow, follow_all
from vinemark.core.syllabus.compare.shown import gap_question, reading_changes, stretches
from vinemark.core.syllabus.read.correct import POINTINGS, WITH_CATEGORY, TypedFact, corrected, pointed
from vinemark.exchange.syllabus_file import LONGEST_SYLLABUS, read_text
from vinemark.store import plans, syllabuses
from vinemark.store import previews as rehearsals
from vinemark.store.history import AlreadyDoneError
from vinemark.store.syllabuses import Syllabus
from vinemark.web.context import (
    Standing,
    act,
    database,
    instructor_standing,
    keyless,
    leave_notice,
    page,
    require_sign_in,
    standing,
)
from vinemark.web.matching import current_plan, match_of
from vinemark.web.plan import change_plan

blueprint = Blueprint("syllabus", __name__, url_prefix="/s/<int:section_id>/syllabus")
blueprint.before_request(require_sign_in)

ROWS = 40


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """The syllabus in force, its clauses marked, with the drafted plan beside it; or the form to put one in."""
    return _page(standing(section_id))


def _page(
    found: Standing, refused: Refused | None = None, pointing: Mapping[str, Any] | None = None
) -> ResponseReturnValue:
    kept = syllabuses.latest(database(), found.id)
    plan = current_plan(found)
    values: dict[str, Any] = {
        "syllabus": kept,
        "syllabus_page": True,
        "plan": plan,
        "pointing": pointing is not None,
        **(pointing or {}),
        "refused": refused,
        "form": request.form,
        "rehearsal": None,
        "plain_text": plan_text(plan),
        "pointings": POINTINGS,
        "with_category": WITH_CATEGORY,
        "versions": syllabuses.versions(database(), found.id),
    }
    if kept is not None:
        values |= _beside(found, kept, plan)
    return page("plan", found, status=422 if refused else 200, **values)


def _beside(found: Standing, kept: Syllabus, plan: Plan) -> dict[str, Any]:
    held = match_of(found, kept, plan)
    draft = drafted(kept.reading)
    older = next((v for v in syllabuses.versions(database(), found.id) if v.version == kept.version - 1), None)
    return {
        "match": held,
        "stretches": stretches(kept.text, kept.reading, [noted.rule for noted in held.rules]),
        "draft_text": plan_text(draft),
        "changes": reading_changes(older.reading, kept.reading) if older else [],
        "gap": gap_question(kept.reading, kept.text),
    }


@blueprint.post("")
def put_in(section_id: int) -> ResponseReturnValue:
    """A syllabus from a file or from pasted text; an earlier one stays as an older version."""
    found = instructor_standing(section_id)
    upload = request.files.get("file")
    try:
        if upload is not None and upload.filename:
            text, source = read_text(upload.filename, upload.read()), upload.filename
        else:
            text, source = request.form.get("text", "").replace("\r\n", "\n")[:LONGEST_SYLLABUS], "pasted text"
        if not text.strip():
            raise Refused("file", "paste the grading part, or choose a file")
    except Refused as error:
        return _page(found, Refused("file", error.reason))
    with suppress(AlreadyDoneError):
        syllabuses.put_in(database(), act(section_id), text, source, read_syllabus(text))
    return redirect(url_for("syllabus.show", section_id=section_id))


def _kept(section_id: int) -> Syllabus:
    kept = syllabuses.latest(database(), section_id)
    if kept is None:
        abort(404)
    return kept


@blueprint.post("/facts")
def facts(section_id: int) -> ResponseReturnValue:
    """What was misread typed over; 'take' also makes it the plan."""
    found = instructor_standing(section_id)
    try:
        typed = _typed_facts(_kept(section_id).reading)
        _correct(section_id, lambda _: typed, "what the syllabus says corrected by hand")
    except Refused as error:
        return _page(found, error)
    if request.form.get("then") == "take":
        return _take(found, typed)
    return redirect(url_for("syllabus.show", section_id=section_id))


def _typed_facts(reading: Reading) -> Reading:
    form = request.form
    rows = {
        n: TypedFact(
            form.get(f"name-{n}", ""),
            form.get(f"weight-{n}", ""),
            form.get(f"points-{n}", ""),
            form.get(f"count-{n}", ""),
            form.get(f"each-{n}", ""),
            form.get(f"drop-{n}", ""),
            form.get(f"extra-{n}") == "1",
        )
        for n in range(ROWS)
        if f"name-{n}" in form
    }
    return corrected(reading, rows, form)


def _correct(section_id: int, change: Callable[[Syllabus], Reading], what: str) -> None:
    # Without the request's key: the same request may go on to change the plan under it.
    syllabuses.correct(database(), keyless(act(section_id)), change, what)


def _take(found: Standing, reading: Reading) -> ResponseReturnValue:
    used = plans.used_ids(database(), found.id)
    try:
        with suppress(AlreadyDoneError):
            notice = change_plan(
                found, lambda plan: (follow_all(plan, reading, used), "plan drafted from the syllabus")
            )
            if notice is not None:
                leave_notice(notice.text, notice.undo)
    except Refused as error:
        return _page(found, Refused("take", error.reason))
    return redirect(url_for("plan.show", section_id=found.id))


@blueprint.get("/point")
def point_form(section_id: int) -> ResponseReturnValue:
    """The small form for a sentence that is pointed at."""
    found = standing(section_id)
    kept = _kept(section_id)
    return render_template(
        "plan/_point.html", at=found, refused=None, form=request.form, **_pointing(kept, _span(kept))
    )


def _pointing(kept: Syllabus, span: tuple[int, int]) -> dict[str, Any]:
    """A sentence that is pointed at, as its form shows it."""
    said = " ".join(kept.text[slice(*span)].split())
    return {"start": span[0], "end": span[1], "said": said, "pointings": POINTINGS, "reading": kept.reading}


def _span(kept: Syllabus) -> tuple[int, int]:
    try:
        start, end = int(request.values.get("start", "")), int(request.values.get("end", ""))
    except ValueError:
        abort(400)
    if not 0 <= start < end <= len(kept.text):
        abort(400)
    return start, end


@blueprint.post("/point")
def point(section_id: int) -> ResponseReturnValue:
    """Say what a sentence means."""
    found = instructor_standing(section_id)
    kept = _kept(section_id)
    span = _span(kept)
    kind = next((kind for kind, _ in POINTINGS if kind == request.form.get("kind")), None)
    if kind is None:
        return _page(found, Refused("kind", "say what the sentence means"), _pointing(kept, span))
    named, value = request.form.get("named", ""), request.form.get("value", "")
    try:
        _correct(
            section_id,
            lambda s: pointed(s.reading, s.text, span, kind, named, value),
            f"a sentence pointed at: {kind}",
        )
    except Refused as error:
        return _page(found, error, _pointing(kept, span))
    return redirect(url_for("syllabus.show", section_id=section_id))


@blueprint.post("/follow")
def follow_rule(section_id: int) -> ResponseReturnValue:
    """Make the plan follow one clause."""
    found = instructor_standing(section_id)
    reading, key = _kept(section_id).reading, request.form.get("rule", "")
    used = plans.used_ids(database(), section_id)
    try:
        with suppress(AlreadyDoneError):
            notice = change_plan(found, lambda plan: follow(plan, key, reading, used))
            if notice is not None:
                leave_notice(notice.text, notice.undo)
    except Refused as error:
        leave_notice(f"Not changed: {error.reason}.", trouble=True)
    return redirect(url_for("plan.show", section_id=section_id))


@blueprint.post("/note")
def note(section_id: int) -> ResponseReturnValue:
    """Why a difference stands, or how a clause is handled."""
    found = instructor_standing(section_id)
    held = match_of(found, _kept(section_id), current_plan(found))
    key, text = request.form.get("rule", ""), " ".join(request.form.get("note", "").split())
    said = {n.rule.key: matching.said_of(n.rule) for n in held.rules} | {u.key: u.clause.text for u in held.unread}
    if key not in said:
        abort(404)
    with suppress(AlreadyDoneError):
        syllabuses.note(database(), act(section_id), key, said[key], text)
    return redirect(url_for("plan.show", section_id=section_id))


@blueprint.post("/sign")
def sign(section_id: int) -> ResponseReturnValue:
    """The instructor's word that plan and syllabus agree; what is still open is kept with it."""
    found = instructor_standing(section_id)
    kept = _kept(section_id)
    held = match_of(found, kept, found.course.plan)
    if rehearsals.draft_of(database(), section_id):
        leave_notice("A rehearsal is open: put it in force or drop it, then sign the match.", trouble=True)
        return redirect(url_for("plan.show", section_id=section_id))
    with suppress(AlreadyDoneError):
        syllabuses.sign(database(), act(section_id), found.section.plan_version, kept.version, held.open_words)
        leave_notice(f"Match signed; {len(held.open)} differences open." if held.open else "Match signed: all agrees.")
    return redirect(url_for("plan.show", section_id=section_id))
