"""Goes round by itself: what waits for the registrar is tried again under its key until it is answered, and where the
registrar still has something to tell (posted, an answer, a fallback) it is asked now and then.

Of several server processes one goes at a time: the one that holds the lease, which runs out if it dies.
"""

import logging
import secrets
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import datetime, timedelta

from vinemark.clock import Clock
from vinemark.core.base.moments import elapsed, later
from vinemark.core.course.course import Run
from vinemark.section.delivery.courier import Courier, courier_of
from vinemark.section.delivery.gateway import Gateway
from vinemark.section.outcome import Outcome
from vinemark.store import grade_changes, leases, made_files, sections, submissions
from vinemark.store.database import Connection, connect
from vinemark.store.history import Act
from vinemark.store.submissions import Delivery

log = logging.getLogger("vinemark.delivery")
NEWS_EVERY = timedelta(minutes=2)
LEASE = "delivery"


@dataclass
class Worker:
    """Goes round every so many seconds; never where that is 0."""

    database: str
    gateway: Gateway
    clock: Clock
    seconds: int
    holder: str = field(default_factory=lambda: secrets.token_hex(8))
    stopped: threading.Event = field(default_factory=threading.Event)
    asked: dict[tuple[int, Run], datetime] = field(default_factory=dict)

    def start(self) -> None:
        """Go round in a thread of the background."""
        if self.seconds > 0:
            threading.Thread(target=self._keep_going, name="delivery", daemon=True).start()

    def _keep_going(self) -> None:
        while not self.stopped.wait(self.seconds):
            try:
                self.go_round()
            except Exception:
                log.exception("what waits for the registrar could not be looked at")

    def go_round(self) -> list[Outcome]:
        """Try everything that waits and was not tried just now; nothing where another process holds the lease."""
        with _opened(self.database) as connection:
            now = self.clock.now()
            until = later(now, timedelta(seconds=max(60, 6 * self.seconds)))
            if not leases.hold(connection, LEASE, self.holder, now, until):
                return []
            try:
                return self._round(connection, now)
            finally:
                leases.release(connection, LEASE, self.holder)

    def _round(self, connection: Connection, now: datetime) -> list[Outcome]:
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


@contextmanager
def _opened(database: str) -> Iterator[Connection]:
    connection = connect(database)
    try:
        yield connection
    finally:
        connection.close()
