"""Where a run stands before it is submitted: its rows, what holds the section back, what can go, what is under way."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from functools import cached_property

from vinemark.core.audit import Finding
from vinemark.core.submit.compare import ComparedRow
from vinemark.core.submit.grade_row import GradeRow
from vinemark.core.submit.proof import ProofLine, code_column, proof_lines
from vinemark.core.submit.rows import (
    ASIDE,
    RowState,
    SubmitRow,
    changed_since_signed,
    left,
    plan_stops,
    submission_rows,
    submittable,
)
from vinemark.core.submit.submission import Submission, under_way
from vinemark.section.state import SectionState

MOST_NAMED = 6


@dataclass
class SubmitState:
    """A section's run on its way to the registrar."""

    section: SectionState

    @cached_property
    def rows(self) -> list[SubmitRow]:
        """Every student with where the row stands."""
        run = self.section.of_run
        return submission_rows(run.course, run.submit_findings, run.at_registrar)

    @cached_property
    def plan_stops(self) -> list[Finding]:
        """What stops the whole section."""
        return plan_stops(self.section.of_run.submit_findings)

    @cached_property
    def open_checks(self) -> list[Finding]:
        """What is to check and neither fixed nor accepted: signing needs a reason for it."""
        return [finding for finding in self.section.of_run.open_findings if finding.level == "look"]

    @cached_property
    def open_notes(self) -> list[Finding]:
        """Notes that nobody accepted."""
        return [finding for finding in self.section.of_run.open_findings if finding.level == "note"]

    @cached_property
    def submittable(self) -> list[GradeRow]:
        """The rows that can go now."""
        run = self.section.of_run
        return submittable(run.course, self.rows, self.plan_stops, run.posted_at is not None, self.section.gate)

    @property
    def left(self) -> int:
        """How many students still have to reach the registrar."""
        return left(self.rows)

    @property
    def under_way(self) -> Submission | None:
        """A submission that is signed and not answered yet."""
        return under_way(self.section.of_run.submissions)

    @cached_property
    def refused_again(self) -> list[GradeRow]:
        """The rows that can go with those that were refused, unchanged."""
        run = self.section.of_run
        posted = run.posted_at is not None
        return submittable(run.course, self.rows, self.plan_stops, posted, self.section.gate, refused_again=True)

    @property
    def comparison(self) -> Sequence[ComparedRow]:
        """What was submitted against what the registrar was seen to have, line by line."""
        return self.section.of_run.comparison

    @cached_property
    def compared(self) -> dict[str, ComparedRow]:
        """The same by student."""
        return {row.student_id: row for row in self.comparison}

    @cached_property
    def changed_since_signed(self) -> list[str]:
        """Whose grade is another than the row that is signed and not answered yet."""
        going = self.under_way
        return changed_since_signed(self.section.of_run.course, going.rows) if going else []

    @property
    def changed_words(self) -> str:
        """Their names, as far as a line holds them."""
        names = self.changed_since_signed
        more = len(names) - MOST_NAMED
        return ", ".join(names[:MOST_NAMED]) + (f" and {more} more" if more > 0 else "")

    @property
    def students(self) -> int:
        """How many students a grade can be sent for."""
        return sum(row.state not in ASIDE for row in self.rows)

    def count(self, state: RowState) -> int:
        """How many rows stand there."""
        return sum(row.state == state for row in self.rows)

    @property
    def rule_changes(self) -> Sequence[str]:
        """What changed in the registrar's rules since they were followed."""
        return self.section.snapshot.rule_changes

    @property
    def takes_files(self) -> bool:
        """Whether this registrar takes files."""
        return self.section.snapshot.loaded.layout is not None

    @property
    def proof(self) -> list[ProofLine]:
        """The proof sheet, in the roster's order."""
        run = self.section.of_run
        return proof_lines(run.course, self.rows, run.grades)

    @property
    def proof_for_file(self) -> list[ProofLine]:
        """The same for a table: its dates are those of ISO 8601."""
        run = self.section.of_run
        return proof_lines(run.course, self.rows, run.grades, date.isoformat)

    @property
    def code_column(self) -> str:
        """The settled codes alone, to be copied."""
        return code_column(self.section.of_run.course, self.rows)
