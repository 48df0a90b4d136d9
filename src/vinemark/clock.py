"""What day it is: the machine's, or a day set for a demo while the time of day goes on."""

from dataclasses import dataclass
from datetime import date, datetime


@dataclass(frozen=True)
class Clock:
    """Local time; `day`, where set, stands in for today's date."""

    day: date | None = None

    def now(self) -> datetime:
        """The time now, without a zone: the college's local time."""
        now = datetime.now().astimezone().replace(tzinfo=None)
        return now if self.day is None else datetime.combine(self.day, now.time())

    def today(self) -> date:
        """The day now."""
        return self.now().date()
