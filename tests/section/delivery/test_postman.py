"""The postman: everything that is due, tried again for three days, and never by two processes at once."""

from datetime import datetime, timedelta
from pathlib import Path

import pytest

from tests.browser.stage import free_port
from tests.mail.conftest import Mails, mails  # noqa: F401
from tests.section.conftest import NOW, House
from vinemark.clock import Clock
from vinemark.mail.sending import MailServer
from vinemark.section.delivery.postman import GIVEN_UP, LETTERS_A_ROUND, PAUSES, Postman
from vinemark.store import leases, outbox
from vinemark.store.outbox import Letter


def postman(house: House, server: MailServer, at: datetime = NOW) -> Postman:
    return Postman(str(house.folder / "vinemark.sqlite"), Clock(at.date(), at.time()), 20, server)


def put(house: House, *to: str) -> None:
    outbox.put_letters(house.connection, NOW, [Letter(one, "Something new", "Read it.") for one in to])


def test_what_waits_is_sent_once(house: House, mails: Mails) -> None:  # noqa: F811
    put(house, "ada@larkmoor.example", "bo@nobody.example", "cy@larkmoor.example")
    assert postman(house, mails.server).go_round() == ["sent", "not delivered", "sent"]
    assert postman(house, mails.server).go_round() == []
    assert sorted(one.to for one in mails.room.received()) == ["ada@larkmoor.example", "cy@larkmoor.example"]


def test_many_are_sent_in_rounds(house: House, mails: Mails) -> None:  # noqa: F811
    put(house, *(f"s{number}@larkmoor.example" for number in range(LETTERS_A_ROUND + 3)))
    assert len(postman(house, mails.server).go_round()) == LETTERS_A_ROUND
    assert len(postman(house, mails.server).go_round()) == 3
    assert len(list((Path(mails.folder) / "new").iterdir())) == LETTERS_A_ROUND + 3


def test_a_server_that_is_away_is_tried_again_and_given_up_after_days(house: House, mails: Mails) -> None:  # noqa: F811
    put(house, "ada@larkmoor.example")
    away = MailServer("127.0.0.1", free_port(), "none", "", "", "vine.mark@larkmoor.example")
    at, tries = NOW, 0
    while (found := postman(house, away, at).go_round()) == ["waiting"]:
        assert postman(house, away, at).go_round() == []
        at += PAUSES[min(tries, len(PAUSES) - 1)]
        tries += 1
    assert found == ["not delivered"]
    assert GIVEN_UP < at - NOW < GIVEN_UP + timedelta(hours=7)
    assert postman(house, mails.server, at).go_round() == []


def test_it_goes_once_the_server_is_back(house: House, mails: Mails) -> None:  # noqa: F811
    put(house, "ada@larkmoor.example")
    away = MailServer("127.0.0.1", free_port(), "none", "", "", "vine.mark@larkmoor.example")
    assert postman(house, away).go_round() == ["waiting"]
    assert postman(house, mails.server, NOW + PAUSES[0]).go_round() == ["sent"]


def test_a_connection_that_breaks_loses_no_letter_and_sends_none_twice(
    house: House,
    mails: Mails,  # noqa: F811
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    put(house, "ada@larkmoor.example", "bo@larkmoor.example")
    going = postman(house, mails.server)
    real = Postman._send
    sent: list[int] = []

    def breaking(self, connection, post, due, now):  # type: ignore[no-untyped-def]
        if sent:
            raise OSError("the mail server hung up")
        sent.append(due.id)
        return real(self, connection, post, due, now)

    monkeypatch.setattr(Postman, "_send", breaking)
    assert going.go_round() == ["waiting"]
    monkeypatch.undo()
    assert postman(house, mails.server, NOW + PAUSES[0]).go_round() == ["sent"]
    assert sorted(one.to for one in mails.room.received()) == ["ada@larkmoor.example", "bo@larkmoor.example"]


def test_one_process_at_a_time(house: House, mails: Mails) -> None:  # noqa: F811
    put(house, "ada@larkmoor.example")
    assert leases.hold(house.connection, Postman.LEASE, "another", NOW, NOW + timedelta(minutes=2))
    assert postman(house, mails.server).go_round() == []
