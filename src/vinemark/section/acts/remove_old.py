"""Sections whose time is over: archived, then removed; what is still open about one keeps it."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from hashlib import sha256

from vinemark.core.base.moments import stamp
from vinemark.core.college.keeping import kept_long_enough
from vinemark.core.course.course import Term
from vinemark.core.submit.receipt import receipt_values
from vinemark.exchange.archive import read_archive
from vinemark.exchange.archive_pages import readable_archive
from vinemark.section.desk import desk_entry
from vinemark.section.gathering import gathered
from vinemark.section.letters import removal_letter
from vinemark.section.state import SectionState
from vinemark.store import outbox
from vinemark.store.database import Connection, reading
from vinemark.store.history import Act, last_entry
from vinemark.store.removed import Removal, remove_section
from vinemark.store.section_people import section_people
from vinemark.store.sections import SectionRecord, instructed_sections, load_course


@dataclass(frozen=True)
class OldSection:
    """A section whose time is over, and why it is kept all the same; nothing where it can go."""

    section: SectionState
    kept_by: str


def old_records(connection: Connection, terms: Sequence[Term], act: Act, kept_terms: int) -> list[SectionRecord]:
    """The sections of a database whose time is over."""
    today = act.at.date()
    return [
        one for one in instructed_sections(connection)
        if not one.practice and kept_long_enough(one.term, terms, today, kept_terms)
    ]  # fmt: skip


def old_section(section: SectionState) -> OldSection:
    """Whether something is still open about a section."""
    final = section.at("final").of_run
    waiting = sum(one.state in {"waiting", "sent"} for one in final.changes)
    owed = len(desk_entry(section).incompletes)
    why = [
        "grades are on their way to the registrar" if _under_way(section) else "",
        "settled grades were never received by the registrar" if _never_received(section) else "",
        f"changes of grade are open: {waiting}" if waiting else "",
        f"incompletes are open: {owed}" if owed else "",
    ]
    return OldSection(section, "; ".join(filter(None, why)))


def _under_way(section: SectionState) -> bool:
    return any(one.under_way for run in section.snapshot.runs for one in section.at(run).of_run.submissions)


def _never_received(section: SectionState) -> bool:
    final = section.at("final").of_run
    return section.linked and bool(final.course.settled) and not final.at_registrar.held


def archive_and_remove(section: SectionState, act: Act, name: str, write: Callable[[bytes], None]) -> None:
    """Write a section's archive, read it back as `vinemark verify` does, and remove the section.

    Raises Refused where the archive does not hold together, ChangedMeanwhileError, OSError: then the section stays.
    """
    connection = section.connection
    with reading(connection):
        seen = last_entry(connection, section.id)
        data = readable_archive(gathered(connection, section.id, load_course(connection, section.record), act.at))
    read_archive(data)
    write(data)
    receipts = [
        {"run": run, "signed_at": stamp(one.signed_at), "signed_by": one.signed_by,
         "receipt": receipt_values(one.receipt)}
        for run in section.snapshot.runs
        for one in section.at(run).of_run.submissions
        if one.receipt is not None
    ]  # fmt: skip
    remove_section(connection, act, Removal(section.record, seen, name, sha256(data).hexdigest(), receipts))


def tell_of_removal(section: SectionState, act: Act, link: str) -> int:
    """Write to those who teach a section that its time is over; how many."""
    people = [one for one in section_people(section.connection, section.id) if one.role == "instructor"]
    name, term = section.record.name, section.record.term.name
    letters = [removal_letter(one.email, one.name, name, term, link) for one in people]
    outbox.put_letters(section.connection, act.at, letters, section.id)
    return len(letters)
