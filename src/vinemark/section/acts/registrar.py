"""Acts that bring the section in line with the registrar: linked, updated, its roster followed."""

from collections.abc import Sequence
from dataclasses import dataclass

from vinemark.core.base.refused import Refused
from vinemark.core.course.course import RUNS, RosterEntry, SectionName, Term
from vinemark.core.submit.refs import joined_refs, refs_of
from vinemark.core.submit.roster_changes import mending
from vinemark.office.answers import HeldGrades, OfficeRoster, OfficeSection
from vinemark.section.delivery.courier import Courier, courier_of
from vinemark.section.delivery.gateway import Gateway, Trouble
from vinemark.section.outcome import Done, Outcome, act, as_sentence, settled_outcome
from vinemark.section.state import SectionState
from vinemark.store import registrar
from vinemark.store.database import Connection
from vinemark.store.history import Act


@dataclass(frozen=True)
class RosterAdded:
    """A further roster, and who of it is here already and who is not."""

    roster: OfficeRoster
    here: Sequence[RosterEntry]
    not_here: Sequence[RosterEntry]


def same_section(listed: Sequence[OfficeSection], name: SectionName, term: Term) -> OfficeSection | None:
    """The one section of the registrar's with this course, number and term; None where there is none or several."""
    fits = [s for s in listed if (s.name.course, s.name.number, s.term) == (name.course, name.number, term)]
    return fits[0] if len(fits) == 1 else None


def link(section: SectionState, request: Act, gateway: Gateway, email: str) -> Outcome:
    """Link the section to the registrar's section of the same name and term, and fetch its roster."""
    listed = gateway.for_instructor(email).sections()
    if not isinstance(listed, list):
        return unanswered(listed)
    found = same_section(listed, section.name, section.term)
    if found is None:
        return Done("The registrar lists no section of this name, number and term for you.", trouble=True)
    return linked(section.connection, request.without_key(), gateway, found.ref)


def linked(connection: Connection, request: Act, gateway: Gateway, ref: str) -> Done:
    """Link a section to one of the registrar's by fetching its roster."""
    try:
        answer = Courier(connection, gateway, request, ref).update()
    except Refused as taken:
        return Done(f"Not linked: {taken.reason}.", trouble=True)
    if not isinstance(answer, OfficeRoster):
        return unanswered(answer)
    people = len(answer.records.roster)
    return Done(f"Linked to the registrar’s section: {people} people on the registrar’s roster.")


def added_roster(section: SectionState, gateway: Gateway, email: str, ref: str) -> RosterAdded | Trouble:
    """What another roster of the registrar's would bring to a section that is cross-listed. Raises Refused at 'ref'."""
    listed = gateway.for_instructor(email).sections()
    if not isinstance(listed, list):
        return listed
    refs = refs_of(section.record.office_ref or "")
    if not refs or ref in refs or all(one.ref != ref for one in listed):
        raise Refused("ref", "must be another section that the registrar has for you")
    registrar.refuse_second_link(section.connection, section.id, ref)
    roster = gateway.for_instructor(email).roster(ref)
    if not isinstance(roster, OfficeRoster):
        return roster
    here = {one.id for one in section.course.students}
    people = roster.records.roster
    return RosterAdded(roster, [one for one in people if one.id in here], [one for one in people if one.id not in here])


def add_roster(section: SectionState, request: Act, gateway: Gateway, email: str, ref: str) -> Outcome:
    """Link the section to another roster of the registrar's, too: its grades go there by who is on which."""

    def added() -> Done:
        found = added_roster(section, gateway, email, ref)
        if not isinstance(found, RosterAdded):
            return unanswered(found)
        both = joined_refs([*refs_of(section.record.office_ref or ""), ref])
        done = linked(section.connection, request, gateway, both)
        name = found.roster.section.name.short
        return done if done.trouble else Done(f"{name} added: {done.text.removeprefix('Linked to the ')}")

    return settled_outcome(added)


def remove_roster(section: SectionState, request: Act, gateway: Gateway, email: str, ref: str) -> Outcome:
    """Take a further roster away again, while the registrar has no grade by it."""

    def removed() -> Done:
        refs = list(refs_of(section.record.office_ref or ""))
        if ref not in refs[1:]:
            raise Refused("ref", "is none of the further rosters")
        if any(submission.under_way for run in RUNS for submission in section.at(run).of_run.submissions):
            raise Refused("ref", "stays while grades are on their way")
        for run in RUNS:
            held = gateway.for_instructor(email).held(ref, run)
            if not isinstance(held, HeldGrades):
                return unanswered(held)
            if held.rows:
                raise Refused("ref", f"stays: the registrar has {run} grades by it")
        refs.remove(ref)
        done = linked(section.connection, request, gateway, joined_refs(refs))
        return done if done.trouble else Done("The roster was removed; nobody here was.")

    return settled_outcome(removed)


def update(section: SectionState, request: Act, gateway: Gateway) -> Outcome:
    """Fetch roster and rules again."""
    going = courier_of(section.connection, gateway, request, section.record)
    if going is None:
        return Refused("section", "is not linked to the registrar")
    answer = going.update()
    if not isinstance(answer, OfficeRoster):
        return unanswered(answer)
    changed = len(section.fresh().snapshot.roster_changes)
    news = f"{changed} changes since are shown below" if changed > 1 else "1 change since is shown below"
    news = news if changed else "nothing changed"
    return Done(f"Updated: {len(answer.records.roster)} people on the registrar’s roster; {news}.")


def unanswered(trouble: Trouble) -> Done:
    """Nothing was changed, because the registrar did not answer."""
    text = f"The registrar did not answer: {trouble.reason}. Nothing was changed; try again."
    return Done(text, trouble=True)


def refresh(section: SectionState, request: Act, gateway: Gateway) -> Outcome:
    """When the page is opened: roster, rules and what the registrar has, without a word where nothing is new."""
    going = courier_of(section.connection, gateway, request, section.record)
    if going is None:
        return Refused("section", "is not linked to the registrar")
    if gateway.silent:
        return Done("The registrar does not answer now. This page shows what it said last time.", trouble=True)
    answer = going.update()
    if not isinstance(answer, OfficeRoster):
        return Done(f"The registrar could not be asked again: {answer.reason}.", trouble=True)
    return going.check_copy(section.run) if section.of_run.submissions else Done()


@act
def follow_roster(section: SectionState, request: Act) -> Done:
    """Bring the section in line with every change of the roster, in one act with one undo."""
    records, changes = section.course.records, section.snapshot.roster_changes
    rules_changed = bool(section.snapshot.rule_changes)
    if records is None or not (changes or rules_changed):
        return Done("The section agrees with the roster already.")
    made = mending(section.course, changes, rules_changed)
    what = f"roster changes applied: {made.words}"
    return Done(as_sentence(what), registrar.write_roster_followed(section.connection, request, records, made, what))
