"""What day it is: the machine's, or a day set for a demo while the time of day goes on."""

from dataclasses import dataclass, replace
from datetime import date, datetime, time, timedelta

from vinemark.core.base.moments import later, wall_clock


@dataclass(frozen=True)
class Clock:
    """The college's time; `day` and `time_of_day`, where set, stand in for the machine's; `shift` is added to them."""

    day: date | None = None
    time_of_day: time | None = None
    shift: timedelta = timedelta()

    def now(self) -> datetime:
        """The time now by the college's clock, without a zone."""
        now = wall_clock()
        if self.day is None and self.time_of_day is None:
            return later(now, self.shift) if self.shift else now
        return datetime.combine(self.day or now.date(), self.time_of_day or now.time()) + self.shift

    def today(self) -> date:
        """The day now."""
        return self.now().date()

    def starting(self, at: time) -> "Clock":
        """The same day from a time of day on, going on from there."""
        now = self.now()
        return replace(self, shift=datetime.combine(now.date(), at) - now)
