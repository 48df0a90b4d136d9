"""Acts on the syllabus: put in, corrected, followed by the plan, and the signed match of the two."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from vinemark.core.base.refused import Refused, short_note
from vinemark.core.syllabus import Reading, read_syllabus
from vinemark.core.syllabus.compare.follow import follow, follow_all
from vinemark.core.syllabus.compare.keep_promise import kept_promise
from vinemark.core.syllabus.compare.notes import said_of
from vinemark.core.syllabus.compare.promises import promise_of
from vinemark.core.syllabus.facts import Unread
from vinemark.core.syllabus.read.correct import (
    POINTINGS,
    TypedFact,
    corrected,
    merged_with_above,
    pointed,
    without_category,
)
from vinemark.core.syllabus.written import syllabus_json
from vinemark.exchange.apart import read_apart
from vinemark.exchange.readers import syllabus_of_file
from vinemark.exchange.syllabus_file import refuse_longer
from vinemark.section.acts.plan import edited_plan
from vinemark.section.outcome import Done, Outcome, act
from vinemark.section.state import SectionState
from vinemark.store import plans, syllabuses
from vinemark.store.history import Act
from vinemark.store.syllabuses import Syllabus

SentenceSpan = tuple[int, int]
"""Where a sentence stands in the text: from its first sign up to, not including, its end."""


# Read before anything is written: nobody's save waits for a syllabus.


def put_in_file(section: SectionState, request: Act, name: str, data: bytes) -> Outcome:
    """A syllabus from a file; an earlier one stays as an older version."""
    try:
        text, reading = read_apart(syllabus_of_file, name, data)
    except Refused as refused:
        return refused
    return _put_in(section, request, text, reading, name)


def put_in_text(section: SectionState, request: Act, typed: str) -> Outcome:
    """A syllabus from pasted text."""
    text = typed.replace("\r\n", "\n")
    try:
        refuse_longer(text)
        reading = read_apart(read_syllabus, text)
    except Refused as refused:
        return refused
    return _put_in(section, request, text, reading, "pasted text")


@act
def _put_in(section: SectionState, request: Act, text: str, reading: Reading, source: str) -> Done:
    if not text.strip():
        raise Refused("file", "paste the grading part, or choose a file")
    return Done(entry=syllabuses.write_syllabus(section.connection, request, text, source, reading))


def kept_syllabus(section: SectionState) -> Syllabus:
    """The section's syllabus. Raises Refused where there is none."""
    kept = section.snapshot.loaded.syllabus
    if kept is None:
        raise Refused("file", "there is no syllabus in this section")
    return kept


@dataclass(frozen=True)
class FactStep:
    """What is done with typed facts: kept, made the plan, or a category removed or merged with the one above it."""

    kind: Literal["keep", "take", "remove", "merge"] = "keep"
    row: int = -1


@act
def correct_facts(
    section: SectionState, request: Act, rows: Mapping[int, TypedFact], form: Mapping[str, str], step: FactStep
) -> Done:
    """What was misread typed over; the step 'take' also makes it the plan. Nothing typed over leaves no entry."""
    before = kept_syllabus(section).reading
    reading = corrected(before, rows, form)
    if step.kind == "remove":
        reading = without_category(reading, step.row)
    elif step.kind == "merge":
        reading = merged_with_above(reading, step.row)
    if syllabus_json(reading) != syllabus_json(before):
        # Without the request's key: the same request may go on to change the plan under it.
        what = "what the syllabus says corrected by hand"
        syllabuses.write_correction(section.connection, request.without_key(), lambda _: reading, what)
    return _use(section, request, reading) if step.kind == "take" else Done()


def _use(section: SectionState, request: Act, reading: Reading) -> Done:
    used = plans.used_ids(section.connection, section.id)
    done = "plan drafted from the syllabus"
    try:
        return edited_plan(section, request, lambda plan: (follow_all(plan, reading, used), done))
    except Refused as error:
        raise Refused("take", error.reason) from error


@act
def point(section: SectionState, request: Act, span: SentenceSpan, typed_kind: str, named: str, value: str) -> Done:
    """Say what a sentence means."""
    kept = kept_syllabus(section)
    kind = next((kind for kind, _ in POINTINGS if kind == typed_kind), None)
    if kind is None:
        raise Refused("kind", "say what the sentence means")
    reading = pointed(kept.reading, kept.text, span, kind, named, value)
    what = f"meaning of a sentence: {kind}"
    entry = syllabuses.write_correction(section.connection, request.without_key(), lambda _: reading, what)
    return Done(entry=entry)


@act
def follow_rule(section: SectionState, request: Act, key: str) -> Done:
    """Make the plan follow one sentence of the syllabus."""
    reading, used = kept_syllabus(section).reading, plans.used_ids(section.connection, section.id)
    return edited_plan(section, request, lambda plan: follow(plan, key, reading, used))


@act
def keep_promise(section: SectionState, request: Act, key: str) -> Done:
    """Make a rule of a sentence that promises one. Raises Refused at what the sentence leaves open."""
    clause = promised(section, key)
    if clause is None:
        raise Refused("rule", "this sentence is no longer in the syllabus")
    used = plans.used_ids(section.connection, section.id)
    plan = section.snapshot.working_plan
    promise = promise_of(plan, clause.text, clause.about or "requirement")
    return edited_plan(section, request, lambda plan: kept_promise(plan, promise, used))


def promised(section: SectionState, key: str) -> Unread | None:
    """A sentence of the syllabus that promises a rule, by its key."""
    match = section.snapshot.match_with(section.snapshot.working_plan)
    found = [one.clause for one in match.unread if one.key == key] if match else []
    return found[0] if found and found[0].about else None


def note(section: SectionState, request: Act, key: str, typed: str) -> Outcome | None:
    """Why a difference is meant, or how a sentence is handled; None where there is no such rule or sentence."""
    match = section.snapshot.match_with(section.snapshot.working_plan)
    rules = {noted.rule.key: said_of(noted.rule) for noted in match.rules} if match else {}
    said = rules | ({one.key: one.clause.text for one in match.unread} if match else {})
    return _note(section, request, key, said[key], typed) if key in said else None


@act
def _note(section: SectionState, request: Act, key: str, said: str, typed: str) -> Done:
    return Done(
        entry=syllabuses.write_note(section.connection, request, key, said, short_note(" ".join(typed.split()), "note"))
    )


@act
def sign_match(section: SectionState, request: Act) -> Done:
    """The instructor's word that plan and syllabus agree; what still differs is kept with it."""
    kept, match = kept_syllabus(section), section.snapshot.match
    assert match is not None  # noqa: S101
    if section.snapshot.loaded.draft is not None:
        raise Refused("sign", "There is a preview: apply it or discard it, then sign the comparison.")
    version = plans.latest_version(section.connection, section.id)
    entry = syllabuses.write_match_signature(section.connection, request, version, kept.version, match.open_words)
    said = (
        f"Comparison signed; {len(match.open)} differences left."
        if match.open
        else "Comparison signed: everything agrees."
    )
    return Done(said, entry)
