"""Deleting a section: only what lies in an archive that was taken out, and nothing that is on its way."""

from dataclasses import dataclass

from vinemark.core.base.refused import Refused
from vinemark.section.outcome import Done, act
from vinemark.section.state import SectionState
from vinemark.store import sections
from vinemark.store.history import Act, entries_of


@dataclass(frozen=True)
class Deletion:
    """What deleting a section needs: why it is refused for now, the name to be typed, the words on its archive."""

    refused: str
    name: str
    archived: str


def deletion(section: SectionState) -> Deletion:
    """Whether a section may be deleted, and what has to be typed; a copy of an archive goes without a word."""
    if section.record.archive:
        return Deletion("", "", section.record.archive)
    under_way = [
        run for run in section.snapshot.runs if any(one.under_way for one in section.at(run).of_run.submissions)
    ]
    latest = next(iter(entries_of(section.connection, section.id)), None)
    archived = str(latest["what"]) if latest is not None and latest["kind"] == "archive" else ""
    refused = (
        f"The {under_way[0]} grades are signed and on their way to the registrar." if under_way
        else "" if archived
        else "No archive holds the section as it is now. Take the archive first: it is all that will be left of it."
    )  # fmt: skip
    return Deletion(refused, section.name.short, archived)


@act
def delete(section: SectionState, request: Act, typed: str) -> Done:
    """Delete a section with everything kept of it. Its name must be typed, a copy of an archive's not."""
    found = deletion(section)
    if found.refused:
        raise Refused("name", found.refused)
    if " ".join(typed.split()).casefold() != found.name.casefold():
        raise Refused("name", f"Type {found.name} to delete it.")
    label = f"{section.name.short}, {section.term.name}"
    kind = "a copy of an archive of " if section.record.archive else ""
    what = f"{kind}{label} deleted" + (f"; {found.archived}" if found.archived else "")
    sections.delete_section(section.connection, request, section.id, what)
    return Done(f"{label} is deleted." if not kind else f"The copy of {label} is deleted.")
