"""The syllabus beside the plan: put in, read, corrected, taken as the plan, and held against it."""

from collections.abc import Mapping
from typing import Any

from flask import Blueprint, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from vinemark.core.base.refused import Refused
from vinemark.core.plan.sentences import plan_text
from vinemark.core.syllabus.compare.draft import drafted
from vinemark.core.syllabus.compare.notes import ABOUT_WORDS
from vinemark.core.syllabus.compare.promises import promise_of
from vinemark.core.syllabus.compare.shown import gap_question, reading_changes, shown_document
from vinemark.core.syllabus.read.correct import POINTINGS, WITH_CATEGORY, TypedFact, sum_of_weights
from vinemark.section.acts import syllabus as acts
from vinemark.section.acts.syllabus import SentenceSpan
from vinemark.section.state import SectionState
from vinemark.store import syllabuses
from vinemark.store.syllabuses import Syllabus
from vinemark.web.databases import database
from vinemark.web.request import (
    any_section,
    instructors_section,
    new_act,
    page,
    require_sign_in,
    tell,
    tell_without_undo,
)
from vinemark.web.ui.formats import sentence_start

blueprint = Blueprint("syllabus", __name__, url_prefix="/s/<int:section_id>/syllabus")
blueprint.before_request(require_sign_in)

MOST_FACTS = 40


@blueprint.get("")
def show(section_id: int) -> ResponseReturnValue:
    """The syllabus, its sentences marked, with the drafted plan beside it; or the form to put one in."""
    return _page(any_section(section_id))


def _page(
    section: SectionState, refused: Refused | None = None, pointing: Mapping[str, Any] | None = None
) -> ResponseReturnValue:
    kept, plan = section.snapshot.loaded.syllabus, section.snapshot.working_plan
    values: dict[str, Any] = {
        "syllabus": kept,
        "syllabus_page": True,
        "plan": plan,
        "pointing": pointing is not None,
        **(pointing or {}),
        "refused": refused,
        "form": request.form,
        "preview": None,
        "plain_text": plan_text(plan),
        "pointings": POINTINGS,
        "with_category": WITH_CATEGORY,
        "sum": sum_of_weights,
        "about_words": ABOUT_WORDS,
        "versions": syllabuses.syllabus_versions(database(), section.id),
    }
    if kept is not None:
        values |= _beside(section, kept, values["versions"])
    return page("plan", section, status=422 if refused else 200, **values)


def _beside(section: SectionState, kept: Syllabus, versions: list[Syllabus]) -> dict[str, Any]:
    match = section.snapshot.match_with(section.snapshot.working_plan)
    rules = [noted.rule for noted in match.rules] if match else []
    older = next((v for v in versions if v.version == kept.version - 1), None)
    return {
        "match": match,
        "document": shown_document(kept.text, kept.reading, rules),
        "draft_text": plan_text(drafted(kept.reading)),
        "changes": reading_changes(older.reading, kept.reading) if older else [],
        "gap": gap_question(kept.reading, kept.text),
    }


@blueprint.post("")
def put_in(section_id: int) -> ResponseReturnValue:
    """A syllabus from a file or from pasted text; an earlier one stays as an older version."""
    section, upload, refused = instructors_section(section_id), request.files.get("file"), ""
    if upload is not None and upload.filename:
        outcome = acts.put_in_file(section, new_act(section_id), upload.filename, upload.read())
        refused = "This file "
    else:
        outcome = acts.put_in_text(section, new_act(section_id), request.form.get("text", ""))
    if isinstance(outcome, Refused):
        return _page(section, Refused("file", sentence_start(refused + outcome.reason)))
    return _to_syllabus(section_id)


def _to_syllabus(section_id: int) -> ResponseReturnValue:
    return redirect(url_for("syllabus.show", section_id=section_id))


def _to_plan(section_id: int) -> ResponseReturnValue:
    return redirect(url_for("plan.show", section_id=section_id))


def _kept(section: SectionState) -> Syllabus:
    kept = section.snapshot.loaded.syllabus
    if kept is None:
        abort(404)
    return kept


@blueprint.post("/facts")
def facts(section_id: int) -> ResponseReturnValue:
    """What was misread typed over; 'take' also makes it the plan, 'remove-2' and 'merge-2' change a category."""
    section = instructors_section(section_id)
    _kept(section)
    step = _step(request.form.get("then", "keep"))
    outcome = acts.correct_facts(section, new_act(section_id), _typed_rows(), request.form, step)
    if isinstance(outcome, Refused):
        return _page(section, outcome)
    tell(outcome)
    return _to_plan(section_id) if step.kind == "take" else _to_syllabus(section_id)


def _step(typed: str) -> acts.FactStep:
    kind, _, row = typed.partition("-")
    if kind in {"remove", "merge"} and row.isdecimal():
        return acts.FactStep("remove" if kind == "remove" else "merge", int(row))
    return acts.FactStep("take" if kind == "take" else "keep")


@blueprint.post("/facts/kept")
def facts_kept(section_id: int) -> ResponseReturnValue:
    """Corrections saved while they are typed; what the weights come to."""
    section = instructors_section(section_id)
    _kept(section)
    outcome = acts.correct_facts(section, new_act(section_id), _typed_rows(), request.form, acts.FactStep())
    refused = outcome if isinstance(outcome, Refused) else None
    kept = syllabuses.syllabus_of(database(), section_id)
    reading = kept.reading if kept else None
    return render_template(
        "plan/_weights_said.html", reading=reading, sum=sum_of_weights, facts_refused=refused, saved=True
    )


def _typed_rows() -> dict[int, TypedFact]:
    form = request.form
    return {
        n: TypedFact(
            form.get(f"name-{n}", ""),
            form.get(f"weight-{n}", ""),
            form.get(f"points-{n}", ""),
            form.get(f"count-{n}", ""),
            form.get(f"each-{n}", ""),
            form.get(f"drop-{n}", ""),
            form.get(f"extra-{n}") == "1",
        )
        for n in range(MOST_FACTS)
        if f"name-{n}" in form
    }


@blueprint.get("/point")
def point_form(section_id: int) -> ResponseReturnValue:
    """The small form for a sentence that is pointed at."""
    section = any_section(section_id)
    kept = _kept(section)
    shown = _pointing(kept, _span(kept))
    return render_template("plan/_point.html", section=section, refused=None, form=request.form, **shown)


def _pointing(kept: Syllabus, span: SentenceSpan) -> dict[str, Any]:
    """A sentence that is pointed at, as its form shows it."""
    said = " ".join(kept.text[slice(*span)].split())
    return {"start": span[0], "end": span[1], "said": said, "pointings": POINTINGS, "reading": kept.reading}


def _span(kept: Syllabus) -> SentenceSpan:
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
    section, form = instructors_section(section_id), request.form
    kept = _kept(section)
    span = _span(kept)
    outcome = acts.point(
        section, new_act(section_id), span, form.get("kind", ""), form.get("named", ""), form.get("value", "")
    )
    if isinstance(outcome, Refused):
        return _page(section, outcome, _pointing(kept, span))
    return _to_syllabus(section_id)


@blueprint.post("/follow")
def follow_rule(section_id: int) -> ResponseReturnValue:
    """Make the plan follow one sentence."""
    section = instructors_section(section_id)
    _kept(section)
    tell(acts.follow_rule(section, new_act(section_id), request.form.get("rule", "")), "Not changed: ")
    return _to_plan(section_id)


@blueprint.post("/rule")
def make_rule(section_id: int) -> ResponseReturnValue:
    """Make a rule of a sentence that promises one; where it leaves something open, its form opens with the rest."""
    section, key = instructors_section(section_id), request.form.get("rule", "")
    _kept(section)
    outcome = acts.keep_promise(section, new_act(section_id), key)
    clause = acts.promised(section, key)
    if isinstance(outcome, Refused) and clause is not None:
        kind = promise_of(section.snapshot.working_plan, clause.text, clause.about or "requirement").kind
        return redirect(url_for("plan.show", section_id=section_id, promise=key, _anchor=f"add-{kind}"))
    tell(outcome, "Not changed: ")
    return _to_plan(section_id)


@blueprint.post("/note")
def note(section_id: int) -> ResponseReturnValue:
    """Why a difference is meant, or how a sentence is handled."""
    section = instructors_section(section_id)
    typed = request.form.get("note", "")
    outcome = acts.note(section, new_act(section_id), request.form.get("rule", ""), typed)
    if outcome is None:
        abort(404)
    if isinstance(outcome, Refused):
        tell(outcome, "The note ")
    return _to_plan(section_id)


@blueprint.post("/sign")
def sign(section_id: int) -> ResponseReturnValue:
    """The instructor's word that plan and syllabus agree."""
    section = instructors_section(section_id)
    _kept(section)
    outcome = acts.sign_match(section, new_act(section_id))
    tell_without_undo(outcome)
    return _to_plan(section_id)
