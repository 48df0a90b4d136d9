"""What letters of a request need: who tells, and links that work outside."""

from collections import Counter
from collections.abc import Sequence

from flask import url_for
from flask_login import current_user

from vinemark.core.base.dates import weekday_time_words
from vinemark.section.acts.tell import Teller
from vinemark.store.outbox import LetterFate
from vinemark.web.people.links import invitation_to


def teller_of(section_id: int) -> Teller:
    """Who tells the students of a section about their statements."""
    return teller_to(url_for("statement.show", section_id=section_id))


def teller_to(where: str) -> Teller:
    """The signed-in person as who tells, with links to a page."""
    return Teller(str(current_user.name), invitation_to(where))


def letter_words(letter: LetterFate) -> str:
    """What became of a letter: 'letter sent Dec 19, 10:22 AM'."""
    at = weekday_time_words(letter.at)
    why = f": {letter.said}" if letter.said and letter.state != "sent" else ""
    return {
        "waiting": f"letter waits since {at}{why}",
        "sent": f"letter sent {at}",
        "recalled": f"letter recalled {at}",
        "not delivered": f"letter not delivered{why}",
    }[letter.state]


def letters_summary(letters: Sequence[LetterFate]) -> str:
    """What became of many: '31 sent, 2 not delivered'."""
    return ", ".join(f"{many} {state}" for state, many in sorted(Counter(one.state for one in letters).items()))
