"""Students move to another section of the same instructor, with their scores; here they are set aside."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from vinemark.core.base.refused import Refused
from vinemark.core.course.bounds import refuse_oversized
from vinemark.core.course.course import RUNS
from vinemark.core.course.detail import NO_DETAIL
from vinemark.core.scores.moving import PlannedMove, planned_move
from vinemark.core.submit.refs import joined_refs, refs_of
from vinemark.office.answers import OfficeRoster
from vinemark.section.acts.registrar import unanswered
from vinemark.section.delivery.courier import save_roster
from vinemark.section.delivery.gateway import Gateway
from vinemark.section.meanwhile import fingerprint
from vinemark.section.outcome import Done, Outcome, act
from vinemark.section.state import SectionState
from vinemark.store import class_list, registrar
from vinemark.store.class_list import ClassChange
from vinemark.store.history import Act, AlreadyDoneError, ChangedSinceError, refuse_repeated


@dataclass(frozen=True)
class Moving:
    """A move that was looked at, and what stands for it in the form."""

    move: PlannedMove
    seen: str


def looked_at_move(source: SectionState, target: SectionState, ids: Sequence[str]) -> Moving:
    """What moving these students would bring to the target. Raises Refused at 'students' or 'to'."""
    if source.id == target.id or target.record.archive or source.record.archive:
        raise Refused("to", "must be another section of yours")
    move = planned_move(
        source.course, target.course, ids, source.snapshot.loaded.remarks, target.snapshot.loaded.remarks
    )
    if not move.students:
        raise Refused("students", "must be chosen, one or more who are not set aside")
    try:
        refuse_oversized(replace(target.course, students=(*target.course.students, *move.new)))
    except Refused as error:
        raise Refused("to", error.reason) from error
    return Moving(move, _seen(move))


def _seen(move: PlannedMove) -> str:
    cells = [f"{one.student_id} {one.item_id} {one.cell}" for one in move.cells]
    return fingerprint([*(one.id for one in move.students), *cells, *(f"{one.text} {one.why}" for one in move.left)])


@act
def move_students(source: SectionState, request: Act, target: SectionState, ids: Sequence[str], seen: str) -> Done:
    """Move students as it was looked at: one act, with an entry in each section that can be undone.

    Both sections are in the same database.
    """
    return _moved(source, request, target, ids, seen)


def teach_as_one(
    source: SectionState, request: Act, target: SectionState, gateway: Gateway, email: str, seen: str
) -> Outcome:
    """Move everybody, and the registrar's roster with them: from then on two sections are taught as one.

    Refused at 'to' once the registrar has something by the roster, or it is on its way.
    """
    try:
        refuse_repeated(source.connection, request)
    except AlreadyDoneError as done:
        return Done(entry=done.entry)
    mine, theirs = source.record.office_ref, target.record.office_ref
    if mine is None or theirs is None:
        return Refused("to", "and this section must both be linked to the registrar")
    if any(source.at(run).of_run.submissions for run in RUNS):
        return Refused("to", "cannot take this section in: grades were signed for its roster")
    both = joined_refs([*refs_of(theirs), *refs_of(mine)])
    roster = gateway.for_instructor(email).roster(both)
    if not isinstance(roster, OfficeRoster):
        return unanswered(roster)
    return _taken_in(source, request, target, everybody(source), seen, roster)


def everybody(section: SectionState) -> list[str]:
    """The students of a section who are not set aside, by their IDs."""
    return [one.id for one in section.course.students if not one.set_aside]


@act
def _taken_in(
    source: SectionState, request: Act, target: SectionState, ids: Sequence[str], seen: str, roster: OfficeRoster
) -> Done:
    connection, name = source.connection, target.name.short
    done = _moved(source, request, target, ids, seen)
    registrar.unlink(connection, request.without_key(), f"the roster goes along to {name}: taught as one")
    save_roster(connection, request.on(target.id), roster)
    return Done(f"{done.text} The roster came along: {name} has {len(roster.records.roster)} people on its rosters.")


def _moved(source: SectionState, request: Act, target: SectionState, ids: Sequence[str], seen: str) -> Done:
    found = looked_at_move(source, target.fresh(), ids)
    if found.seen != seen:
        raise ChangedSinceError("What would move was changed meanwhile. Look at it again; nothing was moved.")
    move, details = found.move, class_list.details_of(source.connection, source.id)
    who = move.students[0].plain_name if len(move.students) == 1 else f"{len(move.students)} students"
    here, there = f"{who} moved to {target.name.short}", f"{who} moved here from {source.name.short}"
    class_list.write_class(
        source.connection,
        request.on(target.id),
        ClassChange(
            people={one.id: one for one in move.new},
            details={one.id: details[one.id] for one in move.new if details.get(one.id, NO_DETAIL) != NO_DETAIL},
            cells=move.cells,
            extensions=move.extensions,
            remarks=move.remarks,
        ),
        there,
    )
    aside = {one.id: replace(one, set_aside=f"moved to {target.name.short}") for one in move.students}
    entry = class_list.write_class(source.connection, request, ClassChange(people=aside), here)
    left = f"; {len(move.left)} scores stay here alone" if move.left else ""
    return Done(f"{here} with {len(move.cells)} scores{left}.", entry)
