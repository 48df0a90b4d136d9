"""What goes round by itself in the background: of several server processes one at a time, the one that holds a lease,
which runs out if it dies."""

import logging
import secrets
import threading
from abc import ABC, abstractmethod
from contextlib import closing
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import ClassVar, Generic, TypeVar

from vinemark.clock import Clock
from vinemark.core.base.moments import later
from vinemark.store import leases
from vinemark.store.database import Connection, connect

_T = TypeVar("_T")
log = logging.getLogger("vinemark.delivery")


@dataclass
class Rounds(ABC, Generic[_T]):
    """Goes round every so many seconds; never where that is 0."""

    database: str
    clock: Clock
    seconds: int
    holder: str = field(default_factory=lambda: secrets.token_hex(8), kw_only=True)
    stopped: threading.Event = field(default_factory=threading.Event, kw_only=True)
    LEASE: ClassVar[str]
    LEASE_SECONDS: ClassVar[int] = 60

    def start(self) -> None:
        """Go round in a thread of the background."""
        if self.seconds > 0:
            threading.Thread(target=self._keep_going, name=self.LEASE, daemon=True).start()

    def _keep_going(self) -> None:
        while not self.stopped.wait(self.seconds):
            try:
                self.go_round()
            except Exception:
                log.exception("%s: a round could not be made", self.LEASE)

    def go_round(self) -> list[_T]:
        """Do everything that is due; nothing where another process holds the lease."""
        with closing(connect(self.database)) as connection:
            now = self.clock.now()
            until = later(now, timedelta(seconds=max(self.LEASE_SECONDS, 6 * self.seconds)))
            if not leases.hold(connection, self.LEASE, self.holder, now, until):
                return []
            try:
                return self.round(connection, now)
            finally:
                leases.release(connection, self.LEASE, self.holder)

    @abstractmethod
    def round(self, connection: Connection, now: datetime) -> list[_T]:
        """One round, under the lease."""
