"""Goes round by itself: what waits for the registrar is tried again under its key until it is answered, and where the
registrar still has something to tell (posted, an answer, a fallback) it is asked now and then."""

import time
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import ClassVar

from vinemark.core.base.moments import elapsed
from vinemark.core.course.course import Run
from vinemark.section.delivery.courier import Courier, courier_of
from vinemark.section.delivery.gateway import Gateway
from vinemark.section.delivery.rounds import Rounds
from vinemark.section.outcome import Outcome
from vinemark.store import grade_changes, made_files, sections, submissions
from vinemark.store.database import Connection
from vinemark.store.history import Act
from vinemark.store.submissions import Delivery

NEWS_EVERY = timedelta(minutes=2)


@dataclass
class Worker(Rounds[Outcome]):
    """Tries everything that waits and was not tried just now."""

    gateway: Gateway
    asked: dict[tuple[int, Run], datetime] = field(default_factory=dict)
    LEASE: ClassVar[str] = "delivery"

    def round(self, connection: Connection, now: datetime) -> list[Outcome]:
        """Send again what waits, and ask for news."""
        made_files.forget_old(connection, time.time())
        pause = timedelta(seconds=3 * self.seconds)
        waiting = submissions.due_submissions(connection, now, pause)
        found = [self._submission(connection, delivery, now) for delivery in waiting]
        asking = grade_changes.due_changes(connection, now, pause)
        found += [self._change(connection, delivery, now) for delivery in asking]
        self._ask_for_news(connection, now)
        return [outcome for outcome in found if outcome is not None]

    def _ask_for_news(self, connection: Connection, now: datetime) -> None:
        for section_id, run, person_id in submissions.awaited(connection, now, NEWS_EVERY):
            last = self.asked.get((section_id, run))
            if last is not None and timedelta() <= elapsed(last, now) < NEWS_EVERY:
                continue
            self.asked[section_id, run] = now
            going = self._courier(connection, section_id, person_id, now)
            if going is not None:
                going.check_copy(run)

    def _courier(self, connection: Connection, section_id: int, person_id: int, now: datetime) -> Courier | None:
        record = sections.section_of(connection, person_id, section_id)
        return courier_of(connection, self.gateway, Act(person_id, now, section_id), record)

    def _submission(self, connection: Connection, delivery: Delivery, now: datetime) -> Outcome | None:
        going = self._courier(connection, delivery.section_id, delivery.person_id, now)
        submission = submissions.submission_of(connection, delivery.section_id, delivery.id)
        return going.deliver(submission) if going and submission else None

    def _change(self, connection: Connection, delivery: Delivery, now: datetime) -> Outcome | None:
        going = self._courier(connection, delivery.section_id, delivery.person_id, now)
        change = grade_changes.change_of(connection, delivery.section_id, delivery.id)
        return going.ask(change) if going and change else None
