"""The messages that the simulated mail server keeps."""

from email.message import EmailMessage
from pathlib import Path

from vinemark.mail.box import Mailroom


def message(words: str) -> bytes:
    made = EmailMessage()
    made["To"], made["From"], made["Subject"] = "ode@larkmoor.example", "vine.mark@larkmoor.example", words
    made.set_content(words)
    return made.as_bytes()


def test_the_latest_message_stands_first_also_within_one_second(tmp_path: Path) -> None:
    room = Mailroom(tmp_path / "mail")
    taken = {
        "first": "1764603000.M99P41Q1.here",
        "second": "1764603000.M100P41Q2.here",
        "third": "1764603000.M1200P41Q10.here",
        "fourth": "1764603001.M7P41Q11.here",
    }
    for words, key in taken.items():
        put = room.put(message(words))
        (tmp_path / "mail" / "new" / put).rename(tmp_path / "mail" / "new" / key)
    assert [one.subject for one in room.received()] == ["fourth", "third", "second", "first"]
    assert room.received("ODE@larkmoor.example")[0].key == taken["fourth"]
    assert room.received("somebody@larkmoor.example") == []
